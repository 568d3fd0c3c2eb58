"""Where wood is whole: behind steps, slants and ragged ends."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass

import numpy as np

from ..solid import GLUED, LEVEL, Bools, Cells, Floats, Ints, counts_of, indptr_of, spread
from .contact import covered
from .faces import Side
from .overlap import Outlines, shared_areas
from .polygons import areas, corners
from .visibility import TOWARDS, seen

STEEP = 0.72
"""A face looks towards a side rather than past it where its normal leans less than this from it (cosine); a 45°
bevel looks past."""

LEAST_BARE = 1e-4
"""A face of which less than this (mm²) lies bare is glued all over."""

FULL = 1e-9
"""A piece that lacks no more than this share of the box round it fills it."""

SAME = 1e-6
"""Coordinates nearer than this (mm) are one."""


def full(piece: Cells) -> bool:
    """Whether the piece fills the box round it."""
    return piece.volume() >= float(np.prod(piece.size())) * (1 - FULL)


def filled(cells: Cells) -> Bools:
    """Which pieces fill the box round them."""
    volume = np.bincount(cells.piece, cells.volumes(), minlength=cells.pieces)
    return np.asarray(volume >= cells.piece_sizes().prod(axis=1) * (1 - FULL))


def sealed_if_full(cells: Cells) -> Cells:
    """The cells; where a piece fills the box round it, every face within is known to be glued all over."""
    whole = filled(cells)
    if not whole.any():
        return cells
    low, high = cells.piece_bounds()
    normals, offsets = cells.world_planes()
    mine = cells.piece[cells.cell_of_face()] if len(low) > 1 else np.zeros(1, np.int64)
    outside = np.zeros(len(offsets), bool)
    for axis in range(3):
        for way, side in ((1.0, high), (-1.0, low)):
            outside |= (way * normals[:, axis] > LEVEL) & (np.abs(offsets - way * side[mine, axis]) < SAME)
    return cells.sealed(np.flatnonzero(~outside & whole[mine]))


def clean_limit(piece: Cells, axis: int, way: float) -> float | None:
    """How far along ``axis`` (``way`` 1) or back along it (−1) the piece is whole, mm: no step or hollow looks that way
    before it. None where no face looks that way, as none looks up from a ridge."""
    along = way * piece.world_planes()[0][:, axis]
    faces, area = _glued(piece, along > STEEP, along < -STEEP)
    vertex, ptr = corners(piece, faces)
    bare = area < areas(piece, vertex, ptr) - LEAST_BARE
    if not bare.any():
        return None
    reach = np.minimum.reduceat(way * piece.world()[vertex, axis], ptr[:-1])
    return way * float(reach[bare].min())


def clean_rectangle(piece: Cells, *, sides: bool = False) -> tuple[Floats, Floats]:
    """The largest rectangle, seen from above, in which the piece is wood from its underside to its top: near left
    and far right corner, (2,) each. Its left and right side run through corners of the outline, or where that is
    slanted there wherever the rectangle is largest.

    Gaps are looked for from the front and the back; with ``sides`` also from left and right, as shifted rows leave
    them between each other.
    """
    if not sides:
        columns = _columns(piece)
        runs = _runs(columns)
        below, above, area = runs
        i, j = np.unravel_index(int(area.argmax()), area.shape)
        found = np.array([columns.stops[i], below[i, j]]), np.array([columns.stops[j + 1], above[i, j]])
        return _within_slants(columns, runs, float(area[i, j]), found)
    quarter = np.array([[0.0, -1.0, 0.0], [1.0, 0.0, 0.0], [0.0, 0.0, 1.0]])
    aside = _columns(piece.turned(quarter))
    levels, left, right = -aside.stops[::-1], aside.low[::-1], aside.high[::-1]
    ends = np.concatenate([left, right])
    columns = _columns(piece, ends[np.isfinite(ends)])
    stops, (below, above, area) = columns.stops, _runs(columns)
    best, found = 0.0, (np.zeros(2), np.zeros(2))
    for flat in np.argsort(-area, axis=None):
        i, j = np.unravel_index(int(flat), area.shape)
        if area[i, j] <= best:
            break
        whole = (left <= stops[i] + SAME) & (right >= stops[j + 1] - SAME)
        for start, end in _stretches(whole, levels):
            start_, end_ = max(start, float(below[i, j])), min(end, float(above[i, j]))
            if (there := (end_ - start_) * float(stops[j + 1] - stops[i])) > best:
                best, found = there, (np.array([stops[i], start_]), np.array([stops[j + 1], end_]))
    return found


def _stretches(whole: Bools, levels: Floats) -> Iterator[tuple[float, float]]:
    """From where to where slabs between ``levels`` (n+1,) are whole (n,) without a break."""
    edges = np.flatnonzero(np.diff(np.concatenate([[False], whole, [False]])))
    yield from ((float(levels[a]), float(levels[b])) for a, b in edges.reshape(-1, 2))


@dataclass(frozen=True, slots=True)
class _Columns:
    """A piece seen from above, in columns between ``stops`` (n+1,) along x: from where to where along y each is wood
    from bottom to top, at its left and its right end, (n, 2) each; infinite where it is not. Between its ends a column
    is at least as long as a straight line from one to the other says."""

    floor: Floats
    ceiling: Floats
    stops: Floats

    @property
    def low(self) -> Floats:
        """From where each column is whole over its whole width, (n,)."""
        return np.asarray(self.floor.max(axis=1))

    @property
    def high(self) -> Floats:
        return np.asarray(self.ceiling.min(axis=1))


def _columns(piece: Cells, more: Floats | None = None) -> _Columns:
    """The columns of a piece; ``more`` stops are taken where they lie in the wood."""
    low, high = piece.bounds()
    walls = list(piece.memo.once(_walls, piece))
    seen_at = np.concatenate([wall.points[:, 0] for wall in walls])
    if more is not None:
        seen_at = np.concatenate([seen_at, np.clip(more, low[0], high[0])])
    stops = _distinct(seen_at)
    room = float((high - low)[2]) * np.diff(stops)
    floor, ceiling = (wall.columns(stops, room) for wall in walls)
    return _Columns(floor, -ceiling, stops)


def _runs(columns: _Columns) -> tuple[Floats, Floats, Floats]:
    """For the run from each column to each other from where to where it is wood along y and how large a rectangle that
    makes, (n, n) each."""
    floor, ceiling, stops = columns.low, columns.high, columns.stops
    # every run of columns: as tall as the lowest ceiling over the highest floor
    ahead = np.tri(len(floor), dtype=bool).T
    below = np.maximum.accumulate(np.where(ahead, floor[None], -np.inf), axis=1)
    above = np.minimum.accumulate(np.where(ahead, ceiling[None], np.inf), axis=1)
    tall = np.zeros_like(below)
    np.subtract(above, below, out=tall, where=ahead & (above > below))
    return below, above, tall * np.maximum(stops[None, 1:] - stops[:-1, None], 0.0)


PARTS = 64
"""Where a hill has its summit is looked for at the ends of so many parts at once."""

ROUNDS = 6
"""Each time the two parts beside the highest place are what is left: a thirty-second, in the end a billionth."""

TRIED = 64
"""So many pairs of columns are looked at together."""


def _within_slants(
    columns: _Columns, runs: tuple[Floats, Floats, Floats], best: float, found: tuple[Floats, Floats]
) -> tuple[Floats, Floats]:
    """A larger rectangle whose left or right side lies within a slanted column, or ``found``, whose area is ``best``.

    The area is width × height, both concave in where the two sides lie, so its logarithm is too and has one summit in
    each pair of columns, and ever narrower parts round it find where the left side lies. For each left side the height
    is piecewise linear in where the right one lies, so the area has its summit at one of a few places that can be
    named.
    """
    floor, ceiling, stops = columns.floor, columns.ceiling, columns.stops
    whole: Bools = np.asarray(np.isfinite(np.column_stack([floor, ceiling])).all(axis=1))
    slant = np.zeros(len(whole), bool)
    slant[whole] = (np.ptp(floor[whole], axis=1) > SAME) | (np.ptp(ceiling[whole], axis=1) > SAME)
    if not slant.any():
        return found
    # over all columns between: what they hold whatever is done at the ends
    inner_low, inner_high, _ = runs
    top, bottom = np.where(whole, ceiling.max(axis=1), 0.0), np.where(whole, floor.min(axis=1), 0.0)
    tall = np.minimum(top[:, None], top) - np.maximum(bottom[:, None], bottom)
    bound = (stops[None, 1:] - stops[:-1, None]) * tall
    some = (slant[:, None] | slant) & whole[:, None] & whole & (bound > best * (1 + 1e-9) + SAME)
    i, j = np.nonzero(np.triu(some))
    most = bound[i, j]
    order = np.argsort(-most, kind="stable")
    for start in range(0, len(order), TRIED):
        some = order[start : start + TRIED]
        some = some[most[some] > best * (1 + 1e-9) + SAME]
        if not len(some):
            break
        pair = _Pair.of(columns, i[some], j[some], inner_low, inner_high)
        left, right = pair.summit()
        low, high = pair.span(left, right)
        area = (right - left) * (high - low)
        k = int(area.argmax())
        if area[k] > best + SAME:
            best = float(area[k])
            found = np.array([left[k], low[k]]), np.array([right[k], high[k]])
    return found


@dataclass(frozen=True, slots=True)
class _Pair:
    """Rectangles whose left side lies in columns ``i`` and whose right side in ``j`` (k,), i ≤ j, and from where to
    where along y it is wood at all between their sides: ``low`` to ``high``."""

    columns: _Columns
    i: Ints
    j: Ints
    low: Floats
    high: Floats

    @classmethod
    def of(cls, columns: _Columns, i: Ints, j: Ints, low: Floats, high: Floats) -> _Pair:
        """Columns, and for each run of them from where to where it is wood (n, n)."""
        first, last = np.minimum(i + 1, len(columns.stops) - 2), np.maximum(j - 1, 0)
        apart, between = i != j, j - i > 1
        held = []
        for ends, over in ((columns.floor, low), (-columns.ceiling, -high)):
            # the columns the sides stand in are covered to their ends, unless it is one and the same
            beside = np.where(apart, np.maximum(ends[i, 1], ends[j, 0]), -np.inf)
            held.append(np.where(between, np.maximum(beside, over[first, last]), beside))
        return cls(columns, i, j, held[0], -held[1])

    def span(self, left: Floats, right: Floats) -> tuple[Floats, Floats]:
        """From where to where along y rectangles with these sides are wood, (k,) each, or (m, k)."""
        c = self.columns
        low = np.maximum(_line(c.stops, c.floor, self.i, left), _line(c.stops, c.floor, self.j, right))
        high = np.minimum(_line(c.stops, c.ceiling, self.i, left), _line(c.stops, c.ceiling, self.j, right))
        return np.maximum(low, self.low), np.minimum(high, self.high)

    def area(self, left: Floats, right: Floats) -> Floats:
        """Of rectangles with these sides, below 0 where there is none."""
        low, high = self.span(left, right)
        return np.asarray(np.minimum(right - left, 1e9) * (high - low))

    def summit(self) -> tuple[Floats, Floats]:
        """Where left and right side of the largest lie, (k,) each."""
        stops = self.columns.stops
        wide = PARTS + 1
        every = _Pair(
            self.columns,
            np.tile(self.i, wide), np.tile(self.j, wide), np.tile(self.low, wide), np.tile(self.high, wide),
        )  # fmt: skip

        def height(left: Floats) -> Floats:
            left, shape = left.ravel(), left.shape
            return every.area(left, every._right(left)).reshape(shape)

        left = _summits(height, stops[self.i], stops[self.i + 1])
        return left, self._right(left)

    def _right(self, left: Floats) -> Floats:
        """Where the right side of the largest lies for each left one: where its column begins or ends, where floor or
        ceiling turn from level to slanted, or where width × height has its summit with either of them."""
        c, j = self.columns, self.j
        start, end = np.maximum(c.stops[j], left), c.stops[j + 1]
        levels, slants, turns = [], [], []
        for ends, held, farther in ((c.floor, self.low, np.maximum), (c.ceiling, self.high, np.minimum)):
            level = farther(_line(c.stops, ends, self.i, left), held)
            rise = (ends[j, 1] - ends[j, 0]) / (end - c.stops[j])
            at_zero = ends[j, 0] - rise * c.stops[j]
            levels.append((np.zeros_like(rise), level))
            slants.append((rise, at_zero))
            turns.append(_ratio(level - at_zero, rise))
        places = [start, end, *turns]
        for floor_rise, floor in (levels[0], slants[0]):
            for ceiling_rise, ceiling in (levels[1], slants[1]):
                # (x − left)(rise x + height) is largest halfway between where its factors are 0
                places.append((left + _ratio(floor - ceiling, ceiling_rise - floor_rise)) / 2)
        x = np.clip(np.stack([np.where(np.isfinite(place), place, start) for place in places]), start, end)
        return np.asarray(x[self.area(left, x).argmax(axis=0), np.arange(len(left))])


def _ratio(of: Floats, by: Floats) -> Floats:
    """Quotients, infinite where there is none."""
    out = np.full_like(of, np.inf)
    np.divide(of, by, out=out, where=by != 0)
    return out


def _line(stops: Floats, ends: Floats, column: Ints, at: Floats) -> Floats:
    """Where the straight line through a column's two ends lies at x, (k,)."""
    share = (at - stops[column]) / (stops[column + 1] - stops[column])
    return np.asarray(ends[column, 0] * (1 - share) + ends[column, 1] * share)


