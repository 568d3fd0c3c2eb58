"""Stock that is not rectangular: staves, bark-edged boards and logs, worked out by hand."""

from __future__ import annotations

import math
from typing import Any

import pytest

from laberinto.core.errors import PlanError
from laberinto.core.plan.simulate import Simulation
from laberinto.core.rules import check
from laberinto.core.shop import Shop
from laberinto.core.steps import steps
from laberinto.core.timber.needs import as_they_are, needs
from laberinto.core.units import Lengths
from tests.core.instructions.follower import ends_alike
from tests.core.stages.test_stages import run

MM = Lengths()


def rough(*strips: dict[str, Any], **shape: Any) -> dict[str, Any]:
    return {"id": "s", "kind": "mill", "strips": list(strips), **shape}


def staves(length: float = 280, **flatten: Any) -> Simulation:
    """Four oak staves, 95 wide and 27 thick, to a radius of 1800, flattened and glued."""
    return run(
        rough({"wood": "oak", "width": 95, "count": 4}, stock="stave", radius=1800, thickness=27, length=length),
        {"id": "f", "kind": "flatten", "from": "s", **flatten}, {"id": "g", "kind": "glue", "from": "f"},
    )  # fmt: skip


def rules(sim: Simulation) -> dict[str, str]:
    return {finding.rule: finding.why for finding in check(sim, MM)}


def test_a_stave_flat_on_both_faces_keeps_what_its_curve_leaves() -> None:
    """1800 − √(1800² − 140²) is 5.4527 over 280: 27 becomes 21.5473. Lying hollow side down it stands
    1800 − √(1773² − 140²), 32.536 high. Over 400 it is bent 11.1456."""
    bent = 1800 - math.sqrt(1800**2 - 140**2)
    assert bent == pytest.approx(5.4527, abs=1e-4)
    sim = staves(each_face=0.25, level=True)
    assert sim["s"].size == pytest.approx((95, 280, 32.536), abs=1e-3)
    assert sim["f"].size[2] == pytest.approx(27 - bent - 0.5)
    full = sim["f"].size
    assert sim["f"].pieces[0].volume() == pytest.approx(full[0] * full[1] * full[2])  # nothing is missing anywhere
    assert sim["f"].pieces.cells.volume() < sim["s"].volume == sum(strip.volume for strip in sim.strips)
    assert staves(400, each_face=0.1, level=True)["f"].size[2] == pytest.approx(27 - 0.2 - 11.1456, abs=1e-3)
    ends_alike(sim)
    said = " ".join(line for step in steps(sim, MM) for line in step.lines)
    assert "bent by 5.5 mm: flat on both faces 21.5 mm is left" in said
    assert needs(sim, Shop()) == () and [(c.count, c.thickness) for c in as_they_are(sim)] == [(4, 27)]


def test_a_bark_edge_is_jointed_off() -> None:
    """120 wide below, 12 less above, and on the way 20 less at the far end: on average 120 − 10 − 6 = 104. Jointed from
    where it is whole, 120 − 20 − 12 − 1 are left; with bark on both edges each gives half of the 20 and its own 12."""
    elm = {"wood": "elm", "width": 120, "count": 2}
    shape = {"stock": "waney", "thickness": 40, "length": 600, "wane": 12, "taper": 20, "waist": 10}
    joint = {"id": "j", "kind": "joint", "from": "s", "off": 1}
    one = run(rough(elm, **shape), {**joint, "edges": "right"}, {"id": "g", "kind": "glue", "from": "j"})
    assert one["s"].volume == pytest.approx(2 * 104 * 40 * 600)
    assert one["j"].size == pytest.approx((87, 600, 40)) and one["g"].size[0] == pytest.approx(174)
    ends_alike(one)
    both = run(rough(elm, **shape, both_edges=True), {**joint, "edges": "left-right"})
    assert both["j"].size == pytest.approx((120 - 2 * (10 + 12 + 1), 600, 40))
    waisted = run(rough(elm, **{**shape, "taper": 0, "waist": 30}), {**joint, "edges": "right"})
    assert waisted["j"].size[0] == pytest.approx(120 - 30 - 12 - 1)


def test_a_log_is_round_about_its_heart() -> None:
    """120 across and 400 long: π 60² 400 = 4,523,893 mm³, and tangents hold 0.14 % more. Its heart is ripped out, or
    said to be in the board."""
    log = rough({"wood": "plum", "width": 120}, stock="log", thickness=120, length=400, heart=4)
    rip = {"id": "r", "kind": "rip", "from": "s", "squaring": 0, "kerf": 3}
    left_in = run(log, {**rip, "widths": [30, 60]})
    assert left_in["s"].volume == pytest.approx(math.pi * 60**2 * 400, rel=1.5e-3)
    assert left_in.strips[0].rings.heart == (64, 60)
    assert "The heart of 1 piece (plum) is still in the board" in rules(left_in)["heart_in_the_board"]
    assert "rolls into the blade" in rules(left_in)["round_under_the_saw"]
    # the saw takes 60 to 63, then 66 to 69: what held the heart at 64 is a strip of its own, and is not taken along
    out = run(log, {**rip, "widths": [60]})
    assert "heart_in_the_board" not in rules(out)
    ends_alike(left_in)


def test_what_does_not_close_or_lies_aslant_is_said() -> None:
    stave = rough({"wood": "oak", "width": 95, "count": 4}, stock="stave", thickness=27, length=600)
    glued = run(stave, {"id": "g", "kind": "glue", "from": "s"})
    assert "curved faces they came with, which do not close" in rules(glued)["unworked"]
    cut = run(stave, {"id": "c", "kind": "crosscut", "from": "s", "slice": 280, "count": 2})
    finding = next(found for found in check(cut, MM) if found.rule == "staves_cut_up")
    assert "bent by 25.2 mm" in finding.why and finding.remedies[0].value == 280
    assert not {"unworked", "staves_cut_up", "heart_in_the_board"} & set(rules(staves(each_face=0.25, level=True)))


@pytest.mark.parametrize(
    ("shape", "says"),
    [
        ({"stock": "stave", "radius": 320, "length": 600}, "cannot be bent to a radius of 320 mm; take 336 mm or more"),
        ({"stock": "waney", "wane": 40, "taper": 60}, "is 0 mm where its bark edges come closest"),
    ],
)
def test_what_no_tree_gives_is_refused(shape: dict[str, Any], says: str) -> None:
    with pytest.raises(PlanError, match=says):
        run(rough({"wood": "oak", "width": 95}, **shape))
