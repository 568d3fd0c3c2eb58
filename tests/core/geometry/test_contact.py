"""Shared areas and near pairs against plain geometry; contacts between faces."""

from __future__ import annotations

import math

import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st

from laberinto.core.geometry.contact import touching
from laberinto.core.geometry.overlap import Outlines, near_pairs, shared_areas
from laberinto.core.solid import boxes

coordinate = st.integers(-8, 8).map(float)


@st.composite
def convex(draw: st.DrawFn) -> np.ndarray:
    """Corners of a convex polygon on a small grid, so that sides often fall together."""
    points = draw(st.lists(st.tuples(coordinate, coordinate), min_size=3, max_size=9))
    hull = shapely.convex_hull(shapely.multipoints(points))
    if hull.geom_type != "Polygon":
        x, y = points[0]
        hull = shapely.box(x, y, x + 3, y + 2)
    ring = np.asarray(hull.exterior.coords)[:-1]
    return ring if draw(st.booleans()) else ring[::-1]


def outlines(polygons: list[np.ndarray]) -> Outlines:
    ptr = np.concatenate([[0], np.cumsum([len(p) for p in polygons])])
    return Outlines.of(np.concatenate(polygons), ptr)


@given(st.lists(convex(), min_size=1, max_size=6), st.lists(convex(), min_size=1, max_size=6), st.floats(-1, 1))
def test_shared_areas_agree_with_a_geometry_library(
    ones: list[np.ndarray], others: list[np.ndarray], turn: float
) -> None:
    c, s = math.cos(turn), math.sin(turn)
    away = np.array([[c, -s], [s, c]])
    ones, others = [p @ away.T + 700 for p in ones], [p @ away.T + 700 for p in others]
    i, j = (g.ravel() for g in np.meshgrid(np.arange(len(ones)), np.arange(len(others)), indexing="ij"))
    found = shared_areas(outlines(ones + others), i, len(ones) + j, chunk=60)
    expected = [
        shapely.Polygon(ones[a]).intersection(shapely.Polygon(others[b])).area for a, b in zip(i, j, strict=True)
    ]
    assert found == pytest.approx(expected, abs=1e-6)


def test_a_polygon_shares_all_of_itself_and_nothing_with_its_neighbour() -> None:
    """Two halves of a square of 10: each shares its 50 with itself, and with the other only the side between them."""
    left, right = np.array([[0, 0], [5, 0], [5, 10], [0, 10.0]]), np.array([[5, 0], [10, 0], [10, 10], [5, 10.0]])
    both = outlines([left, right])
    pairs = np.array([0, 0, 1, 1]), np.array([0, 1, 0, 1])
    assert shared_areas(both, *pairs).tolist() == [50, 0, 0, 50]


boxes2d = st.lists(
    st.tuples(st.floats(0, 90), st.floats(0, 90), st.floats(0.1, 60), st.floats(0.1, 60), st.integers(0, 2)),
    max_size=14,
)


@given(boxes2d, boxes2d)
def test_the_sweep_finds_every_pair_that_overlaps(one: list[tuple[float, ...]], other: list[tuple[float, ...]]) -> None:
    sets = []
    for rows in (one, other):
        a = np.array(rows, float).reshape(-1, 5)
        sets.append((np.stack([a[:, 0], a[:, 1], a[:, 0] + a[:, 2], a[:, 1] + a[:, 3]]), a[:, 4].astype(np.int64)))
    (first, ga), (second, gb) = sets
    found = set(zip(*(v.tolist() for v in near_pairs(first, ga, second, gb)), strict=True))
    plain = {
        (i, j)
        for i in range(len(ga))
        for j in range(len(gb))
        if ga[i] == gb[j]
        and min(first[2, i], second[2, j]) - max(first[0, i], second[0, j]) > 1e-9
        and min(first[3, i], second[3, j]) - max(first[1, i], second[1, j]) > 1e-9
    }
    assert found == plain


def test_only_faces_of_one_plane_that_look_at_each_other_touch() -> None:
    """Three blocks of 10: the second beside the first and 4 higher, the third a hundredth away from the second."""
    cells = boxes(np.full((3, 3), 10.0), np.arange(3)).moved(np.array([[0, 0, 0], [10, 0, 4], [20.01, 0, 4]]))
    faces = np.arange(18)
    group = np.zeros(18, np.int64)
    found = touching(cells, faces, faces, group, group)
    owner = cells.cell_of_face()
    met = {
        (int(owner[a]), int(owner[b])): area for a, b, area in zip(found.first, found.second, found.area, strict=True)
    }
    assert met == pytest.approx({(0, 1): 60.0, (1, 0): 60.0})


def test_lists_that_share_faces_touch_as_lists_that_do_not() -> None:
    """Faces looked up together or apart meet over the same areas: two rows of blocks, the second half a block on."""
    at = np.array([[10.0 * k, 0, 0] for k in range(4)] + [[10.0 * k + 5, 10, 0] for k in range(4)])
    cells = boxes(np.full((8, 3), 10.0), np.arange(8)).moved(at)
    normals, _ = cells.world_planes()
    front, back = np.flatnonzero(normals[:, 1] > 0.9), np.flatnonzero(normals[:, 1] < -0.9)
    every = np.arange(cells.faces.shape[1])

    def areas(first: np.ndarray, second: np.ndarray) -> dict[tuple[int, int], float]:
        found = touching(cells, first, second, np.zeros(len(first), np.int64), np.zeros(len(second), np.int64))
        faces = zip(first[found.first].tolist(), second[found.second].tolist(), strict=True)
        return dict(zip(faces, found.area.tolist(), strict=True))

    apart = areas(front, back)
    together = {pair: area for pair, area in areas(every, every).items() if pair[0] in front}
    assert apart == pytest.approx(together)
    assert sorted(apart.values()) == pytest.approx([50.0] * 7)  # half of a block each, one end hanging over
