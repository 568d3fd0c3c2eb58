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
from .cells import MOST_CELLS, ON_PLANE, Bools, Cells, Floats, Ints, indptr_of, join, spread
from .split import split_each


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
    normals, offsets = _table(tools)
    turn = _next(cells, normals, offsets, np.zeros(len(cells), np.int64))
    done, chips = [cells.take(turn == len(tools))], []
    active, turn = cells.take(turn < len(tools)), turn[turn < len(tools)]
    while len(active):
        left, source, chip = _cut(active, *_relevant(active, tools, turn))
        chips.append(chip)
        turn = _next(left, normals, offsets, turn[source] + 1)
        done.append(left.take(turn == len(tools)))
        active, turn = left.take(turn < len(tools)), turn[turn < len(tools)]
        if (made := sum(len(part) for part in done) + len(active)) > MOST_CELLS:
            raise TooManyCellsError(f"This would carve the wood into {made:,} cells; one build holds {MOST_CELLS:,}.")
    return join(done), join(chips)


def _table(tools: Sequence[Tool]) -> tuple[Floats, Floats]:
    """Planes of all tools, (tools, most planes, 3) and (tools, most planes); missing ones hold everything."""
    most = max((len(tool.offsets) for tool in tools), default=0)
    normals, offsets = np.zeros((len(tools), most, 3)), np.full((len(tools), most), np.inf)
    for i, tool in enumerate(tools):
        normals[i, : len(tool.offsets)], offsets[i, : len(tool.offsets)] = tool.normals, tool.offsets
    return normals, offsets


def _next(cells: Cells, normals: Floats, offsets: Floats, first: Ints, chunk: int = 256) -> Ints:
    """The first tool from ``first`` (n,) on that may reach each cell, or the number of tools where none does: one
    whose planes all run above the nearest corner of the box round the cell."""
    count = len(offsets)
    out = np.full(len(cells), count)
    if not len(cells) or not count:
        return out
    low, high = cells.cell_bounds()
    flat, limits = normals.reshape(-1, 3), offsets.reshape(-1)
    for at in range(0, len(cells), chunk):
        some = slice(at, at + chunk)
        middle, half = (low[some] + high[some]) / 2, (high[some] - low[some]) / 2
        nearest = middle @ flat.T - half @ np.abs(flat).T
        meets = (nearest < limits).reshape(len(middle), count, -1).all(axis=2)
        meets &= np.arange(count) >= first[some, None]
        out[some] = np.where(meets.any(axis=1), meets.argmax(axis=1), count)
    return out


def _cut(cells: Cells, normals: Floats, offsets: Floats) -> tuple[Cells, Ints, Cells]:
    """Each cell by planes of its own, (n, k, 3) and (n, k): what is left, the cell each part came from, and
    the chips. A cell is split by the plane it reaches farthest beyond, which leaves the fewest fragments; where in the
    end nothing was taken from a cell, it stays in one."""
    active, origin = cells, np.arange(len(cells))
    kept: list[tuple[Cells, Ints]] = []
    chips: list[Cells] = []
    touched = np.zeros(len(cells), bool)
    while len(active):
        low, high = _reach(active, normals, offsets, origin)
        outside: Bools = np.asarray((low > -ON_PLANE).any(axis=1))
        inside: Bools = np.asarray(~outside & (high <= ON_PLANE).all(axis=1))
        ahead: Bools = np.asarray((high > ON_PLANE).any(axis=0))
        if (
            0 < 2 * int(ahead.sum()) < high.shape[1]
        ):  # planes that nothing reaches beyond any more need no more looking at
            normals, offsets, high = normals[:, ahead], offsets[:, ahead], high[:, ahead]
        kept.append((active.take(outside), origin[outside]))
        chips.append(active.take(inside))
        touched[origin[inside]] = True
        rest = ~(outside | inside)
        active, origin, farthest = active.take(rest), origin[rest], high[rest].argmax(axis=1)
        (below, from_b), (above, from_a) = split_each(active, normals[origin, farthest], offsets[origin, farthest])
        kept.append((above, origin[from_a]))
        active, origin = below, origin[from_b]
    untouched = np.flatnonzero(~touched)
    parts = [(part.take(touched[source]), source[touched[source]]) for part, source in kept]
    left = join([cells.take(untouched), *(part for part, _ in parts)])
    return left, np.concatenate([untouched, *(source for _, source in parts)]), join(chips)


def _reach(cells: Cells, normals: Floats, offsets: Floats, origin: Ints) -> tuple[Floats, Floats]:
    """How far below and above each plane of its own each cell reaches, (n, k) each."""
    points = cells.world().T
    first = int(origin[0])
    if (origin == first).all():  # what is left of one cell: its planes are the same for all
        height = normals[first] @ points - offsets[first][:, None]
    else:
        mine = origin[cells.cell_of_vertex()]
        height = np.einsum("iv,kiv->kv", points, normals.transpose(1, 2, 0).take(mine, axis=2))
        height -= offsets.T.take(mine, axis=1)
    low, high = (reach.reduceat(height, cells.vptr[:-1], axis=1).T for reach in (np.minimum, np.maximum))
    return low, high


def _relevant(cells: Cells, tools: Sequence[Tool], turn: Ints) -> tuple[Floats, Floats]:
    """For each cell only those planes of its tool that it reaches beyond, (n, k, 3) and (n, k): no fragment of it
    meets another. Rows are filled up with planes that hold everything."""
    points, first = cells.world(), cells.vptr
    rows: list[tuple[Ints, Floats, Floats]] = []
    for number in np.unique(turn).tolist():
        mine, tool = np.flatnonzero(turn == number), tools[number]
        counts = first[mine + 1] - first[mine]
        start = indptr_of(counts)
        height = points[spread(first[mine], counts)] @ tool.normals.T - tool.offsets
        beyond = np.maximum.reduceat(height, start[:-1], axis=0) > ON_PLANE
        order = np.argsort(~beyond, axis=1, kind="stable")[:, : max(int(beyond.sum(axis=1).max()), 1)]
        there = np.take_along_axis(beyond, order, axis=1)
        rows.append(
            (mine, np.where(there[:, :, None], tool.normals[order], 0.0), np.where(there, tool.offsets[order], np.inf))
        )
    most = max(offsets.shape[1] for _, _, offsets in rows)
    normals, offsets = np.zeros((len(cells), most, 3)), np.full((len(cells), most), np.inf)
    for mine, n, h in rows:
        normals[mine, : n.shape[1]], offsets[mine, : n.shape[1]] = n, h
    return normals, offsets
