"""What holds of every calendar, and that none is better than the one that is called the best."""

from __future__ import annotations

from dataclasses import replace

from hypothesis import assume, given, settings

from laberinto.core.calendar.bounds import bounds
from laberinto.core.calendar.greedy import greedy
from laberinto.core.calendar.model import STEP, Aim, Held, Means, Problem, measured
from laberinto.core.calendar.solve import solve
from laberinto.core.calendar.valid import faults

from .made import EVENINGS, job, problem, problems


@given(problems(most=7))
def test_the_plain_calendar_can_be_worked_by(made: Problem) -> None:
    found = greedy(made)
    assert not faults(made, found.starts)
    assert set(found.starts) | {one.job for one in found.misplaced} == {one.id for one in made.jobs}


def tried(made: Problem) -> tuple[int, int] | None:
    """The least that is late and then the soonest end over every order of jobs, each put at the first moment at which
    nothing is wrong. What is best by a measure that is only the better the sooner jobs are begun is among them. An order
    is left off where its first jobs alone come to no less than the best."""
    moments = [at for low, high in made.windows for at in range(low, high, STEP)]
    best: list[tuple[int, int]] = []

    def at_least(starts: dict[str, int]) -> tuple[int, int]:
        ends: dict[int, int] = {}
        for one in made.jobs:
            if one.id in starts:
                end = starts[one.id] + one.minutes + max(one.hold, one.then)
                ends[one.board] = max(ends.get(one.board, 0), end)
        late = sum(max(0, end - made.due[board]) for board, end in ends.items() if board in made.due)
        return late, max(ends.values(), default=0)

    def go_on(starts: dict[str, int]) -> None:
        if best and at_least(starts) >= best[-1]:
            return
        if len(starts) == len(made.jobs):
            values = measured(made, starts)
            best.append((values[Aim.LATE], values[Aim.SOON]))
            return
        for one in made.jobs:
            if one.id in starts or any(a.job not in starts for a in one.after):
                continue
            here = next((at for at in moments if not faults(made, {**starts, one.id: at})), None)
            if here is not None:
                go_on({**starts, one.id: here})

    go_on({})
    return best[-1] if best else None


@settings(max_examples=12)
@given(problems(most=7))
def test_no_order_of_jobs_is_better(made: Problem) -> None:
    found = solve(made)
    assert not faults(made, found.starts)
    best = tried(made)
    assume(best is not None)  # too many of those without a place for all, and the test fails
    assert not found.misplaced
    assert (found.values[Aim.LATE], found.values[Aim.SOON]) == best
    assert found.proven(Aim.LATE) and found.proven(Aim.SOON)
    low = bounds(made)  # what nothing can go below may not be above the best either
    assert low[Aim.LATE] <= best[0] == found.bounds[Aim.LATE] and low[Aim.SOON] <= best[1] == found.bounds[Aim.SOON]


@settings(max_examples=12)
@given(problems(most=5, clamps=4))
def test_a_clamp_more_never_makes_it_later(made: Problem) -> None:
    one, more = solve(made), solve(replace(made, means=replace(made.means, clamps=made.means.clamps + 1)))
    assume(len(one.misplaced) == len(more.misplaced) and one.proven(Aim.LATE) and more.proven(Aim.LATE))
    assert more.values[Aim.LATE] <= one.values[Aim.LATE]


def crowd() -> Problem:
    """Six boards of five jobs that share clamps and evenings."""
    jobs = [
        job(f"{board}.{at}", 20 + 5 * ((board * 7 + at * 3) % 6), [f"{board}.{at - 1}"] if at else [], board,
            held=Held(5, 0, 1) if at == 2 else Held(), hold=600 if at == 2 else 0)
        for board in range(6) for at in range(5)
    ]  # fmt: skip
    return problem(*jobs, windows=EVENINGS, due={0: 3000, 3: 4000}, means=Means(clamps=8))


def test_the_same_problem_gets_the_same_calendar() -> None:
    one, other = solve(crowd(), seed=3), solve(crowd(), seed=3)
    assert one.starts == other.starts and not faults(crowd(), one.starts)


def test_whoever_says_enough_gets_the_best_so_far() -> None:
    heard: list[float] = []

    def enough(share: float, _found: object) -> bool:
        heard.append(share)
        return len(heard) < 3

    found = solve(crowd(), tell=enough)
    assert len(heard) == 3 and not faults(crowd(), found.starts) and len(found.starts) == 30


def test_what_is_fixed_stays() -> None:
    fixed = replace(
        crowd(), jobs=tuple(replace(one, fixed=EVENINGS[2][0]) if one.id == "4.0" else one for one in crowd().jobs)
    )
    found = solve(fixed)
    assert found.starts["4.0"] == EVENINGS[2][0] and not faults(fixed, found.starts)
