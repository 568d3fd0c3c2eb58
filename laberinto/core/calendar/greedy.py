"""A plain calendar at once: the most pressing job next, at the first moment at which it can be done.

A job is the more pressing the sooner it must be begun, that is when its board is due less all the work and waits that
come from it on. It stands until the solver has an answer, and is where that begins.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from .model import Found, Job, Misplaced, Problem, measured
from .timeline import Timeline


def greedy(problem: Problem, dues: Mapping[int, int] | None = None) -> Found:
    """The calendar, pressing as ``dues`` say, else as the boards are due. What cannot be placed, and what waits for
    that, is told with its reason."""
    line, jobs = Timeline(problem), problem.by_id()
    lost, starts = hopeless(problem), dict[str, int]()
    chains = _Chains(problem.jobs)
    for job in problem.jobs:  # what is fixed has its place first
        if job.fixed is not None:
            starts[job.id] = job.fixed
            line.put(job, job.fixed)
    for job in by_press(problem, usual_dues(problem) if dues is None else dues, lost):
        if job.id in starts or job.id in lost or job.id in chains.held:
            continue
        if any(a.job in jobs and a.job not in starts for a in job.after):
            lost[job.id] = WAITS
            continue
        put = _place(line, [job, *(one for one in chains.behind(job) if one.id not in lost)], starts)
        if put is None:
            lost[job.id] = too_late(problem)
            continue
        for name, start in put.items():
            line.put(jobs[name], start)
        starts |= put
    lost |= {job.id: WAITS for job in problem.jobs if job.id not in starts and job.id not in lost}
    return Found(starts, tuple(Misplaced(name, why) for name, why in lost.items()), measured(problem, starts))


def usual_dues(problem: Problem) -> dict[int, int]:
    """When each board is due; those without a day come after all that have one."""
    last = max([*problem.due.values(), *(high for _, high in problem.windows)], default=0)
    return {board: problem.due.get(board, last) for board in problem.of_boards()}


def by_press(problem: Problem, dues: Mapping[int, int], lost: dict[str, str]) -> list[Job]:
    """All jobs, the one that must be begun soonest first; each comes after those it waits for. What waits for itself is
    put among the ``lost``."""
    begin: dict[str, tuple[int, int]] = {}
    order: list[Job] = []
    for board, jobs in problem.of_boards().items():
        turn = in_turn(jobs, lost)
        tail: dict[str, int] = {}
        for job in reversed(turn):
            behind = [a.least + tail[other.id] for other in turn for a in other.after if a.job == job.id]
            tail[job.id] = job.minutes + max([job.hold, job.then, *behind])
        begin |= {job.id: (dues[board] - tail[job.id], at) for at, job in enumerate(turn)}
        order += turn
    return sorted(order, key=lambda job: begin[job.id])


WAITS = "What it waits for has no place."


def in_turn(jobs: Sequence[Job], lost: dict[str, str]) -> list[Job]:
    """The jobs of a board, each after those it waits for. What waits for itself is put among the ``lost``."""
    known = {job.id for job in jobs}
    out: list[Job] = []
    waiting, done = list(jobs), set[str]()
    while waiting:
        ready = [job for job in waiting if all(a.job in done or a.job not in known for a in job.after)]
        if not ready:
            lost |= {job.id: "It waits for a job that waits for it." for job in waiting}
            break
        out += ready
        done |= {job.id for job in ready}
        waiting = [job for job in waiting if job.id not in done]
    return out


def too_late(problem: Problem) -> str:
    """Why a job found no place in all the days that are looked at."""
    if not problem.windows:
        return "There are no hours to work in. Give the week some, or take a day off the list of days away."
    return "There is no room for it in the days that are looked at. Give the week more hours, or put boards away."


def hopeless(problem: Problem) -> dict[str, str]:
    """Jobs that can never be placed, and why: each in words that say what to change."""
    widest = max((high - low for low, high in problem.windows), default=0)
    found: dict[str, str] = {}
    for job in problem.jobs:
        if job.fixed is not None:
            continue
        if not problem.windows:
            found[job.id] = too_late(problem)
        elif job.minutes > widest:
            found[job.id] = (
                f"It takes {job.minutes} minutes in one go, and the longest span in the week is {widest}. Give a day a "
                "longer span, or divide the glue-up."
            )
        elif not problem.means.has(job.held):
            found[job.id] = _lacking(problem, job)
    return found


def _lacking(problem: Problem, job: Job) -> str:
    means, held = problem.means, job.held
    if held.places > means.places:
        return f"It takes {held.places} places on the bench, and there are {means.places}."
    which, wants, has = (
        ("long clamps", held.long, means.long) if held.long > means.long else ("clamps", held.clamps, means.clamps)
    )
    return f"It takes {wants} {which}, and the shop has {has}. Borrow some, or divide the glue-up."


class _Chains:
    """Jobs that may not wait long for the one before them: they are placed with it."""

    def __init__(self, jobs: Sequence[Job]) -> None:
        self._behind: dict[str, list[Job]] = {}
        self.held: set[str] = set()
        for job in jobs:
            for after in job.after:
                if after.most is not None and job.fixed is None:
                    self._behind.setdefault(after.job, []).append(job)
                    self.held.add(job.id)

    def behind(self, job: Job) -> list[Job]:
        """All that hangs on a job so, in order."""
        out: list[Job] = []
        for one in self._behind.get(job.id, []):
            out += [one, *self.behind(one)]
        return out


MOST_TRIES = 400
"""So many moments are tried for jobs that must follow each other closely."""


def _place(line: Timeline, group: Sequence[Job], starts: Mapping[str, int]) -> dict[str, int] | None:
    """Places for a job and all that must follow it closely; None where there are none."""
    head = group[0]
    at = _least(line, head, starts)
    for _ in range(MOST_TRIES):
        first = line.earliest(head, at)
        if first is None:
            return None
        put, late, done = {head.id: first}, 0, first + head.minutes
        for job in group[1:]:
            known = {**starts, **put}
            found = line.earliest(job, max(_least(line, job, known), done))
            if found is None:
                return None
            most = [known[a.job] + line.jobs[a.job].minutes + a.most for a in job.after
                    if a.most is not None and a.job in known]  # fmt: skip
            if most and found > min(most):
                late = found - min(most)
                break
            put[job.id], done = found, found + job.minutes
        if not late:
            return put
        at = first + late
    return None


def _least(line: Timeline, job: Job, known: Mapping[str, int]) -> int:
    """When all a job waits for is over."""
    over = (known[a.job] + line.jobs[a.job].minutes + a.least for a in job.after if a.job in known)
    return max(over, default=0)
