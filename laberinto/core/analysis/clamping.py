"""How a glue-up is clamped: where each clamp and each pair of cauls goes, and in which order they are tightened.

Clamps stand evenly along the joints, alternately above and below so that they do not bend the panel, and are tightened
from the middle outwards so that glue and pieces can give way. Cauls lie across the joints in the gaps between them.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

from ..plan.simulate import StageResult
from ..shop import Shop
from ..stages import Across, Glue
from .glueups import clamped, pressed

CAUL_EVERY = 350.0
"""About the most from one pair of cauls to the next, mm: farther apart a thin panel bows between them."""

CAUL_END = 30.0
"""From the ends of the joints to the middle of the outermost cauls, mm."""


@dataclass(frozen=True, slots=True)
class ClampAt:
    """A clamp: how far along the joints from their near or left end (mm), whether it lies above or below (of a stack:
    at the left or the right edge), and as which it is tightened, from 1."""

    at: float
    above: bool
    turn: int


@dataclass(frozen=True, slots=True)
class Clamping:
    """All clamps in their order along the joints, and the middles of the pairs of cauls (mm); the joints are
    ``length`` long, the clamps open to ``opens`` and press the largest joint with ``pressure`` N/mm²."""

    clamps: tuple[ClampAt, ...]
    cauls: tuple[float, ...]
    length: float
    opens: float
    pressure: float
    stacked: bool = False

    @property
    def every(self) -> float:
        """From one clamp to the next, mm."""
        return self.length / len(self.clamps)

    @property
    def in_turn(self) -> tuple[int, ...]:
        """The clamps, counted from the near or left end from 1, in the order in which they are tightened."""
        order = sorted(range(len(self.clamps)), key=lambda at: self.clamps[at].turn)
        return tuple(at + 1 for at in order)


def clamping(result: StageResult, shop: Shop) -> Clamping:
    """The clamps and cauls of a glue-up."""
    stacked = isinstance(result.stage, Glue) and result.stage.across is Across.THICKNESS
    return spaced(*clamped(result), pressed(result), shop, stacked=stacked)


def spaced(length: float, opens: float, area: float, shop: Shop, *, stacked: bool = False) -> Clamping:
    """The clamps and cauls of joints so long (mm), the largest so large (mm²), where clamps must open so far (mm)."""
    count = shop.clamps_for(length, area)
    middles = [(at + 0.5) * length / count for at in range(count)]
    outwards = sorted(range(count), key=lambda at: (abs(round(middles[at] - length / 2, 6)), at))
    turns = {at: turn for turn, at in enumerate(outwards, 1)}
    return Clamping(
        tuple(ClampAt(at, number % 2 == 0, turns[number]) for number, at in enumerate(middles)),
        () if stacked else tuple(cauls_of(middles, length)), length, opens,
        count * shop.clamp_force * 1000 / area if area else 0.0, stacked,
    )  # fmt: skip


def cauls_of(clamps: Sequence[float], length: float) -> list[float]:
    """Middles of the pairs of cauls: near both ends, and evenly between them in the gaps that the clamps leave."""
    gaps = [(a + b) / 2 for a, b in pairwise(clamps)]
    first, last = CAUL_END, length - CAUL_END
    if gaps and clamps[0] < 2 * CAUL_END:  # the outermost clamps take the place: the cauls go behind them
        first, last = gaps[0], gaps[-1]
    if last - first < CAUL_END:
        return [length / 2]
    inner = [gap for gap in gaps if first < gap < last]
    spans = math.ceil(round((last - first) / CAUL_EVERY, 6))
    wanted = [first + (last - first) * at / spans for at in range(1, spans)]
    taken = {min(inner, key=lambda gap: abs(gap - at)) for at in wanted} if inner else set()
    return [first, *sorted(taken), last]
