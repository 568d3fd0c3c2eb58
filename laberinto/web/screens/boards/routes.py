"""Addresses of the list of boards, and opening a plan file."""

from __future__ import annotations

import logging
from collections.abc import Callable
from contextlib import suppress
from dataclasses import dataclass
from datetime import datetime
from typing import Any, cast

from flask import Response, redirect, render_template, request, url_for
from markupsafe import Markup

from laberinto.core.analysis.figures import Figures, figures
from laberinto.core.errors import LaberintoError, PlanError
from laberinto.core.patterns import FAMILIES
from laberinto.core.plan.model import read_plan
from laberinto.core.plan.simulate import at_hand, simulate
from laberinto.core.rules import Severity
from laberinto.core.steps import steps
from laberinto.core.woods import LIBRARY
from laberinto.files.boardfile import is_zip
from laberinto.store import KEPT, BoardView, Shelf, StaleError

from ...app import errors, present, reading
from ...app.drawn import small_face
from ...app.findings import findings
from ...app.jobs import cut_alone, warm_cells
from ...app.lookup import find
from . import elsewhere
from .blueprint import bp

log = logging.getLogger(__name__)

AT_ONCE = 2
"""So many boards are cut while one waits for the list."""

DRAWN, AT_A_SEARCH = 12, 2
"""So many cards are drawn with the list, and with every letter of a search; the others when they come into sight."""

LONGEST_NAME = 80

A_PAGE = 60
"""So many boards are listed at a time; more come when the last one comes into sight."""


@dataclass(frozen=True, slots=True)
class Card:
    """A board in the list."""

    board: BoardView
    picture: Markup
    figures: Figures | None
    reached: str
    next_step: str
    done: int
    total: int
    stops: int
    problem: str = ""
    last: datetime | None = None

    @property
    def finished(self) -> bool:
        return self.total > 0 and self.done == self.total


def card(board: BoardView) -> Card:
    """A board with its face, how far it is and what comes next; one that cannot be built says why. Whatever goes wrong
    with one board, the others are shown."""
    try:
        return _whole_card(board)
    except LaberintoError as error:
        said = error.say(present.lengths())
    except Exception:
        log.exception("the card of board %s failed", board.id)
        said = "This board cannot be shown here; that is a fault of ours. Its own page says more."
    return Card(board, Markup(), None, "", "", 0, 0, 0, said)


def _whole_card(board: BoardView) -> Card:
    sim = simulate(board.plan)
    ticks = present.store().build(board.id).ticks()
    todo = steps(sim, present.lengths(), present.shop(), ticked=ticks)
    open_ = [step for step in todo if step.key not in ticks]
    done = [step for step in todo if step.key in ticks]
    return Card(
        board, small_face(board, sim), figures(sim, present.shop()),
        sim.plan.stage(done[-1].stage).title if done else "", open_[0].heading if open_ else "",
        len(done), len(todo),
        sum(c.severity is Severity.STOP and not c.let_stand for c in findings(board.id, sim)),
        last=max(ticks.values(), default=None),
    )  # fmt: skip


SORTS: dict[str, tuple[str, Callable[[BoardView], Any]]] = {
    "changed": ("last changed", lambda board: -board.changed.timestamp()),
    "due": ("due first", lambda board: (board.due is None, board.due.timestamp() if board.due else 0.0)),
    "name": ("by name", lambda board: board.name.casefold()),
}
"""How the list may be sorted: by its name in an address, in words, and by what."""


ONLY: dict[str, tuple[str, Callable[[BoardView, set[int]], bool]]] = {
    "begun": ("on the bench", lambda board, begun: board.id in begun),
    "new": ("not begun", lambda board, begun: board.id not in begun),
    "due": ("promised for a day", lambda board, _: board.due is not None),
}
"""Which boards the list may be kept to: by its name in an address, in words, and what is asked of a board, with those
that are begun."""


def _about(board: BoardView) -> str:
    """What a board is found by: its name, for whom it is, its woods and its pattern."""
    named = [LIBRARY[wood].name for wood in board.woods if wood in LIBRARY]
    pattern = FAMILIES[board.family].title if board.family in FAMILIES else ""
    return " ".join([board.name, board.order_for, *named, pattern]).casefold()


