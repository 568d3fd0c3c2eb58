"""The board's page and its edits. Every edit answers with the whole workspace, drawn anew."""

from __future__ import annotations

from dataclasses import replace
from functools import partial

from flask import Response, abort, copy_current_request_context, make_response, render_template, request

from laberinto.core.analysis.compare import differences
from laberinto.core.edits import Edit, lamination, woods
from laberinto.core.edits.lamination import LaminationError
from laberinto.core.errors import LaberintoError, StageError
from laberinto.core.plan.simulate import simulate
from laberinto.store import BoardView, StaleError

from ...app import present
from ...app.ahead import AHEAD
from ...app.lookup import find
from ...app.saving import save
from .answer import answer, bp, done, fault_of, overtaken, shown_at
from .beside import taken
from .keeping import file_name
from .looking import Fault, Looking
from .onward import follow
from .operations import OPERATIONS, STEPS
from .pattern import pattern_view
from .view import foresee, offered_after


@bp.get("")
def page(board_id: int) -> Response:
    """The studio: a board at one of its stages."""
    board = find(board_id)
    looking = Looking.at(board, request.args)
    try:
        return taken(board, looking) or answer(board, looking)
    except LaberintoError as error:  # nothing of it can be drawn: it can still be taken back or removed
        said = error.say(present.lengths())
    return make_response(render_template("board/hopeless.html", board=board, said=said), 422)


@bp.get("/pattern")
def pattern(board_id: int) -> str:
    """The parameters of the family the board was made from."""
    view = pattern_view(find(board_id))
    if view is None:
        abort(404)
    return render_template("board/pattern.html", pattern=view, board_id=board_id)


@bp.post("/edit")
def edit(board_id: int) -> Response:
    """Do one edit. What cannot be read is refused; what cannot be built further on is kept, and told at its knot."""
    board = find(board_id)
    looking = Looking.at(board, request.form)
    operation = OPERATIONS.get(request.form.get("op", ""))
    if operation is None:
        abort(400)
    typed = request.form.to_dict()
    token = request.form.get("token", "")[:60]
    if token and present.store().arrived(board_id, token):  # sent twice, since its first answer got lost
        return done(find(board_id), looking, request.form.get("focus", ""))  # it may have arrived just now
    on, before = shown_at(), board.plan
    try:
        change = operation(board.plan, looking.stage, request.form, present.lengths())
    except LaberintoError as error:
        return answer(board, looking, fault_of(error, typed), 422)
    if change.words:
        try:
            board = save(board, change, based_on=on, token=token)
        except StaleError as stale:
            if token and present.store().arrived(board_id, token):  # the same, sent twice, overtook it
                return done(find(board_id), looking, request.form.get("focus", ""))
            return answer(find(board_id), looking, _clash(board, change, on, f"{stale}", typed), 409)
    looking = _looks_on(board, looking, change)
    response = done(board, looking, request.form.get("focus", ""))
    follow(before, board, looking, stepped=STEPS in request.form)
    return response


TYPED = frozenset({"strip-width", "parameters"})
"""Edits of fields that are typed into."""


@bp.post("/edit/ahead")
def ahead(board_id: int) -> tuple[str, int]:
    """Work out what is being typed, for when the hand leaves the field. Nothing is changed by it, and nothing said."""
    board, op = find(board_id), request.form.get("op", "")
    if op not in TYPED:
        abort(400)
    looking = Looking.at(board, request.form)
    try:
        change = OPERATIONS[op](board.plan, looking.stage, request.form, present.lengths())
    except LaberintoError:  # it may be half typed
        return "", 204
    if change.words:
        AHEAD.want(change.plan, copy_current_request_context(partial(foresee, board, looking)))
    return "", 204


def _looks_on(board: BoardView, looking: Looking, change: Edit) -> Looking:
    """Where someone looks after an edit: at what they put in, or where the stage they took out stood."""
    op, ids = request.form.get("op", ""), [stage.id for stage in board.plan.stages]
    if op in ("stage-insert", "stage-double", "stage-panel") and request.form.get("known"):
        known = request.form["known"].split(",")
        new = next((name for name in ids if name not in known), looking.stage)
        return replace(looking, stage=new)
    if looking.stage not in ids:
        known = request.form.get("known", "").split(",")
        before = [name for name in known[: known.index(looking.stage)] if name in ids] if looking.stage in known else []
        return replace(looking, stage=before[-1] if before else ids[0])
    return looking


def _clash(board: BoardView, change: Edit, on: int, stale: str, typed: dict[str, str]) -> Fault:
    """Another page changed the board meanwhile: what it did, and what this edit would still change."""
    store = present.store()
    meanwhile = [line.words for line in store.revisions(board.id).since(on)]
    words = [f"Meanwhile: {', '.join(meanwhile)}."] if meanwhile else []
    try:
        mine = differences(simulate(board.plan), simulate(change.plan), present.lengths())
        words += [f"Yours on top of that: {'; '.join(mine)}."] if mine else []
    except StageError:
        words += [f"Yours: {change.words}."]
    return Fault(
        "", f"{stale} Nothing of yours was saved yet; the page shows how it stands.", typed, clash=tuple(words)
    )


@bp.post("/undo")
def undo(board_id: int) -> Response:
    """Take the last change back."""
    return _step(board_id, back=True)


@bp.post("/redo")
def redo(board_id: int) -> Response:
    """Do again what was taken back last."""
    return _step(board_id, back=False)


def _step(board_id: int, *, back: bool) -> Response:
    find(board_id)
    store = present.store()
    try:
        (store.undo if back else store.redo)(board_id, shown_at())
    except StaleError as stale:
        return overtaken(board_id, stale)
    board = find(board_id)
    return done(board, Looking.at(board, request.form))


@bp.get("/offers")
def offered(board_id: int) -> str:
    """What may be put in behind a stage."""
    board = find(board_id)
    stage = Looking.at(board, request.args).stage
    found = offered_after(board, stage)
    return render_template(
        "board/offers.html", board=board, offers=found.offers, leaves=found.leaves, stands=found.stands,
        stage=board.plan.stage(stage),
    )  # fmt: skip


@bp.get("/lamination")
def read_line(board_id: int) -> str:
    """A lamination line as it is typed: the strips it makes, or the word that is wrong."""
    board = find(board_id)
    line, lengths = request.args.get("line", ""), present.lengths()
    try:
        strips = lamination.parse(line, lengths, woods.letters(board.plan))
    except LaminationError as error:
        parts = line[: error.start], line[error.start : error.end], line[error.end :]
        return render_template("board/line.html", parts=parts, message=str(error))
    total = sum(strip.width for strip in strips)
    return render_template("board/line.html", strips=strips, total=total, finish=present.preference("finish"))


@bp.get("/plan.json")
def plan_file(board_id: int) -> Response:
    """The plan as a file to save."""
    board = find(board_id)
    response = Response(board.plan.as_json(indent=1) + "\n", mimetype="application/json")
    response.headers["Content-Disposition"] = f'attachment; filename="{file_name(board.plan)}.json"'
    return response
