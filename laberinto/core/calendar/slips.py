"""What slipped since an earlier calendar, and which boards that moves.

A job has slipped when the earlier calendar had it over by now and it is not done. A board has moved when it is ready at
another time than the earlier calendar said; whether that breaks a promise is read off its day.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from .model import Found, Problem, finishes

LEAST = 12 * 60
"""Minutes by which a board has moved before it is told, unless that breaks or keeps its promise: calendars as good as
each other differ by an hour."""


@dataclass(frozen=True, slots=True)
class Moved:
    """A board that is ready at another time: ``before`` and ``after`` in minutes, and by when it is promised."""

    board: int
    before: int
    after: int
    due: int | None

    @property
    def breaks(self) -> bool:
        """Whether it was in time and is late now."""
        return self.due is not None and self.before <= self.due < self.after

    @property
    def keeps(self) -> bool:
        """Whether it was late and is in time now."""
        return self.due is not None and self.after <= self.due < self.before


@dataclass(frozen=True, slots=True)
class Slips:
    """Jobs that slipped with when they were to be over, the oldest first, and boards that moved, broken promises
    first."""

    jobs: tuple[tuple[str, int], ...] = ()
    moved: tuple[Moved, ...] = ()

    def __bool__(self) -> bool:
        return bool(self.jobs or self.moved)


def slips(problem: Problem, found: Found, ends: Mapping[str, int], ready: Mapping[int, int], now: int = 0) -> Slips:
    """What slipped: ``ends`` says when the earlier calendar had each job over, ``ready`` when each board was ready, in
    the minutes of this problem."""
    jobs = problem.by_id()
    late = sorted(((name, end) for name, end in ends.items() if name in jobs and end <= now), key=lambda one: one[1])
    moved = [
        Moved(board, ready[board], end, problem.due.get(board))
        for board, end in finishes(problem, found.starts).items()
        if board in ready
    ]
    told = [one for one in moved if abs(one.after - one.before) >= LEAST or one.breaks or one.keeps]
    return Slips(tuple(late), tuple(sorted(told, key=lambda one: (not one.breaks, one.board))))
