"""Addresses of a board's wood."""

from __future__ import annotations

from collections.abc import Callable
from typing import cast

from flask import Blueprint, Response, abort, redirect, render_template, request, url_for

from laberinto.core.analysis.names import letter
from laberinto.core.errors import LaberintoError
from laberinto.core.timber import Need
from laberinto.core.timber.cutting import Aim
from laberinto.store import BoardView, ShortageError
from laberinto.store.timber import BOOKED, RESERVED

from ...app import present, reading
from ...app.jobs import Job
from ...app.lookup import find
from ..timber.view import store
from .search import Planned, search
from .view import asked, board_needs, cover, drawn, fitting, whole_pieces

bp = Blueprint("wood", __name__, url_prefix="/boards/<int:board_id>/wood", template_folder="templates")


def _job(board_id: int) -> Job | None:
    return present.jobs().get(("wood", board_id))


def _page(board: BoardView, problem: str = "", status: int = 200) -> tuple[str, int]:
    try:
        found = board_needs(board)
    except LaberintoError as error:
        return render_template("wood/page.html", board=board, broken=error.say(present.lengths())), status
    part = request.headers.get("HX-Target") == "cut-plan"
    return _rendered(board, found, problem, part=part), status


def _rendered(board: BoardView, found: tuple[Need, ...], problem: str, *, part: bool) -> str:
    job = _job(board.id)
    running = job is not None and job.running
    planned: Planned | None = None
    if job is not None:
        planned = job.best if running else job.result or job.best
    stale = job is not None and job.asked["needs"] != found
    cuts = store().cuts(board.id)
    held = next((cut for cut in cuts if cut.state == RESERVED), None)
    booked = [cut for cut in cuts if cut.state == BOOKED]
    show = planned.plan if planned else held.plan if held else booked[0].plan if booked else None
    return render_template(
        "wood/plan.html" if part else "wood/page.html", board=board, asks=asked(found, show),
        covers=cover(board.id, found), job=job, running=running, planned=planned, stale=stale, held=held,
        booked=booked, show=show, whole=whole_pieces(board), drawn=drawn, aims=list(Aim),
        aim=job.asked["aim"] if job else Aim.LEAST_WASTE, problem=problem, fitting=held is None or fitting(held, found),
        letters=[letter(at) for at in range(len(show.needs))] if show else [], broken="",
        failed=job is not None and not running and job.failed,
    )  # fmt: skip


@bp.get("")
def page(board_id: int) -> tuple[str, int]:
    """What a board asks of the store, its cut plan, and what to buy."""
    return _page(find(board_id))


@bp.post("/plan")
def plan(board_id: int) -> tuple[str, int]:
    """Search for a cut plan."""
    board = find(board_id)
    text = request.form.get("aim", "")
    if text not in {aim.value for aim in Aim}:
        abort(400)
    try:
        found = board_needs(board)
    except LaberintoError as error:
        return _page(board, error.say(present.lengths()), 422)
    work = search(board_id, found, Aim(text))
    job = present.jobs().start(("wood", board_id), {"needs": found, "aim": Aim(text)}, work)
    job.done.wait(0.4)
    return _page(board)


@bp.post("/cancel")
def cancel(board_id: int) -> tuple[str, int]:
    """Stop the search; the best so far stays."""
    if (job := _job(board_id)) is not None:
        job.enough.set()
        job.done.wait(3)
    return _page(find(board_id))


def _back(board_id: int) -> Response:
    return cast(Response, redirect(url_for("wood.page", board_id=board_id), 303))


@bp.post("/reserve")
def reserve(board_id: int) -> Response | tuple[str, int]:
    """Hold the plan's pieces for this board."""
    board, job = find(board_id), _job(board_id)
    planned: Planned | None = job.result if job and not job.running else None
    if planned is None or job is None or job.asked["needs"] != board_needs(board):
        return _page(board, "The plan is not there any more, or the board was changed since. Plan the cuts again.", 409)
    try:
        store().reserve(board_id, planned.plan)
    except ShortageError as error:
        return _page(board, f"{error} Plan the cuts again.", 409)
    if not planned.buy:
        present.jobs().drop(("wood", board_id))
    return _back(board_id)


@bp.post("/book")
def book(board_id: int) -> Response | tuple[str, int]:
    """The wood is cut: take it out of the store, put the offcuts in."""
    return _take(board_id, store().book)


@bp.post("/undo")
def undo(board_id: int) -> Response | tuple[str, int]:
    """Let reserved wood go, or take a booked cut back."""
    return _take(board_id, store().undo)


def _take(board_id: int, what: Callable[[int], object]) -> Response | tuple[str, int]:
    number = reading.whole(request.form.get("cut"))
    if number is None or number not in {cut.id for cut in store().cuts(board_id)}:
        return _page(find(board_id), "This cut was booked or undone on another page meanwhile.", 409)
    try:
        what(number)
    except LaberintoError as error:
        return _page(find(board_id), str(error), 409)
    return _back(board_id)


@bp.post("/bought")
def bought(board_id: int) -> Response | tuple[str, int]:
    """What the buying list names has come: put it into the store, and plan again."""
    board, job = find(board_id), _job(board_id)
    planned: Planned | None = job.result if job and not job.running else None
    if job is None or planned is None or not planned.purchases:
        return _page(board, "The buying list is not there any more. Plan the cuts again.", 409)
    lots = [p.lot.model_copy(update={"count": p.count, "place": "from the yard"}) for p in planned.purchases]
    store().add(lots)
    work = search(board_id, job.asked["needs"], job.asked["aim"])
    present.jobs().start(("wood", board_id), dict(job.asked), work).done.wait(0.4)
    return _back(board_id)
