"""How pressing each board is taken to be: changed about until the plain calendar that follows from it is good."""

from __future__ import annotations

import random
from collections.abc import Callable, Sequence

from .greedy import greedy, usual_dues
from .model import Aim, Found, Problem, total

TRIES = 160
"""So many ways are tried."""

REACH = 10 * 1440
"""A board is taken to be due earlier or later by so many minutes at most in one go."""

Rank = tuple[int, ...]


def rank(problem: Problem, found: Found, aims: Sequence[Aim]) -> Rank:
    """How good a calendar is, less is better: what has no place, then the aims in their order, then how soon the boards
    are ready on the whole."""
    return (len(found.misplaced), *(found.values[aim] for aim in aims), total(problem, found.starts))


def improved(
    problem: Problem, aims: Sequence[Aim], *, tries: int = TRIES, seed: int = 0,
    tell: Callable[[float, Found], bool] | None = None,
) -> tuple[Found, bool]:  # fmt: skip
    """The best plain calendar of so many ways to press, and whether ``tell`` said that it is enough. What is as good is
    gone on from, too, so that the search does not stand still where several boards change nothing."""
    real = usual_dues(problem)
    first = [real, dict.fromkeys(real, max(real.values(), default=0))]  # as promised; and the longest chains first
    draws = random.Random(seed)
    best = found = greedy(problem, real)
    dues, reached = real, rank(problem, found, aims)
    top = reached
    for at in range(tries if len(real) > 1 else len(first)):
        tried = first[at] if at < len(first) else _moved(dues, draws)
        found = greedy(problem, tried)
        now = rank(problem, found, aims)
        if now <= reached:
            dues, reached = tried, now
        if now < top:
            best, top = found, now
        if tell is not None and not tell((at + 1) / tries, best):
            return best, True
    return best, False


def _moved(dues: dict[int, int], draws: random.Random) -> dict[int, int]:
    """One board taken to be due at another time, or two of them changed about."""
    one, other = draws.sample(list(dues), 2)
    if draws.random() < 0.4:
        return {**dues, one: dues[other], other: dues[one]}
    return {**dues, one: dues[one] + draws.randint(-REACH, REACH)}
