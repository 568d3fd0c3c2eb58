"""What is shown of an order: its boards with their faces, how far they are, what they come to, and when they are
ready."""

from __future__ import annotations

import logging
from collections.abc import Iterable
from dataclasses import dataclass, replace
from datetime import datetime

from flask import abort
from markupsafe import Markup

from laberinto.core.analysis.figures import figures
from laberinto.core.calendar.assemble import Shopwork, assemble
from laberinto.core.calendar.hours import opened
from laberinto.core.calendar.model import finishes
from laberinto.core.errors import LaberintoError
from laberinto.core.plan.simulate import Simulation, simulate
from laberinto.core.steps import steps
from laberinto.core.timber.quote import Line, Quote, line
from laberinto.store import BoardView, OrderState, OrderView, in_utc

from ...app import present
from ...app.drawn import small_face
from ..calendar.settings import settings
from ..calendar.state import DAYS, State, works_of
from ..cost import bill_of

log = logging.getLogger(__name__)

OPEN = (OrderState.ASKED, OrderState.QUOTED, OrderState.AGREED)
"""States in which something is still to be done."""


@dataclass(frozen=True, slots=True)
class Part:
    """A board of an order: its face, its line in the quote, and how many of its steps are done, none of none where it
    is not begun; ``problem`` says why it cannot be built."""

    board: BoardView
    picture: Markup
    sim: Simulation | None
    line: Line | None
    done: int = 0
    total: int = 0
    problem: str = ""

    @property
    def finished(self) -> bool:
        return 0 < self.total == self.done


@dataclass(frozen=True, slots=True)
class Shown:
    """An order with its boards."""

    order: OrderView
    parts: tuple[Part, ...]

    @property
    def quote(self) -> Quote:
        """What it comes to."""
        return Quote(tuple(part.line for part in self.parts if part.line), self.order.price)

    @property
    def reckoned(self) -> bool:
        """Whether every board of it could be reckoned, so that the sum is one."""
        return bool(self.parts) and all(part.line for part in self.parts)

    @property
    def count(self) -> int:
        """Boards in all."""
        return sum(part.line.count if part.line else 1 for part in self.parts)

    @property
    def done(self) -> tuple[int, int]:
        """Steps done, and steps in all."""
        return sum(part.done for part in self.parts), sum(part.total for part in self.parts)

    @property
    def stands(self) -> str:
        """How far it is, in words; how far its boards are tells more than that it is agreed."""
        done, _ = self.done
        if self.order.state is not OrderState.AGREED or not done:
            return self.order.state.words
        return "ready to hand over" if all(part.finished for part in self.parts) else "under way"


def shown(order: OrderView, boards: Iterable[BoardView]) -> Shown:
    """An order with those of these boards that belong to it."""
    return Shown(order, tuple(_part(board) for board in boards if board.order == order.id))


def found(order_id: int) -> Shown:
    """An order by its number; a page that says so where there is none."""
    order = present.store().orders.get(order_id)
    if order is None:
        abort(404)
    boards = (present.store().board(number) for number in order.boards)
    return shown(order, [board for board in boards if board])


def _part(board: BoardView) -> Part:
    try:
        sim = simulate(board.plan)
        ticks = present.store().build(board.id).ticks()
        todo = steps(sim, present.lengths(), present.shop(), ticked=ticks) if ticks else ()
        made = line(board.id, board.name, sim.plan.times, figures(sim, present.shop()), bill_of(board, sim))
        return Part(board, small_face(board, sim), sim, made, sum(step.key in ticks for step in todo), len(todo))
    except LaberintoError as error:
        said = error.say(present.lengths())
    except Exception:
        log.exception("board %s failed", board.id)
        said = "This board cannot be shown here; that is a fault of ours. Its own page says more."
    return Part(board, Markup(), None, None, problem=said)


def ready(found: State, boards: Iterable[int]) -> datetime | None:
    """When the last of some boards is ready by the calendar; None where none of them is on it, or one has no place."""
    ends, todo = found.ready, found.problem.of_boards()
    mine = [board for board in boards if board in todo]
    if not mine or any(board not in ends for board in mine):
        return None
    return found.moment(max(ends[board] for board in mine))


@dataclass(frozen=True, slots=True)
class Promise:
    """When an order could be ready by a plain calendar of all that is under way and promised, and its boards; ``late``
    are boards that are promised and would only then be late. None where no day was found for all of it."""

    ready: datetime | None
    late: tuple[str, ...] = ()


def promise(order: OrderView, now: datetime) -> Promise:
    """When it could be ready, were it agreed on now for the day that is wished for."""
    mine = settings(present.store())
    hours = opened(mine.week, now, DAYS, mine.clock)
    boards, with_it, _ = works_of(order.boards)
    _, without, _ = works_of()
    with_it = [replace(work, due=in_utc(order.due)) if work.board in order.boards and order.due else work
               for work in with_it]  # fmt: skip
    pins, shop, lengths = present.store().calendar.pins(), present.shop(), present.lengths()
    more, fewer = (assemble(works, shop, hours, pins, lengths) for works in (with_it, without))
    ready, todo = finishes(more.problem, more.plain.starts), more.problem.of_boards()
    if (
        not order.boards
        or not {work.board for work in with_it}.issuperset(order.boards)
        or any(board in todo and board not in ready for board in order.boards)
    ):
        return Promise(None)
    at = max((ready[board] for board in order.boards if board in ready), default=0)
    late = _late(more) - _late(fewer) - set(order.boards)
    return Promise(hours.moment(at), tuple(sorted(boards[board].name for board in late)))


def _late(work: Shopwork) -> set[int]:
    """Boards that the plain calendar has later than their day."""
    due = work.problem.due
    return {board for board, end in finishes(work.problem, work.plain.starts).items() if end > due.get(board, end)}
