"""A board's history: revisions with their faces, names of their own, and variants pinned under letters."""

from __future__ import annotations

from collections.abc import Callable

from flask import Response, abort, render_template, request

from laberinto.core.errors import InputError
from laberinto.store import VARIANTS, StaleError, Store

from ...app import present, reading
from ...app.lookup import find
from .answer import answer, bp, done, fault_of, overtaken, shown_at
from .looking import Looking

MOST_NAME = 60


@bp.get("/history")
def history(board_id: int) -> str:
    """The list of what was done, each to go back to."""
    board = find(board_id)
    here = Looking.at(board, request.args)
    return render_template(
        "board/history.html", board=board, here=here, history=present.store().revisions(board_id).all()
    )


@bp.post("/restore")
def restore(board_id: int) -> Response:
    """Go back to an earlier state; what came after stays in the list."""
    return _changed(board_id, lambda store, on: store.restore(board_id, _revision("to"), on) is not None)


@bp.post("/name-revision")
def name_revision(board_id: int) -> Response:
    """Give a state a name of its own."""
    board = find(board_id)
    name = " ".join(request.form.get("name", "").split())
    if len(name) > MOST_NAME:
        error = InputError(f"A name for a state has at most {MOST_NAME} characters.", "")
        return answer(board, Looking.at(board, request.form), fault_of(error, {}), 422)
    if not present.store().revisions(board_id).name(_revision("to"), name):
        abort(404)
    return _now(board_id)


@bp.post("/pin")
def pin(board_id: int) -> Response:
    """Keep a state under a letter."""

    def keep(store: Store, on: int) -> bool:
        store.pin(board_id, _letter(), on)
        return True

    return _changed(board_id, keep)


@bp.post("/unpin")
def unpin(board_id: int) -> Response:
    """Let a letter go."""
    find(board_id)
    present.store().unpin(board_id, _letter())
    return _now(board_id)


@bp.post("/switch")
def switch(board_id: int) -> Response:
    """Go to a state that is kept under a letter."""
    return _changed(board_id, lambda store, on: store.switch(board_id, _letter(), on))


def _changed(board_id: int, change: Callable[[Store, int], bool]) -> Response:
    """The board after a change that was made on what its page showed; nothing at all where another was quicker."""
    find(board_id)
    try:
        if not change(present.store(), shown_at()):
            abort(404)
    except StaleError as stale:
        return overtaken(board_id, stale)
    return _now(board_id)


def _now(board_id: int) -> Response:
    board = find(board_id)
    return done(board, Looking.at(board, request.form))


def _revision(field: str) -> int:
    found = reading.whole(request.form.get(field))
    if found is None:
        abort(404)
    return found


def _letter() -> str:
    letter = request.form.get("letter", "")
    if len(letter) != 1 or letter not in VARIANTS:
        abort(404)
    return letter
