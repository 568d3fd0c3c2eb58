"""Addresses of the board's page. Every edit answers with the whole workspace, drawn anew."""

from __future__ import annotations

import json
from typing import cast

from flask import Blueprint, Response, abort, make_response, redirect, render_template, request, url_for

from laberinto.core.errors import InputError, LaberintoError, PlanError, StageError
from laberinto.core.simulate import simulate
from laberinto.drawing.knots import knot as draw_knot
from laberinto.store import BoardView, StaleError

from .. import present
from ..lookup import find
from .operations import OPERATIONS
from .view import Fault, Looking, workspace

bp = Blueprint("board", __name__, url_prefix="/boards/<int:board_id>", template_folder="templates")


def _answer(
    board: BoardView, looking: Looking, fault: Fault | None = None, status: int = 200, focus: str = ""
) -> Response:
    """The workspace alone for htmx, the whole page otherwise."""
    ws = workspace(board, looking, fault)
    template = "board/workspace.html" if request.headers.get("HX-Request") else "board/page.html"
    response = make_response(render_template(template, ws=ws), status)
    if focus:
        response.headers["HX-Trigger-After-Swap"] = json.dumps({"focus-on": focus})
    return response


@bp.get("")
def page(board_id: int) -> Response:
    board = find(board_id)
    return _answer(board, Looking.at(board, request.args))


@bp.post("/edit")
def edit(board_id: int) -> Response:
    board = find(board_id)
    looking = Looking.at(board, request.form)
    operation = OPERATIONS.get(request.form.get("op", ""))
    if operation is None:
        abort(400)
    typed = request.form.to_dict()
    try:
        change = operation(board.plan, looking.stage, request.form, present.lengths())
        if change.words:
            simulate(change.plan)  # nothing is kept that cannot be built
            base = request.form.get("revision", "")
            board = present.store().save(
                board_id, change.plan, change.words, based_on=int(base) if base.isdigit() else -1
            )
    except StaleError as stale:
        fault = Fault("", f"{stale} Nothing of yours was saved; the page now shows how it stands.", {})
        return _answer(find(board_id), looking, fault, 409)
    except LaberintoError as error:
        return _answer(board, looking, _fault(board, error, typed), 422)
    return _done(board, looking, request.form.get("focus", ""))


def _done(board: BoardView, looking: Looking, focus: str = "") -> Response:
    """After a change: the fresh workspace for htmx, a redirect to it for a plain form."""
    if not request.headers.get("HX-Request"):
        target = url_for("board.page", board_id=board.id, stage=looking.stage, view=looking.view, side=looking.side)
        return cast(Response, redirect(target, 303))
    return _answer(board, looking, focus=focus)


def _fault(board: BoardView, error: LaberintoError, typed: dict[str, str]) -> Fault:
    """The error at the field that was edited, with the stage it came from where that is another one."""
    edited, said = typed.get("edited", ""), error.say(present.lengths())
    if isinstance(error, InputError):
        return Fault(error.field or edited, said, typed)
    if isinstance(error, StageError):
        here = error.stage == typed.get("stage")
        where = "" if here else f"{board.plan.stage(error.stage).title} would fail: "
        return Fault(edited or (error.field if here else ""), where + said, typed, error.stage)
    if isinstance(error, PlanError):
        return Fault(edited, "; ".join(text for _, text in error.problems), typed)
    return Fault(edited, said, typed)


@bp.post("/undo")
def undo(board_id: int) -> Response:
    return _step(board_id, back=True)


@bp.post("/redo")
def redo(board_id: int) -> Response:
    return _step(board_id, back=False)


def _step(board_id: int, *, back: bool) -> Response:
    board = find(board_id)
    store = present.store()
    (store.undo if back else store.redo)(board_id)
    board = find(board_id)
    return _done(board, Looking.at(board, request.form))


@bp.post("/restore")
def restore(board_id: int) -> Response:
    find(board_id)
    revision = request.form.get("to", "")
    if not revision.isdigit() or present.store().restore(board_id, int(revision)) is None:
        abort(404)
    board = find(board_id)
    return _done(board, Looking.at(board, request.form))


@bp.get("/history")
def history(board_id: int) -> str:
    return render_template("board/history.html", board=find(board_id), history=present.store().history(board_id))


@bp.post("/delete")
def delete(board_id: int) -> Response:
    find(board_id)
    present.store().delete(board_id)
    return cast(Response, redirect(url_for("boards.index"), 303))


@bp.get("/knots/<stage>.svg")
def knot(board_id: int, stage: str) -> Response:
    """The wood at one knot of the thread. The address names the wood, so a picture is drawn once for ever."""
    sim = simulate(find(board_id).plan)
    finish = request.args.get("finish", "raw")
    if stage not in {s.id for s in sim.plan.stages} or finish not in present.FINISHES:
        abort(404)
    result = sim[stage]
    response = Response(draw_knot(sim, result, finish), mimetype="image/svg+xml")
    if request.args.get("wood") == result.wood_key:
        response.headers["Cache-Control"] = "private, max-age=31536000, immutable"
    return response


@bp.get("/plan.json")
def plan_file(board_id: int) -> Response:
    board = find(board_id)
    response = Response(board.plan.as_json() + "\n", mimetype="application/json")
    safe = "".join(c if c.isalnum() and c.isascii() else "-" for c in board.name.lower()).strip("-") or "plan"
    response.headers["Content-Disposition"] = f'attachment; filename="{safe}.json"'
    return response
