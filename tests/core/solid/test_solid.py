"""The cutting kernel: volumes, topology and planes at any angle."""

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from laberinto.core.geometry.polygons import corners
from laberinto.core.solid import Cells, Plane, boxes, join, shave, slabs, split
from laberinto.core.solid.cells import axes, swept

unit = st.floats(-1, 1).filter(lambda v: abs(v) > 0.05 or v == 0)
normals = st.tuples(unit, unit, unit).filter(lambda n: math.hypot(*n) > 0.1)
shares = st.floats(0.02, 0.98)


def box(*size: float) -> Cells:
    return boxes(np.array([size]), np.array([0]))


def assert_sound(cells: Cells) -> None:
    """Euler's formula, closed edges and outward faces, cell by cell."""
    vertex, ptr = corners(cells, np.arange(cells.faces.shape[1]))
    for i in range(len(cells)):
        counts = [int(p[i + 1] - p[i]) for p in (cells.vptr, cells.eptr, cells.fptr)]
        assert counts[0] - counts[1] + counts[2] == 2
    for face in range(cells.faces.shape[1]):
        points = cells.verts[:, vertex[ptr[face] : ptr[face + 1]]].T
        assert len(points) >= 3
        assert np.abs(points @ cells.faces[:3, face] - cells.faces[3, face]).max() < 1e-7
        area = sum(np.cross(points[k], points[(k + 1) % len(points)]) for k in range(len(points))) / 2
        assert area @ cells.faces[:3, face] > -1e-9


def through(cells: Cells, normal: tuple[float, float, float], share: float) -> Plane:
    """A plane of this direction that passes inside the box round the cells."""
    low, high = cells.bounds()
    n = np.array(normal) / np.linalg.norm(normal)
    return Plane(n, float(n @ (low + share * (high - low))))


@given(st.lists(st.tuples(normals, shares), min_size=1, max_size=7))
def test_any_cuts_keep_every_cubic_millimetre(cuts: list[tuple[tuple[float, float, float], float]]) -> None:
    cells = join([box(30, 600, 35), box(20, 600, 35).moved([30, 0, 0])])
    whole = 50 * 600 * 35
    for normal, share in cuts:
        below, above = split(cells, through(cells, normal, share))
        assert below.volume() + above.volume() == pytest.approx(whole, rel=1e-12)
        cells = join([below, above])
    assert_sound(cells)


@pytest.mark.parametrize(
    ("normal", "offset", "below"),
    [
        # a unit cube cut through corners and edges; volumes from solid geometry
        ((1, 1, 0), 1 / math.sqrt(2), 1 / 2),  # through two opposite edges
        ((1, 1, 1), 1 / math.sqrt(3), 1 / 6),  # through three corners: a corner tetrahedron
        ((1, 1, 1), 2 / math.sqrt(3), 5 / 6),  # the opposite one
        ((1, 1, 0), 0.5, 1 / 4),  # a prism of legs 1/√2: half of 1/2
        ((1, 1, 1), math.sqrt(3) / 2, 1 / 2),  # a regular hexagon
    ],
)
def test_cuts_through_corners_are_exact(normal: tuple[float, ...], offset: float, below: float) -> None:
    low, high = split(box(1, 1, 1), Plane.of(normal, offset))  # type: ignore[arg-type]
    assert (low.volume(), high.volume()) == pytest.approx((below, 1 - below), abs=1e-12)
    assert_sound(join([low, high]))


def test_a_cut_along_a_face_makes_no_ghost() -> None:
    below, above = split(box(10, 10, 10), Plane.across(0, 10.0))
    assert (len(below), len(above)) == (1, 0)
    below, above = split(box(10, 10, 10), Plane.across(0, 0.0))
    assert (len(below), len(above)) == (0, 1)


@given(normals, st.lists(shares, min_size=1, max_size=9, unique=True))
def test_all_planes_at_once_equal_one_after_the_other(normal: tuple[float, float, float], at: list[float]) -> None:
    cells = join([box(30, 90, 35), box(20, 80, 30).turned(np.array([[0.0, -1, 0], [1, 0, 0], [0, 0, 1]]))])
    at = sorted(a for i, a in enumerate(sorted(at)) if i == 0 or a - sorted(at)[i - 1] > 1e-3)
    n = np.array(normal) / np.linalg.norm(normal)
    bounds = np.array([through(cells, normal, a).offset for a in at])
    bounds.sort()
    cut = slabs(cells, n, bounds)
    together, slab = cut.cells, cut.slab
    rest, one_by_one = cells, []
    for bound in bounds:
        below, rest = split(rest, Plane(n, float(bound)))
        one_by_one.append(below.volume())
    one_by_one.append(rest.volume())
    volumes = [together.take(slab == i).volume() for i in range(len(bounds) + 1)]
    assert volumes == pytest.approx(one_by_one, abs=1e-6)
    assert_sound(together)


