"""What is seen: hidden parts are taken away, and nothing else."""

from __future__ import annotations

import math

import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st

from laberinto.core.geometry.faces import Face, Side, face_of
from laberinto.core.geometry.rotations import TURNS
from laberinto.core.solid import Cells, Plane, boxes, join, split


def pile(blocks: list[tuple[int, int, int]]) -> Cells:
    """Blocks of 10 × 10 × height on a grid, each resting on the bench or on legs: (column, row, height)."""
    parts = [
        boxes(np.array([[10.0, 10.0, 5.0 * h]]), np.array([i])).moved([10.0 * x, 10.0 * y, 0.0])
        for i, (x, y, h) in enumerate(blocks)
    ]
    return join(parts).as_piece(0)


def polygons(face: Face) -> list[shapely.Polygon]:
    return [shapely.Polygon(face.points[a:b]) for a, b in zip(face.ptr, face.ptr[1:], strict=False)]


def assert_covers_once(face: Face, shadow: float) -> None:
    shapes = polygons(face)
    assert all(shape.is_valid for shape in shapes)
    assert sum(shape.area for shape in shapes) == pytest.approx(shadow, rel=1e-6)
    assert shapely.union_all([shape.buffer(1e-6) for shape in shapes]).area == pytest.approx(shadow, rel=1e-4)


def shadow(cells: Cells, side: Side) -> float:
    """Area of all cells' outlines together, seen from a side."""
    flat = cells.world() @ side.frame[:2].T
    return float(
        shapely.union_all(
            [
                shapely.convex_hull(shapely.multipoints(flat[a:b]))
                for a, b in zip(cells.vptr, cells.vptr[1:], strict=False)
            ]
        ).area
    )


places = st.lists(
    st.tuples(st.integers(0, 3), st.integers(0, 3), st.integers(1, 6)),
    min_size=1,
    max_size=9,
    unique_by=lambda b: b[:2],
)


@given(places, st.sampled_from(TURNS), st.sampled_from(list(Side)))
def test_a_stepped_pile_is_seen_once_from_every_side(blocks: list, turn: object, side: Side) -> None:
    cells = pile(blocks).turned(turn.matrix).at_origin()  # type: ignore[attr-defined]
    assert_covers_once(face_of(cells, side), shadow(cells, side))


@given(places, st.tuples(st.floats(-1, 1), st.floats(-1, 1)), st.floats(0.2, 0.8), st.sampled_from(list(Side)))
def test_slanted_ends_hide_and_are_hidden(blocks: list, lean: tuple[float, float], share: float, side: Side) -> None:
    whole = pile(blocks)
    low, high = whole.bounds()
    normal = (lean[0], lean[1], 1.0)
    unit = np.array(normal) / np.linalg.norm(normal)
    cells, _ = split(whole, Plane.of(normal, float(unit @ (low + share * (high - low)))))
    if len(cells):
        assert_covers_once(face_of(cells, side), shadow(cells, side))


@given(
    st.integers(1, 3), st.lists(st.tuples(*[st.sampled_from([-1.0, 0.0, 1.0])] * 3).filter(any), max_size=5),
    st.floats(1.0, 8.0), st.sampled_from(list(Side)),
)  # fmt: skip
def test_of_a_block_that_bulges_all_round_its_skin_is_seen(
    blocks: int, ways: list[tuple[float, ...]], off: float, side: Side
) -> None:
    """Sawn into blocks and glued again, with edges and corners taken off: whatever is seen lies in planes beyond which
    there is no wood, and that is all there is to see."""
    cells = pile([(x, y, 6) for x in range(blocks) for y in range(blocks)])
    for way in ways:
        normal = np.array(way) / np.linalg.norm(way)
        cells, _ = split(cells, Plane.of(way, float((cells.world() @ normal).max()) - off))
    if not len(cells):
        return
    face = face_of(cells, side)
    assert_covers_once(face, shadow(cells, side))
    level = np.hypot(*face.lean.T) < 1e-9
    assert np.allclose(face.recess[level], 0)


def test_a_bridge_hides_what_is_under_it_in_part() -> None:
    """A plate of 40 × 20 on the bench under a bar of 10 across it, seen from above: the plate shows as two parts of
    15 × 20, the bar as 10 × 30."""
    plate = boxes(np.array([[40.0, 20.0, 5.0]]), np.array([0]))
    bar = boxes(np.array([[10.0, 30.0, 5.0]]), np.array([1])).moved([15.0, -5.0, 20.0])
    face = face_of(join([plate, bar]).as_piece(0), Side.TOP)
    seen: dict[int, float] = {}
    for number, area in zip(face.strip.tolist(), face.areas().tolist(), strict=True):
        seen[number] = seen.get(number, 0.0) + area
    assert seen == pytest.approx({0: 600, 1: 300})
    assert face.recess[face.strip == 0].tolist() == pytest.approx([20] * int((face.strip == 0).sum()))
    assert face.recess[face.strip == 1].tolist() == [0]


def test_any_direction_can_be_looked_along() -> None:
    """A cube of 10 seen along its diagonal is a hexagon of 10² √3, a third of it each of three sides."""
    cube = boxes(np.full((1, 3), 10.0), np.array([0]))
    towards = np.ones(3) / math.sqrt(3)
    right = np.array([1.0, -1.0, 0.0]) / math.sqrt(2)
    face = face_of(cube, np.stack([right, np.cross(right, towards), towards]))
    assert face.areas().tolist() == pytest.approx([100 / math.sqrt(3)] * 3)


def test_loose_pieces_do_not_hide_one_another() -> None:
    """Two pieces at the same place: each shows its own front."""
    one = boxes(np.array([[10.0, 10.0, 10.0], [8.0, 8.0, 8.0]]), np.arange(2))
    assert sorted(face_of(one, Side.FRONT).areas().tolist()) == pytest.approx([64, 100])
