"""The best calendar, with what no calendar can beat, by OR-Tools' CP-SAT.

The aims are taken one after the other: what was reached for the first is kept while the next is made better. A search
ends after so much work, never after so much time, so the same problem gets the same calendar on any machine.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import replace

from .bounds import bounds, times_out, windows_until
from .model import AIMS, Aim, Found, Problem, measured, total
from .orders import TRIES, improved

WORK = 0.1
"""CP-SAT's units of deterministic time for each aim: some one to three seconds each."""

SEARCHED = 0.4
"""Share of the work that goes into trying orders of boards, before the proof."""

Tell = Callable[[float, Found], bool]
"""Hears how far it is and the best so far; whether to go on."""


def solve(
    problem: Problem, aims: Sequence[Aim] = AIMS, *, work: float = WORK, tries: int = TRIES, seed: int = 0,
    tell: Tell | None = None,
) -> Found:  # fmt: skip
    """The calendar of a problem that fits its fixed jobs. What the plain calendar could not place stays without a
    place. Where ``tell`` says no, the best so far is given."""
    searched = None if tell is None else lambda share, found: tell(share * SEARCHED, found)
    best, stopped = improved(problem, aims, tries=tries, seed=seed, tell=searched)
    problem = _placeable(problem, best)
    if not problem.jobs:
        return best
    low, known, kept = bounds(problem), dict[Aim, int](), dict[Aim, int]()
    for at, aim in enumerate(aims):
        known[aim] = low[aim]
        if not stopped and measured(problem, best.starts)[aim] > low[aim]:
            share = SEARCHED + (1 - SEARCHED) * at / len(aims)
            shown = None if tell is None else _teller(tell, share, best, known)
            starts, bound, stopped = _better(problem, kept, aim, best.starts, low[aim], work, seed, shown)
            best = Found(starts, best.misplaced, measured(problem, starts))
            if bound is not None:
                known[aim] = max(bound, low[aim])
        kept[aim] = measured(problem, best.starts)[aim]
        if aim is Aim.SOON:
            low[Aim.EVENINGS] = times_out(problem, kept[aim])
    return _with(best, problem, known)


def _better(
    problem: Problem, kept: Mapping[Aim, int], aim: Aim, starts: Mapping[str, int], least: int, work: float, seed: int,
    shown: Callable[[Problem, dict[str, int]], bool] | None,
) -> tuple[Mapping[str, int], int | None, bool]:  # fmt: skip
    """Starts that are better by an aim, or those given; what nothing can go below, if that is known; and whether
    ``shown`` said that it is enough."""
    from .exact import Exact  # their solver takes a while to load, and only a search needs it
    from .sooner import sooner

    if aim is Aim.LATE or _choices(problem, starts) <= MOST_CHOICES:
        found, bound, stopped = Exact(problem, kept, aim, total(problem, starts)).search(starts, work, seed, shown)
        return found or starts, bound, stopped
    if aim is Aim.SOON:
        starts, stopped = sooner(problem, kept, starts, least, work, seed, shown)
        return starts, None, stopped
    return starts, None, False


MOST_CHOICES = 3_000
"""Jobs times windows: where there are more, no search for minutes gets anywhere in a few seconds. Then windows come
first, and times out and setups are left as the plain calendars made them."""


def _choices(problem: Problem, starts: Mapping[str, int]) -> int:
    return len(problem.jobs) * windows_until(problem, measured(problem, starts))


def _with(found: Found, problem: Problem, bounds: Mapping[Aim, int]) -> Found:
    return Found(found.starts, found.misplaced, measured(problem, found.starts), dict(bounds))


def _teller(
    tell: Tell, share: float, best: Found, bounds: Mapping[Aim, int]
) -> Callable[[Problem, dict[str, int]], bool]:
    return lambda problem, starts: tell(share, _with(Found(starts, best.misplaced), problem, bounds))


def _placeable(problem: Problem, found: Found) -> Problem:
    """The problem without what has no place."""
    lost = {one.job for one in found.misplaced}
    return replace(problem, jobs=tuple(job for job in problem.jobs if job.id not in lost))
