"""At the bench: one step, large, for a tablet at arm's length; repeated work counted, and timers that live here."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from threading import Lock
from typing import cast

from cachetools import LRUCache
from flask import (
    Blueprint,
    Response,
    abort,
    current_app,
    make_response,
    redirect,
    render_template,
    request,
    send_from_directory,
    url_for,
)

from laberinto.core.errors import InputError, StageError
from laberinto.core.instructions import GlueUp
from laberinto.core.shop import Shop
from laberinto.core.steps import Step
from laberinto.core.units import parse_number
from laberinto.store import TallyView

from ...app import present, reading
from ...app.lookup import find
from ...app.reading import own_path
from ..build import came_out_otherwise
from ..build.view import Entry, Log, log
from ..steps import Sheet, sheet

bp = Blueprint("bench", __name__, template_folder="templates")

LONGEST_TIMER = 31 * 24 * 60.0
"""Minutes that a timer may run."""

LONGEST_LABEL = 60

MOST_PIECES = 9999


@dataclass(frozen=True, slots=True)
class Offered:
    """A timer that a step has a use for: its label and minutes."""

    label: str
    minutes: float


def offered(step: Step, shop: Shop) -> list[Offered]:
    """Timers of a step: how long its glue may lie open, and how long it waits afterwards."""
    found = []
    if any(isinstance(told, GlueUp) for told in step.does) and step.wait_hours:
        found.append(Offered("Open time of the glue", shop.open_now))
        found.append(Offered("Pressure must be on", shop.closed_now))
    found += [Offered(label, minutes) for label, minutes in step.timers]
    if step.wait_hours:
        found.append(Offered(step.wait_label, step.wait_hours * 60))
    return found


@dataclass(frozen=True, slots=True)
class Bench:
    """The page: the log, the step on show, what is counted at it and its timers."""

    log: Log
    entry: Entry | None
    tally: TallyView | None
    timers: list[Offered]
    read_at: int
    """The server's clock, ms, before the count was read: of two pages the one with the later clock knows more."""

    @property
    def done_at(self) -> datetime | None:
        """When its pieces will all be done at this pace."""
        return self.tally.done_at(self.entry.step.pieces) if self.tally and self.entry else None

    @property
    def beside(self) -> tuple[str, str]:
        """Keys of the steps before and after."""
        keys = [entry.step.key for entry in self.log.entries]
        at = keys.index(self.entry.step.key) if self.entry else len(keys)
        return keys[at - 1] if at > 0 else "", keys[at + 1] if at + 1 < len(keys) else ""

    def pages(self, board_id: int) -> list[str]:
        """Addresses of all steps, and of the one that is next."""
        keys = [None, *(entry.step.key for entry in self.log.entries)]
        return [url_for("bench.page", board_id=board_id, at=key) for key in keys]


def _bench(whole: Sheet, at: str = "") -> Bench:
    store, board_id = present.store(), whole.board.id
    entries = log(whole, store.build(board_id).notes(), at)
    entry, read_at = entries.current, present.now_ms()
    tally = store.bench.tally(board_id, entry.step.key) if entry else None
    return Bench(entries, entry, tally, offered(entry.step, present.shop()) if entry else [], read_at)


def _answer(whole: Sheet, at: str = "", status: int = 200, error: str = "") -> Response:
    part = bool(request.headers.get("HX-Request"))
    template = "bench/step.html" if part else "bench/page.html"
    page = render_template(template, bench=_bench(whole, at), board=whole.board, error=error)
    return make_response(page, status)


@bp.get("/boards/<int:board_id>/bench")
def page(board_id: int) -> Response:
    """One step, the next to do unless another is asked for."""
    board = find(board_id)
    try:
        return _answer(sheet(board), request.args.get("at", ""))
    except StageError:
        if not came_out_otherwise(board):
            raise
        # what was measured cannot go on as planned: the ways out stand in the log
        return cast(Response, redirect(url_for("build.page", board_id=board_id), 303))


_pressing = Lock()
_presses: LRUCache[tuple[int, str, str], int] = LRUCache(1024)
"""The newest press of each page at each step."""


def _newest(board_id: int, step: str) -> bool:
    """Whether no later press of the same page has been taken already: of two at once the server may come to the later
    one first."""
    page, _, number = request.form.get("press", "").partition("-")
    press = reading.whole(number)
    if press is None:
        return True
    known = _presses.get((board_id, step, page[:20]), 0)
    if press <= known:
        return False
    _presses[board_id, step, page[:20]] = press
    return True


def _step(whole: Sheet) -> Step:
    """The step that a button is for; 404 where the board has none of that key."""
    steps = {step.key: step for step in whole.steps}
    return steps.get(request.form.get("step", "")) or abort(404)


@bp.post("/boards/<int:board_id>/bench/tap")
def tap(board_id: int) -> Response:
    """Bring a count to so many pieces; a page without scripts asks for one more or one less."""
    whole, bench = sheet(find(board_id)), present.store().bench
    step = _step(whole)
    count = reading.whole(request.form.get("count"))
    if count is None:
        bench.tap(board_id, step.key, -1 if request.form.get("by") == "less" else 1, _when())
    else:
        with _pressing:
            if _newest(board_id, step.key):
                bench.bring(board_id, step.key, min(count, MOST_PIECES), _when())
    return _back(whole, step.key)


def _when() -> datetime:
    """When it was done: now, or as long ago as a page had to wait until it could say so."""
    ago = reading.number(request.form.get("ago")) or 0.0
    return datetime.now(UTC) - timedelta(minutes=min(max(ago / 60, 0.0), LONGEST_TIMER))


@bp.get("/worker.js")
def worker() -> Response:
    """The script that keeps pages of the bench; from here it may do so for all of them."""
    return send_from_directory(current_app.static_folder or "", "worker.js", max_age=0)


@bp.post("/boards/<int:board_id>/bench/done")
def done(board_id: int) -> Response:
    """Tick the step and go to the next."""
    step = _step(sheet(find(board_id)))
    for key in step.keys:
        present.store().build(board_id).tick(key, _when())
    return _back(sheet(find(board_id)), "")


def _back(whole: Sheet, at: str) -> Response:
    if request.headers.get("HX-Request"):
        return _answer(whole, at)
    return cast(Response, redirect(url_for("bench.page", board_id=whole.board.id, at=at or None), 303))


@bp.post("/timers")
def start() -> Response:
    """Begin a timer of so many minutes; of a board, if one is named."""
    board_id = reading.whole(request.form.get("board"))
    board = present.store().board(board_id) if board_id is not None else None
    label = " ".join(request.form.get("label", "").split())[:LONGEST_LABEL] or "Timer"
    try:
        minutes = parse_number(request.form.get("minutes", ""), "minutes")
        if not 0 < minutes <= LONGEST_TIMER:
            raise InputError("A timer runs from a second to 31 days.", "minutes")
    except InputError as wrong:
        if board is None:
            raise
        return _answer(sheet(board), request.form.get("step", ""), 422, wrong.say(present.lengths()))
    present.store().bench.start(label, minutes, board.id if board else None)
    return _to_where_it_was()


@bp.post("/timers/<int:timer_id>/stop")
def stop(timer_id: int) -> Response:
    """End a timer, or put an ended one off."""
    present.store().bench.stop(timer_id)
    return _to_where_it_was()


def _to_where_it_was() -> Response:
    """Back to the page that asked, if it is one of ours."""
    return cast(Response, redirect(own_path(request.form.get("back", "")), 303))
