"""What a board costs and should sell for, line by line."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import cast

from flask import Blueprint, g, render_template

from laberinto.core.analysis.figures import figures
from laberinto.core.errors import LaberintoError
from laberinto.core.plan.simulate import Simulation, simulate
from laberinto.core.timber.cost import Bill, Rate, bill
from laberinto.devices.yard import price_list
from laberinto.store import BoardView

from ...app import present
from ...app.asbuilt import planned_before
from ...app.lookup import find
from ..timber.view import store

bp = Blueprint("cost", __name__, url_prefix="/boards/<int:board_id>/cost", template_folder="templates")


def rates() -> dict[str, Rate]:
    """Prices of woods: by the lots that lie in the store, else by the yard's cheapest of today; looked up once a
    request."""
    if "rates" not in g:
        g.rates = _rates()
    return cast(dict[str, Rate], g.rates)


def _rates() -> dict[str, Rate]:
    found: dict[str, Rate] = {}
    for quote in price_list(datetime.now(UTC).date()):
        before = found.get(quote.lot.wood)
        per_litre = quote.price / (quote.lot.volume / 1e6)
        if before is None or per_litre < before.per_litre:
            found[quote.lot.wood] = Rate(per_litre, "the yard today")
    priced = [view.lot for view in store().lots() if view.lot.price is not None]
    for wood in {lot.wood for lot in priced}:
        mine = [lot for lot in priced if lot.wood == wood]
        litres = sum(lot.volume * lot.count for lot in mine) / 1e6
        found[wood] = Rate(sum((lot.price or 0) * lot.count for lot in mine) / litres, "your lots")
    return found


def bill_of(board: BoardView, sim: Simulation) -> Bill:
    """What a board costs, by its cut plan where it has one."""
    cuts = store().cuts(board.id)
    taken: dict[str, float] = {}
    if cuts and not cuts[0].plan.short:
        for plank in cuts[0].plan.planks:
            taken[plank.stock.lot.wood] = taken.get(plank.stock.lot.wood, 0.0) + plank.used
    return bill(sim, present.shop(), rates(), taken, present.lengths())


@bp.get("")
def page(board_id: int) -> str:
    """What a board costs, line by line."""
    board = find(board_id)
    try:
        sim = simulate(board.plan)
    except LaberintoError as error:
        return render_template("cost/page.html", board=board, bill=None, broken=error.say(present.lengths()))
    found, before = figures(sim, present.shop()), planned_before(board)
    return render_template(
        "cost/page.html", board=board, bill=bill_of(board, sim), broken="",
        planned=bill(before.sim, present.shop(), rates()) if before else None,
        wasted=found.wasted, boards=found.boards,
    )  # fmt: skip
