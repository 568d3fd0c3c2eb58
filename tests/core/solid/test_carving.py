"""Work on finished boards: what tools take away, against closed forms and against another solid modeller."""

from __future__ import annotations

import math
import sys
from typing import Any

import manifold3d
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from laberinto.core.analysis.mesh import mesh_of, meshes_by_wood, solid_mesh
from laberinto.core.errors import PlanError, StageError
from laberinto.core.geometry import cutters, outlines
from laberinto.core.geometry.faces import Side, face_of
from laberinto.core.plan.model import read_plan
from laberinto.core.plan.simulate import Simulation, simulate
from laberinto.core.rules import check
from laberinto.core.solid import Cells, Tool, boxes, carve
from laberinto.core.stages import Cause

WIDE, LONG, THICK = 200.0, 150.0, 40.0
ARC = np.linspace(-math.pi / 2, math.pi / 2, 13)
"""Half a circle, from its lowest point to its highest."""


def board(*stages: dict[str, Any]) -> Simulation:
    """Eight end-grain blocks of 50 × 75 × 40 in two woods, then the stages."""
    strips = [{"wood": wood, "width": 50} for wood in ("ash", "elm") * 2]
    base = [
        {"id": "s", "kind": "mill", "thickness": 75, "length": 100, "strips": strips},
        {"id": "g", "kind": "glue", "from": "s"},
        {"id": "c", "kind": "crosscut", "from": "g", "slice": 40, "count": 2, "squaring": 4},
        {"id": "a", "kind": "arrange", "from": "c", "rule": "flip-every-other"},
        {"id": "b", "kind": "glue", "from": "a", "across": "length"},
    ]
    done = [{"id": f"x{i}", "from": f"x{i - 1}" if i else "b", **stage} for i, stage in enumerate(stages)]
    data = {"format": "laberinto-plan", "version": 1, "name": "Board", "stages": [*base, *done]}
    return simulate(read_plan(data), remember=False)


def taken(sim: Simulation, stage: str = "x0") -> float:
    return sim[stage].outcome.waste[Cause.SHAPING]


def segment(radius: float, depth: float) -> float:
    """Area of a circle's segment of this height."""
    return radius**2 * math.acos((radius - depth) / radius) - (radius - depth) * math.sqrt(
        2 * radius * depth - depth**2
    )


@pytest.mark.parametrize(
    ("stage", "volume"),
    [
        # a straight run through the whole width: section × 200
        ({"kind": "groove", "path": "runs", "runs": [[[-30, 75], [230, 75]]], "width": 12, "depth": 4}, segment(6, 4) * 200),
        # a vee of 90° 5 deep is 25 mm² in section; inside a template its ring is 160 × 110 on its middle line, with
        # outer corners rounded: four mitred corners less (4 − π) r² h / 3 of a square pyramid against a cone
        (
            {"kind": "groove", "bit": "vee", "depth": 5, "inset": 20, "corners": "inside-template"},
            25 * 2 * (160 + 110) - (4 - math.pi) * 25 * 5 / 3,
        ),
        # Pappus: section × the path of its middle, 4 straights and a circle of 15
        (
            {"kind": "groove", "width": 12, "depth": 6, "inset": 20, "corner_radius": 15},
            math.pi * 18 * (2 * (130 + 80) + 2 * math.pi * 15),
        ),
        ({"kind": "groove", "path": "circle", "width": 10, "depth": 5, "inset": 25}, math.pi * 12.5 * 2 * math.pi * 50),
        ({"kind": "well", "width": 60, "length": 40, "depth": 8, "radius": 10}, (2400 - (4 - math.pi) * 100) * 8),
        # a cap of a sphere: π d² (3 r − d) / 3; a cylinder: segment × width
        ({"kind": "hollow", "radius": 200, "depth": 10}, math.pi * 100 * (600 - 10) / 3),
        ({"kind": "hollow", "form": "cylinder-across", "radius": 150, "depth": 12}, segment(150, 12) * 200),
        # a cove half a circle deep: a half cylinder of 80 between two quarter balls, twice
        ({"kind": "cove", "length": 100, "radius": 10, "depth": 10}, 2 * (math.pi * 50 * 80 + math.pi * 4000 / 3 / 2)),
        ({"kind": "notch", "sides": "front", "width": 60, "depth": 20, "radius": 8}, (1200 - (4 - math.pi) / 2 * 64) * 40),
        ({"kind": "rabbet", "sides": "all", "width": 10, "depth": 12}, 2 * 10 * 12 * (200 + 130)),
        ({"kind": "feet", "pilot": 5, "depth": 14}, 4 * math.pi * 6.25 * 14),
        ({"kind": "shape", "radius": 25}, (4 - math.pi) * 625 * 40),
        ({"kind": "shape", "outline": "circle"}, (200 * 150 - math.pi * 75**2) * 40),
        # an arrow: the rectangle less its two lower corners
        ({"kind": "shape", "outline": "own", "radius": 0, "points": [[100, 0], [200, 75], [100, 150], [0, 75]]}, 600_000),
        # chamfer all round top and bottom: 2 × the triangle along the outline, less the mitred corners
        ({"kind": "ease", "size": 4}, 2 * (8 * 700 - 4 * (4**3 / 3))),
    ],
    ids=lambda value: value["kind"] if isinstance(value, dict) else "",
)  # fmt: skip
def test_what_a_tool_takes(stage: dict[str, Any], volume: float) -> None:
    """Closed forms; curves are faceted within 0.05 mm, which costs up to three per cent of a small section."""
    sim = board(stage)
    assert taken(sim) == pytest.approx(volume, rel=0.03)
    assert sim.board.volume + taken(sim) == pytest.approx(WIDE * LONG * THICK, rel=1e-12)
    left = sim.board.pieces.cells
    assert mesh_of(left).volume() == pytest.approx(left.volume(), rel=1e-12)


