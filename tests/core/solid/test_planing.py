"""Planing, dust that is only weighed, and what is known to be glued: the quick ways against the plain ones."""

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import Phase, given, settings
from hypothesis import strategies as st

from laberinto.core.geometry.clear import LEAST_BARE, clean_limit, clean_rectangle, sealed_if_full
from laberinto.core.geometry.contact import covered
from laberinto.core.geometry.polygons import areas, corners
from laberinto.core.patterns import FAMILIES
from laberinto.core.plan.simulate import simulate
from laberinto.core.solid import GLUED, Cells, Plane, boxes, gathered, join, slabs, split
from laberinto.core.solid.cells import axes
from laberinto.core.solid.planing import planed
from laberinto.core.stages import Bench, Cause, Flatten, Pieces
from laberinto.core.woods import LIBRARY
from tests.core.solid.test_solid import assert_sound, normals, shares, through

UP = np.array([0.0, 0.0, 1.0])


def bars() -> Cells:
    """Two bars side by side, 30 and 20 wide, 90 long and 40 thick."""
    return boxes(np.array([[30.0, 90, 40], [20, 90, 40]]), np.arange(2)).moved(np.array([[0, 0, 0], [30, 0, 0]]))


@given(
    st.lists(st.tuples(normals, shares), max_size=3),
    st.one_of(normals, st.sampled_from([(1, 0, 0), (0, 1, 0), (0, 0, 1)])),
    st.lists(st.floats(0.005, 0.995), min_size=1, max_size=2, unique=True),
    st.integers(0, 2),
)
def test_one_slab_kept_is_what_two_plain_cuts_leave(
    before: list[tuple[tuple[float, float, float], float]],
    normal: tuple[float, float, float],
    at: list[float],
    keep: int,
) -> None:
    """Whichever way a cell goes, planed or sliced, what is kept and what comes off agree with the plain split."""
    cells = bars()
    for n, share in before:
        cells = join(list(split(cells, through(cells, n, share))))
    n = np.array(normal, float) / np.linalg.norm(normal)
    bounds = np.sort([through(cells, normal, share).offset for share in at])
    bounds = bounds[np.concatenate([[True], np.diff(bounds) > 1e-3])]
    keep = min(keep, len(bounds))
    cut = slabs(cells, n, bounds, np.array([keep]))
    parts, rest = [], cells
    for bound in bounds:
        below, rest = split(rest, Plane(n, float(bound)))
        parts.append(below)
    parts.append(rest)
    assert cut.cells.volume() == pytest.approx(parts[keep].volume(), abs=1e-6)
    assert sorted(cut.cells.volumes()) == pytest.approx(sorted(parts[keep].volumes()), abs=1e-6)
    for k, part in enumerate(parts):
        assert cut.lost[k] == pytest.approx(0.0 if k == keep else part.volume(), abs=1e-6)
    assert_sound(cut.cells)


@given(shares, st.floats(0.1, 6), st.floats(0.1, 6))
def test_planing_moves_corners_and_nothing_else(share: float, below: float, above: float) -> None:
    cells = bars()
    cells = join(list(split(cells, through(cells, (1, 0.3, 0.4), share))))  # by a wall that leans: sections change
    cells.world_planes()
    flat = axes(UP) @ cells.world().T
    height = flat[2]
    bounds = np.array([below, 40 - above])
    code = np.searchsorted(bounds, height - 1e-9) + np.searchsorted(bounds, height + 1e-9)
    local = np.einsum("cij,i->jc", cells.rot, UP)
    done = planed(cells, np.ones(len(cells), bool), local, flat, code, below, 40 - above, 2)
    plain = slabs(cells, UP, bounds)
    afresh = replace(done.cells, strip=done.cells.strip)
    assert np.abs(done.cells.world() - afresh.world()).max() < 1e-12  # what was known of where they lay moved along
    assert np.abs(done.cells.world_planes()[1] - afresh.world_planes()[1]).max() < 1e-12
    kept = done.cells.take(done.fits)
    assert kept.edges.tolist() == cells.take(done.fits).edges.tolist()
    if done.fits.all():
        assert done.below == pytest.approx(plain.of(0).volume(), rel=1e-9)
        assert done.above == pytest.approx(plain.of(2).volume(), rel=1e-9)
        assert kept.volume() == pytest.approx(plain.of(1).volume(), rel=1e-9)
    if len(kept):
        low, high = kept.bounds()
        assert (low[2], high[2]) == pytest.approx((below, 40 - above), abs=1e-9)


