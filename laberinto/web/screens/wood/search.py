"""What is worked out in a process of its own: how a board's strips come out of the store, and what is to be bought."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from datetime import UTC, datetime
from typing import cast

from laberinto.core.timber import Lot, Need
from laberinto.core.timber.cutting import Aim, CutPlan, Saw, Stock, cut
from laberinto.core.timber.supply import Purchase, missing, on_offer, purchases
from laberinto.devices.yard import price_list

from ...app import present
from ...app.jobs import Job
from ...app.workshop import Tell
from .view import free_for

WORK = 5.0
"""How much work goes into a cut plan: some seconds on a quiet machine."""

BUYING = 3.0


@dataclass(frozen=True, slots=True)
class Planned:
    """What a search came to: cuts from the store, and from the yard what the store is short of."""

    plan: CutPlan
    buy: CutPlan | None = None

    @property
    def purchases(self) -> list[Purchase]:
        return purchases(self.buy) if self.buy else []

    @property
    def still_short(self) -> list[tuple[Need, int]]:
        """Strips that even the yard has no wood for."""
        short = self.buy if self.buy else self.plan
        return [(short.needs[at], n) for at, n in short.short.items()]


def search(board_id: int, found: tuple[Need, ...], aim: Aim) -> Callable[[Job], Planned]:
    """The work of a job: the store first, then the yard for what is short."""
    saw = Saw.of(present.shop())
    stock = [Stock(view.lot, view.id, nth) for view, n in free_for(board_id) for nth in range(1, n + 1)]
    yard = [quote.lot for quote in price_list(datetime.now(UTC).date())]

    def work(job: Job) -> Planned:
        return cast(Planned, job.apart(planned, found, stock, yard, saw, aim))

    return work


def planned(
    found: tuple[Need, ...], stock: Sequence[Stock], yard: Sequence[Lot], saw: Saw, aim: Aim, tell: Tell
) -> Planned:
    """A cut plan from a store, and one from the yard for what that is short of."""
    going = True

    def heard(share: float, best: CutPlan) -> bool:
        nonlocal going
        going = going and tell(share * 0.8, Planned(best))
        return going

    plan = cut(found, stock, saw, aim, work=WORK, progress=heard)
    short = missing(plan)
    if not short or plan.unsure or not tell(0.8, Planned(plan)):
        return Planned(plan)
    buy = cut(
        short, on_offer(short, yard, saw), saw, Aim.LEAST_WASTE, work=BUYING,
        progress=lambda share, _: tell(0.8 + share * 0.2),
    )  # fmt: skip
    return Planned(plan, buy)
