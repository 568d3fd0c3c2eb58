"""All of it ready sooner, for more jobs than minutes can be searched for: windows first, then minutes close by."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import replace

from .exact import Exact
from .greedy import greedy
from .model import Aim, Problem, finishes, measured, total
from .windows import cells, near, settled

TRIES = 6
"""So often windows are chosen anew, each time otherwise, until minutes are found for them."""

WINDOWS = 3.5
"""Work on windows as a share of that on minutes: their units take less time."""

AWAY = 1
"""Jobs may come to lie so many windows from where they were put first."""

ROUNDS = 3
"""So often each board is laid anew round the others."""


def sooner(
    problem: Problem, kept: Mapping[Aim, int], starts: Mapping[str, int], least: int, work: float, seed: int,
    shown: Callable[[Problem, dict[str, int]], bool] | None = None,
) -> tuple[dict[str, int], bool]:  # fmt: skip
    """Starts with which the last board is ready by half way between now and ``least``, which nothing can go below; what
    earlier aims reached is ``kept``. Those given, where none are found. With it whether ``shown`` said that it is
    enough."""
    best = dict(starts)
    now = measured(problem, starts)[Aim.SOON]
    if now <= least:
        return best, False
    goal = (least + now) // 2
    ready = finishes(problem, starts)
    # what is late already need not become in time, but no later
    due = problem.due if Aim.LATE in kept else {}
    ends = {board: min(goal, max(due.get(board, goal), end)) for board, end in ready.items()}
    every = cells(problem, ends)
    if every is None:
        return best, False
    for at in range(TRIES):
        if shown is not None and not shown(problem, best):
            return best, True
        chosen = settled(problem, every, work * WINDOWS, seed + at)
        if chosen is None:
            continue
        found = Exact(problem, kept, Aim.SOON, total(problem, starts), near(every, chosen, AWAY)).first(work, seed)
        if found is not None:
            return _tidy(problem, found, kept), False
    return best, False


def _tidy(problem: Problem, starts: dict[str, int], kept: Mapping[Aim, int]) -> dict[str, int]:
    """One board after the other laid anew round the others, as early as it goes and earlier aims allow: where all is
    ready together, some can mostly be ready before."""
    boards = finishes(problem, starts)
    for _ in range(ROUNDS):
        before = dict(boards)
        for board in sorted(boards, key=lambda one: boards[one]):
            others = tuple(
                job if job.board == board or job.fixed is not None else replace(job, fixed=starts[job.id])
                for job in problem.jobs
            )
            found = greedy(replace(problem, jobs=others))
            end = finishes(problem, found.starts).get(board)
            if end is None or end >= boards[board]:
                continue
            if all(found.values[aim] <= value for aim, value in kept.items()):
                starts, boards[board] = dict(found.starts), end
        if boards == before:
            break
    return starts
