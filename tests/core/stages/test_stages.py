"""Stages on wood, worked out on paper: saws at angles, sections, nesting, sequences, squares and bonds."""

from __future__ import annotations

import math
from itertools import pairwise
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from laberinto.core.errors import PlanError, StageError
from laberinto.core.geometry.faces import Side, face_of
from laberinto.core.plan.model import Plan, read_plan
from laberinto.core.plan.simulate import Simulation, simulate
from laberinto.core.stages import Cause
from laberinto.core.steps import steps

SQRT2 = math.sqrt(2)


def plan(*stages: dict[str, Any]) -> Plan:
    return read_plan({"format": "laberinto-plan", "version": 1, "name": "Golden", "stages": list(stages)})


def mill(name: str, *strips: tuple[str, float], thickness: float = 20.0, length: float = 400.0) -> dict[str, Any]:
    return {
        "id": name, "kind": "mill", "thickness": thickness, "length": length,
        "strips": [{"wood": wood, "width": width} for wood, width in strips],
    }  # fmt: skip


def run(*stages: dict[str, Any]) -> Simulation:
    return simulate(plan(*stages), remember=False)


def section(
    sim: Simulation, stage: str, side: Side = Side.FRONT, piece: int = 0
) -> list[tuple[str, list[tuple[float, float]]]]:
    """Wood and corners (right, down; mm) of every polygon square on to a side, left to right."""
    face = face_of(sim[stage].pieces[piece], side)
    out = []
    for i in np.flatnonzero(face.tilt > 0.999):  # square on; no slanted ends
        points = [
            (round(float(x), 4) + 0.0, round(float(y), 4) + 0.0) for x, y in face.points[face.ptr[i] : face.ptr[i + 1]]
        ]
        out.append((sim.strips[int(face.strip[i])].wood, sorted(points)))
    return sorted(out, key=lambda entry: entry[1])


def test_a_rip_gives_as_many_as_fit_and_keeps_the_rest() -> None:
    """100 wide into 22 with 3 mm kerf: 4 × 22 + 3 × 3 = 97 fit exactly four; the fourth cut leaves 100 − 100 = 0."""
    sim = run(
        mill("s", ("ash", 100)),
        {"id": "r", "kind": "rip", "from": "s", "width": 22},
        {"id": "g", "kind": "glue", "from": "r"},
    )
    assert len(sim["r"].pieces) == 4
    assert sim["g"].size == pytest.approx((88, 400, 20))
    assert sim["r"].outcome.waste[Cause.KERF] == pytest.approx(4 * 3 * 400 * 20)
    assert sim["r"].outcome.waste[Cause.OFFCUT] == pytest.approx(0)


def test_a_list_of_widths_is_cut_in_turn_and_too_many_are_refused() -> None:
    rip = {"id": "r", "kind": "rip", "from": "s", "widths": [10, 30, 20]}
    sim = run(mill("s", ("ash", 100)), rip, {"id": "g", "kind": "glue", "from": "r"})
    assert sim["r"].pieces.cells.piece_sizes()[:, 0].tolist() == pytest.approx([10, 30, 20])
    assert sim["r"].outcome.waste[Cause.OFFCUT] == pytest.approx((100 - 60 - 9) * 400 * 20)
    with pytest.raises(StageError, match="need 106 mm, but there is only 100 mm: 6 mm too little"):
        run(
            mill("s", ("ash", 100)), {**rip, "widths": [50, 50]} | {"kerf": 6}, {"id": "g", "kind": "glue", "from": "r"}
        )


def test_a_resaw_thins_and_a_turn_rolls() -> None:
    """40 thick re-sawn into 12: 3 × 12 + 2 × 2 = 40. Rolled a quarter, 12 × 60 becomes 60 × 12 and back."""
    sim = run(
        mill("s", ("ash", 60), thickness=40),
        {"id": "r", "kind": "resaw", "from": "s", "width": 12, "kerf": 2},
        {"id": "t", "kind": "turn", "from": "r", "turns": ["quarter roll"]},
        {"id": "g", "kind": "glue", "from": "t"},
    )
    assert len(sim["r"].pieces) == 3
    assert sim["r"].size == pytest.approx((60, 400, 12))
    assert sim["t"].size == pytest.approx((12, 400, 60))
    assert sim["g"].size == pytest.approx((36, 400, 60))


