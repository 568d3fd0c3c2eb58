"""How the board's addresses answer: the workspace alone for htmx, the whole page otherwise."""

from __future__ import annotations

import json
from typing import cast

from flask import Blueprint, Response, make_response, redirect, request, url_for

from laberinto.core.errors import InputError, LaberintoError, PlanError, StageError
from laberinto.store import BoardView, StaleError

from ...app import present, reading
from ...app.ahead import AHEAD
from ...app.lookup import find
from .beside import prepare, write
from .looking import Fault, Looking
from .onward import drop
from .pattern import PREFIX, pattern_view
from .shown import Shown
from .view import workspace

bp = Blueprint("board", __name__, url_prefix="/boards/<int:board_id>", template_folder="templates")


def answer(
    board: BoardView, looking: Looking, fault: Fault | None = None, status: int = 200, focus: str = ""
) -> Response:
    """The board as it stands."""
    ws = workspace(board, looking, fault)
    pattern = pattern_view(board, fault) if fault and fault.field.startswith(PREFIX) else None
    template = "board/swap.html" if request.headers.get("HX-Request") else "board/page.html"
    made = write(template, ws, Shown.said(ws.panel.stage.id), pattern=pattern)
    response = make_response(made.body, status)
    if request.method == "GET":  # who edits mostly edits on, and what was made would be out of date
        prepare(board, looking, made.shown)
    if focus:
        response.headers["HX-Trigger-After-Swap"] = json.dumps({"focus-on": focus})
    return response


def done(board: BoardView, looking: Looking, focus: str = "") -> Response:
    """After a change: the fresh workspace for htmx, a redirect to it for a plain form. What was to come
    before is not worked out any further."""
    AHEAD.drop(but=board.plan)
    drop(board.plan)
    if not request.headers.get("HX-Request"):
        target = url_for(
            "board.page", board_id=board.id, stage=looking.stage, view=looking.view, piece=looking.piece or None
        )
        return cast(Response, redirect(target, 303))
    return answer(board, looking, focus=focus)


def shown_at() -> int:
    """The revision that the page showed; one that never was where it does not say."""
    found = reading.whole(request.form.get("revision"))
    return -1 if found is None else found


def overtaken(board_id: int, stale: StaleError) -> Response:
    """The board as it stands, and what another page did to it meanwhile, so that nothing was changed by this one."""
    board = find(board_id)
    done_meanwhile = ", ".join(line.words for line in present.store().revisions(board_id).since(shown_at()))
    fault = Fault("", f"{stale} Nothing was changed by yours.", {}, clash=(f"Meanwhile: {done_meanwhile}.",))
    return answer(board, Looking.at(board, request.form), fault, 409)


def fault_of(error: LaberintoError, typed: dict[str, str]) -> Fault:
    """A refused edit at the field that was edited."""
    edited, said = typed.get("edited", ""), error.say(present.lengths())
    if isinstance(error, InputError):
        return Fault(error.field or edited, said, typed)
    if isinstance(error, StageError):
        return Fault(error.field, said, typed, error.stage)
    if isinstance(error, PlanError):
        return Fault(edited, "; ".join(text for _, text in error.problems), typed)
    return Fault(edited, said, typed)
