"""What is worked out in a process of its own: the best calendar, and why a board is late."""

from __future__ import annotations

from collections.abc import Sequence

from laberinto.core.calendar.model import Aim, Found, Problem
from laberinto.core.calendar.solve import solve
from laberinto.core.calendar.whynot import Evening, Why, why_not

from ...app.workshop import Tell


def best(problem: Problem, aims: Sequence[Aim], tell: Tell) -> Found:
    """The best calendar of a problem, by the maker's aims in their order."""
    return solve(problem, aims, tell=tell)


def reasons(problem: Problem, board: int, spare: tuple[Evening, ...], names: dict[int, str], tell: Tell) -> Why:
    """What stands in the way of a board, and what would mend it."""
    return why_not(problem, board, spare, names, tell=tell)
