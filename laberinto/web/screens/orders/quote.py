"""The quote of an order, as a PDF."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta

from flask import Response, render_template

from laberinto.core.finish.care import care, oils_of
from laberinto.core.woods import LIBRARY

from ...app import errors, present
from ...app.printing import begin
from ..kept.passport import face
from ..steps import PAPERS, usual_paper
from ..steps.pdf import to_pdf
from . import view
from .blueprint import bp

GOOD_FOR = timedelta(days=30)
"""How long a quote is good for."""


@bp.post("/<int:order_id>/quote.pdf")
def paper(order_id: int) -> Response | tuple[str, int]:
    """What is offered, with the faces of the boards."""
    shown = view.found(order_id)
    sims = {part.board.id: part.sim for part in shown.parts if part.sim}
    if not shown.reckoned:
        return errors.page(409, "There is no quote yet", "Put a board that can be built to the order first.")
    oils = {number: [oil.label for oil in oils_of(sim.plan)] for number, sim in sims.items()}
    today = datetime.now(UTC)
    html = render_template(
        "orders/quote.html", shown=shown, faces={number: face(sim) for number, sim in sims.items()},
        finishes={number: ", ".join(dict.fromkeys(one)) for number, one in oils.items()}, woods=LIBRARY,
        care=dict.fromkeys(words for sim in sims.values() for words in care(sim)), maker=present.shop().maker.strip(),
        size=PAPERS[usual_paper()], today=today, until=today + GOOD_FOR,
    )  # fmt: skip
    return begin(html, order_id, f"laberinto-quote-{order_id}", to_pdf)
