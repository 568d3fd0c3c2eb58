"""Carving: what a router bit, a gouge or a drill takes out of cells.

A tool is a convex body. What is left of a cell is not convex, so it stays as several cells of the same strip
with the same frame: the cell is split by the tool's planes one after the other, what lies beyond a plane is
kept, and what lies below all of them is chips. So everything that holds for a cell (ledger, joints, faces,
grain) holds for carved wood too, and nothing else in the core needs to know of curves.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ..errors import TooManyCellsError
from .cells import MOST_CELLS, ON_PLANE, Bools, Cells, Floats, Ints, counts_of, indptr_of, join, pick, spread
from .split import halves

FAR = 1e9
"""Below a plane so far off (mm) lies everything; infinity would be no number once it is multiplied."""

AT_ONCE = 200_000
"""Cells times planes that are looked at in one go, so that memory stays bounded."""


@dataclass(frozen=True, slots=True)
class _Planes:
    """The planes of several tools below each other, (k, 3) and (k,), and one more that holds everything and goes by
    the number -1; ``start`` is the number of each tool's first."""

    normals: Floats
    offsets: Floats
    start: list[int]

    @classmethod
    def of(cls, tools: Sequence[Tool]) -> _Planes:
        return cls(
            np.concatenate([*(tool.normals for tool in tools), np.zeros((1, 3))]),
            np.append(np.concatenate([[], *(tool.offsets for tool in tools)]), FAR),
            np.cumsum([0, *(len(tool.offsets) for tool in tools)]).tolist(),
        )


@dataclass(frozen=True, slots=True)
class Tool:
    """A convex body in world coordinates: all x with normals @ x ≤ offsets; (k, 3) unit normals, (k,) mm."""

    normals: Floats
    offsets: Floats


def carve(cells: Cells, tools: Sequence[Tool]) -> tuple[Cells, Cells]:
    """What the tools leave and what they take, cut one after the other. Pieces keep their numbers.

    All cells are carved at once, each by the first tool that reaches it, then each of what is left by its next.
    """
    cells = cells.laid_bare()
    planes = _Planes.of(tools)
    turn = _next(cells, planes, np.zeros(len(cells), np.int64))
    done, chips = [cells.take(turn == len(tools))], []
    active, turn = cells.take(turn < len(tools)), turn[turn < len(tools)]
    while len(active):
        left, source, chip = _cut(active, planes, _relevant(active, tools, planes, turn))
        chips.append(chip)
        turn = _next(left, planes, turn[source] + 1)
        done.append(left.take(turn == len(tools)))
        active, turn = left.take(turn < len(tools)), turn[turn < len(tools)]
        if (made := sum(len(part) for part in done) + len(active)) > MOST_CELLS:
            raise TooManyCellsError(f"This would carve the wood into {made:,} cells; one build holds {MOST_CELLS:,}.")
    return join(done), join(chips)


def _next(cells: Cells, planes: _Planes, first: Ints, chunk: int = 256) -> Ints:
    """The first tool from ``first`` (n,) on that may reach each cell, or the number of tools where none does: one
    whose planes all run above the nearest corner of the box round the cell."""
    count = len(planes.start) - 1
    out = np.full(len(cells), count)
    if not len(cells) or not count:
        return out
    low, high = cells.cell_bounds()
    normals, offsets = planes.normals[:-1].T, planes.offsets[:-1]
    for at in range(0, len(cells), chunk):
        some = slice(at, at + chunk)
        middle, half = (low[some] + high[some]) / 2, (high[some] - low[some]) / 2
        nearest = middle @ normals - half @ np.abs(normals)
        meets = np.logical_and.reduceat(nearest < offsets, planes.start[:-1], axis=1)
        meets &= np.arange(count) >= first[some, None]
        out[some] = np.where(meets.any(axis=1), meets.argmax(axis=1), count)
    return out


