"""Templates true to size: looked at, chosen, and put on paper or into a file."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import UTC, datetime
from typing import Any, cast

from flask import Response, abort, redirect, render_template, request, url_for
from markupsafe import Markup

from laberinto.core.plan.simulate import simulate
from laberinto.core.templates import Line, Template, factor, templates
from laberinto.drawing import templates as draw
from laberinto.files.dxf import templates_dxf
from laberinto.store import BoardView

from ...app import present, shopfields
from ...app.lookup import find
from ...app.printing import begin
from ..steps import PAPERS, usual_paper
from ..steps.pdf import to_pdf
from .blueprint import bp

GUIDES = ("guided", "bush", "guide_bit", "ruler")
"""What of the shop is set beside the templates."""

MARGIN, HEAD, FOOT = 10.0, 12.0, 22.0
"""Of a sheet, mm: what printers at home leave white, the line above the drawing and the rulers below it."""

SIZES = {"a4": (210.0, 297.0), "letter": (215.9, 279.4)}


@dataclass(frozen=True, slots=True)
class Card:
    """A template on the page: of which stage it is, its drawing, and how many sheets it takes."""

    template: Template
    stage: str
    picture: Markup
    sheets: int


def room(paper: str) -> tuple[float, float]:
    """What a sheet has for the drawing, mm."""
    wide, high = SIZES[paper]
    return wide - 2 * MARGIN, high - 2 * MARGIN - HEAD - FOOT - 1


def _all(board: BoardView) -> list[Template]:
    return templates(simulate(board.plan), present.shop(), present.lengths())


def _chosen(board: BoardView) -> list[Template]:
    """Those that the address asks for, all of them where it names none; 404 for a name that is none."""
    every = _all(board)
    asked = request.values.getlist("key")
    if not every or not set(asked) <= {one.key for one in every}:
        abort(404)
    return [one for one in every if one.key in asked] if asked else every


def _page(board: BoardView, errors: dict[str, str], typed: dict[str, str]) -> str:
    usual, ruler = room(usual_paper()), present.shop().ruler
    cards = [
        Card(one, board.plan.stage(one.stage).title, Markup(draw.shown(one)),
             len(draw.laid(one, usual, factor(ruler))))
        for one in _all(board)
    ]  # fmt: skip
    return render_template(
        "paper/templates.html", board=board, cards=cards,
        fields=shopfields.fields(GUIDES, errors, typed), papers=PAPERS, usual=usual_paper(),
        lines=[(line, Markup(draw.legend(line))) for line in Line],
    )  # fmt: skip


@bp.get("/templates")
def true_size(board_id: int) -> str:
    """All that can be traced, with what leads the router."""
    return _page(find(board_id), {}, {})


@bp.post("/templates")
def guide(board_id: int) -> Response | tuple[str, int]:
    """Keep what leads the router, and what the printer's ruler measures."""
    board, typed = find(board_id), {name: request.form.get(name, "") for name in GUIDES}
    errors = shopfields.keep(GUIDES, typed)
    if errors:
        return _page(board, errors, typed), 422
    return cast(Response, redirect(url_for("paper.true_size", board_id=board_id), 303))


@bp.post("/templates.pdf")
def true_size_pdf(board_id: int) -> Response:
    """On paper, over as many sheets as it takes."""
    board, shop = find(board_id), present.shop()
    asked = request.values.get("paper", "")
    paper = asked if asked in SIZES else usual_paper()
    by = factor(shop.ruler)
    laid = [
        (one, [(tile, Markup(drawn)) for tile, drawn in draw.sheets(one, room(paper), by)]) for one in _chosen(board)
    ]
    return _paper(board, paper, laid, by)


@bp.post("/ruler.pdf")
def ruler_pdf(board_id: int) -> Response:
    """Rulers as the printer makes them, with nothing corrected."""
    asked = request.values.get("paper", "")
    return _paper(find(board_id), asked if asked in SIZES else usual_paper(), [], 1.0)


def _paper(board: BoardView, paper: str, laid: list[Any], by: float) -> Response:
    html = render_template(
        "paper/sheets.html", board=board, laid=laid, ruler=Markup(draw.ruler(by)), size=PAPERS[paper], margin=MARGIN,
        head=HEAD, foot=FOOT, room=room(paper), ruled=present.shop().ruler, today=datetime.now(UTC),
        lines=[(line, Markup(draw.legend(line))) for line in Line],
    )  # fmt: skip
    return begin(html, board.id, f"laberinto-{board.id}-templates", to_pdf)


@bp.get("/templates.dxf")
def true_size_dxf(board_id: int) -> Response:
    """As outlines in mm, a layer for each kind of line."""
    board = find(board_id)
    return _file(templates_dxf(_chosen(board)), "image/vnd.dxf", f"laberinto-{board.id}-templates.dxf")


@bp.get("/template.svg")
def true_size_svg(board_id: int) -> Response:
    """One of them in mm, hairlines in a group for each kind of line."""
    board = find(board_id)
    one = _chosen(board)[0]
    return _file(draw.sized(one).encode(), "image/svg+xml", f"laberinto-{board.id}-{one.key}.svg")


def _file(data: bytes, kind: str, name: str) -> Response:
    response = Response(data, mimetype=kind)
    response.headers["Content-Disposition"] = f'attachment; filename="{name}"'
    return response
