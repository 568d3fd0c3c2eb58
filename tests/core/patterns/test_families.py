"""One plan for each family of boards, worked out on paper: sizes, counts, and where corners must fall."""

from __future__ import annotations

import math
from typing import Any

import numpy as np
import pytest

from laberinto.core.errors import StageError
from laberinto.core.geometry.faces import Side, face_of
from laberinto.core.stages import Cause
from tests.core.stages.test_stages import mill, run, section

SQRT2 = math.sqrt(2)


def woods_by_row(sim: Any, stage: str) -> list[list[str]]:
    """Woods of the face row by row from the far side, each row from the left."""
    face = face_of(sim[stage].pieces[0], Side.TOP)
    middle = np.array([face.points[a:b].mean(axis=0) for a, b in zip(face.ptr, face.ptr[1:], strict=False)])
    rows: dict[int, list[tuple[float, str]]] = {}
    for (x, y), number in zip(middle, face.strip, strict=True):
        rows.setdefault(round(y), []).append((x, sim.strips[int(number)].wood))
    return [[wood for _, wood in sorted(rows[y])] for y in sorted(rows)]


def test_graded_bands_wander() -> None:
    """Bands of 10, 15, 20 and 25: joints at 10, 25 and 45 in a row as cut, at 25, 45 and 60 in one that is flipped."""
    sim = run(
        mill("s", ("ash", 10), ("elm", 15), ("ash", 20), ("elm", 25)),
        {"id": "p", "kind": "glue", "from": "s"},
        {"id": "c", "kind": "crosscut", "from": "p", "slice": 40, "count": 4, "squaring": 4},
        {"id": "r", "kind": "arrange", "from": "c", "rule": "flip-every-other"},
        {"id": "b", "kind": "glue", "from": "r", "across": "length"},
    )
    face = face_of(sim.board.pieces[0], Side.TOP)
    edges: dict[int, set[float]] = {}
    for a, b in zip(face.ptr, face.ptr[1:], strict=False):
        row = int(face.points[a:b, 1].mean() // 20)
        edges.setdefault(row, set()).update(round(float(x), 6) + 0.0 for x in face.points[a:b, 0])
    assert {row: sorted(xs) for row, xs in edges.items()} == {
        0: [0, 10, 25, 45, 70], 1: [0, 25, 45, 60, 70], 2: [0, 10, 25, 45, 70], 3: [0, 25, 45, 60, 70],
    }  # fmt: skip


def test_a_ring_chevron_opens_at_every_joint() -> None:
    """One wood, its hearts below and to the left; every other strip end for end. On the near end the hearts
    of two neighbours mirror each other in the joint between them."""
    rings = {"heart": [-20, -30], "spacing": 2, "seed": 1}
    strips = [{"wood": "ash", "width": 30, "rings": rings, "turned": t} for t in ("as-sawn", "end-for-end") * 2]
    sim = run(
        {"id": "s", "kind": "mill", "thickness": 30, "length": 200, "strips": strips},
        {"id": "p", "kind": "glue", "from": "s"},
    )
    face = face_of(sim.board.pieces[0], Side.FRONT)
    hearts = []
    for i in np.argsort([face.points[a:b, 0].min() for a, b in zip(face.ptr, face.ptr[1:], strict=False)]):
        hearts.append((face.maps[i][:, :2] @ np.array([-20.0, -30.0]) + face.maps[i][:, 2]).tolist())
    # picture: right, and down from the upper edge at 30
    assert np.allclose(hearts, [[-20, 60], [80, 60], [40, 60], [140, 60]])
    joint = sim["p"].outcome.joints[0]
    # the joint lies at x = 30, z = 15 of the first strip: its ring runs square to (50, 45), the other to (−50, 45)
    assert joint.ring_angles(sim.strips).tolist() == pytest.approx([2 * math.degrees(math.atan2(45, 50))])
    assert joint.fibre_angles().tolist() == [0] and joint.into().tolist() == [[0, 0]]
    assert joint.grain(sim.strips) == [("face", "face")]


def test_a_picture_takes_slices_of_two_panels_in_a_planned_order() -> None:
    """A tee: one slice of a panel that is dark throughout its middle three, then three with one dark strip."""
    sim = run(
        mill("bar-s", ("ash", 20), ("elm", 20), ("elm", 20), ("elm", 20), ("ash", 20), length=80),
        mill("post-s", ("ash", 20), ("ash", 20), ("elm", 20), ("ash", 20), ("ash", 20)),
        {"id": "bar-p", "kind": "glue", "from": "bar-s"},
        {"id": "post-p", "kind": "glue", "from": "post-s"},
        {"id": "bar", "kind": "crosscut", "from": "bar-p", "slice": 40, "count": 1, "squaring": 4},
        {"id": "post", "kind": "crosscut", "from": "post-p", "slice": 40, "count": 3, "squaring": 4},
        {"id": "b", "kind": "glue", "from": "bar", "with": ["post"], "across": "length", "turns": ["stand up"]},
    )
    o, x = "ash", "elm"
    assert woods_by_row(sim, "b") == [[o, x, x, x, o], [o, o, x, o, o], [o, o, x, o, o], [o, o, x, o, o]]
    assert sim.board.size == pytest.approx((100, 80, 40))


def test_a_mitred_chevron_meets_at_its_zigzag() -> None:
    """Five strips of 20 cut at 15° into segments of 60: across a segment they measure 20 / cos 15° = 20.706 each and
    lean 60 tan 15° = 16.077. Turned over, the next leans back, and lines meet on the joint, 103.528 long; ripped
    straight, 103.528 − 16.077 is left."""
    sim = run(
        mill("s", ("ash", 20), ("elm", 20), ("ash", 20), ("elm", 20), ("ash", 20), length=420),
        {"id": "p", "kind": "glue", "from": "s"},
        {"id": "c", "kind": "crosscut", "from": "p", "slice": 60, "count": 4, "squaring": 4, "skew": 15},
        {"id": "z", "kind": "glue", "from": "c", "across": "length", "turns": ["as it lies", "face over"]},
        {"id": "t", "kind": "trim", "from": "z", "edge": 0, "flush": True},
    )
    across, lean = 100 / math.cos(math.radians(15)), 60 * math.tan(math.radians(15))
    for joint in sim["z"].outcome.joints:
        assert joint.area == pytest.approx(across * 20)
        assert all(sim.strips[a].wood == sim.strips[b].wood for a, b in joint.strips)
        # fibres run 15° to either side of the length: 30° between them, and 75° into the joint
        assert joint.fibre_angles() == pytest.approx([30] * len(joint.areas), abs=1e-6)
        assert joint.into().ravel() == pytest.approx([75] * (2 * len(joint.areas)), abs=1e-6)
    assert sim["z"].size[:2] == pytest.approx((across + lean, 240))
    assert sim["t"].size[:2] == pytest.approx((across - lean, 240))


def test_weave_bands_cross_at_the_joint() -> None:
    """A bar of 40 × 40 laminated 10 + 20 + 10, cut to the diamond through the middles of its sides: a square of
    40 / √2 = 28.284 whose band runs corner to corner and leaves each side at its middle. Every other bar a quarter
    roll: bands turn at each joint, band against band over half of it and ground against ground over the other."""
    b = 40 / SQRT2
    sim = run(
        mill("s", ("ash", 10), ("elm", 20), ("ash", 10), thickness=40),
        {"id": "bar", "kind": "glue", "from": "s"},
        {"id": "d", "kind": "profile", "from": "bar", "section": "diamond", "rest_on": 1},
        {"id": "c", "kind": "crosscut", "from": "d", "slice": 80, "count": 4, "squaring": 4},
        {"id": "w", "kind": "glue", "from": "c", "turns": ["as it lies", "quarter roll"]},
    )
    assert sim["d"].size == pytest.approx((b, 400, b))
    assert sim["w"].size == pytest.approx((4 * b, 80, b))
    for joint in sim["w"].outcome.joints:
        met: dict[tuple[str, str], float] = {}
        for (one, other), area in zip(joint.strips, joint.areas, strict=True):
            pair = sim.strips[one].wood, sim.strips[other].wood
            met[pair] = met.get(pair, 0.0) + area
        assert met == pytest.approx({("elm", "elm"): 80 * b / 2, ("ash", "ash"): 80 * b / 2})
    band = [points for wood, points in section(sim, "w") if wood == "elm"]
    h = b / 2
    first = sorted([(0, 0), (h, 0), (b, h), (b, b), (h, b), (0, h)])
    mirrored = sorted((b - x, y) for x, y in first)
    assert len(band) == 4 and any(np.allclose(sorted(band[0]), shape, atol=1e-3) for shape in (first, mirrored))


def test_rhombus_bars_close_without_a_gap() -> None:
    """Bars with sides of 20 at 60°: three side by side measure 3 × 20 + 10 across, 10 √3 high, and touch over their
    whole slanted sides, 20 × 300 each."""
    high = 10 * math.sqrt(3)
    points = [[0, 0], [20, 0], [30, high], [10, high]]
    sim = run(
        mill("s", ("ash", 34), ("elm", 34), ("plum", 34), thickness=20, length=300),
        {"id": "r", "kind": "profile", "from": "s", "section": "own", "points": points},
        {"id": "g", "kind": "glue", "from": "r"},
    )
    assert sim["g"].size == pytest.approx((70, 300, high))
    assert sim["g"].volume == pytest.approx(3 * 20 * high * 300)
    assert [joint.area for joint in sim["g"].outcome.joints] == pytest.approx([20 * 300] * 2)


FRAME = (
    mill("core-s", ("sycamore", 200), thickness=150, length=80),
    {"id": "core", "kind": "turn", "from": "core-s", "turns": ["stand up"]},
    mill("frame-s", ("plum", 120), thickness=25, length=1100),
    {"id": "frame-c", "kind": "crosscut", "from": "frame-s", "slice": 80, "count": 12, "squaring": 3},
    {"id": "frame", "kind": "turn", "from": "frame-c", "turns": ["stand up"]},
    {
        "id": "spline", "kind": "mill", "thickness": 8, "length": 260,
        "strips": [{"wood": "beech", "width": 16, "count": 4}],
    },
)  # fmt: skip


def test_a_border_goes_on_in_two_goes_and_is_all_end_grain() -> None:
    """Core 200 × 150, border pieces 120 × 25, 80 high. The sides of 150 take two pieces each, those of 250 three, one
    of each pair begun with half a piece: seams at 120 and 60, at 120, 240 and 60, 180. Four splines of 16 × 8."""
    sim = run(*FRAME, {"id": "f", "kind": "border", "from": "core", "with": ["frame", "spline"], "spline": "spline"})
    assert sim.board.size == pytest.approx((250, 200, 80))
    assert sim.board.volume == pytest.approx(250 * 200 * 80)
    outcome = sim.board.outcome
    assert len(outcome.joints) == 1 + 1 + 2 + 2 + 2 + 2 + 4
    # six seams of 25 × 80; two sides of 150 × 80 and two of 250 × 80; round each spline 2 × (16 + 8) of its length
    areas = sorted(joint.area for joint in outcome.joints)
    assert areas == pytest.approx([2000] * 6 + [48 * 150] * 2 + [12000] * 2 + [48 * 250] * 2 + [20000] * 2)
    assert all(joint.mixed == 0 for joint in outcome.joints if joint.area == pytest.approx(2000))
    assert outcome.waste[Cause.SHAPING] == pytest.approx(16 * 8 * (2 * 150 + 2 * 250))
    top = face_of(sim.board.pieces[0], Side.TOP)
    plum = [sim.strips[int(n)].wood == "plum" for n in top.strip]
    assert top.areas()[plum].sum() == pytest.approx(250 * 200 - 200 * 150)
    left_over = sum(sim.strips[int(n)].wood == "plum" for n in outcome.offcuts.strip)
    assert left_over == 12 - (2 + 2 + 3 + 3)


def test_a_border_that_runs_out_says_how_much_is_bare() -> None:
    short = [dict(stage) for stage in FRAME]
    short[3]["count"] = 6
    with pytest.raises(
        StageError, match="The border pieces run out: 10 mm of an edge of 250 mm is left bare"
    ) as caught:
        run(*short[:-1], {"id": "f", "kind": "border", "from": "core", "with": ["frame"]})
    assert (caught.value.stage, caught.value.field) == ("f", "with")


def test_inlaid_strips_lie_flush_and_are_told_apart_from_the_end_grain() -> None:
    """Two channels of 4 × 5 through 200 mm; strips of 4 × 6 × 210 lose 1 mm to the plane and 10 mm to the saw."""
    sim = run(
        mill("core-s", ("sycamore", 200), thickness=200, length=80),
        {"id": "core", "kind": "turn", "from": "core-s", "turns": ["stand up"]},
        {"id": "line", "kind": "mill", "thickness": 6, "length": 210, "strips": [{"wood": "bog-oak", "width": 4, "count": 2}]},
        {"id": "i", "kind": "inlay", "from": "core", "with": ["line"], "at": [60, 140], "depth": 5},
    )  # fmt: skip
    assert sim.board.size == pytest.approx((200, 200, 80))
    waste = sim.board.outcome.waste
    assert waste[Cause.SHAPING] == pytest.approx(2 * 4 * 5 * 200)
    assert waste[Cause.FLATTENING] == pytest.approx(2 * 4 * 1 * 210)
    assert waste[Cause.TRIMMING] == pytest.approx(2 * 4 * 5 * 10)
    # each strip is glued below, on end grain, and on both sides, along it: (4 + 2 × 5) × 200, 4 × 200 of it mixed
    assert [joint.area for joint in sim.board.outcome.joints] == pytest.approx([14 * 200] * 2)
    assert [joint.mixed for joint in sim.board.outcome.joints] == pytest.approx([4 * 200] * 2)


def test_a_round_board_can_be_planned_with_less_waste_and_is_a_circle() -> None:
    """Cut to a circle of 90, then hollowed: what is left is the cylinder less the cap, to the facets' tolerance."""
    sim = run(
        mill("s", *[("ash", 25), ("elm", 25)] * 2, thickness=25),
        {"id": "p", "kind": "glue", "from": "s"},
        {"id": "c", "kind": "crosscut", "from": "p", "slice": 40, "count": 4, "squaring": 4},
        {"id": "r", "kind": "arrange", "from": "c"},
        {"id": "b", "kind": "glue", "from": "r", "across": "length"},
        {"id": "o", "kind": "shape", "from": "b", "outline": "circle", "diameter": 90},
        {"id": "h", "kind": "hollow", "from": "o", "radius": 160, "depth": 5},
    )
    assert sim["o"].size == pytest.approx((90, 90, 40))
    cap = math.pi * 5**2 * (3 * 160 - 5) / 3
    assert sim.board.volume == pytest.approx(math.pi * 45**2 * 40 - cap, rel=2e-3)
    top = face_of(sim.board.pieces[0], Side.TOP)
    assert top.areas().sum() == pytest.approx(math.pi * 45**2, rel=2e-3)
