"""What is taken when: how much of something is left over time, and the earliest moment at which a job finds all of
it."""

from __future__ import annotations

from bisect import bisect_left, bisect_right
from collections.abc import Iterator

from .model import STEP, Held, Job, Problem, Span


class Level:
    """How much of one thing is taken, as steps over time."""

    def __init__(self, most: int) -> None:
        self.most = most
        self._at: list[int] = [-(10**9)]
        self._taken: list[int] = [0]

    def take(self, span: Span, amount: int) -> None:
        """Take ``amount`` from and to."""
        if amount and span[0] < span[1]:
            first, last = self._cut(span[0]), self._cut(span[1])
            for k in range(first, last):
                self._taken[k] += amount

    def _cut(self, at: int) -> int:
        """The step that begins at a moment, made where there is none."""
        k = bisect_left(self._at, at)
        if k == len(self._at) or self._at[k] != at:
            self._at.insert(k, at)
            self._taken.insert(k, self._taken[k - 1])
        return k

    def free_from(self, span: Span, amount: int) -> int:
        """The moment at which ``amount`` could be had if it is not over the whole ``span``; the span's own start where
        it is."""
        if amount > self.most:
            return span[1]
        found = span[0]
        for k in range(bisect_right(self._at, span[0]) - 1, len(self._at)):
            if self._at[k] >= span[1]:
                break
            if self._taken[k] + amount > self.most:
                found = self._at[k + 1] if k + 1 < len(self._at) else span[1]
        return found


class Timeline:
    """A calendar as it fills up."""

    def __init__(self, problem: Problem) -> None:
        means = problem.means
        self.problem, self.jobs = problem, problem.by_id()
        self.hands = Level(means.hands)
        self.kept = {name: Level(getattr(means, name)) for name in Held.__slots__}
        self.machines: dict[str, Level] = {}
        self._ends = [high for _, high in problem.windows]
        self._used: dict[int, set[int]] = {}
        """The windows of each day in which somebody works."""
        for busy in problem.busy:
            self._hold(busy.span, busy.held)

    def _hold(self, span: Span, held: Held) -> None:
        for name, level in self.kept.items():
            level.take(span, getattr(held, name))

    def put(self, job: Job, start: int) -> None:
        """Give a job its place."""
        self.hands.take((start, start + job.minutes), 1)
        self._hold((start, start + job.minutes + job.hold), job.held)
        if job.machine:
            self._machine(job).take((start, start + job.minutes), 1)
        window = self.problem.window_of(start)
        if window is not None:
            self._used.setdefault(self.problem.days[window], set()).add(window)

    def _machine(self, job: Job) -> Level:
        return self.machines.setdefault(job.machine, Level(1))

    def _asks(self, job: Job) -> Iterator[tuple[Level, int, int]]:
        """What a job takes: of what, how much, and for how long."""
        yield self.hands, 1, job.minutes
        if job.machine:
            yield self._machine(job), 1, job.minutes
        for name, level in self.kept.items():
            if amount := getattr(job.held, name):
                yield level, amount, job.minutes + job.hold

    def earliest(self, job: Job, after: int) -> int | None:
        """The first moment from ``after`` on at which a job can begin; None where there is none."""
        at = max(after, job.earliest)
        at += -at % STEP
        for k in range(bisect_right(self._ends, at), len(self._ends)):
            used = self._used.get(self.problem.days[k], set())
            if k not in used and len(used) >= self.problem.means.trips:
                continue
            low, high = self.problem.windows[k]
            at = max(at, low)
            while at + job.minutes <= high:
                later = max(level.free_from((at, at + long), amount) for level, amount, long in self._asks(job))
                if later <= at:
                    return at
                at = later + -later % STEP
        return None
