"""Labels: what is written on each piece, on sheets of labels of any format."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import UTC, datetime
from typing import cast

from flask import Response, abort, redirect, render_template, request, url_for

from laberinto.core.analysis.lasting import SIDE_NAMES, lasting
from laberinto.core.analysis.names import Name, names
from laberinto.core.geometry.faces import Side
from laberinto.core.plan.simulate import Simulation, simulate
from laberinto.store import BoardView

from ...app import present, reading, shopfields
from ...app.lookup import find
from ...app.printing import begin
from ..steps import PAPERS, usual_paper
from ..steps.pdf import to_pdf
from .blueprint import bp
from .truesize import SIZES

FORMAT = ("label_columns", "label_rows", "label_left", "label_top", "label_gap", "label_gap_down")
"""What of the shop is set beside the labels."""

LEAST = (18.0, 8.0)
"""Smaller labels than this (mm) take no words."""


@dataclass(frozen=True, slots=True)
class Piece:
    """One label: what the piece is, its size in mm, on which side it is stuck, and where its arrow points."""

    name: Name
    stage: str
    size: tuple[float, float, float]
    on: str
    arrow: str


@dataclass(frozen=True, slots=True)
class Marked:
    """A stage whose pieces are marked, and where the mark lasts."""

    stage: str
    title: str
    pieces: tuple[Piece, ...]
    keeps: str


def marked(sim: Simulation) -> list[Marked]:
    """All stages that leave several pieces with marks of their own, in the order of the plan."""
    known, out = names(sim), []
    for one in lasting(sim):
        result, title = sim[one.stage], sim.plan.stage(one.stage).title
        side = one.instead if one.lost and one.instead else one.side
        arrow = "near end" if side in (Side.TOP, Side.BOTTOM, Side.LEFT, Side.RIGHT) else "upper side"
        sizes = result.pieces.cells.piece_sizes().tolist()
        pieces = tuple(
            Piece(name, title, (size[0], size[1], size[2]), SIDE_NAMES[side], arrow)
            for name, size in zip(known[one.stage], sizes, strict=True)
        )
        until = sim.plan.stage(one.through[-1]).title.lower() if one.through else ""
        keeps = (
            "kept by none through all that follows: copy it to a fresh side in time" if one.lost and not one.instead
            else f"lasts through “{until}”" if until else "lasts until they are glued"
        )  # fmt: skip
        out.append(Marked(one.stage, title, pieces, keeps))
    return out


def _page(board: BoardView, errors: dict[str, str], typed: dict[str, str]) -> str:
    sim = simulate(board.plan)
    return render_template(
        "paper/labels.html", board=board, marked=marked(sim), fields=shopfields.fields(FORMAT, errors, typed),
        papers=PAPERS, usual=usual_paper(), side_names=SIDE_NAMES,
    )  # fmt: skip


@bp.get("/labels")
def labels(board_id: int) -> str:
    """Which pieces are marked, where, and how long it lasts; and what the sheets are like."""
    return _page(find(board_id), {}, {})


@bp.post("/labels")
def label_format(board_id: int) -> Response | tuple[str, int]:
    """Keep what the sheets are like."""
    board, typed = find(board_id), {name: request.form.get(name, "") for name in FORMAT}
    errors = shopfields.keep(FORMAT, typed)
    if errors:
        return _page(board, errors, typed), 422
    return cast(Response, redirect(url_for("paper.labels", board_id=board_id), 303))


def label_size(paper: str) -> tuple[float, float]:
    """Width and height of a label on this paper, mm: what margins and gaps leave, shared out."""
    shop, (wide, high) = present.shop(), SIZES[paper]
    columns, rows = shop.label_columns, shop.label_rows
    return (
        (wide - 2 * shop.label_left - (columns - 1) * shop.label_gap) / columns,
        (high - 2 * shop.label_top - (rows - 1) * shop.label_gap_down) / rows,
    )


@bp.post("/labels.pdf")
def labels_pdf(board_id: int) -> Response | tuple[str, int]:
    """A label for each piece of the chosen stages, as many times as the board is made, from the label that is asked
    for on."""
    board = find(board_id)
    every = marked(simulate(board.plan))
    asked = request.values.getlist("stage")
    chosen = [one for one in every if one.stage in asked] if asked else every
    if not chosen:
        abort(404)
    paper = request.values.get("paper", "")
    paper = paper if paper in SIZES else usual_paper()
    size, shop = label_size(paper), present.shop()
    if size[0] < LEAST[0] or size[1] < LEAST[1]:
        said = f"Labels of {size[0]:.0f} × {size[1]:.0f} mm take no words. Fewer across or down, or smaller margins."
        return _page(board, {"label_columns": said}, {}), 422
    a_sheet = shop.label_columns * shop.label_rows
    first = min(max(reading.whole(request.values.get("first")) or 1, 1), a_sheet)
    pieces = [piece for one in chosen for piece in one.pieces for _ in range(board.plan.times)]
    places: list[Piece | None] = [*[None] * (first - 1), *pieces]
    html = render_template(
        "paper/label_sheets.html", board=board,
        sheets=[places[at : at + a_sheet] for at in range(0, len(places), a_sheet)],
        size=PAPERS[paper], label=size, shop=shop, today=datetime.now(UTC),
    )  # fmt: skip
    return begin(html, board_id, f"laberinto-{board.id}-labels", to_pdf)