def test_a_skewed_slice_is_stretched_by_one_over_cos() -> None:
    """Four strips of 50 cut at 30°: each shows 50 / cos 30° = 57.735 on the cut face; a slice of 40 keeps
    40 × 200 / cos 30° of the panel's plan; the wedge before the first is 200 × 200 tan 30° / 2."""
    sim = run(
        mill("s", *[("ash", 50), ("elm", 50)] * 2, length=600),
        {"id": "g", "kind": "glue", "from": "s"},
        {"id": "c", "kind": "crosscut", "from": "g", "slice": 40, "count": 6, "squaring": 0, "skew": 30},
        {"id": "b", "kind": "glue", "from": "c", "across": "length"},
    )
    cos, tan = math.cos(math.radians(30)), math.tan(math.radians(30))
    front = section(sim, "c")
    widths = [max(x for x, _ in points) - min(x for x, _ in points) for _, points in front]
    assert widths == pytest.approx([50 / cos] * 4, abs=1e-3)
    one = sim["c"].pieces[0]
    assert one.volume() == pytest.approx(40 * 200 / cos * 20)
    wedge = 200 * 200 * tan / 2 * 20
    lost = sim["c"].outcome.offcuts.of_piece(0).volume() + 3 * 200 / cos * 20
    # the first kerf lies in the wedge, cut short at its tip: 3 mm wide, 3 / (sin · cos) less
    assert lost == pytest.approx(wedge + (3 * 3 / (2 * math.sin(math.radians(30)) * cos)) * 20)


def test_a_diamond_from_a_square_has_sides_of_a_over_root_two() -> None:
    """a = 60: side 42.4264; half the square is kept; each corner of height a / (2√2) = 21.2132 loses
    21.2132² − 18.2132² to a 3 mm kerf."""
    sim = run(
        mill("s", ("plum", 60), thickness=60),
        {"id": "p", "kind": "profile", "from": "s", "section": "diamond", "rest_on": 1},
        {"id": "g", "kind": "glue", "from": "p"},
    )
    assert sim["p"].size == pytest.approx((60 / SQRT2, 400, 60 / SQRT2))
    assert sim["p"].volume == pytest.approx(60 * 60 / 2 * 400)
    h = 60 / (2 * SQRT2)
    assert sim["p"].outcome.waste[Cause.KERF] == pytest.approx(4 * (h**2 - (h - 3) ** 2) * 400)
    assert sim["p"].outcome.offcuts.pieces == 4


def test_three_woods_mitred_at_45_round_a_block_meet_without_gap() -> None:
    """A 40 × 40 core, 20 thick sides mitred to its upper right corner: a full 60 × 60 square. The mitre runs from
    (40, 20) to (60, 0) in the picture; its joint is 20√2 wide, the core's 40 and 40."""
    sim = run(
        mill("core", ("ash", 40), thickness=40),
        mill("r", ("elm", 20), thickness=60),
        mill("t", ("plum", 60), thickness=20),
        {
            "id": "right",
            "kind": "profile",
            "from": "r",
            "section": "own",
            "points": [[0, 0], [20, 0], [20, 60], [0, 40]],
        },
        {"id": "top", "kind": "profile", "from": "t", "section": "own", "points": [[0, 0], [40, 0], [60, 20], [0, 20]]},
        {"id": "two", "kind": "glue", "from": "core", "with": ["right"]},
        {"id": "block", "kind": "glue", "from": "two", "with": ["top"], "across": "thickness"},
    )
    assert sim["block"].size == pytest.approx((60, 400, 60))
    assert sim["block"].volume == pytest.approx(60 * 60 * 400)
    assert sim["two"].outcome.joints[0].area == pytest.approx(40 * 400)
    assert sim["block"].outcome.joints[0].area == pytest.approx((40 + 20 * SQRT2) * 400)
    assert dict(section(sim, "block")) == {
        "ash": [(0, 20), (0, 60), (40, 20), (40, 60)],
        "elm": [(40, 20), (40, 60), (60, 0), (60, 60)],
        "plum": [(0, 0), (0, 20), (40, 20), (60, 0)],
    }


def test_bevelled_strips_nest_and_meet_on_their_slant() -> None:
    """Ripped at 45° from a 20 thick plank, strips lie against each other over 20√2; turned every other face over
    they still nest. Each is 30√2 wide along the top, and n of them with their slant 20 more."""
    for turns in (["as it lies"], ["as it lies", "end for end"]):
        stages = [
            mill("s", ("ash", 200)),
            {"id": "r", "kind": "rip", "from": "s", "width": 30, "count": 3, "bevel": 45},
            {"id": "g", "kind": "glue", "from": "r", "turns": turns},
        ]
        if len(turns) == 1:
            sim = run(*stages)
            assert [j.area for j in sim["g"].outcome.joints] == pytest.approx([20 * SQRT2 * 400] * 2)
            assert sim["g"].size[0] == pytest.approx(3 * 30 * SQRT2 + 20)
        else:  # a parallelogram turned end for end leans the other way: the slants touch along an edge only
            with pytest.raises(StageError, match="Pieces 1 and 2 touch along an edge at most"):
                run(*stages)


