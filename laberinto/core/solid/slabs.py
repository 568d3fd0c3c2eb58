"""Slabs: all parallel planes of one sawing, or of one planing, through all cells in a single pass.

Cells no plane meets stay as they are. The rest go the quickest way their shape allows: planed, sliced as prisms, or
sliced whatever their shape.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..errors import TooManyCellsError
from .cells import (
    GLUED,
    LEVEL,
    MOST_CELLS,
    ON_PLANE,
    Bools,
    Cells,
    Floats,
    Ints,
    axes,
    counts_of,
    dot,
    gathered,
    pick,
    spread,
)
from .planing import planed
from .prisms import Prisms
from .slicing import Slicing, instances, lost_in

BATCH = 4000
"""So many cells are made at a time: few enough that what is worked on stays in the processor's cache."""


@dataclass(frozen=True, slots=True)
class Slabs:
    """Cells between parallel planes: ``slab`` (n,) is i where a cell lies between boundary i − 1 and boundary i, so 0
    is below the first and len(boundaries) above the last. ``lost`` is the volume in each slab that was not
    kept, mm³. The cells are in ``parts``, or some of theirs with the slab of each in ``numbers``, until they are asked
    for."""

    parts: list[tuple[Cells, Ints | None]]
    numbers: list[Ints]
    lost: Floats

    @property
    def slab(self) -> Ints:
        return np.concatenate(self.numbers)

    @property
    def cells(self) -> Cells:
        """All cells, in the order of ``slab``."""
        return gathered(self.parts)

    def within(self, first: int, last: int) -> tuple[Cells, Ints]:
        """The cells from slab ``first`` to slab ``last``, and the slab of each."""
        chosen, slabs_ = [], []
        for (cells, which), numbers in zip(self.parts, self.numbers, strict=True):
            mine = np.flatnonzero((numbers >= first) & (numbers <= last))
            slabs_.append(numbers[mine])
            if which is not None:
                mine = which[mine]
            chosen.append((cells, None if len(mine) == len(cells) else mine))
        return gathered(chosen), np.concatenate(slabs_)

    def of(self, number: int) -> Cells:
        """The cells of one slab."""
        return self.within(number, number)[0]


def slabs(cells: Cells, normal: Floats, boundaries: Floats, keep: Ints | None = None) -> Slabs:
    """Cut by all planes normal · x = boundary at once; ``boundaries`` rise, in mm.

    Only the slabs in ``keep`` are built, or all; the volume of the others is worked out all the same. Raises
    TooManyCellsError before it makes too many.
    """
    count = len(boundaries) + 1
    if not len(cells):
        return Slabs([(cells, None)], [np.zeros(0, np.int64)], np.zeros(count))
    local = np.einsum("cij,i->jc", cells.rot, normal)
    counts = counts_of(cells.vptr)
    flat = axes(normal) @ cells.world().T
    height = flat[2]
    code = np.searchsorted(boundaries, height - ON_PLANE) + np.searchsorted(boundaries, height + ON_PLANE)
    lowest, highest = (reach.reduceat(code, cells.vptr[:-1]) for reach in (np.minimum, np.maximum))
    # what only touches a boundary lies on its other side
    low = (lowest + 1) >> 1
    high = np.maximum(low, highest >> 1)
    cells = cells.laid_bare(_parted(cells, local, lowest, highest))
    if (made := int((high - low + 1).sum())) > MOST_CELLS:
        raise TooManyCellsError(f"This would cut the wood into {made:,} cells; one build holds {MOST_CELLS:,}.")
    wanted = np.ones(count, bool)
    if keep is not None:
        wanted[:] = False
        wanted[keep] = True
    whole = low == high
    out = _Made([], [], np.zeros(count))
    if bool((gone := whole & ~wanted[low]).any()):
        out.lost += np.bincount(low[gone], cells.take(gone).volumes(), minlength=count)
    done = whole & wanted[low]
    left = cells
    middle = int(wanted.argmax())
    if int(wanted.sum()) == 1 and middle <= 1 and count - middle <= 2:
        bottom, top = np.concatenate([[-np.inf], boundaries, [np.inf]])[middle : middle + 2]
        smooth = planed(cells, ~whole, local, flat, code, bottom, top, 2 * middle)
        left = smooth.cells
        done |= smooth.fits
        for slab, volume in ((middle - 1, smooth.below), (middle + 1, smooth.above)):
            if 0 <= slab < count:
                out.lost[slab] += volume
    whole_ones = np.flatnonzero(done)
    out.add(left, low[done] if left is cells else np.full(len(whole_ones), middle), which=whole_ones)
    index = np.flatnonzero(~(done | gone))
    for which in _batches(index, (high - low)[index] + 1):
        mine = spread(cells.vptr[which], counts[which])
        part = cells.take(which)
        fits, prisms = Prisms.of(part, local[:, which], pick(flat, mine))
        if prisms is not None:
            out.add(*_of_prisms(prisms, boundaries, low[which[fits]], high[which[fits]], wanted))
        if not fits.all():
            which, mine = which[~fits], mine[np.repeat(~fits, counts_of(part.vptr))]
            out.add(*Slicing.of(
                part.take(~fits), local[:, which], boundaries, pick(flat, mine), code[mine], low[which], high[which]
            ).slices(wanted))  # fmt: skip
    return Slabs(out.parts, out.numbers, out.lost)


@dataclass(slots=True)
class _Made:
    """What is gathered while cells go their different ways: cells with the slab of each, and what is lost."""

    parts: list[tuple[Cells, Ints | None]]
    numbers: list[Ints]
    lost: Floats

    def add(self, cells: Cells, slab: Ints, lost: Floats | None = None, which: Ints | None = None) -> None:
        self.parts.append((cells, which))
        self.numbers.append(slab)
        if lost is not None:
            self.lost += lost


def _parted(cells: Cells, local: Floats, lowest: Ints, highest: Ints) -> Ints:
    """Glued faces that lie in a boundary, so that the cut may part them from what they are glued to. ``local`` (3, n)
    is the normal in each strip's frame, ``lowest`` and ``highest`` (n,) are the codes of each cell's ends."""
    on_floor, on_ceiling = (lowest & 1) == 1, (highest & 1) == 1
    cell = cells.cell_of_face()
    faces = np.flatnonzero((on_floor | on_ceiling)[cell] & (cells.faces[GLUED] > 0))
    cell = cell[faces]
    facing = dot(pick(cells.faces, faces)[:3], pick(local, cell))
    return np.asarray(faces[((facing > LEVEL) & on_ceiling[cell]) | ((facing < -LEVEL) & on_floor[cell])])


def _batches(index: Ints, made: Ints) -> list[Ints]:
    """Cells in runs that make about ``BATCH`` cells each."""
    ends = made.cumsum()
    cuts = np.searchsorted(ends, np.arange(BATCH, int(ends[-1]) if len(ends) else 0, BATCH))
    return [run for run in np.split(index, cuts) if len(run)]


def _of_prisms(prisms: Prisms, boundaries: Floats, low: Ints, high: Ints, wanted: Bools) -> tuple[Cells, Ints, Floats]:
    """Prisms from slab ``low`` to slab ``high`` (n,): what is kept with the slab of each, and what is lost."""
    source, slab = instances(low, high)
    edge = np.concatenate([[-np.inf], boundaries, [np.inf]])
    volume = prisms.volumes(source, edge[slab], edge[slab + 1])
    lost = lost_in(slab, volume, wanted)
    built = wanted[slab]
    source, slab, volume = source[built], slab[built], volume[built]
    return prisms.sliced(source, edge[slab], edge[slab + 1], volume), slab, lost
