"""What no calendar can beat, worked out without searching."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
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


def latest_starts(problem: Problem, ends: Mapping[int, int]) -> dict[str, int]:
    """The latest moment at which each job can begin so that its board is ready by ``ends``, if hands and clamps are
    free then: later it is too late in any case. Boards without an end are left out, as are jobs for which it is too
    late."""
    found: dict[str, int] = {}
    for board, jobs in problem.of_boards().items():
        if board not in ends:
            continue
        for job in reversed(in_turn(jobs, {})):
            limits = [ends[board] - max(job.hold, job.then) - job.minutes]
            behind = [(other, after) for other in jobs for after in other.after if after.job == job.id]
            if any(other.id not in found for other, _ in behind):
                continue
            limits += [found[other.id] - after.least - job.minutes for other, after in behind]
            at = _open_before(problem, job.minutes, min(limits))
            if at is not None and at >= job.earliest:
                found[job.id] = at
    return found


def _open_before(problem: Problem, minutes: int, limit: int) -> int | None:
    return next(
        (min(limit, high - minutes) for low, high in reversed(problem.windows) if min(limit, high - minutes) >= low),
        None,
    )


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
    soon = max([by_hands, *ready.values()])
    if problem.means.hands == 1:
        soon = _in_pieces(problem, soonest, soon)
    return {
        Aim.LATE: late, Aim.SOON: soon, Aim.EVENINGS: times_out(problem),
        Aim.SETUPS: len({job.setup for job in problem.jobs if job.setup}),
    }  # fmt: skip


def times_out(problem: Problem, before: float = math.inf) -> int:
    """So many windows are needed at least, where all of it is to be ready ``before`` a moment: the longest that begin
    by then."""
    needed, work = 0, sum(job.minutes for job in problem.jobs if job.fixed is None)
    for long in sorted((high - low for low, high in problem.windows if low < before), reverse=True):
        if work <= 0:
            break
        needed, work = needed + 1, work - long * problem.means.hands
    return needed


def _when(problem: Problem, work: int) -> int:
    """When so many minutes of open hours are over."""
    at = 0
    for low, high in problem.windows:
        if work <= high - low:
            return low + work
        work -= high - low
        at = high
    return at


def _in_pieces(problem: Problem, soonest: Mapping[str, int], least: int) -> int:
    """When the last board is ready, ``least`` or later, if hands may leave a job at any moment for a more pressing one
    and go on with it in another: by the least moment for which every job can still be over by the latest at which it
    must be. Of such jobs the one that must be over first is gone on with (Jackson's rule with heads and deadlines), so
    where that fails, no calendar for one pair of hands is ready by then."""
    free = sorted((job for job in problem.jobs if job.fixed is None), key=lambda job: soonest[job.id])
    low, high = least, max((end for _, end in problem.windows), default=least)
    if high <= low or _over_in_time(problem, free, soonest, low):
        return low
    while high - low > 1:
        middle = (low + high) // 2
        if _over_in_time(problem, free, soonest, middle):
            high = middle
        else:
            low = middle
    return high


def latest_within(problem: Problem, ends: Mapping[int, int]) -> dict[str, int] | None:
    """The latest moment at which each job can begin so that every board is ready by its one of ``ends``; None where one
    cannot."""
    found: dict[str, int] = {}
    for board, jobs in problem.of_boards().items():
        for job in reversed(in_turn(jobs, {})):
            behind = [found[other.id] - a.least for other in jobs for a in other.after if a.job == job.id]
            limit = min([ends[board] - max(job.hold, job.then), *behind]) - job.minutes
            at = _open_before(problem, job.minutes, limit) if job.fixed is None else job.fixed
            if at is None or at > limit:
                return None
            found[job.id] = at
    return found


def _over_in_time(problem: Problem, free: Sequence[Job], soonest: Mapping[str, int], end: int) -> bool:
    """Whether pieces of jobs find room so that every board can be ready by ``end``."""
    latest = latest_within(problem, dict.fromkeys(problem.of_boards(), end))
    if latest is None or any(latest[job.id] < soonest[job.id] for job in free):
        return False
    ready: list[tuple[int, str, int]] = []  # what must be over first, with the minutes left
    at = 0
    for low, high in problem.windows:
        now = low
        while now < high:
            while at < len(free) and soonest[free[at].id] <= now:
                heappush(ready, (latest[free[at].id] + free[at].minutes, free[at].id, free[at].minutes))
                at += 1
            until = min(soonest[free[at].id], high) if at < len(free) else high
            if not ready:
                now = until
                continue
            over, name, left = heappop(ready)
            done = min(left, until - now)
            now += done
            if done < left:
                heappush(ready, (over, name, left - done))
            elif now > over:
                return False
    return not ready and at == len(free)


def windows_until(problem: Problem, kept: Mapping[Aim, int]) -> int:
    """Windows that begin before all of it is ready, where that is kept."""
    last = kept.get(Aim.SOON)
    return sum(1 for low, _ in problem.windows if last is None or low < last)