def test_a_wedge_planed_by_hand() -> None:
    """A block 10 × 10 × 10 split from edge to edge by x + z = 10. Of the lower half, its section 10 − z wide at height
    z, planing 1 off the bottom takes (10 + 9) / 2 × 10 = 95 mm³; its top is an edge, which cannot slide."""
    lower, _ = split(boxes(np.full((1, 3), 10.0), np.zeros(1, np.int64)), Plane.of((1, 0, 1), 10 / np.sqrt(2)))
    cut = slabs(lower, UP, np.array([1.0, 9.0]), np.array([1]))
    assert cut.lost.tolist() == pytest.approx([95.0, 0.0, 5.0])  # and off the top a prism of legs 1 and 1, 10 long
    assert cut.cells.volume() == pytest.approx(500 - 100)


def assert_glued(piece: Cells) -> int:
    """Faces said to be glued touch others of their piece over their whole area; how many are."""
    marked = np.flatnonzero(piece.faces[GLUED])
    if not len(marked):
        return 0
    every = np.arange(piece.faces.shape[1])
    group = np.zeros(len(every), np.int64)
    area, _ = covered(piece.laid_bare(), marked, every, group[: len(marked)], group)
    bare = areas(piece, *corners(piece, marked)) - area
    assert bare.max() < 2 * LEAST_BARE, f"{(bare > LEAST_BARE).sum()} of {len(marked)} lie bare"
    return len(marked)


@pytest.mark.parametrize("name", sorted(FAMILIES))
def test_what_is_said_to_be_glued_is(name: str) -> None:
    """At every stage of every family, piece by piece."""
    marked = 0
    for result in simulate(FAMILIES[name]().plan(name)).results:
        for number in range(min(len(result.pieces), 3)):
            marked += assert_glued(result.pieces[number])
    assert marked > 20


def test_a_cut_along_a_glue_line_lays_it_bare() -> None:
    """Two bars glued, full; sawn apart along the joint, either side's face is free again, and steps show."""
    board = sealed_if_full(bars().as_piece(0))
    assert board.faces[GLUED].sum() == 2
    left = slabs(board, np.array([1.0, 0, 0]), np.array([30.0]), np.array([0])).cells
    assert left.faces[GLUED].sum() == 0
    beside = slabs(board, np.array([1.0, 0, 0]), np.array([29.0]), np.array([0])).cells
    assert len(beside) == 1 and beside.faces[GLUED].sum() == 0  # the joint went with the other bar
    across = slabs(board, np.array([0.0, 1, 0]), np.array([50.0]), np.array([0])).cells
    assert across.faces[GLUED].sum() == 2  # a cut across it leaves it glued