def _summits(height: Callable[[Floats], Floats], low: Floats, high: Floats) -> Floats:
    """Where between ``low`` and ``high`` (k,) each of k hills with one summit is highest; ``height`` takes and gives
    (PARTS + 1, k)."""
    hill, share = np.arange(len(low)), np.linspace(0.0, 1.0, PARTS + 1)[:, None]
    for _ in range(ROUNDS):
        at = low * (1 - share) + high * share
        best = height(at).argmax(axis=0)
        low, high = at[np.maximum(best - 1, 0), hill], at[np.minimum(best + 1, PARTS), hill]
    at = low * (1 - share) + high * share
    return np.asarray(at[height(at).argmax(axis=0), hill])


def _walls(piece: Cells) -> list[_Wall]:
    """The front and the back. Where every face that looks that way is either bare or glued all over, the
    bare ones are what is seen; only where some are bare in part must hidden surfaces be taken away."""
    looks = piece.world_planes()[0][:, 1]
    ahead, behind = looks < -TOWARDS, looks > TOWARDS
    front, back = _glued(piece, ahead, behind), _glued(piece, behind, ahead)
    walls = []
    for (faces, area), side in ((front, Side.FRONT), (back, Side.BACK)):
        vertex, ptr = corners(piece, faces)
        whole = areas(piece, vertex, ptr)
        bare = area < whole - LEAST_BARE
        if bool((bare & (area > LEAST_BARE)).any()):
            frame = side.frame
            shown = seen(piece, frame, faces[bare])
            walls.append(_Wall.of(piece, shown.faces, shown.points @ frame[:2, [0, 2]], shown.ptr, side))
            continue
        counts = counts_of(ptr)
        mine = bare.repeat(counts)
        points = piece.world()[vertex[mine]][:, [0, 2]]
        walls.append(_Wall.of(piece, faces[bare], points, indptr_of(counts[bare]), side))
    return walls


