"""What must hold for any wood: turning, cutting and gluing back, mirroring, and joints from either side."""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import example, given
from hypothesis import strategies as st

from laberinto.core.geometry.clear import clean_limit, clean_rectangle
from laberinto.core.geometry.faces import Face, Side, face_of, section_of
from laberinto.core.geometry.joints import joints_between
from laberinto.core.geometry.nesting import distance
from laberinto.core.geometry.rotations import TURNS, Pose, Spin, Turn
from laberinto.core.plan.model import Plan
from laberinto.core.plan.simulate import simulate
from laberinto.core.solid import Cells, Plane, boxes, join, shave, slabs, split
from tests.core.strategies import plans

angles = st.floats(-40, 40)


def box(x: float, y: float, z: float, strip: int = 0) -> Cells:
    return boxes(np.array([[x, y, z]]), np.array([strip]))


def about(axis: int, degrees: float) -> np.ndarray:
    c, s = math.cos(math.radians(degrees)), math.sin(math.radians(degrees))
    i, j = (axis + 1) % 3, (axis + 2) % 3
    matrix = np.eye(3)
    matrix[i, i] = matrix[j, j] = c
    matrix[i, j], matrix[j, i] = -s, s
    return matrix


def shown(face: Face) -> list[tuple[int, list[tuple[float, float]]]]:
    """Strip and rounded corners of every polygon, in an order that does not depend on how it came about."""
    out = []
    for i in range(len(face)):
        points = np.round(face.points[face.ptr[i] : face.ptr[i + 1]], 5) + 0.0
        out.append((int(face.strip[i]), sorted(map(tuple, points.tolist()))))
    return sorted(out)


@given(plans(), st.sampled_from([(Pose.QUARTER_ROLL, 4), (Pose.FACE_OVER, 2), (Pose.STAND_UP, 4)]))
def test_turning_through_a_whole_cycle_returns_the_same_face(plan: Plan, cycle: tuple[Pose, int]) -> None:
    board = simulate(plan, remember=False).board.pieces[0]
    pose, times = cycle
    turned = board
    for _ in range(times):
        turned = turned.turned(Turn(pose).matrix)
    assert shown(face_of(turned.at_origin(), Side.TOP)) == shown(face_of(board.at_origin(), Side.TOP))


@given(plans())
def test_what_is_on_top_is_underneath_after_turning_face_over(plan: Plan) -> None:
    board = simulate(plan, remember=False).board.pieces[0]
    over = board.turned(Turn(Pose.FACE_OVER).matrix).at_origin()
    assert shown(face_of(over, Side.TOP)) == shown(face_of(board, Side.BOTTOM))
    round_ = board.turned(Turn(Pose.AS_IT_LIES, Spin.END_FOR_END).matrix).at_origin()
    assert shown(face_of(round_, Side.FRONT)) == shown(face_of(board, Side.BACK))


@given(plans(), st.lists(st.floats(0.1, 0.9), min_size=1, max_size=3), angles)
def test_cut_and_glued_back_without_kerf_it_shows_the_same_wood(plan: Plan, at: list[float], skew: float) -> None:
    """Polygons may be split, but each strip's share of the face and the whole volume stay."""
    board = simulate(plan, remember=False)["t"].pieces[0]
    pieces = board
    for share in at:
        low, high = pieces.bounds()
        normal = (math.cos(math.radians(skew)), math.sin(math.radians(skew)), 0.0)
        offset = float(np.array(normal) @ (low + share * (high - low)))
        pieces = join(list(split(pieces, Plane.of(normal, offset))))
    assert pieces.volume() == pytest.approx(board.volume(), rel=1e-12)

    def shares(cells: Cells) -> dict[int, float]:
        face = face_of(cells.as_piece(0), Side.TOP)
        return {s: float(face.areas()[face.strip == s].sum()) for s in set(face.strip.tolist())}

    assert shares(pieces) == pytest.approx(shares(board), rel=1e-9)


@given(st.lists(st.floats(0.05, 0.95), min_size=2, max_size=5, unique=True), st.randoms())
def test_the_order_of_parallel_cuts_does_not_matter(at: list[float], random: object) -> None:
    wood = join([box(40, 80, 20), box(25, 80, 20, 1).moved([40, 0, 0])])
    normal = (0.6, 0.8, 0.0)

    def volumes(order: list[float]) -> list[float]:
        pieces = [wood]
        for share in order:
            plane = Plane.of(normal, share * 100)
            pieces = [half for piece in pieces for half in split(piece, plane) if len(half)]
        return sorted(piece.volume() for piece in pieces)

    shuffled = list(at)
    random.shuffle(shuffled)  # type: ignore[attr-defined]
    assert volumes(shuffled) == pytest.approx(volumes(sorted(at)))


