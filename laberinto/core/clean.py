"""Where wood is whole: behind steps, slants and ragged ends."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from .contact import covered
from .faces import Side
from .overlap import Outlines, shared_areas
from .polygons import areas, corners
from .sight import TOWARDS, seen
from .solid import GLUED, LEVEL, Bools, Cells, Floats, Ints, gaps, spread, starts

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


def clean_thickness(piece: Cells) -> tuple[float, float]:
    """From what height to what height the piece is whole, mm: no step or hollow looks up or down between them. The
    first may lie above the second."""
    normals, _ = piece.world_planes()
    up, down = _glued(piece, normals[:, 2] > STEEP, normals[:, 2] < -STEEP)
    limits = []
    for (faces, area), way in ((down, -1.0), (up, 1.0)):
        vertex, ptr = corners(piece, faces)
        bare = area < areas(piece, vertex, ptr) - LEAST_BARE
        height = way * piece.world()[vertex, 2]
        lowest = np.minimum.reduceat(height, ptr[:-1])
        limits.append(way * float(lowest[bare].min()))
    return limits[0], limits[1]


def clean_rectangle(piece: Cells, *, sides: bool = False) -> tuple[Floats, Floats]:
    """The largest rectangle, seen from above, in which the piece is wood from its underside to its top: near left
    and far right corner, (2,) each. Its sides run through corners of the outline.

    Gaps are looked for from the front and the back; with ``sides`` also from left and right, as shifted rows leave
    them between each other.
    """
    if not sides:
        stops, below, above, area = _runs(piece)
        i, j = np.unravel_index(int(area.argmax()), area.shape)
        return np.array([stops[i], below[i, j]]), np.array([stops[j + 1], above[i, j]])
    quarter = np.array([[0.0, -1.0, 0.0], [1.0, 0.0, 0.0], [0.0, 0.0, 1.0]])
    floor, ceiling, across = _columns(piece.turned(quarter))
    levels, left, right = -across[::-1], floor[::-1], ceiling[::-1]
    ends = np.concatenate([left, right])
    stops, below, above, area = _runs(piece, ends[np.isfinite(ends)])
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


def _columns(piece: Cells, more: Floats | None = None) -> tuple[Floats, Floats, Floats]:
    """From where to where along y the wood fills each column (n,), and the stops between columns along x (n+1,);
    ``more`` stops are taken where they lie in the wood."""
    low, high = piece.bounds()
    walls = _walls(piece)
    seen_at = np.concatenate([wall.points[:, 0] for wall in walls])
    if more is not None:
        seen_at = np.concatenate([seen_at, np.clip(more, low[0], high[0])])
    stops = _distinct(seen_at)
    room = float((high - low)[2]) * np.diff(stops)
    floor, ceiling = (wall.columns(stops, room) for wall in walls)
    return floor, -ceiling, stops


def _runs(piece: Cells, more: Floats | None = None) -> tuple[Floats, Floats, Floats, Floats]:
    """The stops between columns, and for the run from each column to each other from where to where it is wood along y
    and how large a rectangle that makes, (n, n) each."""
    floor, ceiling, stops = _columns(piece, more)
    # every run of columns: as tall as the lowest ceiling over the highest floor
    ahead = np.tri(len(floor), dtype=bool).T
    below = np.maximum.accumulate(np.where(ahead, floor[None], -np.inf), axis=1)
    above = np.minimum.accumulate(np.where(ahead, ceiling[None], np.inf), axis=1)
    tall = np.zeros_like(below)
    np.subtract(above, below, out=tall, where=ahead & (above > below))
    return stops, below, above, tall * np.maximum(stops[None, 1:] - stops[:-1, None], 0.0)


def _walls(piece: Cells) -> list[_Wall]:
    """The front and the back, found once. Where every face that looks that way is either bare or glued all over, the
    bare ones are what is seen; only where some are bare in part must hidden surfaces be taken away."""
    if "walls" in piece.memo:
        return list(piece.memo["walls"])
    looks = piece.world_planes()[0][:, 1]
    front, back = _glued(piece, looks < -TOWARDS, looks > TOWARDS)
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
        counts = gaps(ptr)
        mine = bare.repeat(counts)
        points = piece.world()[vertex[mine]][:, [0, 2]]
        walls.append(_Wall.of(piece, faces[bare], points, starts(counts[bare]), side))
    piece.memo["walls"] = walls
    return walls


def _glued(piece: Cells, one: Bools, other: Bools) -> list[tuple[Ints, Floats]]:
    """The faces of either kind (nf,) that may lie bare, and how much of each is glued to faces of the other, mm²."""
    free = piece.faces[GLUED] == 0
    found = []
    for these, those in ((one & free, other), (other & free, one)):
        faces, against = np.flatnonzero(these), np.flatnonzero(those)
        area, _ = covered(piece, faces, against, np.zeros(len(faces), np.int64), np.zeros(len(against), np.int64))
        found.append((faces, area))
    return found


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
        """How far in the wood begins in each column between two stops, mm; infinite where it does not fill the
        column from bottom to top."""
        x, z = self.points.T
        start = self.ptr[:-1]
        left, right = np.minimum.reduceat(x, start), np.maximum.reduceat(x, start)
        first = np.searchsorted(stops, left + SAME) - 1
        count = np.maximum(np.searchsorted(stops, right - SAME) - first, 0)
        face = np.repeat(np.arange(len(start)), count)
        column = spread(first, count)
        nx, ny, nz, h = self.plane[face].T
        down, up = np.minimum.reduceat(z, start)[face], np.maximum.reduceat(z, start)[face]
        ends = [(h - nx * at - nz * level) / ny for at in (stops[column], stops[column + 1]) for level in (down, up)]
        begins = np.full(len(stops) - 1, -np.inf)
        np.maximum.at(begins, column, np.max(ends, axis=0))
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
