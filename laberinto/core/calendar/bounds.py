"""What no calendar can beat, worked out without searching."""

from __future__ import annotations

from collections.abc import Mapping
from heapq import heappop, heappush

from .greedy import in_turn
from .model import Aim, Job, Problem


def earliest_starts(problem: Problem) -> dict[str, int]:
    """When each job could begin if hands, clamps and machines were never short: only waits and hours count."""
    found: dict[str, int] = {}
    jobs = problem.by_id()
    for several in problem.of_boards().values():
        for job in in_turn(several, {}):
            over = [found[a.job] + jobs[a.job].minutes + a.least for a in job.after if a.job in found]
            at = max([job.earliest, *over])
            found[job.id] = job.fixed if job.fixed is not None else _open_at(problem, job, at)
    return found


def _open_at(problem: Problem, job: Job, at: int) -> int:
    return next((max(at, low) for low, high in problem.windows if max(at, low) + job.minutes <= high), at)


def bounds(problem: Problem) -> dict[Aim, int]:
    """What no calendar can go below by each aim.

    Being late is nothing at best. The last board is not ready before the longest chain of work and waits, nor before
    one pair of hands could do all there is if it could leave off and go on at will. So much work needs so many of the
    longest windows; and each setup is made once.
    """
    soonest, boards = earliest_starts(problem), problem.of_boards()
    free = [job for job in problem.jobs if job.fixed is None]
    ready = {
        board: max(soonest[job.id] + job.minutes + max(job.hold, job.then) for job in jobs)
        for board, jobs in boards.items()
    }
    late = sum(max(0, ready[board] - due) for board, due in problem.due.items() if board in ready)
    waits = min((min(max(job.hold, job.then) for job in jobs) for jobs in boards.values()), default=0)
    work = sum(job.minutes for job in free)
    by_hands = _when(problem, -(-work // problem.means.hands)) + waits if work else 0
    if problem.means.hands == 1:
        by_hands = max(by_hands, _in_pieces(problem, soonest))
    needed = 0
    for long in sorted((high - low for low, high in problem.windows), reverse=True):
        if work <= 0:
            break
        needed, work = needed + 1, work - long * problem.means.hands
    return {
        Aim.LATE: late, Aim.SOON: max([by_hands, *ready.values()]), Aim.EVENINGS: needed,
        Aim.SETUPS: len({job.setup for job in problem.jobs if job.setup}),
    }  # fmt: skip


def _when(problem: Problem, work: int) -> int:
    """When so many minutes of open hours are over."""
    at = 0
    for low, high in problem.windows:
        if work <= high - low:
            return low + work
        work -= high - low
        at = high
    return at


def _in_pieces(problem: Problem, soonest: Mapping[str, int]) -> int:
    """When the last board is ready if hands may leave a job at any moment for one after which more is to come, each job
    from when it could begin alone on. Jackson's preemptive schedule: no calendar for one pair of hands is sooner."""
    tails: dict[str, int] = {}
    for jobs in problem.of_boards().values():
        for job in reversed(in_turn(jobs, {})):
            behind = [
                a.least + other.minutes + tails[other.id] for other in jobs for a in other.after if a.job == job.id
            ]
            tails[job.id] = max([job.hold, job.then, *behind])
    coming = sorted(((soonest[job.id], job) for job in problem.jobs if job.fixed is None), key=lambda pair: pair[0])
    ready: list[tuple[int, str, int]] = []  # most to come first, with the minutes left
    last, at = 0, 0
    for low, high in problem.windows:
        now = low
        while now < high:
            while at < len(coming) and coming[at][0] <= now:
                heappush(ready, (-tails[coming[at][1].id], coming[at][1].id, coming[at][1].minutes))
                at += 1
            until = min(coming[at][0], high) if at < len(coming) else high
            if not ready:
                now = until
                continue
            tail, name, left = heappop(ready)
            done = min(left, until - now)
            now += done
            last = max(last, now - tail) if done == left else last
            if done < left:
                heappush(ready, (tail, name, left - done))
    return last
