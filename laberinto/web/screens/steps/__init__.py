"""Cut list and steps: what to mill, glue, cut and turn, in order; on the page and as a PDF."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import UTC, datetime

from flask import Blueprint, Response, render_template
from markupsafe import Markup

from laberinto.core.analysis.figures import Figures, figures
from laberinto.core.plan.simulate import Simulation, simulate
from laberinto.core.rules import Check, Severity
from laberinto.core.steps import DEFER, Step, steps
from laberinto.drawing import maps
from laberinto.store import BoardView

from ...app import present
from ...app.findings import findings
from ...app.lookup import find
from ...app.thread import Knot, thread
from ..wood.view import taken
from .pdf import to_pdf

bp = Blueprint("steps", __name__, url_prefix="/boards/<int:board_id>", template_folder="templates")


@dataclass(frozen=True, slots=True)
class Sheet:
    """Everything the list of steps shows, on screen or paper."""

    board: BoardView
    sim: Simulation
    steps: list[Step]
    ticks: dict[str, datetime]
    figures: Figures
    checks: list[Check]
    knots: list[Knot]
    defer: str = DEFER

    def said(self, step: Step) -> list[Check]:
        """What the checks say of a step's stage; it stands at the first of its steps."""
        first = next(one for one in self.steps if one.stage == step.stage)
        if first is not step:
            return []
        return [c for c in self.checks if c.stage == step.stage and c.severity is not Severity.NOTE]

    def map(self, step: Step) -> Markup:
        """The step's drawing, if it has one."""
        draw = maps.MAPS.get(step.map)
        return Markup(draw(self.sim, step, present.lengths())) if draw else Markup()


def sheet(board: BoardView) -> Sheet:
    """Gather the steps of a board."""
    sim = simulate(board.plan)
    todo = steps(sim, present.lengths(), present.shop(), taken(board.id))
    ticks = present.store().build(board.id).ticks()
    found = findings(board.id, sim)
    return Sheet(
        board, sim, todo, ticks, figures(sim, present.shop()), found, thread(board, sim.results, todo, ticks, found)
    )


@bp.get("/steps")
def page(board_id: int) -> str:
    """Cut list and steps, on one page."""
    return render_template("steps/page.html", sheet=sheet(find(board_id)))


@bp.get("/steps.pdf")
def pdf(board_id: int) -> Response:
    """The same on paper."""
    board = find(board_id)
    html = render_template("steps/paper.html", sheet=sheet(board), today=datetime.now(UTC))
    response = Response(to_pdf(html), mimetype="application/pdf")
    response.headers["Content-Disposition"] = f'inline; filename="laberinto-{board.id}-steps.pdf"'
    return response
