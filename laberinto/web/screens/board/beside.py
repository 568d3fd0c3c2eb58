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
from .shown import Parts, Shown
from .view import Workspace, workspace


class Page(NamedTuple):
    """A stage of a board as one browser would be shown it, and what its page shows already."""

    board: int
    looking: Looking
    shown: Shown
    cookies: str


class Made(NamedTuple):
    """The answer, and what is on show with it."""

    body: str
    shown: Shown


def init(app: Flask, rest: float = REST) -> None:
    """Answer beforehand from now on; without this everything is made when it is asked for."""
    changes = Changes(app.extensions["store"].engine)
    app.extensions["beforehand"] = Beforehand[Page, Made](lambda: (changes.count(), LIBRARY.state), rest)


def write(template: str, ws: Workspace, shown: Shown, **more: object) -> Made:
    """The whole page, or what htmx puts in place, without what is ``shown`` already."""
    parts = Parts(shown.parts)
    body = render_template(template, ws=ws, shown=shown, part=parts, **more)
    return Made(body, Shown(ws.drawing.name, parts.names()))


def taken(board: BoardView, looking: Looking) -> Response | None:
    """The answer to this request, if it was made beforehand."""
    beforehand = current_app.extensions.get("beforehand")
    shown = Shown.said(looking.stage)
    if beforehand is None or "HX-Request" not in request.headers or shown.lines:
        return None
    made = beforehand.take(_page(board, looking, shown))
    if made is None:
        return None
    prepare(board, looking, made.shown)
    return make_response(made.body)


def prepare(board: BoardView, looking: Looking, shown: Shown) -> None:
    """Make the answers for the stages beside, the next one first, for a page on which this is ``shown``."""
    beforehand = current_app.extensions.get("beforehand")
    if beforehand is None:
        return
    ids = [stage.id for stage in board.plan.stages]
    at = ids.index(looking.stage)
    near = [*ids[at + 1 : at + 2], *ids[max(at - 1, 0) : at]]
    pages = [_page(board, replace(looking, stage=stage), shown) for stage in near]
    beforehand.want(pages, copy_current_request_context(_made))


def _page(board: BoardView, looking: Looking, shown: Shown) -> Page:
    return Page(board.id, looking, shown, request.headers.get("Cookie", ""))


def _made(page: Page) -> Made | None:
    """An answer from the board as it is now, which may be another than the one that was looked at; None where it has no
    such stage any more."""
    board = present.store().board(page.board)
    if board is None or all(stage.id != page.looking.stage for stage in board.plan.stages):
        return None
    return write("board/swap.html", workspace(board, page.looking), page.shown)
