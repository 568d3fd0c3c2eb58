"""Whether a calendar keeps to everything it must keep to. Nothing that makes calendars is used here, so that this can
hold them to account."""

from __future__ import annotations

from collections.abc import Iterator, Mapping

from .model import Held, Problem


def faults(problem: Problem, starts: Mapping[str, int]) -> list[str]:
    """What is wrong with a calendar, in words; nothing where it can be worked by."""
    return [*_alone(problem, starts), *_order(problem, starts), *_shared(problem, starts), *_trips(problem, starts)]


def _alone(problem: Problem, starts: Mapping[str, int]) -> Iterator[str]:
    for job in problem.jobs:
        if job.id not in starts:
            continue
        start = starts[job.id]
        if job.fixed is not None:
            if start != job.fixed:
                yield f"{job.id} is fixed at {job.fixed} and begins at {start}"
            continue
        if not any(low <= start and start + job.minutes <= high for low, high in problem.windows):
            yield f"{job.id} from {start} to {start + job.minutes} lies outside the hours"
        if start < job.earliest:
            yield f"{job.id} begins at {start}, before {job.earliest}"


def _order(problem: Problem, starts: Mapping[str, int]) -> Iterator[str]:
    jobs = problem.by_id()
    for job in problem.jobs:
        for after in job.after:
            if job.id not in starts or after.job not in jobs:
                continue
            if after.job not in starts:
                yield f"{job.id} has a place and {after.job}, which it waits for, has none"
                continue
            waited = starts[job.id] - starts[after.job] - jobs[after.job].minutes
            if waited < after.least:
                yield f"{job.id} begins {waited} minutes after {after.job}, of {after.least}"
            if after.most is not None and waited > after.most:
                yield f"{job.id} begins {waited} minutes after {after.job}, at most {after.most}"


def _shared(problem: Problem, starts: Mapping[str, int]) -> Iterator[str]:
    """At each moment at which something is begun: hands, machines, clamps and places."""
    means = problem.means
    placed = [(starts[job.id], job) for job in problem.jobs if job.id in starts]
    for at in sorted({start for start, _ in placed}):
        at_work = [job for start, job in placed if start <= at < start + job.minutes]
        if len(at_work) > means.hands:
            yield f"at {at}: {len(at_work)} jobs for {means.hands} pairs of hands"
        machines = [job.machine for job in at_work if job.machine]
        if len(set(machines)) < len(machines):
            yield f"at {at}: one machine used twice"
        there = [job.held for start, job in placed if start <= at < start + job.minutes + job.hold]
        there += [busy.held for busy in problem.busy if busy.span[0] <= at < busy.span[1]]
        for name in Held.__slots__:
            taken = sum(getattr(held, name) for held in there)
            if taken > getattr(means, name):
                yield f"at {at}: {taken} {name} of {getattr(means, name)}"


def _trips(problem: Problem, starts: Mapping[str, int]) -> Iterator[str]:
    windows = {problem.window_of(starts[job.id]) for job in problem.jobs if job.id in starts and job.fixed is None}
    of_day: dict[int, int] = {}
    for window in windows - {None}:
        assert window is not None
        of_day[problem.days[window]] = of_day.get(problem.days[window], 0) + 1
    for day, times in of_day.items():
        if times > problem.means.trips:
            yield f"on day {day} one goes out {times} times, at most {problem.means.trips}"
