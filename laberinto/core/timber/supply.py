"""Whether there is wood enough: a first look by volume, and what to buy where a cut plan comes out short."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace

from .cutting.columns import options
from .cutting.model import CutPlan, Saw, Stock
from .model import Lot
from .needs import Need

WASTED = 1.25
"""Wood taken for a litre of rough strips, as a first reckoning: kerfs, ends and edges."""

MOST_OF_A_LOT = 12
"""Pieces of one lot of the yard that are looked at."""


@dataclass(frozen=True, slots=True)
class Cover:
    """Of one wood, mm³: what the rough strips ask for with a usual waste, and what lies there that they could come
    from."""

    wood: str
    asked: float
    there: float

    @property
    def short(self) -> float:
        return max(self.asked - self.there, 0.0)


def covers(needs: Sequence[Need], lots: Iterable[tuple[Lot, int]], saw: Saw) -> list[Cover]:
    """A first look, wood by wood: lots with how many of their pieces are free, where any strip fits them."""
    found = list(lots)
    out = []
    for wood in dict.fromkeys(need.wood for need in needs):
        mine = [need for need in needs if need.wood == wood]
        there = sum(lot.volume * free for lot, free in found if lot.wood == wood and fits(mine, lot, saw))
        out.append(Cover(wood, sum(need.volume for need in mine) * WASTED, there))
    return out


def fits(needs: Sequence[Need], lot: Lot, saw: Saw) -> bool:
    """Whether any strip can come from a piece of this lot."""
    narrowest = lot.width - (2 * saw.edge if lot.kind.rough else 0.0)
    return any(
        option.width <= narrowest
        for need in needs if need.wood == lot.wood and need.length <= lot.length
        for option in options([need], lot, need.length, saw)
    )  # fmt: skip


def missing(plan: CutPlan) -> tuple[Need, ...]:
    """What a plan is short of, as needs of its own."""
    return tuple(replace(plan.needs[at], count=n) for at, n in plan.short.items())


def on_offer(needs: Sequence[Need], lots: Iterable[Lot], saw: Saw) -> list[Stock]:
    """The pieces of a yard that any of these needs could come from, lot by lot."""
    found = [lot for lot in lots if fits(needs, lot, saw)]
    return [
        Stock(lot, number, nth, new=True)
        for number, lot in enumerate(found, 1)
        for nth in range(1, min(lot.count, MOST_OF_A_LOT) + 1)
    ]


@dataclass(frozen=True, slots=True)
class Purchase:
    """Planks of one size to buy."""

    lot: Lot
    count: int

    @property
    def price(self) -> float:
        """Of all that is bought."""
        return (self.lot.price or 0.0) * self.count


def purchases(plan: CutPlan) -> list[Purchase]:
    """What a plan from the yard's pieces asks to be bought, the dearest first."""
    counts: dict[int, list[Stock]] = {}
    for plank in plan.planks:
        counts.setdefault(plank.stock.number, []).append(plank.stock)
    found = [Purchase(stocks[0].lot, len(stocks)) for stocks in counts.values()]
    return sorted(found, key=lambda p: -p.price)
