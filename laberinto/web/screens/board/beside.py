"""The stages beside the one that somebody looks at: they are what is mostly looked at next, so their answers are made
beforehand."""

from __future__ import annotations

from dataclasses import replace
from typing import NamedTuple

from flask import Flask, Response, copy_current_request_context, current_app, make_response, render_template, request

from laberinto.core.woods import LIBRARY
from laberinto.store import BoardView, Changes

from ...app import present
from ...app.beforehand import REST, Beforehand
from .looking import Looking
from .view import Workspace, workspace


class Page(NamedTuple):
    """A stage of a board as one browser would be shown it, whose page says which drawing is on show."""

    board: int
    looking: Looking
    shown: str
    cookies: str


class Made(NamedTuple):
    """The answer, and which drawing is on show with it."""

    body: str
    drawing: str


def init(app: Flask, rest: float = REST) -> None:
    """Answer beforehand from now on; without this everything is made when it is asked for."""
    changes = Changes(app.extensions["store"].engine)
    app.extensions["beforehand"] = Beforehand[Page, Made](lambda: (changes.count(), LIBRARY.state), rest)


def body(ws: Workspace, shown: str, lines: frozenset[str], **more: object) -> str:
    """What htmx puts in place. A drawing that is ``shown`` is not sent again, nor are ``lines`` of strips."""
    return render_template("board/swap.html", ws=ws, shown=shown, lines=lines, **more)


def taken(board: BoardView, looking: Looking) -> Response | None:
    """The answer to this request, if it was made beforehand."""
    beforehand = current_app.extensions.get("beforehand")
    lines = request.headers.get("X-Lines", "").partition(" ")[0]
    if beforehand is None or "HX-Request" not in request.headers or lines == looking.stage:
        return None
    made = beforehand.take(_page(board, looking, request.headers.get("X-Drawing", "")))
    if made is None:
        return None
    prepare(board, looking, made.drawing)
    return make_response(made.body)


def prepare(board: BoardView, looking: Looking, drawing: str) -> None:
    """Make the answers for the stages beside, the next one first; the page says that it shows this ``drawing``."""
    beforehand = current_app.extensions.get("beforehand")
    if beforehand is None:
        return
    ids = [stage.id for stage in board.plan.stages]
    at = ids.index(looking.stage)
    near = [*ids[at + 1 : at + 2], *ids[max(at - 1, 0) : at]]
    pages = [_page(board, replace(looking, stage=stage), drawing) for stage in near]
    beforehand.want(pages, copy_current_request_context(_made))


def _page(board: BoardView, looking: Looking, shown: str) -> Page:
    return Page(board.id, looking, shown, request.headers.get("Cookie", ""))


def _made(page: Page) -> Made | None:
    """An answer from the board as it is now, which may be another than the one that was looked at; None where it has no
    such stage any more."""
    board = present.store().board(page.board)
    if board is None or all(stage.id != page.looking.stage for stage in board.plan.stages):
        return None
    ws = workspace(board, page.looking)
    return Made(body(ws, page.shown, frozenset()), ws.drawing.name)
