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
from .cells import ON_PLANE, Bools, Cells, Floats, Ints, join
from .split import MOST_CELLS, split_each


@dataclass(frozen=True, slots=True)
class Tool:
    """A convex body in world coordinates: all x with normals @ x ≤ offsets; (k, 3) unit normals, (k,) mm."""

    normals: Floats
    offsets: Floats


def carve(cells: Cells, tools: Sequence[Tool]) -> tuple[Cells, Cells]:
    """What the tools leave and what they take, cut one after the other. Pieces keep their numbers."""
    middle, half = _boxes(cells)
    near = np.zeros(len(cells), bool)
    for tool in tools:
        near |= _meets(middle, half, tool)
    kept, chips = cells.take(near), []
    for tool in tools:
        kept, chip = _carve(kept, tool)
        chips.append(chip)
        if len(kept) > MOST_CELLS:
            raise TooManyCellsError(
                f"This would carve the wood into {len(kept):,} cells; one build holds {MOST_CELLS:,}."
            )
    return join([cells.take(~near), kept]), join(chips)


def _boxes(cells: Cells) -> tuple[Floats, Floats]:
    """Middle and half extent of the box round each cell, (n, 3) each."""
    if not len(cells):
        return np.zeros((0, 3)), np.zeros((0, 3))
    points = cells.world()
    low = np.minimum.reduceat(points, cells.vptr[:-1], axis=0)
    high = np.maximum.reduceat(points, cells.vptr[:-1], axis=0)
    return (low + high) / 2, (high - low) / 2


def _meets(middle: Floats, half: Floats, tool: Tool) -> Bools:
    """Cells whose boxes reach below every plane of the tool: all it can touch, and few more."""
    lowest = middle @ tool.normals.T - half @ np.abs(tool.normals).T
    return np.asarray((lowest < tool.offsets).all(axis=1))


def _carve(cells: Cells, tool: Tool) -> tuple[Cells, Cells]:
    """One tool through all cells. A cell is split by the plane it reaches farthest beyond, which leaves the
    fewest fragments; where in the end nothing was taken from a cell, it stays in one."""
    near = _meets(*_boxes(cells), tool)
    if not near.any():
        return cells, cells.take(near)
    whole = cells.take(near)
    active, origin = whole, np.arange(len(whole))
    kept: list[tuple[Cells, Ints]] = []
    chips: list[tuple[Cells, Ints]] = []
    while len(active):
        height = active.world() @ tool.normals.T - tool.offsets
        low = np.minimum.reduceat(height, active.vptr[:-1], axis=0)
        high = np.maximum.reduceat(height, active.vptr[:-1], axis=0)
        outside: Bools = np.asarray((low > -ON_PLANE).any(axis=1))
        inside: Bools = np.asarray(~outside & (high <= ON_PLANE).all(axis=1))
        kept.append((active.take(outside), origin[outside]))
        chips.append((active.take(inside), origin[inside]))
        rest = ~(outside | inside)
        active, origin, farthest = active.take(rest), origin[rest], high[rest].argmax(axis=1)
        (below, from_b), (above, from_a) = split_each(active, tool.normals[farthest], tool.offsets[farthest])
        kept.append((above, origin[from_a]))
        active, origin = below, origin[from_b]
    touched = np.zeros(len(whole), bool)
    for _, source in chips:
        touched[source] = True
    left = [cells.take(~near), whole.take(~touched), *(part.take(touched[source]) for part, source in kept)]
    return join(left), join([part for part, _ in chips])
