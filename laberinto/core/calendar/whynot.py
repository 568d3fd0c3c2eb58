"""Why a board cannot be ready by its day, and the least that would mend it: each way is planned anew."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace

from .bounds import earliest_starts
from .model import Aim, Problem, finishes
from .orders import improved

TRIES = 40
"""Ways to press that are tried for each change."""

MOST_CLAMPS = 12
MOST_EVENINGS = 4
DAY = 1440


@dataclass(frozen=True, slots=True)
class Way:
    """Something that could be changed: what it is, when the board is then ready, and by how many minutes others are
    later for it. ``risk`` says what it costs beside that, ``mends`` whether it is enough."""

    words: str
    ready: int | None
    others: int
    risk: str = ""
    mends: bool = False


@dataclass(frozen=True, slots=True)
class Why:
    """What stands in the way of one board. ``alone`` is when it would be ready if there were nothing else to do."""

    board: int
    due: int
    ready: int | None
    alone: int
    ways: tuple[Way, ...]

    @property
    def impossible_alone(self) -> bool:
        """Whether its own work and waits take longer than there is, whatever else is left."""
        return self.alone > self.due


@dataclass(frozen=True, slots=True)
class Evening:
    """Hours that could be added: which, in words, and from when to when."""

    words: str
    span: tuple[int, int]
    day: int


def why_not(
    problem: Problem, board: int, evenings: tuple[Evening, ...] = (), names: dict[int, str] | None = None,
    tell: Callable[[float], bool] | None = None,
) -> Why:  # fmt: skip
    """What would make a late board ready in time. ``evenings`` are hours that are closed now and could be opened, the
    nearest to the day last."""
    due = problem.due[board]
    found, _ = improved(problem, (Aim.LATE, Aim.SOON), tries=TRIES)
    ready = finishes(problem, found.starts).get(board)
    alone = _alone(problem, board)
    before = found.values[Aim.LATE] - max(0, (ready or due) - due)
    ways: list[Way] = []
    changes = list(_changes(problem, board, evenings, names or {}))
    done: set[str] = set()
    for at, (kind, words, risk, changed) in enumerate(changes):
        if kind in done:
            continue  # less of the same was enough
        then, _ = improved(changed, (Aim.LATE, Aim.SOON), tries=TRIES)
        moved = finishes(changed, then.starts).get(board)
        late = sum(
            max(0, end - problem.due[other])
            for other, end in finishes(changed, then.starts).items() if other != board and other in problem.due
        )  # fmt: skip
        mends = moved is not None and moved <= due
        if mends or (moved is not None and ready is not None and moved < ready - DAY // 2):
            ways.append(Way(words, moved, max(0, late - before), risk, mends))
        if mends:
            done.add(kind)
        if tell is not None and not tell((at + 1) / len(changes)):
            break
    ways.sort(key=lambda way: (not way.mends, way.others, bool(way.risk)))
    return Why(board, due, ready, alone, tuple(ways))


def _alone(problem: Problem, board: int) -> int:
    """When a board could be ready if hands and clamps were never short; nothing that is done makes it sooner."""
    soonest = earliest_starts(problem)
    return max(soonest[job.id] + job.minutes + max(job.hold, job.then) for job in problem.of_boards()[board])


def _changes(
    problem: Problem, board: int, evenings: tuple[Evening, ...], names: dict[int, str]
) -> Iterator[tuple[str, str, str, Problem]]:
    """What could be changed, the least first: its kind, words, risk, and the problem as it then is."""
    means = problem.means
    if any(job.held for job in problem.jobs):
        for more in range(2, MOST_CLAMPS + 1, 2):
            lent = replace(means, clamps=means.clamps + more)
            yield "clamps", f"{more} more clamps", "", replace(problem, means=lent)
    near = sorted(evenings, key=lambda evening: evening.span)
    for count in range(1, min(len(near), MOST_EVENINGS) + 1):
        extra = near[:count]
        words = " and ".join(evening.words for evening in extra)
        yield "evenings", f"hours on {words}", "", _opened(problem, extra)
    yield "hands", "a second pair of hands", "", replace(problem, means=replace(means, hands=means.hands + 1))
    for other in sorted(problem.due, key=lambda other: -problem.due[other]):
        if other != board and other in problem.of_boards():
            due = {**problem.due, other: problem.due[other] + 7 * DAY}
            name = names.get(other, f"board {other}")
            yield f"back {other}", f"{name} a week later", "", replace(problem, due=due)
    if any(after.spare for job in problem.jobs if job.board == board for after in job.after):
        yield (
            "rest", "its rest off the clamps cut to a day",
            "Moisture of the glue is then still in the wood: what warps later shows on the finished board.",
            _cut(problem, board),
        )  # fmt: skip


def _opened(problem: Problem, extra: list[Evening]) -> Problem:
    """The problem with more hours; those that overlap hours there are already are left out."""
    spans = [*zip(problem.windows, problem.days, strict=True)]
    for evening in extra:
        if all(evening.span[1] <= low or high <= evening.span[0] for (low, high), _ in spans):
            spans.append((evening.span, evening.day))
    spans.sort()
    return replace(problem, windows=tuple(span for span, _ in spans), days=tuple(day for _, day in spans))


def _cut(problem: Problem, board: int) -> Problem:
    jobs = tuple(
        job if job.board != board else replace(
            job, after=tuple(replace(a, least=a.least - a.spare, spare=0) for a in job.after)
        )
        for job in problem.jobs
    )  # fmt: skip
    return replace(problem, jobs=jobs)
