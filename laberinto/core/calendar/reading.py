"""What is read off a calendar: clamps in use over time, by when each job must be begun, and which jobs decide."""

from __future__ import annotations

from collections.abc import Mapping

from .bounds import latest_starts
from .model import Problem, finishes


def in_use(problem: Problem, starts: Mapping[str, int]) -> list[tuple[int, int]]:
    """Clamps that are on, as steps: from which minute on how many, of all lengths together."""
    changes: dict[int, int] = {}
    spans = [
        (starts[job.id], starts[job.id] + job.minutes + job.hold, job.held)
        for job in problem.jobs if job.held and job.id in starts
    ]  # fmt: skip
    for low, high, held in [*spans, *((*busy.span, busy.held) for busy in problem.busy)]:
        changes[low] = changes.get(low, 0) + held.clamps + held.long
        changes[high] = changes.get(high, 0) - held.clamps - held.long
    on, out = 0, []
    for at in sorted(changes):
        on += changes[at]
        if changes[at]:
            out.append((at, on))
    return out


def critical(problem: Problem, starts: Mapping[str, int]) -> set[str]:
    """Jobs that may not slip: begun later, their board would be ready later than its day, or where it is late already
    or has none, later than the calendar says."""
    ready = finishes(problem, starts)
    ends = {board: max(problem.due.get(board, 0), end) for board, end in ready.items()}
    latest = latest_starts(problem, ends)
    return {name for name, start in starts.items() if name in latest and start >= latest[name]}