def test_a_concave_outline_is_cut_exactly() -> None:
    """A cross of 200 × 150 with arms of 60: what is left is 200 × 60 + 60 × 90."""
    cross = [[70, 0], [130, 0], [130, 45], [200, 45], [200, 105], [130, 105], [130, 150], [70, 150], [70, 105], [0, 105], [0, 45], [70, 45]]  # fmt: skip
    sim = board({"kind": "shape", "outline": "own", "radius": 0, "points": cross})
    assert sim.board.volume == pytest.approx((200 * 60 + 60 * 90) * 40)
    assert face_of(sim.board.pieces[0], Side.TOP).areas().sum() == pytest.approx(200 * 60 + 60 * 90)


def test_a_round_over_leaves_a_quarter_circle() -> None:
    """At depth u below the face the outline is inset by e(u) = r − √(r² − (r − u)²), so 700 ∫e − 4 ∫e² is taken, with
    ∫e = r² (1 − π/4) and ∫e² = r³ (5/3 − π/2)."""
    sim = board({"kind": "ease", "form": "round-over", "size": 8, "bottom": False})
    expected = 700 * 64 * (1 - math.pi / 4) - 4 * 512 * (5 / 3 - math.pi / 2)
    assert taken(sim) == pytest.approx(expected, rel=0.03)


tool_list = st.lists(
    st.one_of(
        st.tuples(st.just("ball"), st.floats(5, 25), st.floats(20, 180), st.floats(20, 130), st.floats(2, 12)),
        st.tuples(st.just("box"), st.floats(5, 60), st.floats(0, 190), st.floats(0, 140), st.floats(2, 30)),
        st.tuples(st.just("vee"), st.floats(40, 120), st.floats(0, 190), st.floats(0, 140), st.floats(2, 15)),
    ),
    min_size=1, max_size=3,
)  # fmt: skip


