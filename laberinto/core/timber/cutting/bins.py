"""Where sections may lie in a piece: rough ends and edges trimmed, faults left out.

Every fault is either crosscut out, which parts the piece there, or ripped past, which parts the stretch that it lies in
into bands. Each way to choose gives rectangles of sound wood; the plan takes one of them.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import product

from ..model import Defect, Lot
from .model import Saw

MOST_FAULTS = 4
"""With more in one piece, all are crosscut out or all are ripped past."""


@dataclass(frozen=True, slots=True)
class Bin:
    """A rectangle of sound wood, mm."""

    x: float
    y: float
    length: float
    width: float


def ways(lot: Lot, saw: Saw) -> list[list[Bin]]:
    """The ways a piece can be laid out, each a list of rectangles that do not touch one another."""
    end, edge = (saw.end, saw.edge) if lot.kind.rough else (0.0, 0.0)
    whole = Bin(end, edge, lot.length - 2 * end, lot.width - 2 * edge)
    if whole.length <= 0 or whole.width <= 0:
        return []
    if not lot.defects:
        return [[whole]]
    some = len(lot.defects) <= MOST_FAULTS
    choices = product((True, False), repeat=len(lot.defects)) if some else [(True,) * len(lot.defects), ()]
    found: list[list[Bin]] = []
    for choice in choices:
        out = [d for d, crosscut in zip(lot.defects, choice, strict=False) if crosscut]
        way = _way(whole, out, [d for d in lot.defects if d not in out], saw.kerf)
        if way and way not in found:
            found.append(way)
    return found


def _way(whole: Bin, out: Sequence[Defect], past: Sequence[Defect], kerf: float) -> list[Bin]:
    """The rectangles left where some faults are crosscut out and the others are ripped past."""
    rows = []
    for start, stop in _clear([(d.start, d.end) for d in out], whole.x, whole.x + whole.length, kerf):
        here = [(d.low, d.high) for d in past if d.start < stop and d.end > start]
        for low, high in _clear(here, whole.y, whole.y + whole.width, kerf):
            rows.append(Bin(start, low, stop - start, high - low))
    return rows


def _clear(faults: list[tuple[float, float]], start: float, stop: float, kerf: float) -> list[tuple[float, float]]:
    """The stretches between ``start`` and ``stop`` that no fault touches. The cut beside a fault goes into the fault,
    or into what is left of it where it is narrower than the kerf."""
    out, at = [], start
    for low, high in sorted(faults):
        low, high = max(low, start), min(high, stop)
        if high <= low:
            continue
        if low > at:
            out.append((at, low))
        at = max(at, high, low + kerf)
    if stop > at:
        out.append((at, stop))
    return out