def test_half_bricks_land_on_half_pitch_after_a_flip() -> None:
    """Bricks of 60 and mortar of 4: pitch 64. A first brick of (60 − 4) / 2 = 28 and the row flipped puts every
    mortar joint 32 further: the middle of the brick above."""
    row = [("elm", 28.0)] + [("sycamore", 4.0), ("elm", 60.0)] * 3
    sim = run(
        mill("s", *row, thickness=30),
        {"id": "g", "kind": "glue", "from": "s"},
        {"id": "c", "kind": "crosscut", "from": "g", "slice": 40, "count": 2},
        {"id": "a", "kind": "arrange", "from": "c", "rule": "flip-every-other"},
        {"id": "b", "kind": "glue", "from": "a", "across": "length"},
    )
    starts: dict[float, list[float]] = {}
    for wood, points in section(sim, "b", Side.TOP):
        if wood == "sycamore":
            starts.setdefault(points[0][1], []).append(points[0][0])
    upper, lower = starts[0.0], starts[30.0]
    assert upper == pytest.approx([28, 92, 156])
    assert sorted(lower) == pytest.approx([60, 124, 188])
    assert {(b - a) % 64 for a in upper for b in lower} == {32.0}


def test_stairs_need_both_pairs_of_faces_planed() -> None:
    """Two strips 20 × 40 make a 40 × 40 pair. 1 mm off top and bottom alone leaves 40 × 38, which turned a quarter
    no longer meets its neighbour; off all four it stays square at 38."""
    pair = [mill("s", ("ash", 20), ("elm", 20), thickness=40), {"id": "g", "kind": "glue", "from": "s"}]
    flat = {"id": "f", "kind": "flatten", "from": "g", "each_face": 1}
    assert run(*pair, flat)["f"].size == pytest.approx((40, 400, 38))
    both = run(*pair, flat, {"id": "e", "kind": "flatten", "from": "f", "each_face": 1, "faces": "left-right"})
    assert both["e"].size == pytest.approx((38, 400, 38))


def sources() -> list[dict[str, Any]]:
    return [
        mill("a", *[("ash", 30)] * 3),
        mill("b", *[("elm", 20)] * 3),
        mill("m", *[("plum", 4)] * 6),
    ]


def woods(sim: Simulation, stage: str) -> str:
    return "".join(wood[0] for wood, _ in section(sim, stage))


def test_a_sequence_takes_from_each_in_turn_until_one_runs_out() -> None:
    glue = {"id": "g", "kind": "glue", "from": "a", "with": ["b", "m"], "sequence": ["a", "m", "b", "m"]}
    sim = run(*sources(), glue)
    assert woods(sim, "g") == "apep" * 3
    assert sim["g"].size[0] == pytest.approx(3 * (30 + 4 + 20 + 4))
    short = run(*sources(), {**glue, "sequence": ["a", "m"]})
    assert woods(short, "g") == "apapap"
    # three mortar strips and three of elm stay over
    assert short["g"].outcome.waste[Cause.OFFCUT] == pytest.approx((3 * 4 + 3 * 20) * 400 * 20)
    with pytest.raises(StageError, match="“x”, which this glue-up does not take"):
        run(*sources(), {**glue, "sequence": ["a", "x"]})


def test_order_reverse_and_shuffle() -> None:
    strips = mill("s", ("ash", 10), ("elm", 10), ("plum", 10))
    glue = {"id": "g", "kind": "glue", "from": "s"}
    assert woods(run(strips, {**glue, "reverse": True}), "g") == "pea"
    assert woods(run(strips, {**glue, "order": [2, 3, 1]}), "g") == "epa"
    shuffled = [woods(run(strips, {**glue, "shuffle": seed}), "g") for seed in range(8)]
    assert len(set(shuffled)) > 2
    assert shuffled == [woods(run(strips, {**glue, "shuffle": seed}), "g") for seed in range(8)]
    with pytest.raises(StageError, match="each of the 3 pieces once"):
        run(strips, {**glue, "order": [1, 1, 2]})


