"""What is done with a board as a whole: for whom it is and until when, another like it, and its files."""

from __future__ import annotations

from collections.abc import Mapping
from io import BytesIO
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import cast

from flask import Response, abort, redirect, request, send_file, url_for

from laberinto.core.errors import InputError, LaberintoError
from laberinto.core.plan.model import Plan
from laberinto.core.plan.simulate import simulate
from laberinto.files.exports import EXPORTS, Export
from laberinto.store import WHOM, BoardView, OrderView, Shelf

from ...app import present, reading
from ...app.lookup import find
from .answer import answer, bp, done
from .looking import Fault, Looking


@bp.post("/order")
def order(board_id: int) -> Response:
    """Note for whom a board is and when it is due; both may be empty."""
    board = find(board_id)
    looking, typed = Looking.at(board, request.form), request.form.to_dict()
    try:
        whom = reading.line(typed.get("order_for", ""), WHOM, "order_for")
        due = reading.day(typed.get("due", ""), "due")
    except InputError as wrong:
        return answer(board, looking, Fault(wrong.field, str(wrong), typed), 422)
    present.store().orders.appoint(board_id, whom, due)
    return done(find(board_id), looking)


@bp.post("/copy")
def copy(board_id: int) -> Response:
    """Another board with the same plan and no history, ticks or date."""
    board = find(board_id)
    return cast(Response, redirect(url_for("board.page", board_id=copied(board, another_name(board.name))), 303))


def copied(board: BoardView, name: str) -> int:
    """Another board of the same plan under a name of its own; returns its number."""
    plan = board.plan.model_copy(update={"name": name})
    return present.store().create(plan, words=f"copied from {board.name}")


@bp.post("/shelf")
def shelf(board_id: int) -> Response:
    """Put a board away, remove it, or bring it back. One that is removed gives its reserved wood free and stays for a
    while, so that it can be brought back."""
    find(board_id)
    to = reading.must_be(Shelf, request.form, "to")
    if to is Shelf.REMOVED:
        present.store().timber.release(board_id)
    present.store().put(board_id, to)
    if to is Shelf.BENCH:
        return cast(Response, redirect(url_for("board.page", board_id=board_id), 303))
    return cast(Response, redirect(url_for("boards.index", moved=board_id), 303))


@bp.post("/delete")
def delete(board_id: int) -> Response:
    """Delete a board for good; it must have been removed before."""
    if find(board_id).shelf is not Shelf.REMOVED:
        raise InputError("Only a board that was removed can be deleted. Remove it first; then there are a few days.")
    present.store().delete(board_id)
    return cast(Response, redirect(url_for("boards.index", shelf=Shelf.REMOVED.value), 303))


def another_name(name: str) -> str:
    """A name that no board has yet, made from one: Slipway, Slipway 2, Slipway 3."""
    taken = {board.name for board in present.store().boards()}
    base = name.rstrip("0123456789 ") or name
    return next(f"{base[:74]} {n}" for n in range(2, len(taken) + 3) if f"{base[:74]} {n}" not in taken)


@bp.app_template_global()
def order_of(board: BoardView) -> OrderView | None:
    """The order a board belongs to."""
    return present.store().orders.get(board.order) if board.order is not None else None


@bp.app_template_global()
def exports() -> Mapping[str, Export]:
    """Every format a board can be written in."""
    return EXPORTS


@bp.get("/export/<key>")
def export(board_id: int, key: str) -> Response:
    """The board in one of the formats that it can be written as."""
    board, format_ = find(board_id), EXPORTS.get(key)
    if format_ is None:
        abort(404)
    name = f"{file_name(board.plan)}{format_.suffix}"
    try:
        with TemporaryDirectory() as folder:
            path = Path(folder) / name
            format_.write(simulate(board.plan), path)
            data = BytesIO(path.read_bytes())
    except LaberintoError as error:
        return answer(board, Looking.at(board, request.args), Fault("", error.say(present.lengths()), {}), 422)
    return send_file(data, as_attachment=True, download_name=name)


def file_name(plan: Plan) -> str:
    """What a plan's files are called, without their ending."""
    return "".join(c if c.isalnum() and c.isascii() else "-" for c in plan.name.lower()).strip("-") or "plan"
