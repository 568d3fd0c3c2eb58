"""What the page of a board's wood shows."""

from __future__ import annotations

from collections.abc import Callable, Collection, Sequence
from dataclasses import dataclass
from datetime import UTC, datetime

from markupsafe import Markup

from laberinto.core.analysis.figures import CutLine
from laberinto.core.analysis.names import letter
from laberinto.core.errors import LaberintoError
from laberinto.core.plan.simulate import simulate
from laberinto.core.timber import Lot, Need, needs
from laberinto.core.timber.cutting import Aim, CutPlan, PlankCut, Saw, Stock, cut
from laberinto.core.timber.needs import as_they_are
from laberinto.core.timber.supply import Cover, Purchase, covers, fits, missing, on_offer, purchases
from laberinto.core.woods import LIBRARY, Wood
from laberinto.devices.yard import price_list
from laberinto.drawing.timber import cutting
from laberinto.store import BoardView, CutView, LotView
from laberinto.store.timber import BOOKED, RESERVED

from ...app import bitmaps, present
from ...app.jobs import Job
from ..timber.view import store

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


@dataclass(frozen=True, slots=True)
class Ask:
    """A need with its letter, and how many strips of it a plan cuts."""

    letter: str
    need: Need
    wood: Wood
    made: int | None


def asked(found: Sequence[Need], plan: CutPlan | None) -> list[Ask]:
    made = plan.made if plan and plan.needs == tuple(found) else None
    return [Ask(letter(at), need, LIBRARY[need.wood], made[at] if made else None) for at, need in enumerate(found)]


def board_needs(board: BoardView) -> tuple[Need, ...]:
    """The rough strips of a board. Raises LaberintoError where its plan cannot be built."""
    return needs(simulate(board.plan), present.shop())


def whole_pieces(board: BoardView) -> tuple[CutLine, ...]:
    """What a board takes from the racks as it is, with nothing cut from it beforehand."""
    return as_they_are(simulate(board.plan))


def free_for(
    board_id: int, cuts: Sequence[CutView] | None = None, woods: Collection[str] | None = None
) -> list[tuple[LotView, int]]:
    """Lots with the pieces a board may take: the free ones, and those it holds already by its ``cuts``; with ``woods``
    those of these woods alone."""
    taken = store().cuts(board_id) if cuts is None else cuts
    held = {number: n for each in taken if each.state == RESERVED for number, n in each.took.items()}
    return [(view, view.free + held.get(view.id, 0)) for view in store().lots(woods=woods)]


def lots_for(board_id: int, need: Need) -> list[LotView]:
    """Lots that a board may take from and that strips of this size can come out of."""
    saw = Saw.of(present.shop())
    return [view for view, free in free_for(board_id) if free and fits([need], view.lot, saw)]


def cover(board_id: int, found: Sequence[Need]) -> list[Cover]:
    """Whether there is wood enough, by volume."""
    return _covered(found, free_for(board_id))


def _covered(found: Sequence[Need], free: Sequence[tuple[LotView, int]]) -> list[Cover]:
    return covers(found, ((view.lot, n) for view, n in free), Saw.of(present.shop()))


def taken(board_id: int) -> tuple[str, ...]:
    """Sentences on which pieces of the store are held for a board."""
    held = next((cut for cut in store().cuts(board_id) if cut.state == RESERVED), None)
    if held is None:
        return ()
    lots = {plank.stock.number: plank.stock.lot for plank in held.plan.planks if not plank.stock.new}
    lengths = present.lengths()
    said = []
    for number, lot in sorted(lots.items()):
        n, size = held.took[number], lengths.show_size(lot.length, lot.width, lot.thickness)
        place = f", {lot.place}" if lot.place else ""
        said.append(f"{n} × lot {number}, {LIBRARY[lot.wood].name.lower()} {lot.kind.label}, {size}{place}")
    return (f"Held for this board in the store: {'; '.join(said)}. The cut plan says how it is cut.",) if said else ()


def short(board: BoardView) -> list[Cover]:
    """Woods of which the store has too little for a board; none where no store is kept, where the board's wood is cut
    already, or where its plan cannot be built."""
    cuts = store().cuts(board.id)
    if any(cut.state == BOOKED for cut in cuts) or not store().kept():
        return []
    try:
        found = board_needs(board)
    except LaberintoError:
        return []
    return [each for each in _covered(found, free_for(board.id, cuts, {need.wood for need in found})) if each.short]


def search(board_id: int, found: tuple[Need, ...], aim: Aim, work: float = WORK) -> Callable[[Job], Planned]:
    """The work of a job: the store first, then the yard for what is short."""
    saw = Saw.of(present.shop())
    stock = [Stock(view.lot, view.id, nth) for view, n in free_for(board_id) for nth in range(1, n + 1)]
    yard: list[Lot] = [quote.lot for quote in price_list(datetime.now(UTC).date())]

    def searched(job: Job) -> Planned:
        plan = cut(found, stock, saw, aim, work=work, progress=lambda share, best: job.tell(share * 0.8, Planned(best)))
        short = missing(plan)
        if not short or plan.unsure or job.cancelled.is_set():
            return Planned(plan)
        job.tell(0.8, Planned(plan))
        buy = cut(
            short, on_offer(short, yard, saw), saw, Aim.LEAST_WASTE, work=BUYING,
            progress=lambda share, _: job.tell(0.8 + share * 0.2),
        )  # fmt: skip
        return Planned(plan, buy)

    return searched


def drawn(plan: CutPlan, plank: PlankCut) -> Markup:
    """One piece with its cuts, all of a plan to one scale."""
    longest = max(p.stock.lot.length for p in plan.planks)
    finish = present.preference("finish")
    return Markup(cutting(plank, plan.needs, present.lengths(), bitmaps.address, finish, longest))


def on_paper(plan: CutPlan, plank: PlankCut) -> Markup:
    """The same in lines alone, for the printer."""
    longest = max(p.stock.lot.length for p in plan.planks)
    return Markup(cutting(plank, plan.needs, present.lengths(), None, "", longest))


def fitting(taken: CutView, found: Sequence[Need]) -> bool:
    """Whether a held cut is still the one this board needs."""
    return taken.plan.needs == tuple(found)