@given(plans())
def test_a_mirrored_order_of_strips_gives_a_mirrored_panel(plan: Plan) -> None:
    sim = simulate(plan, remember=False)
    mill, glue, *_ = plan.stages
    back = glue.model_copy(update={"reverse": True})
    panel, mirrored = sim["g"], simulate(Plan(name="m", stages=(mill, back)), remember=False)["g"]

    def spans(face: Face, flip: float | None) -> list[tuple[int, float, float]]:
        out = []
        for i in range(len(face)):
            x = face.points[face.ptr[i] : face.ptr[i + 1], 0]
            ends = (x.min(), x.max()) if flip is None else (flip - x.max(), flip - x.min())
            out.append((int(face.strip[i]), round(float(ends[0]), 6), round(float(ends[1]), 6)))
        return sorted(out)

    width = panel.size[0]
    one = np.array(spans(face_of(mirrored.pieces[0], Side.TOP), None))
    other = np.array(spans(face_of(panel.pieces[0], Side.TOP), width))
    assert np.abs(one - other).max() < 1e-5


@given(
    st.floats(10, 60), st.floats(10, 60), st.floats(-30, 30), st.floats(-15, 15), st.sampled_from(TURNS), angles, angles
)
def test_a_joint_is_the_overlap_however_the_glue_up_is_turned(
    wide: float, tall: float, aside: float, up: float, turn: Turn, roll: float, yaw: float
) -> None:
    """Two blocks side by side, the second 40 × 30 in the joint and moved along it by (aside, up)."""
    pair = join([box(20, wide, tall), box(20, 40, 30, 1).as_piece(1).moved([20, aside, up])])
    overlap = max(min(wide, aside + 40) - max(0, aside), 0) * max(min(tall, up + 30) - max(0, up), 0)
    free = about(0, roll) @ about(2, yaw) @ turn.matrix
    for matrix in (np.eye(3), turn.matrix, free):
        (joint,) = joints_between(pair.turned(matrix))
        assert joint.area == pytest.approx(overlap, abs=1e-5)
        assert joint.mixed == 0  # both have fibres along the same line
    swapped = join([pair.of_piece(1).as_piece(0), pair.of_piece(0).as_piece(1)])
    (other,) = joints_between(swapped)
    assert other.area == pytest.approx(overlap, abs=1e-5)
    # whole pieces known to lie along an axis: the sides' sizes say the same as the faces that touch
    for row, along in ((pair, [1.0, 0, 0]), (swapped, [-1.0, 0, 0])):
        (quick,) = joints_between(row, np.array(along))
        assert quick.area == pytest.approx(overlap, abs=1e-5) == quick.areas.sum()


@given(st.floats(1, 20), st.floats(1, 15))
def test_what_a_piece_lacks_its_joint_lacks_too(deep: float, high: float) -> None:
    """A block with its lower edge bevelled off on the side of the joint does not fill the box round it, and a gap
    between two blocks is no joint."""
    ahead = np.array([1.0, 0, 0])
    bevel = Plane.of((high, 0, -deep), 20.0 * high / math.hypot(deep, high) - high * deep / math.hypot(deep, high))
    chipped = shave(box(20, 40, 30), [bevel])[0]
    (joint,) = joints_between(join([chipped, box(20, 40, 30, 1).as_piece(1).moved([20, 0, 0])]), ahead)
    assert joint.area == pytest.approx(40 * (30 - high), abs=1e-5) == joint.areas.sum()
    (apart,) = joints_between(join([box(20, 40, 30), box(20, 40, 30, 1).as_piece(1).moved([20 + deep, 0, 0])]), ahead)
    assert apart.area == 0


@given(st.floats(5, 40), st.floats(-44, 44), st.floats(-44, 44))
def test_nested_pieces_touch_and_do_not_overlap(thickness: float, right: float, left: float) -> None:
    """Two boards with bevelled edges, set against each other: no plane of contact can be moved a hair further."""
    wide = 60.0

    def bevelled(degrees: float, side: int) -> Cells:
        normal = (side * math.cos(math.radians(degrees)), 0.0, math.sin(math.radians(degrees)))
        corner = wide if side > 0 else 0.0
        height = 0.0 if degrees > 0 else thickness
        return shave(box(wide, 50, thickness), [Plane.of(normal, normal[0] * corner + normal[2] * height)])[0]

    one, other = bevelled(right, 1), bevelled(left, -1)
    gap = distance(one, other, 0)
    # in section: where the first ends and the second begins, at the bottom, the top and between
    levels = np.linspace(0, thickness, 101)

    def edge(degrees: float, side: int) -> np.ndarray:
        lean = math.tan(math.radians(degrees))
        run = levels * lean if degrees > 0 else (levels - thickness) * lean
        return wide - run if side > 0 else run

    between = gap + edge(left, -1) - edge(right, 1)
    assert between.min() == pytest.approx(0, abs=1e-6)


