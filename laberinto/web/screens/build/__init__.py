"""The build log: tick steps, write down what was measured and noticed."""

from __future__ import annotations

from typing import cast

from flask import Blueprint, Response, abort, make_response, redirect, render_template, request, url_for

from laberinto.core.errors import InputError
from laberinto.core.units import parse_length
from laberinto.web.screens.steps import sheet

from ...app import present, reading
from ...app.lookup import find
from .view import Log, log

bp = Blueprint("build", __name__, url_prefix="/boards/<int:board_id>/build", template_folder="templates")

LONGEST_NOTE = 2000


def _answer(board_id: int, status: int = 200, **faults: object) -> Response:
    board = find(board_id)
    entries = log(sheet(board), present.store().build(board_id).notes(), request.values.get("at", ""))
    template = "build/log.html" if request.headers.get("HX-Request") else "build/page.html"
    return make_response(render_template(template, log=entries, **faults), status)


def _after(board_id: int) -> Response:
    if not request.headers.get("HX-Request"):
        return cast(Response, redirect(url_for("build.page", board_id=board_id), 303))
    return _answer(board_id)


@bp.get("")
def page(board_id: int) -> Response:
    """The build log at one of its steps."""
    return _answer(board_id)


@bp.post("/tick")
def tick(board_id: int) -> Response:
    """Tick a step, or take its tick back."""
    known = {step.key: step for step in sheet(find(board_id)).steps}
    step = known.get(request.form.get("step", ""))
    if step is None:
        abort(404)
    build = present.store().build(board_id)
    for key in step.keys:
        if request.form.get("done") == "no":
            build.untick(key)
        else:
            build.tick(key)
    return _after(board_id)


@bp.post("/note")
def note(board_id: int) -> Response:
    """Write down what was measured or noticed at a step."""
    known = {step.key for step in sheet(find(board_id)).steps}
    step, text, typed = (request.form.get(name, "").strip() for name in ("step", "text", "measured"))
    if step not in known:
        abort(404)
    kept = {"typed_text": text, "typed_measured": typed}
    if not text and not typed:
        return _answer(board_id, 422, error="Write what you measured or noticed first.", field="text", **kept)
    if len(text) > LONGEST_NOTE:
        message = f"That is {len(text)} characters; a note takes {LONGEST_NOTE}. Split it in two."
        return _answer(board_id, 422, error=message, field="text", **kept)
    try:
        measured = parse_length(typed, present.lengths().system, field="measured") if typed else None
    except InputError as error:
        return _answer(board_id, 422, error=error.say(present.lengths()), field="measured", **kept)
    present.store().build(board_id).write(step, text, measured)
    return _after(board_id)


@bp.post("/erase")
def erase(board_id: int) -> Response:
    """Remove an entry."""
    find(board_id)
    number = reading.whole(request.form.get("note"))
    if number is not None:
        present.store().build(board_id).erase(number)
    return _after(board_id)


__all__ = ["Log", "bp"]
