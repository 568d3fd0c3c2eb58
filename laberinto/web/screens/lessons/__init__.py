"""Lessons: notes that are said again at the step of the next board that they fit."""

from __future__ import annotations

from typing import cast

from flask import Blueprint, Response, abort, redirect, render_template, request, url_for

from laberinto.core.analysis.lessons import When, choices
from laberinto.core.asbuilt.recurring import Found, Reading, recurring
from laberinto.core.errors import InputError
from laberinto.core.patterns import FAMILIES
from laberinto.core.plan.simulate import attempt
from laberinto.core.stages import AnyStage, Stage
from laberinto.core.woods import LIBRARY
from laberinto.store import LessonView, Shelf

from ...app import present, reading
from ...app.lookup import find

bp = Blueprint("lessons", __name__, url_prefix="/lessons", template_folder="templates")

LONGEST = 400
"""Characters of a lesson."""

STAGES: dict[str, str] = {
    kind.model_fields["kind"].default: kind.title
    for kind in cast("tuple[type[Stage], ...]", AnyStage.__origin__.__args__)  # type: ignore[attr-defined]
}
"""What stages go by, by their kind."""


def _words(name: str, value: str) -> str:
    """A value of ``When`` as people call it."""
    if name == "kind":
        return STAGES.get(value, value)
    if name == "wood":
        return LIBRARY[value].name if value in LIBRARY else value
    if name == "thickness":
        return f"about {present.lengths().show(float(value))}"
    if name == "family":
        return FAMILIES[value].title if value in FAMILIES else value
    return value


@bp.app_template_filter("when_said")
def when_said(when: When) -> str:
    """When a lesson is said again."""
    parts = {"kind": "at {}", "machine": "at the {}", "wood": "with {}", "family": "in {}"}
    said = [how.format(_words(name, value).lower()) for name, how in parts.items() if (value := getattr(when, name))]
    if when.thickness is not None:
        said.append(f"on boards about {present.lengths().show(when.thickness)} thick")
    if when.order:
        said.append(f"for {when.order}")
    return ", ".join(said)


def _asked(known: LessonView | None = None) -> tuple[str, When]:
    """Text and time of a lesson, as sent. Raises InputError at its field."""
    text = " ".join(request.form.get("text", "").split())
    if not text:
        raise InputError("Say in a sentence what was learnt.", "text")
    if len(text) > LONGEST:
        raise InputError(f"That is {len(text)} characters; a lesson takes {LONGEST}.", "text")
    when = {name: request.form.get(name, "") for name in ("kind", "machine", "wood", "family", "order")}
    allowed = {"kind": STAGES, "wood": LIBRARY, "family": FAMILIES}
    if any(value and name in allowed and value not in allowed[name] for name, value in when.items()):
        raise InputError("That is none of the choices.", "kind")
    thickness = reading.number(request.form.get("thickness"))
    return text, When(**{name: value[:60] for name, value in when.items()}, thickness=thickness)


@bp.get("")
def page() -> str:
    """All lessons, the newest first."""
    return _page()


def _page(error: InputError | None = None, at: int = 0) -> str:
    return render_template(
        "lessons/page.html", lessons=present.store().lessons.all(), stages=STAGES, families=FAMILIES, error=error,
        at=at, found=[(one, present.store().board(one.boards[-1])) for one in _found()],
    )  # fmt: skip


def _found() -> list[Found]:
    """What recurs on boards of a kind, and is no lesson yet."""
    store = present.store()
    plans = {board.id: board.plan for shelf in (Shelf.BENCH, Shelf.ARCHIVE) for board in store.boards(shelf)}
    readings = (
        Reading(board, plans[board], step, quantity, measured - planned)
        for board, step, quantity, measured, planned in store.readings()
        if board in plans
    )
    known = {(lesson.when.kind, lesson.when.family) for lesson in store.lessons.all()}
    found = recurring(readings, lambda family: _words("family", family), present.lengths().show)
    return [one for one in found if (one.when.kind, one.when.family) not in known]


@bp.get("/new")
def new() -> str:
    """A note of a board as a lesson: the sentence, and when it is said again."""
    return _new()


def _new(error: InputError | None = None) -> str:
    number = reading.whole(request.values.get("board"))
    board = find(number if number is not None else -1)
    key = request.values.get("step", "")
    stage = next((s for s in board.plan.stages if s.id == key.partition(".")[0]), board.plan.stages[0])
    thickness = attempt(board.plan)[0][-1].size[2]
    offered = choices(board.plan, stage, thickness, board.order_for)
    options = [(name, value, _words(name, value)) for name, value in offered]
    return render_template(
        "lessons/new.html", board=board, step=key, options=options, error=error, text=request.values.get("text", ""),
        chosen={name: request.values.get(name, stage.kind if name == "kind" and not error else "") for name in
                ("kind", "machine", "wood", "family", "thickness", "order")},
    )  # fmt: skip


@bp.post("")
def keep() -> Response | tuple[str, int]:
    """Keep a lesson."""
    number = reading.whole(request.form.get("board"))
    board = find(number if number is not None else -1)
    try:
        text, when = _asked()
    except InputError as error:
        return _new(error), 422
    present.store().lessons.add(text, when, board.id, board.name)
    return cast(Response, redirect(url_for("lessons.page"), 303))


@bp.post("/<int:lesson_id>")
def change(lesson_id: int) -> Response | tuple[str, int]:
    """Word a lesson anew, let it be said at another time, or let go of it."""
    lessons = present.store().lessons
    if lesson_id not in {lesson.id for lesson in lessons.all()}:
        abort(404)
    if request.form.get("drop"):
        lessons.drop(lesson_id)
    else:
        try:
            lessons.change(lesson_id, *_asked())
        except InputError as error:
            return _page(error, lesson_id), 422
    return cast(Response, redirect(url_for("lessons.page"), 303))
