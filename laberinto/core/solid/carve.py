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
from .cells import MOST_CELLS, ON_PLANE, Bools, Cells, Floats, Ints, counts_of, dot, empty, join, pick
from .split import halves
from .tools import Facets, Tool

MANY = 4
"""A cell that reaches beyond so many planes of a tool is halved where it can be."""

AT_ONCE = 200_000
"""Cells times planes that are looked at in one go, so that memory stays bounded."""


def carve(cells: Cells, tools: Sequence[Tool]) -> tuple[Cells, Cells]:
    """What the tools leave and what they take, cut one after the other. Pieces keep their numbers.

    All cells are carved at once, each by the first tool that reaches it and what is left of it by its next.
    """
    cells, facets = cells.laid_bare(), Facets.of_tools(tools)
    may = _may_meet(cells, facets, np.zeros(len(cells), np.int64))
    met: Bools = np.asarray(may.any(axis=1))
    done, chips, near = [cells.take(~met)], [], np.flatnonzero(met)
    room = max(AT_ONCE // max(facets.most, 1), 1)
    for at in range(0, len(near), room):
        some = near[at : at + room]
        left, gone = _carved(cells.take(some), facets, may[some], sum(len(part) for part in done))
        done.append(left)
        chips.append(gone)
    return join(done), join(chips)


def _may_meet(cells: Cells, facets: Facets, first: Ints, chunk: int = 256) -> Bools:
    """Which tools from ``first`` (n,) on each cell may meet, (n, tools): those whose planes all run above the nearest
    corner of the box round it."""
    out = np.arange(len(facets.start) - 1) >= first[:, None]
    if not out.any():
        return out
    low, high = cells.cell_bounds()
    normals, offsets = facets.normals[:-1].T, facets.offsets[:-1]
    for at in range(0, len(cells), chunk):
        some = slice(at, at + chunk)
        nearest = (low[some] + high[some]) / 2 @ normals - (high[some] - low[some]) / 2 @ np.abs(normals)
        out[some] &= np.logical_and.reduceat(nearest < offsets, facets.start[:-1], axis=1)
    return out


def _carved(cells: Cells, facets: Facets, may: Bools, before: int) -> tuple[Cells, Cells]:
    """What the tools leave of cells and what they take; each ``may`` meet some, (n, tools). Raises TooManyCellsError
    where they become more than ``MOST_CELLS`` together with so many ``before`` them.

    A cell is split by the plane that it reaches farthest beyond, which leaves the fewest fragments; once none lies
    farther than the tool is thick, what many planes would cut one after the other is halved first."""
    last = len(facets.start) - 1
    free = cells
    cells, turn, due, clear = empty(), np.zeros(0, np.int64), np.full((0, 1), -1), np.zeros(0, bool)
    done: list[Cells] = []
    chips: list[Cells] = []
    while len(cells) or len(free):
        onward, planes = _met(free, facets, may)
        done.append(free.take(onward == last))
        met = onward < last
        cells, turn = join([cells, free.take(met)]), np.concatenate([turn, onward[met]])
        due, clear = _below_each_other(due, planes[met]), np.append(clear, np.zeros(int(met.sum()), bool))
        if (made := before + sum(len(part) for part in done) + len(cells)) > MOST_CELLS:
            raise TooManyCellsError(f"This would carve the wood into {made:,} cells; one build holds {MOST_CELLS:,}.")
        some = np.flatnonzero(~clear)
        low, high = _reach(cells, facets, due[some], some)
        outside = np.asarray((low >= -ON_PLANE).any(axis=1))
        beyond = high > ON_PLANE
        cut: Bools = np.asarray(~outside & beyond.any(axis=1))
        chips.append(cells.take(some[~outside & ~cut]))
        clear[some[outside]] = True
        free = cells.take(clear)
        may = _may_meet(free, facets, turn[clear] + 1)
        some = some[cut]
        cells, source, due, clear = _split(cells.take(some), _step(facets, due[some], beyond[cut], high[cut]))
        turn = turn[some][source]
    return join(done), join(chips)


def _met(cells: Cells, facets: Facets, may: Bools) -> tuple[Ints, Ints]:
    """The first of the tools that each cell ``may`` meet (n, tools) which it does meet, or the number of tools, (n,);
    and those of its planes that the cell reaches beyond, filled up with -1, (n, most): no fragment of it meets
    another."""
    may, last = may.copy(), len(facets.start) - 1
    turn, todo = np.full(len(cells), last), np.flatnonzero(may.any(axis=1))
    rows: list[tuple[Ints, Ints]] = []
    while len(todo):
        turn[todo] = may[todo].argmax(axis=1)
        due = facets.of(turn[todo])
        low, high = _reach(cells, facets, due, todo)
        met: Bools = np.asarray((low < -ON_PLANE).all(axis=1) & ~facets.apart(cells, todo, turn[todo]))
        rows.append((todo[met], _close(np.where(high > ON_PLANE, due, -1)[met])))
        todo = todo[~met]
        may[todo, turn[todo]], turn[todo] = False, last
        todo = todo[may[todo].any(axis=1)]
    due = np.full((len(cells), max((planes.shape[1] for _, planes in rows), default=1)), -1)
    for mine, planes in rows:
        due[mine, : planes.shape[1]] = planes
    return turn, due


@dataclass(frozen=True, slots=True)
class _Step:
    """The plane that each cell is split by next, (n, 3) and (n,); what is due below it and, where it only halved what
    was due, above it, (n, most); and whether what lies above is clear of the tool, (n,)."""

    normals: Floats
    offsets: Floats
    below: Ints
    above: Ints
    clear: Bools


def _step(facets: Facets, due: Ints, beyond: Bools, high: Floats) -> _Step:
    """What to do next with cells of which each reaches so ``high`` ``beyond`` the planes ``due``, all (n, most)."""
    row, farthest = np.arange(len(due)), high.argmax(axis=1)
    plane = due[row, farthest]
    due = np.where(beyond, due, -1)
    normals, offsets = facets.normals[plane], facets.offsets[plane]
    below, above, clear = beyond.copy(), np.zeros_like(beyond), np.ones(len(due), bool)
    below[row, farthest] = False
    many = np.flatnonzero((beyond.sum(axis=1) >= MANY) & (high[row, farthest] <= facets.within(plane)))
    if len(many):
        able, half = facets.halved(due[many])
        many = many[able]
        normals[many], offsets[many], below[many], above[many] = half.normals, half.offsets, half.below, half.above
        clear[many] = False
    return _Step(normals, offsets, np.where(below, due, -1), np.where(above, due, -1), clear)


def _split(cells: Cells, step: _Step) -> tuple[Cells, Ints, Ints, Bools]:
    """The cells, each split by its plane where that runs through it; of each part, where it comes from, what is due
    there, and whether it is clear of the tool."""
    row = np.arange(len(cells))
    if not len(cells):
        return cells, row, step.below, step.clear
    cell, first = cells.cell_of_vertex(), cells.vptr[:-1]
    distance = dot(pick(step.normals.T, cell), cells.world().T) - step.offsets[cell]
    low, high = (reach.reduceat(distance, first) for reach in (np.minimum, np.maximum))
    crossed = (low < -ON_PLANE) & (high > ON_PLANE)
    if crossed.all():
        parts, whole = halves(cells, step.normals, step.offsets, distance), row[:0]
    else:
        some = step.normals[crossed], step.offsets[crossed], distance[crossed[cell]]
        whole, row = row[~crossed], row[crossed]
        parts = join([cells.take(whole), halves(cells.take(row), *some)])
    over = high[whole] > ON_PLANE
    due = np.where(over[:, None], step.above[whole], step.below[whole])
    return (
        parts,
        np.concatenate([whole, row, row]),
        _close(np.concatenate([due, step.below[row], step.above[row]])),
        np.concatenate([over & step.clear[whole], np.zeros(len(row), bool), step.clear[row]]),
    )


def _reach(cells: Cells, facets: Facets, due: Ints, some: Ints) -> tuple[Floats, Floats]:
    """How far the lowest and the highest corner of ``some`` cells (n,) lie beyond each plane that is ``due`` there,
    (n, most) each; far below one that is none."""
    counts = counts_of(cells.vptr)[some]
    number = np.arange(int(counts.max(initial=1)))
    # a cell that has fewer corners than others has its last one over again
    points = pick(cells.world().T, (cells.vptr[some][:, None] + np.minimum(number, counts[:, None] - 1)).ravel())
    x, y, z = points.reshape(3, len(some), 1, len(number))
    normals = facets.normals[due][:, :, :, None]
    height = normals[:, :, 0] * x  # in steps, as a product of matrices ends differently on other processors
    height += normals[:, :, 1] * y
    height += normals[:, :, 2] * z
    height -= facets.offsets[due][:, :, None]
    return height.min(axis=2), height.max(axis=2)


def _close(due: Ints) -> Ints:
    """The planes of each row side by side, (n, fewer but at least one), filled up with -1."""
    none = due < 0
    most = max(int((~none).sum(axis=1).max(initial=0)), 1)
    if 4 * most > 3 * due.shape[1]:
        return due
    return np.take_along_axis(due, np.argsort(none, axis=1, kind="stable")[:, :most], axis=1)


def _below_each_other(*parts: Ints) -> Ints:
    """Rows of planes filled up with -1 to the longest, (n, most)."""
    out = np.full((sum(len(part) for part in parts), max(part.shape[1] for part in parts)), -1)
    at = 0
    for part in parts:
        out[at : at + len(part), : part.shape[1]] = part
        at += len(part)
    return out