@given(
    st.lists(st.tuples(normals, shares), max_size=3), st.one_of(normals, st.sampled_from([(1, 0, 0), (0, 1, 0), (0, 0, 1)])),
    st.lists(shares, min_size=1, max_size=9, unique=True),
)  # fmt: skip
def test_cells_of_any_shape_cut_in_one_pass_as_if_cut_one_by_one(
    before: list[tuple[tuple[float, float, float], float]], normal: tuple[float, float, float], at: list[float]
) -> None:
    """The one-pass cut against the plain one, a plane at a time, on cells that earlier cuts have made oblique."""
    cells = join([box(30, 90, 35), box(20, 80, 30).moved([30, 0, 0])])
    for n, share in before:
        cells = join(list(split(cells, through(cells, n, share))))
    n = np.array(normal, float) / np.linalg.norm(normal)
    bounds = np.sort([through(cells, normal, share).offset for share in at])
    bounds = bounds[np.concatenate([[True], np.diff(bounds) > 1e-3])]
    cut = slabs(cells, n, bounds)
    fast, slab = cut.cells, cut.slab
    some = slabs(cells, n, bounds, np.arange(0, len(bounds) + 1, 2))  # every other slab; the rest is only weighed
    assert_sound(fast)
    rest = cells
    for k, bound in enumerate([*bounds, np.inf]):
        slow, rest = split(rest, Plane(n, float(bound))) if np.isfinite(bound) else (rest, rest)
        mine = fast.take(slab == k)
        assert (some.of(k).volume() if k % 2 == 0 else some.lost[k]) == pytest.approx(slow.volume(), abs=1e-6)
        assert sorted(mine.volumes().tolist()) == pytest.approx(sorted(slow.volumes().tolist()), abs=1e-6)
        assert mine.verts.shape == slow.verts.shape and mine.edges.shape == slow.edges.shape
        if len(mine):
            assert np.abs(np.array(mine.bounds()) - np.array(slow.bounds())).max() < 1e-6


def bevel(angle: float, up: float, beyond: float) -> Plane:
    """A plane that leans 45° up or down and meets the outermost upright edge of wood 50 × 80 mm, seen from its middle,
    so far from half its height."""
    x, y = math.cos(angle), math.sin(angle)
    return Plane.of((x, y, up), (25 * abs(x) + 40 * abs(y) + beyond) / math.sqrt(2))


bevels = st.lists(st.tuples(st.floats(0, 2 * math.pi), st.floats(0.001, 25)), max_size=5)


@given(bevels.filter(bool), bevels, normals, shares)
def test_planes_that_do_not_meet_shave_together_what_they_shave_one_after_the_other(
    upper: list[tuple[float, float]], lower: list[tuple[float, float]], skew: tuple[float, float, float], share: float
) -> None:
    cells = join([box(30, 80, 40), box(20, 80, 40).turned(np.diag([-1.0, 1.0, -1.0])).moved([50, 0, 40])])
    cells = join(list(split(cells, through(cells, skew, share)))).moved([-25, -40, -20])
    # what the upper ones take lies above the middle, what the lower ones take below it
    above, below = ([bevel(angle, up, beyond) for angle, beyond in some] for some, up in ((upper, 1), (lower, -1)))
    left, gone = shave(cells, above, below)
    singly, chips = cells, 0.0
    for plane in above + below:
        singly, chip = split(singly, plane)
        chips += chip.volume()
    assert gone == pytest.approx(chips, rel=1e-9, abs=1e-6)
    assert sorted(left.volumes()) == pytest.approx(sorted(singly.volumes()), rel=1e-9, abs=1e-6)
    assert_sound(left)


@given(normals)
def test_axes_are_right_handed_about_any_normal(normal: tuple[float, float, float]) -> None:
    n = np.array(normal, float) / np.linalg.norm(normal)
    frame = axes(n)
    assert np.abs(frame @ frame.T - np.eye(3)).max() < 1e-12
    assert np.linalg.det(frame) == pytest.approx(1) and (frame[2] == n).all()


def test_moving_touches_no_vertex() -> None:
    cells = box(3, 4, 5)
    assert cells.moved([0, 0, 0]) is cells
    assert cells.moved([1, 2, 3]).verts is cells.verts
    assert cells.moved([1, 2, 3]).bounds()[0].tolist() == [1, 2, 3]


def test_swept_sections_give_textbook_volumes() -> None:
    """A square of 10 that shrinks to one of 4 over 6: a frustum, 6 / 3 × (100 + 16 + √(100 × 16)) = 312. One that
    shrinks to a point is a pyramid, 6 / 3 × 100 = 200; one that stays is a box of 600. Twisting a quarter turn keeps
    corners on straight lines, so the middle section is a square of half the diagonal: (100 + 4 × 50 + 100) / 6 × 6."""
    corner = np.array([[-5.0, -5], [5, -5], [5, 5], [-5, 5]]).T
    after = np.roll(corner, -1, axis=1)
    for goal, following, volume in (
        (0.4 * corner, 0.4 * after, 312.0),
        (0 * corner, 0 * after, 200.0),
        (corner, after, 600.0),
        (after, np.roll(after, -1, axis=1), 400.0),
    ):
        assert 6 * swept(corner, after, goal - corner, following - after).sum() == pytest.approx(volume)


def test_no_cells_and_all_cells_are_taken_as_they_are() -> None:
    cells = join([box(1, 2, 3), box(2, 2, 2).moved([1, 0, 0])])
    assert cells.take(np.array([True, True])) is cells
    none = cells.take(np.zeros(2, bool))
    assert len(none) == 0 and none.volume() == 0 and join([none, cells]) is cells
    back = cells.take(np.array([1, 0]))
    assert back.volumes().tolist() == [8.0, 6.0]
    assert_sound(back)
