"""The problem of a whole shop: the jobs of all its boards, its open hours, and what is fixed.

What is begun goes on first. What somebody pinned stays where it is, unless it cannot be: then the pin is let go, and
that is said.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import UTC, datetime, time, timedelta
from itertools import pairwise

from ..plan.simulate import Simulation
from ..shop import Shop
from ..units import Lengths
from .greedy import greedy
from .hours import Open
from .jobs import jobs_of
from .model import STEP, Busy, Found, Held, Job, Means, Problem
from .timeline import Timeline


@dataclass(frozen=True, slots=True)
class Work:
    """A board that is under way or promised: when its steps were ticked, and by which day it is due."""

    board: int
    name: str
    sim: Simulation
    ticks: Mapping[str, datetime]
    due: datetime | None = None
    counted: Mapping[str, int] = field(default_factory=dict)
    """Pieces that are done of steps that are not."""
    timers: Mapping[str, datetime] = field(default_factory=dict)
    """When the timers of its waits end that run at the bench, by their labels."""


@dataclass(frozen=True, slots=True)
class Shopwork:
    """The problem, with the plain calendar of it, and what is to be said: of a board by its number, of all by 0."""

    problem: Problem
    plain: Found
    open: Open
    begun: frozenset[str]
    pinned: frozenset[str]
    said: tuple[tuple[int, str], ...]
    standing: tuple[Busy, ...] = ()
    """What earlier jobs hold, each as it is; the problem counts no more of it than the shop has."""


def within(busy: Sequence[Busy], means: Means) -> tuple[Busy, ...]:
    """What is taken already, as one span after the other, and never more at once than the shop has: what was clamped
    with clamps that are gone or borrowed leaves none over, and no less than none."""
    moments = sorted({at for one in busy for at in one.span})
    out: list[Busy] = []
    for low, high in pairwise(moments):
        here = [one.held for one in busy if one.span[0] <= low and high <= one.span[1]]
        held = Held(*(min(sum(getattr(one, name) for one in here), getattr(means, name)) for name in Held.__slots__))
        if held:
            out.append(Busy((low, high), held))
    return tuple(out)


MOST_JOBS = 1200
"""Jobs in one calendar; boards beyond are left out, and that is said."""


def due_minute(due: datetime, hours: Open) -> int:
    """By when a board that is promised for a day must be ready: the end of that day by the shop's clock."""
    day = due.astimezone(hours.zone).date() if due.tzinfo else due.date()
    return hours.minute(datetime.combine(day + timedelta(days=1), time(), hours.zone).astimezone(UTC))


def assemble(
    works: Sequence[Work], shop: Shop, hours: Open, pins: Mapping[str, datetime] | None = None,
    lengths: Lengths | None = None,
) -> Shopwork:  # fmt: skip
    """The problem of these boards."""
    said: list[tuple[int, str]] = [(0, words) for words in hours.said]
    jobs: list[Job] = []
    busy: list[Busy] = []
    begun, due = set[str](), dict[int, int]()
    for work in works:
        ticks = {key: hours.minute(at) for key, at in work.ticks.items()}
        timers = {label: hours.minute(at) for label, at in work.timers.items()}
        made = jobs_of(work.board, work.sim, shop, ticks, lengths, work.counted, timers)
        if len(jobs) + len(made.jobs) > MOST_JOBS:
            said.append((work.board, f"More than {MOST_JOBS} jobs are not planned at once; this board is left out."))
            continue
        jobs += made.jobs
        busy += made.busy
        begun |= made.begun
        said += [(work.board, words) for words in made.said]
        if work.due is not None:
            due[work.board] = due_minute(work.due, hours)
    means = Means(shop.hands, shop.clamps, shop.long_clamps, shop.bench_room, shop.trips)
    problem = Problem(tuple(jobs), hours.windows, hours.days, means, due, within(busy, means))
    problem = _with_begun(problem, begun)
    problem, plain, kept, more = _with_pins(problem, hours, pins or {})
    return Shopwork(problem, plain, hours, frozenset(begun), kept, (*said, *more), tuple(busy))


def _with_begun(problem: Problem, begun: set[str]) -> Problem:
    """What is begun is gone on with first, in the order of the plans."""
    line = Timeline(problem)
    fixed: dict[str, int] = {}
    for job in problem.jobs:
        if job.id in begun and not any(after.most is not None for after in job.after):
            start = line.earliest(job, job.earliest)
            if start is not None and not any(after.job in line.jobs for after in job.after):
                fixed[job.id] = start
                line.put(job, start)
    return _fixed(problem, fixed)


def _fixed(problem: Problem, fixed: Mapping[str, int]) -> Problem:
    if not fixed:
        return problem
    jobs = tuple(replace(job, fixed=fixed[job.id]) if job.id in fixed else job for job in problem.jobs)
    return replace(problem, jobs=jobs)


def _with_pins(
    problem: Problem, hours: Open, pins: Mapping[str, datetime]
) -> tuple[Problem, Found, frozenset[str], list[tuple[int, str]]]:
    """The problem with what is pinned, the plain calendar of it, what of the pins is kept, and words on the others."""
    jobs = problem.by_id()
    said: list[tuple[int, str]] = []
    wanted: dict[str, int] = {}
    line = Timeline(problem)
    for job in problem.jobs:
        if job.fixed is not None:
            line.put(job, job.fixed)
    for name, moment in sorted(pins.items(), key=lambda pin: pin[1]):
        if name not in jobs or jobs[name].fixed is not None:
            continue
        job, start = jobs[name], hours.minute(moment)
        start += -start % STEP
        if line.earliest(job, start) != start:
            said.append(
                (job.board, f"“{job.title}” was pinned to {_when(hours, start)}, where it finds no room any more.")
            )
            continue
        wanted[name] = start
        line.put(job, start)
    while True:
        tried = _fixed(problem, wanted)
        plain = greedy(tried)
        wrong = _early(tried, plain, wanted)
        if not wrong:
            return tried, plain, frozenset(wanted), said
        for name in wrong:
            at = _when(hours, wanted.pop(name))
            said.append(
                (jobs[name].board, f"“{jobs[name].title}” was pinned to {at}, before what comes first is over.")
            )


def _early(problem: Problem, found: Found, wanted: Mapping[str, int]) -> list[str]:
    """Pinned jobs that begin before what they wait for is over."""
    jobs = problem.by_id()
    wrong = []
    for name, start in wanted.items():
        for after in jobs[name].after:
            if after.job not in jobs:
                continue
            before = found.starts.get(after.job)
            end = None if before is None else before + jobs[after.job].minutes
            if end is None or end + after.least > start or (after.most is not None and end + after.most < start):
                wrong.append(name)
                break
    return wrong


def _when(hours: Open, minute: int) -> str:
    moment = hours.moment(minute)
    return f"{moment:%A} {moment.day} {moment:%B}, {moment:%H:%M}"
