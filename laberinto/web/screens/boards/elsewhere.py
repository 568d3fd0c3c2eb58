"""Boards as files: saved with everything that is kept of them, and brought in from elsewhere."""

from __future__ import annotations

from collections import Counter
from datetime import UTC, datetime
from pathlib import Path
from typing import cast

from flask import Response, abort, current_app, redirect, render_template, request, url_for
from markupsafe import Markup

from laberinto import __version__
from laberinto.core.errors import InputError
from laberinto.core.geometry.faces import Side, face_of
from laberinto.drawing.board import thumbnail
from laberinto.drawing.skin import Flat
from laberinto.files.boardfile import SUFFIX, write_board

from ...app import errors, incoming, present
from ...app.lookup import find
from ..board.keeping import another_name, file_name
from .blueprint import bp


def data_folder() -> Path:
    """Where this shop's data lies."""
    return Path(current_app.config["DATA"])


@bp.get(f"/boards/<int:board_id>/board{SUFFIX}")
def board_file(board_id: int) -> Response:
    """Everything of a board in one file."""
    board = find(board_id)
    data = write_board(present.store().whole.read(board_id), datetime.now(UTC), __version__)
    response = Response(data, mimetype="application/zip")
    response.headers["Content-Disposition"] = f'attachment; filename="{file_name(board.plan)}{SUFFIX}"'
    return response


def arrived(content: bytes) -> Response | tuple[str, int]:
    """A board file was opened: it is looked through, and waits for a word."""
    try:
        incoming.look_through(content)
    except InputError as error:
        return errors.page(422, "That file cannot be brought in", str(error))
    return cast(Response, redirect(url_for("boards.coming", name=incoming.wait(data_folder(), content)), 303))


def _waiting(name: str) -> incoming.Coming:
    content = incoming.waiting(data_folder(), name)
    return incoming.look_through(content) if content is not None else abort(404)


@bp.get("/boards/coming/<name>")
def coming(name: str) -> str:
    """What a file would bring, before anything is taken."""
    it, store = _waiting(name), present.store()
    sim = it.simulated()
    plan = it.board.plan
    face = Markup(thumbnail(face_of(sim.whole(), Side.TOP), Flat(sim), label=plan.name)) if sim else None
    states = Counter(cut.state for cut in it.board.used.cuts)
    names = {board.name for board in store.boards()}
    return render_template(
        "boards/coming.html", it=it, name=name, plan=plan, face=face, size=sim.board.size if sim else None,
        states=states, called=another_name(plan.name) if plan.name in names else plan.name,
        empty=not store.timber.kept(), taken=plan.name in names,
        read=sum(note.measured is not None and note.planned is not None for note in it.board.log.notes),
        first=not names,
    )  # fmt: skip


@bp.post("/boards/coming/<name>")
def bring(name: str) -> Response:
    """Bring it in, or let go of it."""
    it = _waiting(name)
    if request.form.get("leave"):
        incoming.forget(data_folder(), name)
        return cast(Response, redirect(url_for("boards.index"), 303))
    store = present.store()
    wanted = {name: request.form.get(name) == "yes" for name in ("lots", "order", "ours")}
    board_id = incoming.bring(store, it, **wanted)
    incoming.forget(data_folder(), name)
    called = " ".join(request.form.get("called", "").split())[:80]
    board = find(board_id)
    if called and called != board.name:
        store.save(
            board_id, board.plan.model_copy(update={"name": called}), f"renamed {called}", based_on=board.revision
        )
    return cast(Response, redirect(url_for("board.page", board_id=board_id), 303))
