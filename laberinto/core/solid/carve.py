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
from .cells import MOST_CELLS, ON_PLANE, Bools, Cells, Floats, Ints, counts_of, dot, join, pick
from .split import both_halves
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
    turn = _next(cells, facets, np.zeros(len(cells), np.int64))
    due = np.flatnonzero(turn < len(tools))
    done, chips = [cells.take(turn == len(tools))], []
    room = max(AT_ONCE // max(facets.most, 1), 1)
    for at in range(0, len(due), room):
        some = due[at : at + room]
        left, gone = _carved(cells.take(some), facets, turn[some], MOST_CELLS - sum(len(part) for part in done))
        done.append(left)
        chips.append(gone)
    return join(done), join(chips)


def _next(cells: Cells, facets: Facets, first: Ints, chunk: int = 256) -> Ints:
    """The first tool from ``first`` (n,) on that may reach each cell, or the number of tools where none does: one
    whose planes all run above the nearest corner of the box round the cell."""
    count = len(facets.start) - 1
    out = np.full(len(cells), count)
    if not len(cells) or not count:
        return out
    low, high = cells.cell_bounds()
    normals, offsets = facets.normals[:-1].T, facets.offsets[:-1]
    for at in range(0, len(cells), chunk):
        some = slice(at, at + chunk)
        middle, half = (low[some] + high[some]) / 2, (high[some] - low[some]) / 2
        nearest = middle @ normals - half @ np.abs(normals)
        meets = np.logical_and.reduceat(nearest < offsets, facets.start[:-1], axis=1)
        meets &= np.arange(count) >= first[some, None]
        out[some] = np.where(meets.any(axis=1), meets.argmax(axis=1), count)
    return out


def _carved(cells: Cells, facets: Facets, turn: Ints, most: int) -> tuple[Cells, Cells]:
    """What the tools leave of cells and what they take, from the tool on whose ``turn`` (n,) it is. Raises
    TooManyCellsError beyond ``most``.

    A cell is split by the plane that it reaches farthest beyond, which leaves the fewest fragments; once none lies
    farther than the tool is thick, what many planes would cut one after the other is halved first."""
    last = len(facets.start) - 1
    due, fresh = facets.of(turn), np.ones(len(cells), bool)
    done: list[Cells] = []
    chips: list[Cells] = []
    while len(cells):
        height = _heights(cells, facets, due)
        low, high = height.min(axis=2), height.max(axis=2)
        outside = np.asarray((low >= -ON_PLANE).any(axis=1))
        outside[fresh] |= facets.apart(cells.take(fresh), turn[fresh])
        beyond = high > ON_PLANE
        cut: Bools = np.asarray(~outside & beyond.any(axis=1))
        chips.append(cells.take(~outside & ~cut))
        free = cells.take(outside)
        onward = _next(free, facets, turn[outside] + 1)
        done.append(free.take(onward == last))
        free, onward = free.take(onward < last), onward[onward < last]
        cells, source, due = _split(cells.take(cut), _step(facets, due[cut], beyond[cut], high[cut]))
        turn = np.concatenate([turn[cut][source], onward])
        fresh = np.arange(len(turn)) >= len(cells)
        due = _below_each_other(due, facets.of(onward))
        cells = join([cells, free])
        if (made := sum(len(part) for part in done) + len(cells)) > most:
            raise TooManyCellsError(f"This would carve the wood into {made:,} cells; one build holds {MOST_CELLS:,}.")
    return join(done), join(chips)


@dataclass(frozen=True, slots=True)
class _Step:
    """The plane that each cell is split by next, (n, 3) and (n,), and what is due below and above it, (n, most): above
    it the plane itself, unless it only halved what was due."""

    normals: Floats
    offsets: Floats
    below: Ints
    above: Ints


def _step(facets: Facets, due: Ints, beyond: Bools, high: Floats) -> _Step:
    """What to do next with cells of which each reaches so ``high`` ``beyond`` the planes ``due``, all (n, most)."""
    row, farthest = np.arange(len(due)), high.argmax(axis=1)
    plane = due[row, farthest]
    due = np.where(beyond, due, -1)
    normals, offsets = facets.normals[plane], facets.offsets[plane]
    below, above = beyond.copy(), np.zeros_like(beyond)
    below[row, farthest], above[row, farthest] = False, True
    many = np.flatnonzero((beyond.sum(axis=1) >= MANY) & (high[row, farthest] <= facets.within(plane)))
    if len(many):
        able, half = facets.halved(due[many])
        many = many[able]
        normals[many], offsets[many], below[many], above[many] = half.normals, half.offsets, half.below, half.above
    return _Step(normals, offsets, np.where(below, due, -1), np.where(above, due, -1))


def _split(cells: Cells, step: _Step) -> tuple[Cells, Ints, Ints]:
    """The cells, each split by its plane where that runs through it; where each part comes from, and what is due
    there."""
    row = np.arange(len(cells))
    if not len(cells):
        return cells, row, step.below
    cell, first = cells.cell_of_vertex(), cells.vptr[:-1]
    distance = dot(pick(step.normals.T, cell), cells.world().T) - step.offsets[cell]
    low, high = (reach.reduceat(distance, first) for reach in (np.minimum, np.maximum))
    crossed = (low < -ON_PLANE) & (high > ON_PLANE)
    if crossed.all():
        halves = both_halves(cells, step.normals, step.offsets, distance)
        return halves, np.tile(row, 2), _close(np.concatenate([step.below, step.above]))
    halves = both_halves(cells.take(crossed), step.normals[crossed], step.offsets[crossed], distance[crossed[cell]])
    whole = ~crossed
    beside = np.where((high > ON_PLANE)[:, None], step.above, step.below)[whole]
    return (
        join([cells.take(whole), halves]),
        np.concatenate([row[whole], row[crossed], row[crossed]]),
        _close(np.concatenate([beside, step.below[crossed], step.above[crossed]])),
    )


def _heights(cells: Cells, facets: Facets, due: Ints) -> Floats:
    """How far each corner of each cell lies beyond each plane that is due there, (n, most, corners), with its last
    corner over again where a cell has fewer than others. Of a plane that is none all lie far below."""
    counts = counts_of(cells.vptr)
    number = np.arange(int(counts.max()))
    points = pick(cells.world().T, (cells.vptr[:-1, None] + np.minimum(number, counts[:, None] - 1)).ravel())
    x, y, z = points.reshape(3, len(cells), 1, -1)
    normals = facets.normals[due][:, :, :, None]
    height = normals[:, :, 0] * x  # in steps, as a product of matrices ends differently on other processors
    height += normals[:, :, 1] * y
    height += normals[:, :, 2] * z
    height -= facets.offsets[due][:, :, None]
    return height


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
