"""Worked faces, edges and ways round: what is done below is what is done on top, turned over."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest

from laberinto.core.errors import StageError
from laberinto.core.geometry.faces import Side, face_of
from laberinto.core.geometry.rotations import turn_named
from laberinto.core.rules import check
from laberinto.core.stages import Cause
from tests.core.patterns.test_families import FRAME
from tests.core.solid.test_carving import LONG, THICK, WIDE, board, taken
from tests.core.stages.test_stages import mill, run

WORKED_FACES: list[dict[str, Any]] = [
    {"kind": "groove", "inset": 20},
    {"kind": "groove", "bit": "vee", "depth": 4, "corners": "inside-template"},
    {"kind": "groove", "path": "runs", "runs": [[[-9, 40], [90, 60], [120, 170]]]},
    {"kind": "well", "place": "middle", "width": 50, "length": 30},
    {"kind": "hollow", "radius": 180, "depth": 7},
    {"kind": "hollow", "form": "cylinder-along", "radius": 120, "depth": 7},
    {"kind": "rabbet", "sides": "front", "width": 12, "depth": 9},
]


@pytest.mark.parametrize("stage", WORKED_FACES, ids=lambda s: "-".join(str(v) for v in list(s.values())[:2]))
def test_below_takes_what_on_top_takes_and_leaves_the_other_face_whole(stage: dict[str, Any]) -> None:
    above, below = (board({**stage, "face": face}) for face in ("top", "bottom"))
    assert taken(below) == pytest.approx(taken(above), rel=1e-9)
    for sim, whole, worked in ((above, Side.BOTTOM, Side.TOP), (below, Side.TOP, Side.BOTTOM)):
        piece = sim.board.pieces[0]
        flat = face_of(piece, whole)
        assert flat.recess.max() < 1e-9
        assert face_of(piece, worked).recess.max() > 1


@pytest.mark.parametrize("sides", ["left", "right", "front", "back", "left-right", "front-back", "all"])
def test_every_side_named_gets_its_cove_and_no_other(sides: str) -> None:
    """One cove of 60 × 9 takes the same wherever it is; the sides without one stay flat."""
    one = taken(board({"kind": "cove", "sides": "left", "length": 60}))
    named = {"all": ["left", "right", "front", "back"]}.get(sides, sides.split("-"))
    sim = board({"kind": "cove", "sides": sides, "length": 60})
    assert taken(sim) == pytest.approx(one * len(named), rel=1e-9)
    for side in ("left", "right", "front", "back"):
        deepest = face_of(sim.board.pieces[0], Side(side)).recess.max()
        assert (deepest > 5) == (side in named)


def test_a_cove_along_the_underside_takes_half_of_one_in_the_middle_of_the_edge() -> None:
    middle, lower = (taken(board({"kind": "cove", "sides": "left", "at": at})) for at in ("middle", "underside"))
    assert lower == pytest.approx(middle / 2, rel=1e-9)


def test_a_shifted_notch_takes_the_same_and_moves_the_gap() -> None:
    """60 wide in the front edge of 200, shifted by 30: the gap runs from 100 to 160 instead of 70 to 130."""
    still, moved = (board({"kind": "notch", "sides": "front", "width": 60, "radius": 0, "shift": s}) for s in (0, 30))
    assert taken(still) == pytest.approx(taken(moved)) == pytest.approx(60 * 20 * THICK)
    front = face_of(moved.board.pieces[0], Side.FRONT)
    nearest = front.recess < 1e-6
    spans = sorted(
        (round(float(front.points[a:b, 0].min()), 6), round(float(front.points[a:b, 0].max()), 6))
        for a, b, near in zip(front.ptr, front.ptr[1:], nearest, strict=False)
        if near
    )
    assert spans[0][0] == 0 and spans[-1][1] == WIDE
    covered = sum(b - a for a, b in spans)
    assert covered == pytest.approx(WIDE - 60)
    assert all(b <= 100 or a >= 160 for a, b in spans)


def test_a_hollow_beside_the_middle_runs_out_over_the_edge() -> None:
    inside = taken(board({"kind": "hollow", "radius": 90, "depth": 8}))
    over = taken(board({"kind": "hollow", "radius": 90, "depth": 8, "offset": [100, 0]}))
    assert over == pytest.approx(inside / 2, rel=0.01)


@pytest.mark.parametrize(("top", "bottom"), [(True, True), (True, False), (False, True), (False, False)])
def test_only_the_edges_that_are_named_are_eased(top: bool, bottom: bool) -> None:
    sim = board({"kind": "ease", "size": 3, "top": top, "bottom": bottom})
    one = 4.5 * 2 * (WIDE + LONG) - 4 * 3**3 / 3
    assert taken(sim) == pytest.approx(one * (top + bottom))


def test_upright_corners_are_eased_over_the_whole_thickness() -> None:
    chamfer = board({"kind": "ease", "size": 6, "top": False, "bottom": False, "corners": True})
    assert taken(chamfer) == pytest.approx(4 * 18 * THICK)
    top = face_of(chamfer.board.pieces[0], Side.TOP)
    assert top.areas().sum() == pytest.approx(WIDE * LONG - 4 * 18)


def test_a_border_front_and_back_first_and_without_stagger() -> None:
    """The sides of 200 first, then those of 150 + 2 × 25: two pieces each way, seams of opposite sides in line."""
    sim = run(
        *FRAME[:-1],
        {"id": "f", "kind": "border", "from": "core", "with": ["frame"], "first": "front-back", "stagger": False},
    )
    assert sim.board.size == pytest.approx((250, 200, 80))
    # two seams on either long side (120 of 200) and on either short one (120 of 200), four sides against the core
    areas = sorted(round(joint.area) for joint in sim.board.outcome.joints)
    assert areas == [2000] * 4 + [200 * 80] * 4
    left, right = (face_of(sim.board.pieces[0], side) for side in (Side.LEFT, Side.RIGHT))
    seams = [sorted({round(float(x), 3) for x in face.points[:, 0]}) for face in (left, right)]
    assert seams[0] == sorted(round(200 - x, 3) for x in seams[1])


def test_an_inlay_across_and_too_short_or_too_thin_a_strip() -> None:
    base = (
        mill("core-s", ("sycamore", 180), thickness=120, length=80),
        {"id": "core", "kind": "turn", "from": "core-s", "turns": ["stand up"]},
        {"id": "line", "kind": "mill", "thickness": 6, "length": 190, "strips": [{"wood": "plum", "width": 8}]},
    )
    sim = run(*base, {"id": "i", "kind": "inlay", "from": "core", "with": ["line"], "along": "width", "at": [60]})
    assert sim.board.size == pytest.approx((180, 120, 80))
    top = face_of(sim.board.pieces[0], Side.TOP)
    plum = np.array([sim.strips[int(n)].wood == "plum" for n in top.strip])
    ys = np.concatenate([top.points[a:b, 1] for a, b, own in zip(top.ptr, top.ptr[1:], plum, strict=False) if own])
    assert (ys.min(), ys.max()) == pytest.approx((56, 64))
    assert [c.severity for c in check(sim) if "long grain" in c.why] == ["stop"]
    for change, says in (
        ({"length": 170}, "170 mm long, but the channel needs 180"),
        ({"thickness": 4}, "4 mm thick, but"),
    ):
        lines = {**base[2], **change}
        with pytest.raises(StageError, match=says):
            run(
                *base[:2],
                lines,
                {"id": "i", "kind": "inlay", "from": "core", "with": ["line"], "along": "width", "at": [60]},
            )


def test_jointing_levels_steps_away_and_a_second_pass_takes_only_its_own() -> None:
    """Slices shifted by 0 and 7 leave a ragged edge of 7; jointed behind it and 1 more, then 1 again."""
    sim = run(
        mill("s", *[("ash", 30)] * 4),
        {"id": "g", "kind": "glue", "from": "s"},
        {"id": "c", "kind": "crosscut", "from": "g", "slice": 50, "count": 4, "squaring": 4},
        {"id": "b", "kind": "glue", "from": "c", "across": "length", "shifts": [0, 7]},
        {"id": "j", "kind": "joint", "from": "b", "edges": "left", "off": 1},
        {"id": "k", "kind": "joint", "from": "j", "edges": "left", "off": 1},
    )
    widths = [sim[stage].size[0] for stage in ("b", "j", "k")]
    assert widths == pytest.approx([127, 119, 118])
    # two slices of four reach 7 farther to the left
    assert sim["j"].outcome.waste[Cause.TRIMMING] == pytest.approx((2 * 8 + 2 * 1) * 50 * 20)


@pytest.mark.parametrize("name", ["end for end", "face over", "face over, end for end"])
def test_a_symmetric_shape_is_the_same_however_the_board_was_turned_first(name: str) -> None:
    stage = {"kind": "groove", "inset": 18, "corner_radius": 12}
    straight = board(stage)
    turned = board({"kind": "turn", "turns": [name]}, stage)
    assert taken(turned, "x1") == pytest.approx(taken(straight), rel=1e-9)
    back = turned.board.pieces[0].turned(turn_named(name).matrix).at_origin()
    if name == "end for end":
        mine, theirs = (
            sim.wood_volumes(cells) for sim, cells in ((turned, back), (straight, straight.board.pieces[0]))
        )
        assert mine == pytest.approx(theirs, rel=1e-3)