def test_dry_joints_give_several_pieces_from_one_clamp_up() -> None:
    sim = run(
        mill("s", *[("ash", 10), ("elm", 20)] * 2),
        {"id": "g", "kind": "glue", "from": "s", "dry": [2]},
        {"id": "h", "kind": "glue", "from": "g", "across": "thickness"},
    )
    assert len(sim["g"].pieces) == 2
    assert [(j.first, j.second) for j in sim["g"].outcome.joints] == [(0, 1), (2, 3)]
    assert sim["h"].size == pytest.approx((30, 400, 40))


@given(st.lists(st.floats(-40, 40), min_size=1, max_size=3), st.floats(-10, 10))
def test_shifted_rows_meet_over_what_still_overlaps(shifts: list[float], stagger: float) -> None:
    """Joint area = (width − |difference of the two shifts|) × thickness; ends stay ragged."""
    sim = run(
        mill("s", *[("ash", 100)] * 4, length=100),
        {"id": "g", "kind": "glue", "from": "s", "across": "length", "shifts": shifts, "stagger": stagger},
    )
    at = [shifts[i % len(shifts)] + stagger * i for i in range(4)]
    wanted = [max(100 - abs(b - a), 0) * 20 for a, b in pairwise(at)]
    assert [j.area for j in sim["g"].outcome.joints] == pytest.approx(wanted, abs=1e-4)
    assert sim["g"].size == pytest.approx((100 + max(at) - min(at), 400, 20))


def test_offcuts_can_be_used_and_are_then_no_waste() -> None:
    """A 100 wide plank ripped to 60 leaves 100 − 60 − 3 = 37, glued back on."""
    rip = {"id": "r", "kind": "rip", "from": "s", "width": 60, "count": 1}
    kept = run(mill("s", ("ash", 100)), rip, {"id": "g", "kind": "glue", "from": "r", "with": ["r:offcut"]})
    assert kept["g"].size == pytest.approx((97, 400, 20))
    assert kept.waste()[Cause.OFFCUT] == pytest.approx(0)
    left = run(mill("s", ("ash", 100)), rip)
    assert left.waste()[Cause.OFFCUT] == pytest.approx(37 * 400 * 20)
    for sim in (kept, left):
        assert sim.board.volume + sum(sim.waste().values()) == pytest.approx(sim.milled, rel=1e-9)


@given(st.floats(-6, 6), st.floats(-6, 6), st.integers(0, 99), st.floats(0.5, 4))
def test_skewed_chaos_keeps_every_cubic_millimetre(first: float, second: float, seed: int, kerf: float) -> None:
    sim = run(
        mill("s", *[("ash", 25), ("elm", 25), ("plum", 25)] * 2, length=500, thickness=25),
        {"id": "g1", "kind": "glue", "from": "s"},
        {"id": "f1", "kind": "flatten", "from": "g1", "each_face": 1},
        {"id": "r1", "kind": "rip", "from": "f1", "width": 20, "skew": first, "kerf": kerf},
        {
            "id": "g2",
            "kind": "glue",
            "from": "r1",
            "shuffle": seed,
            "turns": ["as it lies", "quarter roll", "face over"],
        },
        {"id": "f2", "kind": "flatten", "from": "g2", "to": 15},
        {"id": "r2", "kind": "rip", "from": "f2", "width": 18, "bevel": second, "kerf": kerf},
        {"id": "g3", "kind": "glue", "from": "r2", "shuffle": seed + 1},
    )
    gone = 0.0
    for result in sim.results:
        gone += sum(result.outcome.waste.values())
        assert result.volume + gone == pytest.approx(sim.milled, rel=1e-9)
    assert sim["f2"].size[2] == pytest.approx(15)
    top = face_of(sim["f2"].pieces[0], Side.TOP)
    assert np.isfinite(top.maps).all() and (top.areas() > 0).all()


@pytest.mark.parametrize(
    ("stage", "says"),
    [
        ({"kind": "rip"}, "either one width"),
        ({"kind": "rip", "width": 20, "skew": 50}, "at most 45"),
        ({"kind": "turn", "turns": ["sideways"]}, "there is no turn “sideways”"),
        ({"kind": "profile", "section": "own"}, "give corners exactly where"),
        ({"kind": "profile", "section": "own", "points": [[0, 0], [0, 9], [9, 0]]}, "anticlockwise"),
        ({"kind": "profile", "section": "triangle", "rest_on": 4}, "no side 4"),
        ({"kind": "glue", "with": ["nowhere"]}, "“nowhere”, which is not in the plan"),
        ({"kind": "glue", "with": ["s"]}, "which “x” already took"),
        ({"kind": "glue", "turned": {"1": "upside"}}, "there is no turn “upside”"),
    ],
)
def test_wrong_parameters_are_refused_with_what_is_allowed(stage: dict[str, Any], says: str) -> None:
    with pytest.raises(PlanError, match=says):
        plan(mill("s", ("ash", 100)), {"id": "x", "from": "s", **stage})