def _glued(piece: Cells, these: Bools, those: Bools) -> tuple[Ints, Floats]:
    """Of some faces (nf,) those that may lie bare, and how much of each is glued to ``those``, mm²."""
    faces, against = np.flatnonzero(these & (piece.faces[GLUED] == 0)), np.flatnonzero(those)
    area, _ = covered(piece, faces, against, np.zeros(len(faces), np.int64), np.zeros(len(against), np.int64))
    return faces, area


@dataclass(frozen=True, slots=True)
class _Wall:
    """What is seen of a piece from the front or the back: polygons in x and z, ``points`` (k, 2) and ``ptr``, and the
    plane of each (m, 4), written so that larger y lie farther in: towards · (x, y, z) = offset."""

    points: Floats
    ptr: Ints
    plane: Floats

    @classmethod
    def of(cls, piece: Cells, faces: Ints, points: Floats, ptr: Ints, side: Side) -> _Wall:
        normals, offsets = piece.world_planes()
        plane = np.column_stack([normals[faces], offsets[faces]])
        if side is Side.BACK:  # mirrored in y, so that both sides are treated alike
            plane[:, 1] *= -1
        return cls(points, ptr, plane)

    def columns(self, stops: Floats, room: Floats) -> Floats:
        """How far in the wood begins at either end of each column between two stops, (n, 2) mm; infinite where it does
        not fill the column from bottom to top."""
        x, z = self.points.T
        start = self.ptr[:-1]
        left, right = np.minimum.reduceat(x, start), np.maximum.reduceat(x, start)
        first = np.searchsorted(stops, left + SAME) - 1
        count = np.maximum(np.searchsorted(stops, right - SAME) - first, 0)
        face = np.repeat(np.arange(len(start)), count)
        column = spread(first, count)
        nx, ny, nz, h = self.plane[face].T
        down, up = np.minimum.reduceat(z, start)[face], np.maximum.reduceat(z, start)[face]
        begins = np.full((len(stops) - 1, 2), -np.inf)
        for end, at in enumerate((stops[column], stops[column + 1])):
            reach = [(h - nx * at - nz * level) / ny for level in (down, up)]
            np.maximum.at(begins[:, end], column, np.max(reach, axis=0))
        begins[self._filled(stops, face, column) < room - SAME] = np.inf
        return begins

    def _filled(self, stops: Floats, face: Ints, column: Ints) -> Floats:
        """Area seen in each column, mm²."""
        columns = np.column_stack([stops[:-1], np.full(len(stops) - 1, -1e5), stops[1:], np.full(len(stops) - 1, 1e5)])
        boxes = columns[:, [0, 1, 2, 1, 2, 3, 0, 3]].reshape(-1, 2)
        ptr = np.concatenate([self.ptr, self.ptr[-1] + 4 * np.arange(1, len(stops))])
        outlines = Outlines.of(np.concatenate([self.points, boxes]), ptr)
        shared = shared_areas(outlines, face, len(self.ptr) - 1 + column)
        return np.asarray(np.bincount(column, shared, minlength=len(stops) - 1), float)


def _distinct(values: Floats) -> Floats:
    values = np.sort(values)
    return np.asarray(values[np.concatenate([[True], np.diff(values) > SAME])])