@settings(max_examples=10)
@given(tool_list)
def test_carving_agrees_with_another_modeller_and_covers_its_shadow(
    tools: list[tuple[str, float, float, float, float]],
) -> None:
    """The same tools subtracted by a mesh boolean give the same volume; and from above every point is seen once."""
    cells = boxes(np.tile([50.0, 75.0, THICK], (8, 1)), np.arange(8))
    cells = cells.moved(np.array([[50 * (i % 4), 75 * (i // 4), 0] for i in range(8)], float)).as_piece(0)
    bodies = []
    for kind, size, x, y, depth in tools:
        if kind == "ball":
            bodies.append(cutters.cap(size + depth, depth, np.array([0.0, 0.0, 1.0]), np.array([x, y, THICK])))
        elif kind == "box":
            bodies.append(cutters.box(np.array([x, y, THICK - depth]), np.array([x + size, y + size, THICK + 9])))
        else:
            path = np.array([[x, y], [200 - x / 2, 150 - y / 2]])
            bodies += cutters.run_along(path, cutters.vee_profile(size, depth), THICK, 1.0)
    left, chips = carve(cells, bodies)
    assert left.volume() + chips.volume() == pytest.approx(WIDE * LONG * THICK, rel=1e-12)
    solid = manifold3d.Manifold.cube((WIDE, LONG, THICK))
    for body in bodies:
        cut = manifold3d.Manifold.cube((400, 400, 400)).translate((-100, -100, -150))
        for normal, offset in zip(body.normals, body.offsets, strict=True):
            cut = cut.trim_by_plane(-normal, -offset)
        solid -= cut
    assert left.volume() == pytest.approx(solid.volume(), rel=1e-6)
    for side in (Side.TOP, Side.FRONT, Side.LEFT):
        shadow = np.abs(
            solid.rotate({"top": (0, 0, 0), "front": (90, 0, 0), "left": (0, 90, 0)}[side.value]).project().area()
        )
        assert face_of(left, side).areas().sum() == pytest.approx(shadow, rel=1e-4)


def test_a_board_cut_by_everything_gives_closed_meshes_of_the_ledgers_volume() -> None:
    trimesh = pytest.importorskip("trimesh")
    sim = board(
        {"kind": "cove", "length": 60}, {"kind": "groove", "inset": 18}, {"kind": "well", "depth": 12, "width": 40, "length": 40},
        {"kind": "shape", "radius": 20}, {"kind": "ease", "form": "round-over", "size": 4}, {"kind": "feet"},
    )  # fmt: skip
    cells = sim.board.pieces.cells
    woods = sim.wood_volumes(cells)
    meshes = meshes_by_wood(sim, cells)
    assert set(meshes) == {"ash", "elm"}
    for wood, mesh in {**meshes, "all": solid_mesh(cells)}.items():
        closed = trimesh.Trimesh(mesh.vertices, mesh.closed, process=False)
        assert closed.is_watertight and closed.is_winding_consistent
        assert closed.volume == pytest.approx(woods.get(wood, cells.volume()), rel=1e-6)
        # every corner lies where its strip's frame says: some cell of that strip carries local to world
        _assert_carried(cells, mesh.vertices, mesh.local, mesh.strip)


def test_a_few_blocks_at_a_time_are_carved_as_all_at_once(monkeypatch: pytest.MonkeyPatch) -> None:
    stages = {"kind": "hollow", "radius": 120, "depth": 10}, {"kind": "groove", "inset": 12}
    whole = board(*stages)
    monkeypatch.setattr(sys.modules[carve.__module__], "AT_ONCE", 40)
    parts = board(*stages)
    assert taken(parts) == pytest.approx(taken(whole)) and taken(parts, "x1") == pytest.approx(taken(whole, "x1"))
    of_strip = [
        sorted(zip(s.board.pieces.cells.strip, s.board.pieces.cells.volumes().round(6), strict=True))
        for s in (parts, whole)
    ]
    assert of_strip[0] == of_strip[1]


@pytest.mark.parametrize(
    "tools",
    [
        cutters.run_along(
            np.array([[30.0, 20], [160, 60], [150, 120]]), cutters.round_profile(9, 7), THICK, 1.0, closed=True
        ),
        [
            cutters.revolved(
                10 * np.stack([np.cos(ARC), np.sin(ARC)], axis=1), np.array([0.0, 0, 1]), np.array([60.0, 3, 22]), 24
            )
        ],
        [cutters.upright(outlines.rounded_rectangle(np.array([20.0, 30]), np.array([120.0, 90]), 12), 25, 50)],
        [cutters.Section.of(cutters.circle(80, 0, 75)).endless(np.roll(np.eye(3), -1, axis=0), np.array([0.0, 70, 0]))],
    ],
    ids=["ring", "ball", "well", "cylinder"],
)
def test_what_is_halved_first_comes_out_as_one_plane_after_the_other(tools: list[Tool]) -> None:
    """The same tools without a word on how their facets lie and where they end: the plain way."""
    cells = boxes(np.tile([50.0, 75.0, THICK], (8, 1)), np.arange(8))
    cells = cells.moved(np.array([[50 * (i % 4), 75 * (i // 4), 0] for i in range(8)], float)).as_piece(0)
    (left, chips), (plain, plain_chips) = (
        carve(cells, some) for some in (tools, [Tool(tool.normals, tool.offsets) for tool in tools])
    )
    assert all(tool.fans for tool in tools) and chips.volume() > 1000
    of_strip = [np.bincount(part.strip, part.volumes(), 8) for part in (left, chips, plain, plain_chips)]
    assert of_strip[0] == pytest.approx(of_strip[2], rel=1e-12) and of_strip[1] == pytest.approx(of_strip[3], rel=1e-9)
    for side in (Side.TOP, Side.FRONT, Side.LEFT):
        assert face_of(left, side).areas().sum() == pytest.approx(face_of(plain, side).areas().sum(), rel=1e-12)
    assert len(left) < 1.3 * len(plain)


def _assert_carried(cells: Cells, world: np.ndarray, local: np.ndarray, strip: np.ndarray) -> None:
    nearest = np.full(len(world), np.inf)
    frames = np.unique(np.round(np.column_stack([cells.strip, cells.rot.reshape(-1, 9), cells.move]), 6), axis=0)
    for number, rot, move in ((int(f[0]), f[1:10].reshape(3, 3), f[10:]) for f in frames):
        mine = strip == number
        away = np.abs(local[mine] @ rot.T + move - world[mine]).max(axis=1)
        nearest[mine] = np.minimum(nearest[mine], away)
    assert nearest.max() < 1e-4


@pytest.mark.parametrize(
    ("stage", "says", "field"),
    [
        ({"kind": "groove", "depth": 38}, "leaves no floor in wood 40 mm thick. Keep it to 37 mm", "depth"),
        ({"kind": "groove", "inset": 74}, "leaves nothing within on a board 150 mm across", "inset"),
        ({"kind": "well", "width": 190, "inset": 15}, "does not fit on 200 mm. Keep it to 170 mm", "width"),
        ({"kind": "hollow", "radius": 20, "depth": 25}, "deeper than its radius", "depth"),
        ({"kind": "cove", "radius": 25, "depth": 24}, "does not fit an edge 40 mm thick", "radius"),
        ({"kind": "cove", "length": 149}, "does not fit the left edge of 150 mm", "length"),
        ({"kind": "notch", "depth": 120}, "cuts the board in two. Keep it to 100 mm", "depth"),
        ({"kind": "rabbet", "sides": "front-back", "width": 80}, "meets its neighbour", "width"),
        ({"kind": "feet", "inset": 74}, "Feet 74 mm in", "inset"),
        ({"kind": "shape", "radius": 90}, "Corners of 90 mm do not fit on wood 150 mm across", "radius"),
        ({"kind": "shape", "outline": "circle", "diameter": 160}, "does not fit on wood 150 mm across", "diameter"),
        ({"kind": "shape", "outline": "own", "points": [[300, 300], [400, 300], [350, 400]], "radius": 0}, "outside the wood", "points"),
        ({"kind": "ease", "size": 21}, "eats the whole edge", "size"),
        ({"kind": "joint", "off": 50, "edges": "left-right"}, "", ""),
    ],
)  # fmt: skip
def test_what_does_not_fit_is_refused_with_what_would(stage: dict[str, Any], says: str, field: str) -> None:
    if not says:
        assert board(stage).board.size[0] == pytest.approx(100)
        return
    with pytest.raises(StageError, match=says) as caught:
        board(stage)
    assert (caught.value.stage, caught.value.field) == ("x0", field)


def test_a_groove_beside_the_board_and_a_sliver_are_pointed_out() -> None:
    beside = board({"kind": "groove", "path": "runs", "runs": [[[-90, -90], [-30, -40]]]})
    assert [c.stage for c in check(beside) if "takes nothing" in c.why] == ["x0"]
    crossing = board({"kind": "groove", "path": "runs", "runs": [[[-90, 20], [30, 40]]]})
    assert not [c for c in check(crossing) if "takes nothing" in c.why]
    # 49.7 off the left leaves 0.3 of the first strip, 49 leaves 1
    near, clear = (board({"kind": "joint", "off": off}) for off in (49.7, 49.0))
    assert [c.stage for c in check(near) if "2 slivers" in c.why] == ["x0"]
    assert not [c for c in check(clear) if "sliver" in c.why]


def test_arcs_end_where_they_should() -> None:
    corners = outlines.rounded_rectangle(np.array([0.0, 0.0]), np.array([40.0, 30.0]), 10)
    assert corners.min(axis=0).tolist() == [0, 0] and corners.max(axis=0).tolist() == [40, 30]
    assert outlines.is_convex(corners)
    circle = cutters.circle(50)
    assert np.ptp(circle, axis=0) == pytest.approx([100, 100], abs=1e-9)
    sagitta = 50 - np.linalg.norm((circle + np.roll(circle, 1, axis=0)) / 2, axis=1)
    assert 0 < sagitta.max() <= cutters.FACET


@pytest.mark.parametrize(
    ("stage", "says"),
    [
        ({"kind": "groove", "path": "runs", "runs": [[[k % 90, k % 7] for k in range(21)]] * 2}, "the runs have 42 points"),
        ({"kind": "groove", "path": "runs"}, "give runs exactly where the path is “runs”"),
        ({"kind": "groove", "path": "runs", "runs": [[[5, 5], [5, 5]]]}, "holds the same point twice"),
        ({"kind": "shape", "outline": "own", "points": [[0, 0], [50, 50], [50, 0], [0, 50]]}, "crosses itself"),
        ({"kind": "shape", "outline": "own", "points": [[0, 0], [50, 0], [50, 50]], "radius": 40}, "radius is too large"),
        ({"kind": "hollow", "depth": -1}, "x0.depth: -1 is too small; at least 0.5|depth: -1 is too small"),
        ({"kind": "cove", "sides": "lid"}, "'lid' is not one of"),
    ],
)  # fmt: skip
def test_a_plan_that_cannot_be_meant_is_refused_at_the_value(stage: dict[str, Any], says: str) -> None:
    with pytest.raises(PlanError, match=says):
        board(stage)
