"""What the page of a board's wood shows."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from dataclasses import dataclass

from markupsafe import Markup

from laberinto.core.analysis.figures import CutLine
from laberinto.core.analysis.names import letter
from laberinto.core.errors import LaberintoError
from laberinto.core.plan.simulate import simulate
from laberinto.core.timber import Need, needs
from laberinto.core.timber.cutting import CutPlan, PlankCut, Saw
from laberinto.core.timber.needs import as_they_are
from laberinto.core.timber.supply import Cover, covers, fits
from laberinto.core.woods import LIBRARY, Wood
from laberinto.drawing.timber import cutting
from laberinto.store import BoardView, CutView, LotView
from laberinto.store.timber import BOOKED, RESERVED

from ...app import bitmaps, present
from ..timber.view import store


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