def _cut(cells: Cells, planes: _Planes, due: Ints) -> tuple[Cells, Ints, Cells]:
    """Each cell by those planes that are ``due`` (n, most), filled up with -1: what is left, the cell each part came
    from, and the chips. A cell is split by the plane it reaches farthest beyond, which leaves the fewest fragments;
    where in the end nothing was taken from a cell, it stays in one."""
    if len(cells) > (room := max(AT_ONCE // due.shape[1], 1)):
        some = [np.arange(at, min(at + room, len(cells))) for at in range(0, len(cells), room)]
        lefts, sources, chipped = zip(*(_cut(cells.take(part), planes, due[part]) for part in some), strict=True)
        return join(lefts), np.concatenate([s[i] for s, i in zip(some, sources, strict=True)]), join(chipped)
    active, origin = cells, np.arange(len(cells))
    kept: list[tuple[Cells, Ints]] = []
    chips: list[Cells] = []
    touched = np.zeros(len(cells), bool)
    while len(active):
        height, corners = _heights(active, planes, due)
        low, high = height.min(axis=2), height.max(axis=2)
        outside: Bools = np.asarray((low >= -ON_PLANE).any(axis=1))
        beyond = high > ON_PLANE
        cut: Bools = np.asarray(~outside & beyond.any(axis=1))
        if outside.any():
            kept.append((active.take(outside), origin[outside]))
        if (inside := ~outside & ~cut).any():
            chips.append(active.take(inside))
            touched[origin[inside]] = True
        if not cut.any():
            break
        farthest = high[cut].argmax(axis=1)
        numbers = np.arange(len(farthest))
        plane = due[cut][numbers, farthest]
        distance = height[cut][numbers, farthest][corners[cut]]
        beyond = beyond[cut]
        beyond[numbers, farthest] = False
        due = _still(due[cut], beyond)
        active, above = halves(active.take(cut), planes.normals[plane], planes.offsets[plane], distance)
        origin = origin[cut]
        kept.append((above, origin))
    untouched = np.flatnonzero(~touched)
    parts = [(part.take(touched[source]), source[touched[source]]) for part, source in kept]
    left = join([cells.take(untouched), *(part for part, _ in parts)])
    return left, np.concatenate([untouched, *(source for _, source in parts)]), join(chips)


def _heights(cells: Cells, planes: _Planes, due: Ints) -> tuple[Floats, Bools]:
    """How far each corner of each cell lies beyond each plane that is due there, (n, most, corners), with its last
    corner over again where a cell has fewer than others; and which of them are corners, (n, corners). Of a plane that
    is none all lie far below."""
    counts = counts_of(cells.vptr)
    number = np.arange(int(counts.max()))
    points = pick(cells.world().T, (cells.vptr[:-1, None] + np.minimum(number, counts[:, None] - 1)).ravel())
    x, y, z = points.reshape(3, len(cells), 1, -1)
    normals = planes.normals[due][:, :, :, None]
    height = normals[:, :, 0] * x  # in steps, as a product of matrices ends differently on other processors
    height += normals[:, :, 1] * y
    height += normals[:, :, 2] * z
    height -= planes.offsets[due][:, :, None]
    return height, number < counts[:, None]


def _still(due: Ints, wanted: Bools) -> Ints:
    """The planes of each row that are still wanted, (n, fewer but at least one), filled up with -1."""
    most = max(int(wanted.sum(axis=1).max(initial=0)), 1)
    if 4 * most > 3 * due.shape[1]:
        return np.where(wanted, due, -1)
    order = np.argsort(~wanted, axis=1, kind="stable")[:, :most]
    return np.where(np.take_along_axis(wanted, order, axis=1), np.take_along_axis(due, order, axis=1), -1)


def _relevant(cells: Cells, tools: Sequence[Tool], planes: _Planes, turn: Ints) -> Ints:
    """For each cell the numbers of those planes of its tool that it reaches beyond, (n, most), filled up with -1: no
    fragment of it meets another."""
    points, first = cells.world(), cells.vptr
    rows: list[tuple[Ints, Ints]] = []
    for number in np.unique(turn).tolist():
        mine, tool = np.flatnonzero(turn == number), tools[number]
        counts = first[mine + 1] - first[mine]
        start = indptr_of(counts)
        height = points[spread(first[mine], counts)] @ tool.normals.T - tool.offsets
        beyond = np.maximum.reduceat(height, start[:-1], axis=0) > ON_PLANE
        rows.append(
            (mine, _still(np.tile(planes.start[number] + np.arange(len(tool.offsets)), (len(mine), 1)), beyond))
        )
    due = np.full((len(cells), max(part.shape[1] for _, part in rows)), -1)
    for mine, part in rows:
        due[mine, : part.shape[1]] = part
    return due
