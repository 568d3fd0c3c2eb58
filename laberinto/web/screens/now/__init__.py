"""Now: what is on the bench, what waits, what is next and what is due."""

from __future__ import annotations

import logging
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import UTC, datetime

from flask import Blueprint, render_template
from markupsafe import Markup

from laberinto.core.errors import LaberintoError
from laberinto.core.finish.care import again_at
from laberinto.core.plan.simulate import at_hand, simulate
from laberinto.core.steps import Step, steps
from laberinto.store import BoardView, in_utc

from ...app import present
from ...app.drawn import small_face
from ...app.jobs import cut_alone, warm_cells
from ...app.lookup import find
from ..build.view import hours_until, ready_at
from ..kept.record import cared_for

log = logging.getLogger(__name__)

bp = Blueprint("now", __name__, template_folder="templates")


@dataclass(frozen=True, slots=True)
class Waiting:
    """A board that something is to be done with: the next step, and until when it has to rest."""

    board: BoardView
    picture: Markup
    next: Step | None
    done: int
    total: int
    ready_at: datetime | None
    problem: str = ""
    again: datetime | None = None
    """When it is to be oiled again, where it is finished."""

    @property
    def dry(self) -> bool:
        """Whether that is due."""
        return self.again is not None and self.again <= datetime.now(UTC)

    @property
    def finished(self) -> bool:
        """Whether nothing is left to do."""
        return not self.problem and self.next is None

    def hours_left(self, now: datetime | None = None) -> float:
        """Until it may be worked again."""
        return hours_until(self.ready_at, now)


def waiting(board: BoardView) -> Waiting:
    """How far a board is; one that cannot be built says why. Whatever goes wrong with one, the others are shown."""
    try:
        sim, ticks = simulate(board.plan), present.store().build(board.id).ticks()
        todo = steps(sim, present.lengths(), present.shop(), ticked=ticks)
        return Waiting(
            board, small_face(board, sim, label=""), next((s for s in todo if s.key not in ticks), None),
            sum(step.key in ticks for step in todo), len(todo), ready_at(todo, ticks), again=_again(board, todo, ticks),
        )  # fmt: skip
    except LaberintoError as error:
        said = error.say(present.lengths())
    except Exception:
        log.exception("board %s failed", board.id)
        said = "This board cannot be shown here; that is a fault of ours. Its own page says more."
    return Waiting(board, Markup(), None, 0, 0, None, said)


def _again(board: BoardView, todo: Sequence[Step], ticks: Mapping[str, datetime]) -> datetime | None:
    """When a finished board is to be oiled again."""
    if not ticks or any(step.key not in ticks for step in todo):
        return None
    cared = cared_for(present.store().build(board.id).notes())
    oiled = [in_utc(note.created) for kind, note in cared if kind.oils]
    return again_at(board.plan, [in_utc(max(ticks.values())), *oiled])


def _first(board: BoardView) -> tuple[bool, float]:
    """What is due sooner comes first."""
    return board.due is None, board.due.timestamp() if board.due else -board.changed.timestamp()


@bp.get("/now")
def page() -> str:
    """Boards that are begun, then those that have a day to be ready by. What was not cut since the start comes by
    itself, so that nobody waits before a blank page."""
    boards = sorted(present.store().boards(), key=_first)
    ticked = present.store().begun()
    begun = [board for board in boards if board.id in ticked]
    due = [board for board in boards if board.due is not None and board not in begun]
    fresh = {board.id: board.plan for board in (*begun, *due) if not at_hand(board.plan)}
    bench = [(board, None if board.id in fresh else waiting(board)) for board in begun]
    shown = [
        ("On the bench", [(board, one) for board, one in bench if one is None or not one.finished]),
        ("Promised, not begun", [(board, None if board.id in fresh else waiting(board)) for board in due]),
        ("To be oiled again", [(board, one) for board, one in bench if one is not None and one.finished and one.dry]),
        ("Finished", [(board, one) for board, one in bench if one is not None and one.finished and not one.dry]),
    ]
    page = render_template("now/page.html", shown=shown, all=len(boards))
    warm_cells(fresh.values())
    return page


@bp.get("/now/<int:board_id>")
def one(board_id: int) -> str:
    """One of them alone."""
    board = find(board_id)
    cut_alone(board.plan)
    return render_template("now/one.html", one=waiting(board))