@bp.get("/")
def index() -> str:
    """All boards, or those that are searched for. Those that were not cut since the start come one by one, so that
    nobody waits before a blank page."""
    asked = request.args.get("shelf", "")
    shelf = Shelf(asked) if asked in {each.value for each in Shelf} else Shelf.BENCH
    sort, only = (request.args.get(name, "") for name in ("sort", "only"))
    boards = _found(shelf, only if only in ONLY else "", sort if sort in SORTS else "")
    first = reading.whole(request.args.get("from")) or 0
    shown = boards[first : first + A_PAGE]
    drawn = shown[: AT_A_SEARCH if request.headers.get("HX-Request") else DRAWN] if not first else []
    fresh = [board for board in drawn if not at_hand(board.plan)]
    waiting = {board.id: board.plan for board in fresh[AT_ONCE:]}
    cards = {board.id: card(board) for board in drawn if board.id not in waiting}
    counts = present.store().counts()
    asked_for: dict[str, Any] = {**request.args.to_dict(), "from": first + A_PAGE}
    more = url_for("boards.index", **asked_for)
    page = render_template(
        "boards/index.html", boards=[(board, cards.get(board.id)) for board in shown], all=counts[shelf], shelf=shelf,
        counts=counts, days=KEPT.days, moved=_moved(), choices=ONLY, only=only, sorts=SORTS, sort=sort,
        find=request.args.get("find", "")[:80], drawn=DRAWN, more=more if len(boards) > first + A_PAGE else "",
    )  # fmt: skip
    warm_cells(waiting.values())
    return page


def _found(shelf: Shelf, only: str, sort: str) -> list[BoardView]:
    """The boards of a shelf that are searched for."""
    words, store = request.args.get("find", "")[:80].casefold().split(), present.store()
    boards = store.boards(shelf)
    if words:
        boards = [board for board in boards if all(word in _about(board) for word in words)]
    if only:
        begun = store.begun()
        boards = [board for board in boards if ONLY[only][1](board, begun)]
    return sorted(boards, key=SORTS[sort][1]) if sort else boards


def _moved() -> BoardView | None:
    """The board that was put away or removed just now, so that it can be brought back at once."""
    board_id = reading.whole(request.args.get("moved"))
    board = present.store().board(board_id) if board_id is not None else None
    return board if board and board.shelf is not Shelf.BENCH else None


@bp.get("/boards/<int:board_id>/card")
def one(board_id: int) -> str:
    """A board's card alone."""
    board = find(board_id)
    cut_alone(board.plan)
    return render_template("boards/card.html", card=card(board), shelf=board.shelf)


@bp.post("/boards/<int:board_id>/name")
def rename(board_id: int) -> Response | tuple[str, int]:
    """Give a board another name where it stands in the list; its card comes back."""
    board, name = find(board_id), " ".join(request.form.get("name", "").split())
    if not 1 <= len(name) <= LONGEST_NAME:
        said = f"A name has 1 to {LONGEST_NAME} characters."
        return render_template("boards/card.html", card=card(board), shelf=board.shelf, said=said), 422
    if name != board.name:
        plan = board.plan.model_copy(update={"name": name})
        with suppress(StaleError):  # someone was quicker: the card shows the board as it is now
            present.store().save(board_id, plan, f"renamed {name}", based_on=board.revision)
    if not request.headers.get("HX-Request"):
        return cast(Response, redirect(url_for("boards.index"), 303))
    board = find(board_id)
    return Response(render_template("boards/card.html", card=card(board), shelf=board.shelf))


@bp.post("/boards/open")
def open_file() -> Response | tuple[str, int]:
    """A plan file becomes a new board, if it can be read and built; a board file is looked through first."""
    upload = request.files.get("plan")
    data = upload.read() if upload else b""
    if not data:
        return errors.page(422, "No file was chosen", "Choose a plan or a board that Laberinto saved, then open it.")
    if is_zip(data):
        return elsewhere.arrived(data)
    try:
        text = data.decode("utf-8-sig")
    except UnicodeDecodeError:
        raise PlanError([("", "This is not a text file. A plan file is JSON in UTF-8.")]) from None
    plan = read_plan(text)
    simulate(plan)
    board_id = present.store().create(plan, words="opened from a file")
    return cast(Response, redirect(url_for("board.page", board_id=board_id), 303))
