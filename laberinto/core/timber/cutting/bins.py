"""Where sections may lie in a piece: rough ends and edges trimmed, faults left out.

A piece with faults is laid out in one of two ways: crosscut on both sides of every fault, or ripped along them. Each
way gives rectangles of sound wood; the plan takes one way or the other.
"""

from __future__ import annotations

from dataclasses import dataclass

from ..model import Lot
from .model import Saw


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
    across = [
        Bin(start, whole.y, stop - start, whole.width)
        for start, stop in _clear([(d.start, d.end) for d in lot.defects], whole.x, whole.x + whole.length, saw.kerf)
    ]
    along = [
        Bin(whole.x, low, whole.length, high - low)
        for low, high in _clear([(d.low, d.high) for d in lot.defects], whole.y, whole.y + whole.width, saw.kerf)
    ]
    return [way for way in (across, along) if way]


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
