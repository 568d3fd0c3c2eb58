"""Where wood is whole: what is levelled and cut flush is square and full, and nothing larger would be."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from laberinto.core.errors import StageError
from laberinto.core.geometry.clear import clean_limit, clean_rectangle, full
from laberinto.core.plan.model import read_plan
from laberinto.core.plan.simulate import Simulation, simulate
from laberinto.core.solid import Cells, Plane, boxes, split


def run(*stages: dict[str, Any]) -> Simulation:
    return simulate(read_plan({"format": "laberinto-plan", "version": 1, "name": "Whole", "stages": list(stages)}))


def shifted(by: float = 10.0) -> list[dict[str, Any]]:
    """Three slices of a panel 119 − by wide stood up, every other row shifted: the board is 119 wide over all."""
    strips = [{"wood": "elm", "width": (119.0 - by) / 4, "count": 4}]
    return [
        {"id": "s", "kind": "mill", "thickness": 30, "length": 300, "strips": strips},
        {"id": "g", "kind": "glue", "from": "s"},
        {"id": "c", "kind": "crosscut", "from": "g", "slice": 40, "count": 3},
        {"id": "a", "kind": "arrange", "from": "c", "rule": "as-cut"},
        {"id": "b", "kind": "glue", "from": "a", "across": "length", "shifts": [0, by]},
    ]


@pytest.mark.parametrize(
    "last",
    [
        {"id": "z", "kind": "flatten", "from": "b", "faces": "left-right", "level": True, "each_face": 0.1},
        {"id": "z", "kind": "joint", "from": "b", "edges": "left-right", "level": True, "off": 0.1},
        {"id": "z", "kind": "trim", "from": "b", "flush": True, "edge": 0},
    ],
    ids=["flatten", "joint", "trim"],
)  # fmt: skip
def test_the_steps_of_shifted_rows_are_levelled_away(last: dict[str, Any]) -> None:
    """Rows 109 wide, every other 10 to the right: 119 over all, and between x = 10 and x = 109 the wood is whole."""
    sim = run(*shifted(), last)
    off = 0.0 if last["kind"] == "trim" else 0.2
    assert sim.board.size[:2] == pytest.approx((99.0 - off, 90.0))
    assert full(sim.board.pieces[0])


def test_a_ridge_has_nothing_to_level_from_and_says_so() -> None:
    roof = [
        {"id": "s", "kind": "mill", "thickness": 30, "length": 300, "strips": [{"wood": "elm", "width": 60}]},
        {"id": "p", "kind": "profile", "from": "s", "section": "triangle"},
    ]
    with pytest.raises(StageError, match="no flat on the top and bottom to level from") as caught:
        run(*roof, {"id": "f", "kind": "flatten", "from": "p", "level": True, "each_face": 1.0})
    assert (caught.value.stage, caught.value.field) == ("f", "level")


def block(width: float, length: float, thickness: float = 20.0) -> Cells:
    return boxes(np.array([[width, length, thickness]]), np.array([0]))


def cut(cells: Cells, *lines: tuple[float, float, float]) -> Cells:
    """What lies below each line a x + b y = c, seen from above."""
    for a, b, c in lines:
        length = float(np.hypot(a, b))
        cells = split(cells, Plane.of((a / length, b / length, 0.0), c / length))[0]
    return cells


def test_the_largest_rectangle_in_a_rhombus_is_half_of_it() -> None:
    """A rhombus with diagonals 120 and 80 holds a rectangle of half of each, 60 × 40: width w leaves a height of
    80 (1 − w / 120), and w (1 − w / 120) is largest at w = 60."""
    rhombus = cut(block(120, 80), (-80, -120, -4800), (80, 120, 14400), (-80, 120, 4800), (80, -120, 4800))
    near, far = clean_rectangle(rhombus)
    assert far - near == pytest.approx([60.0, 40.0], abs=1e-4)
    assert near == pytest.approx([30.0, 20.0], abs=1e-4)


def test_the_largest_rectangle_in_a_right_triangle_touches_the_middle_of_its_long_side() -> None:
    near, far = clean_rectangle(cut(block(100, 60), (60, 100, 6000)))
    assert (near, far) == (pytest.approx([0, 0], abs=1e-4), pytest.approx([50, 30], abs=1e-4))


def test_trimmed_flush_a_rhombus_is_a_rectangle_of_wood() -> None:
    board = [
        {
            "id": "s",
            "kind": "mill",
            "thickness": 20,
            "length": 300,
            "strips": [{"wood": "elm", "width": 80, "count": 2}],
        },
        {"id": "g", "kind": "glue", "from": "s"},
        {
            "id": "o",
            "kind": "shape",
            "from": "g",
            "outline": "own",
            "points": [(80, 0), (160, 150), (80, 300), (0, 150)],
        },
        {"id": "t", "kind": "trim", "from": "o", "flush": True, "edge": 0},
    ]
    sim = run(*board)
    assert sim.board.size[:2] == pytest.approx((80, 150), abs=1e-3) and full(sim.board.pieces[0])


lines = st.tuples(st.integers(-5, 5), st.integers(-5, 5)).filter(any)


@given(st.lists(st.tuples(lines, st.floats(0.3, 0.95)), min_size=1, max_size=4))
def test_no_rectangle_of_a_fine_grid_is_larger(cuts: list[tuple[tuple[int, int], float]]) -> None:
    """Convex outlines cut from a square, against every rectangle whose corners lie on a grid of 4 mm."""
    piece = block(100, 100)
    for (a, b), share in cuts:
        low, high = min(a, 0) * 100 + min(b, 0) * 100, max(a, 0) * 100 + max(b, 0) * 100
        piece = cut(piece, (a, b, low + share * (high - low)))
        if not len(piece):
            return
    near, far = clean_rectangle(piece)
    area = float(np.prod(np.maximum(far - near, 0)))
    corners = piece.world()[:, :2]
    normals, offsets = piece.world_planes()
    upright = np.abs(normals[:, 2]) < 0.5
    grid = np.arange(0, 101, 4.0)
    x, y = np.meshgrid(grid, grid, indexing="ij")
    inside = np.all(
        normals[upright, 0, None, None] * x + normals[upright, 1, None, None] * y
        <= offsets[upright, None, None] + 1e-6,
        axis=0,
    )
    best = 0.0
    for i in range(len(grid)):
        for j in range(i + 1, len(grid)):
            both = np.flatnonzero(inside[i] & inside[j])
            if len(both) > 1:
                best = max(best, (grid[j] - grid[i]) * (grid[both[-1]] - grid[both[0]]))
    assert area >= best - 1e-3
    for px, py in ((near[0], near[1]), (near[0], far[1]), (far[0], near[1]), (far[0], far[1])):
        if area:
            assert np.all(normals[upright, 0] * px + normals[upright, 1] * py <= offsets[upright] + 1e-4)
    assert area <= float(np.prod(np.ptp(corners, axis=0))) + 1e-6


def test_a_limit_looks_past_what_is_glued_over_and_at_what_is_bare() -> None:
    step = boxes(np.array([[30.0, 90, 40], [30, 90, 34]]), np.arange(2)).moved(np.array([[0, 0, 0], [30.0, 0, 0]]))
    step = step.as_piece(0)
    assert clean_limit(step, 2, 1.0) == pytest.approx(34) and clean_limit(step, 2, -1.0) == pytest.approx(0)
    assert clean_limit(step, 0, 1.0) == pytest.approx(30)  # the step's upright face is bare at the top