@settings(phases=[Phase.generate], max_examples=25)
@given(st.lists(st.tuples(st.floats(12, 40), st.floats(20, 40)), min_size=2, max_size=6), st.integers(0, 3))
def test_knowing_what_is_glued_changes_no_answer(strips: list[tuple[float, float]], turns: int) -> None:
    """Steps and whole rectangles come out the same whether glued faces are known or looked for."""
    sizes = np.array([[w, 90.0, h] for w, h in strips])
    at = np.concatenate([[0.0], np.cumsum(sizes[:-1, 0])])
    row = boxes(sizes, np.arange(len(strips))).moved(np.stack([at, 0 * at, 0 * at], axis=1)).as_piece(0)
    low, high = clean_limit(row, 2, -1.0), clean_limit(row, 2, 1.0)
    flat = sealed_if_full(slabs(row, UP, np.array([low, high]), np.array([1])).cells)
    assert flat.faces[GLUED].sum() == 2 * (len(strips) - 1)
    quarter = np.array([[0.0, -1, 0], [1, 0, 0], [0, 0, 1]])
    lying = flat.turned(np.linalg.matrix_power(quarter, turns)).at_origin()
    plain = lying.laid_bare()
    for axis, way in ((2, 1.0), (2, -1.0), (0, 1.0), (1, -1.0)):
        assert clean_limit(lying, axis, way) == pytest.approx(clean_limit(plain, axis, way))
    for mine, theirs in zip(clean_rectangle(lying), clean_rectangle(plain), strict=True):
        assert mine == pytest.approx(theirs)


@given(st.lists(st.sampled_from([28.0, 32.0, 36.5]), min_size=1, max_size=7), st.floats(0.5, 5), st.booleans())
def test_pieces_flattened_together_come_out_as_each_alone(heights: list[float], off: float, sides: bool) -> None:
    """Panels of two strips each, of a few thicknesses: sizes, wood, what is known to be glued, and dust."""
    strips = [[w, 90.0, h] for h in heights for w in (30.0, 20.0)]
    at = np.array([[x, 0.0, 0.0] for _ in heights for x in (0.0, 30.0)])
    cells = boxes(np.array(strips), np.arange(len(strips))).moved(at).regrouped(np.arange(len(strips)) // 2)
    flatten = Flatten(id="flat", source="panel", each_face=off, faces="left-right" if sides else "top-bottom")
    bench = Bench(LIBRARY)
    together = flatten.run(Pieces(cells), bench)
    singly = [flatten.run(Pieces(cells.of_piece(number)), bench) for number in range(len(heights))]
    assert len(together.pieces) == len(heights)
    for number, alone in enumerate(singly):
        mine, theirs = together.pieces[number], alone.pieces[0]
        assert mine.size() == pytest.approx(theirs.size()) and mine.bounds()[0] == pytest.approx(np.zeros(3))
        assert sorted(mine.volumes()) == pytest.approx(sorted(theirs.volumes()))
        assert mine.faces[GLUED].sum() == theirs.faces[GLUED].sum() == 2
    dust = sum(alone.waste[Cause.FLATTENING] for alone in singly)
    assert together.waste[Cause.FLATTENING] == pytest.approx(dust)


@settings(max_examples=15)
@given(st.data())
def test_cells_of_several_sets_are_gathered_as_if_chosen_first_and_joined_then(data: st.DataObject) -> None:
    one = simulate(FAMILIES["chaos"](passes=1).plan("Chaos"))["board"].pieces.cells
    other = simulate(FAMILIES["blocks"]().plan("Blocks"))["blocks"].pieces.cells
    number = st.integers(0, min(len(one), len(other)) - 1)
    chosen = [data.draw(st.one_of(st.none(), st.lists(number, max_size=9).map(np.array))) for _ in range(2)]
    which = [None if some is None else some.astype(np.int64) for some in chosen]
    both = gathered([(one, which[0]), (other, which[1])])
    plain = [cells if some is None else cells.take(some) for cells, some in zip((one, other), which, strict=True)]
    assert len(both) == sum(len(part) for part in plain)
    for name in ("strip", "piece", "move"):
        assert (getattr(both, name) == np.concatenate([getattr(part, name) for part in plain])).all()
    assert both.world() == pytest.approx(np.concatenate([part.world() for part in plain]))
    assert both.volumes() == pytest.approx(np.concatenate([part.volumes() for part in plain]))
    if len(both):
        assert_sound(both)