def test_a_section_outside_the_wood_is_refused() -> None:
    with pytest.raises(StageError, match="lies outside the wood"):
        run(
            mill("s", ("ash", 30)),
            {"id": "p", "kind": "profile", "from": "s", "section": "own", "points": [[100, 0], [120, 0], [110, 9]]},
        )


def test_a_stepped_end_shows_every_step_and_no_inner_joint() -> None:
    """Three strips shifted 10, 0 and 5 mm along their length: all three ends look out in front, each 30 × 20, and
    the steps between them from the sides."""
    sim = run(
        mill("s", ("ash", 30), ("elm", 30), ("plum", 30)),
        {"id": "g", "kind": "glue", "from": "s", "shifts": [10, 0, 5]},
    )
    front = face_of(sim["g"].pieces[0], Side.FRONT)
    assert sorted(front.areas().tolist()) == pytest.approx([600, 600, 600])
    top = face_of(sim["g"].pieces[0], Side.TOP)
    assert top.areas().sum() == pytest.approx(3 * 30 * 400)
    left = face_of(sim["g"].pieces[0], Side.LEFT)
    # from the left all of the first, and the 10 mm of the second that lie nearer to you; the third hides behind it
    assert {sim.strips[int(s)].wood: a for s, a in zip(left.strip, left.areas(), strict=True)} == pytest.approx(
        {"ash": 400 * 20, "elm": 10 * 20}
    )


def test_tops_of_a_skew_glued_panel_are_seen_whole() -> None:
    """Every cell reaches from bottom to top, so the top shows the panel's plan: its volume over its thickness."""
    sim = run(
        mill("s", *[("ash", 25), ("elm", 25)] * 3, length=500),
        {"id": "g1", "kind": "glue", "from": "s"},
        {"id": "r", "kind": "rip", "from": "g1", "width": 20, "skew": 5},
        {"id": "g2", "kind": "glue", "from": "r", "shuffle": 4},
    )
    piece = sim["g2"].pieces[0]
    assert face_of(piece, Side.TOP).areas().sum() == pytest.approx(piece.volume() / 20)
    assert face_of(piece, Side.BOTTOM).areas().sum() == pytest.approx(piece.volume() / 20)


def test_levelling_and_cutting_flush_take_the_steps_away() -> None:
    """Strips 20 and 26 thick, shifted by 12: levelled to the thinner and 1 off each face leaves 18; flush ends
    leave 400 − 12."""
    sim = run(
        mill("a", *[("ash", 30)] * 2),
        mill("b", *[("elm", 40)] * 2, thickness=26),
        {"id": "g", "kind": "glue", "from": "a", "with": ["b"], "sequence": ["a", "b"], "shifts": [0, 12]},
        {"id": "f", "kind": "flatten", "from": "g", "each_face": 1, "level": True},
        {"id": "t", "kind": "trim", "from": "f", "edge": 0, "flush": True},
    )
    assert sim["g"].size == pytest.approx((140, 412, 26))
    assert sim["f"].size == pytest.approx((140, 412, 18))
    assert sim["t"].size == pytest.approx((140, 388, 18))
    assert sim["t"].volume == pytest.approx(140 * 388 * 18)


def test_a_slanted_rip_carries_its_caution_and_a_straight_one_does_not() -> None:
    def cautions(**angle: float) -> str:
        sim = run(mill("s", ("ash", 200)), {"id": "r", "kind": "rip", "from": "s", "width": 30, **angle})
        (step,) = [step for step in steps(sim) if step.stage == "r"]
        return " ".join((*step.lines, *step.cautions))

    assert "taper jig" in cautions(skew=4) and "the cut 4° from square, its far end to the left" in cautions(skew=4)
    assert "the blade 30° from upright" in cautions(bevel=30)
    assert "taper jig" not in cautions()


def test_a_plan_that_would_drown_in_cells_is_refused_at_its_stage() -> None:
    """400 strips into 200 slices are 80,000 cells, and the ends beside them 800 more at most."""
    with pytest.raises(StageError, match="cells; one build holds 40,000") as caught:
        run(
            {**mill("s", length=3000), "strips": [{"wood": "ash", "width": 3, "count": 400}]},
            {"id": "g", "kind": "glue", "from": "s"},
            {"id": "c", "kind": "crosscut", "from": "g", "slice": 8, "count": 200},
        )
    assert caught.value.stage == "c"
