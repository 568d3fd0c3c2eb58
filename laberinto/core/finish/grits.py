"""Grits: how coarse each is, and what it costs to skip one.

Mean grain sizes of coated abrasives by ISO 6344 (FEPA P grits), µm. A grit takes out the scratches of the one before at
a rate that goes with its own grain, so the time at a grit goes with how much coarser the one before was. Up to the step
from 80 to 120 that is what a shop's minutes a grit are for; beyond it takes longer by as much.
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from ..shop import Shop
from ..stages import Method

GRAIN: dict[int, float] = {
    24: 764, 30: 642, 36: 538, 40: 425, 50: 336, 60: 269, 80: 201, 100: 162, 120: 125, 150: 100, 180: 82, 220: 68,
    240: 58.5, 280: 52.2, 320: 46.2, 360: 40.5, 400: 35.0, 500: 30.2, 600: 25.8, 800: 21.8, 1000: 18.3, 1200: 15.3,
}  # fmt: skip
"""Mean grain of each grit, µm."""

USUAL = GRAIN[80] / GRAIN[120]
"""The largest step that costs no more than the usual time at a grit."""


DEPTH = 1 / 3
"""How deep a scratch is, of the grain that made it: a rule of thumb."""

LONGER = 1.15
"""So many times the usual time is worth a word."""


LEFT_BY = {
    Method.PLANER: ("the ripples of the thickness planer", 120),
    Method.DRUM_SANDER: ("the lines of the drum sander", 120),
    Method.ROUTER_SLED: ("the tracks of the router", 80),
    Method.BELT_SANDER: ("the belt sander's scratches", 120),
    Method.HAND_PLANE: ("the steps between the plane's strokes", 120),
    Method.CNC: ("the tracks of the cutter", 100),
}
"""What each way of flattening leaves in end grain, and the finest grit to begin with."""


def grain(grit: int) -> float:
    """Mean grain in µm, of a grit between those of the table in proportion to the logarithm of its number."""
    if grit in GRAIN:
        return GRAIN[grit]
    finer = min((g for g in GRAIN if g > grit), default=max(GRAIN))
    coarser = max((g for g in GRAIN if g < grit), default=min(GRAIN))
    share = math.log(grit / coarser) / math.log(finer / coarser) if finer != coarser else 0.0
    return float(GRAIN[coarser] * (GRAIN[finer] / GRAIN[coarser]) ** share)


def scratch(grit: int) -> float:
    """How deep its scratches are, µm."""
    return DEPTH * grain(grit)


@dataclass(frozen=True, slots=True)
class Rung:
    """One grit of a ladder, the one before it, and how many times the usual time it takes."""

    grit: int
    after: int | None
    times: float

    def minutes(self, area: float, shop: Shop) -> float:
        """At this grit, over so many dm²."""
        return self.times * area * shop.minutes_grit

    def sheets(self, area: float, shop: Shop) -> int:
        """Sheets or discs of it that are used up over so many dm²."""
        return max(math.ceil(self.times * area / shop.sheet_lasts - 1e-9), 1)


def ladder(grits: Sequence[int]) -> Iterator[Rung]:
    """Each grit in turn."""
    before: int | None = None
    for grit in grits:
        times = 1.0 if before is None else max(grain(before) / grain(grit) / USUAL, 1.0)
        yield Rung(grit, before, times)
        before = grit


def between(coarser: int, finer: int) -> int | None:
    """The common grit that belongs between two, None where none does."""
    middle = math.sqrt(grain(coarser) * grain(finer))
    found = [grit for grit in GRAIN if coarser < grit < finer]
    return min(found, key=lambda grit: abs(math.log(grain(grit) / middle)), default=None)
