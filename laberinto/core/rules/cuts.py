"""Cuts that miss the wood, or leave splinters of it."""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence

import numpy as np

from ..plan.simulate import Simulation
from ..shop import Shop
from ..solid import Cells
from ..stages import Carving, Cause, Crosscut, Flatten, JointEdge, Profile, Sawing, Trim
from ..woods.strips import Strip
from .model import Check, Severity, Show

HAIR = 0.02
"""What is thinner (mm) comes of a length that was typed rounded."""

SLIVER = 0.5
"""Wood thinner than this (mm) breaks away instead of staying."""


def misses(sim: Simulation, show: Show, shop: Shop) -> Iterator[Check]:
    """A tool that takes nothing runs beside the wood."""
    for result in sim.results:
        if isinstance(result.stage, Carving) and result.outcome.waste.get(Cause.SHAPING, 0.0) < 1e-6:
            yield Check(
                Severity.CAUTION, result.stage.id,
                f"{result.stage.title}: the tool runs beside the wood and takes nothing.",
                "Move it onto the board, or take the stage out.",
            )  # fmt: skip


def slivers(sim: Simulation, show: Show, shop: Shop) -> Iterator[Check]:
    """A cut close beside a joint leaves a splinter of the strip behind it."""
    known = 0
    for result in sim.results:
        if not isinstance(result.stage, Sawing | Crosscut | Profile | Flatten | Trim | JointEdge):
            continue
        cells = result.pieces.cells
        count = cells.memo.once(_thin, cells, sim.strips)
        if count > known:
            some = "A sliver" if count - known == 1 else f"{count - known} slivers"
            yield Check(
                Severity.NOTE, result.stage.id,
                f"{some} thinner than {show(SLIVER)} would be left beside a joint.",
                "Move the cut, or change a width a little, so that it falls on the joint or well away from it.",
            )  # fmt: skip
        known = max(known, count)


def _thin(cells: Cells, strips: Sequence[Strip]) -> int:
    """How many blocks are thinner than a sliver on average: their volume over their two longer sides. What a tool has
    left of one block, in however many cells, is one; less than a hair is rounding and no wood."""
    volumes = cells.volumes()
    # no cell is longer or wider than its strip, so most need not be measured
    limit = np.array([SLIVER * math.prod(sorted((s.width, s.length, s.thickness))[1:]) for s in strips])
    if not (volumes < limit[cells.strip]).any():
        return 0
    block = cells.blocks()
    small = np.flatnonzero(np.bincount(block, volumes)[block] < limit[cells.strip])
    if not len(small):
        return 0
    few, (_, block) = cells.take(small), np.unique(block[small], return_inverse=True)
    low, high = (reach.reduceat(few.verts, few.vptr[:-1], axis=1) for reach in (np.minimum, np.maximum))
    whole = np.bincount(block, volumes[small])
    least, most = np.full((3, len(whole)), np.inf), np.full((3, len(whole)), -np.inf)
    for axis in range(3):
        np.minimum.at(least[axis], block, low[axis])
        np.maximum.at(most[axis], block, high[axis])
    extent = most - least
    thickness = whole * extent.min(axis=0) / np.maximum(extent.prod(axis=0), 1e-12)
    return int(((thickness < SLIVER) & (thickness > HAIR)).sum())
