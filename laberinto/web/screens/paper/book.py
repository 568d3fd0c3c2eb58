"""The build book: everything of a build in one PDF, its parts to choose, with pages to fill in by hand."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import UTC, datetime

from flask import Response, render_template, request
from werkzeug.datastructures import MultiDict

from laberinto.core.analysis.names import letter
from laberinto.core.steps import Step
from laberinto.store import BoardView

from ...app import present
from ...app.lookup import find
from ...app.printing import begin
from ..build.readings import there
from ..calendar import view as calendar
from ..calendar.state import state
from ..steps import PAPERS, Sheet, cover, sheet, usual_paper
from ..steps.pdf import to_pdf
from ..wood.view import on_paper
from .blueprint import bp


@dataclass(frozen=True, slots=True)
class Part:
    """A part of the book: what it is called, and what it is good for."""

    title: str
    about: str


PARTS: dict[str, Part] = {
    "title": Part("Title", "The finished board with its figures"),
    "cuts": Part("Cut list", "Strips to mill, by size"),
    "planks": Part("Cut plan", "Where on which plank of the store each strip lies, once it is reserved"),
    "steps": Part("Steps", "Every step with its drawing, and the maps of the glue-ups"),
    "dates": Part("Dates", "When each job is done by the calendar, and at the latest"),
    "cautions": Part("Cautions", "What can hurt, step by step, on a page by itself"),
    "log": Part("Log pages", "A line for each step, to fill in with a pencil: done, measured, noticed"),
}
"""In the order of the book."""


@dataclass(frozen=True, slots=True)
class Entry:
    """A line of the log pages: a step with its number, and what is measured at it with what the plan says."""

    number: int
    step: Step
    fields: tuple[tuple[str, str], ...]


def entries(of: Sheet) -> list[Entry]:
    """The log pages of a build."""
    plan, lengths = of.board.plan, present.lengths()
    out = []
    for number, step in enumerate(of.steps, 1):
        planned = {one: one.planned(plan, plan.stage(step.stage)) for one in there(plan, step).values()}
        fields = tuple((one.label, "" if value is None else one.say(value, lengths)) for one, value in planned.items())
        out.append(Entry(number, step, fields))
    return out


@bp.post("/book.pdf")
def book(board_id: int) -> Response:
    """The book with the parts that are asked for, all of them where none is."""
    board = find(board_id)
    return begin(written(board, request.values), board_id, f"laberinto-{board_id}-book", to_pdf)


def written(board: BoardView, form: MultiDict[str, str]) -> str:
    """The book as a page, with the parts and the paper that are asked for."""
    board_id = board.id
    asked = form.getlist("part")
    parts = [key for key in PARTS if key in asked] or list(PARTS)
    paper = form.get("paper", "")
    whole = sheet(board, hatched=True)
    dates = calendar.dated(state(), board_id) if "dates" in parts else []
    held = next(iter(present.store().timber.cuts(board_id)), None) if "planks" in parts else None
    return render_template(
        "paper/book.html", sheet=whole, board=board, parts=parts, titles=PARTS, cover=cover, dates=dates,
        cut=held, drawn=on_paper, letters=[letter(at) for at in range(len(held.plan.needs))] if held else [],
        entries=entries(whole) if "log" in parts else [], today=datetime.now(UTC),
        size=PAPERS[paper if paper in PAPERS else usual_paper()],
    )  # fmt: skip