def test_a_thin_strip_sets_the_clean_thickness() -> None:
    stepped = join([box(30, 40, 20), box(30, 40, 10, 1).moved([30, 0, 0])])
    assert (clean_limit(stepped, 2, -1.0), clean_limit(stepped, 2, 1.0)) == pytest.approx((0, 10))


@given(st.lists(st.tuples(st.integers(5, 30), st.integers(-40, 40), st.integers(60, 120)), min_size=1, max_size=7))
def test_the_clean_rectangle_is_the_largest_that_fits_on_the_strips(strips: list[tuple[int, int, int]]) -> None:
    """Strips side by side (width, shift, length): every run of neighbours gives one rectangle; the best is taken."""
    edges = np.concatenate([[0], np.cumsum([width for width, _, _ in strips])])
    panel = join([box(w, n, 20).moved([x, y, 0]) for (w, y, n), x in zip(strips, edges, strict=False)]).as_piece(0)
    best = 0
    for i in range(len(strips)):
        for j in range(i + 1, len(strips) + 1):
            run = strips[i:j]
            tall = min(y + n for _, y, n in run) - max(y for _, y, _ in run)
            best = max(best, tall * int(edges[j] - edges[i]))
    low, high = clean_rectangle(panel)
    assert float(np.prod(high - low)) == pytest.approx(best)
    # and it is all wood: cutting it out leaves its area times the thickness
    inside = panel
    for axis in (0, 1):
        inside = slabs(inside, np.eye(3)[axis], np.array([low[axis], high[axis]])).of(1)
    assert inside.volume() == pytest.approx(best * 20)
    # rows shifted to the side leave gaps that only show from the side; looked for there too, nothing else changes
    quarter = np.array([[0.0, -1.0, 0.0], [1.0, 0.0, 0.0], [0.0, 0.0, 1.0]])
    for lying in (panel, panel.turned(quarter)):
        low, high = clean_rectangle(lying, sides=True)
        assert float(np.prod(high - low)) == pytest.approx(best)


@given(st.tuples(*[st.floats(-0.5, 0.5)] * 2), st.integers(1, 3))
@example((0.4, -0.4), 1)
def test_the_clean_rectangle_between_slants_is_the_largest(slopes: tuple[float, float], parts: int) -> None:
    """A panel 100 wide between y = 40 + s x and y = 160 + t x, in one or several bars: no rectangle on a grid of half a
    millimetre is larger, and all four corners lie in the wood. With s = 0.4 and t = −0.4 by hand: from the left end on,
    width × height = x (120 − 0.8 x) is largest at x = 75, where it is 4,500."""
    bars = join([box(100 / parts, 240, 20, k).moved([k * 100 / parts, 0, 0]) for k in range(parts)])

    def edge(start: float, slope: float, x: np.ndarray | float) -> np.ndarray:
        return np.asarray(start + slope * x)

    panel = bars
    for start, slope, side in ((40, slopes[0], 1), (160, slopes[1], -1)):
        normal = side * np.array([slope, -1.0, 0.0]) / math.hypot(slope, 1)
        panel = split(panel, Plane(normal, float(-side * start / math.hypot(slope, 1))))[0]
    low, high = clean_rectangle(panel.as_piece(0))
    x = np.linspace(0, 100, 201)
    floor, ceiling = edge(40, slopes[0], x), edge(160, slopes[1], x)
    tall = np.minimum(ceiling[:, None], ceiling) - np.maximum(floor[:, None], floor)
    area = float(np.prod(high - low))
    assert area >= ((x - x[:, None]) * tall).max() - 1e-6
    for at in (low[0], high[0]):
        assert edge(40, slopes[0], at) <= low[1] + 1e-6 and high[1] <= edge(160, slopes[1], at) + 1e-6
    if slopes == (0.4, -0.4):
        assert area == pytest.approx(4500)


@given(plans(), st.floats(0.05, 0.95), st.tuples(angles, angles))
def test_a_section_shows_the_wood_on_either_side_of_the_cut(
    plan: Plan, share: float, lean: tuple[float, float]
) -> None:
    """Its area is how fast the volume below grows as the plane rises, and both sides show the same."""
    board = simulate(plan, remember=False)["b"].pieces[0]
    a, b = (math.radians(v) for v in lean)
    normal = (math.sin(a), math.sin(b) * math.cos(a), math.cos(b) * math.cos(a))
    low, high = board.bounds()
    plane = Plane.of(normal, float(np.dot(normal, low + share * (high - low))))
    face = section_of(board, plane)
    hair = 1e-3
    thin = slabs(board, plane.normal, np.array([plane.offset - hair, plane.offset + hair])).of(1)
    assert face.areas().sum() * 2 * hair == pytest.approx(thin.volume(), rel=1e-3)
    back = section_of(board, Plane(-plane.normal, -plane.offset))
    assert sorted(back.areas().tolist()) == pytest.approx(sorted(face.areas().tolist()), rel=1e-6)
