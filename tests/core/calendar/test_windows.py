"""Windows before minutes: what must hold between windows shuts no calendar out, and what comes of it is one, no later than
the one before."""

from __future__ import annotations

from dataclasses import replace

from hypothesis import assume, given, settings
from hypothesis import strategies as st
from ortools.sat.python import cp_model

from laberinto.core.calendar.bounds import bounds, times_out
from laberinto.core.calendar.greedy import greedy, usual_dues
from laberinto.core.calendar.model import Aim, Held, Means, Problem, finishes, measured
from laberinto.core.calendar.solve import solve
from laberinto.core.calendar.sooner import sooner
from laberinto.core.calendar.valid import faults
from laberinto.core.calendar.windows import between, cells, near, settled

from .made import EVENINGS, at, job, problem, problems


@settings(max_examples=40)
@given(problems(most=12))
def test_no_calendar_is_shut_out_by_what_holds_between_windows(made: Problem) -> None:
    found = greedy(made)
    assume(not found.misplaced)
    every = cells(made, finishes(made, found.starts))
    assert every is not None
    windows = {name: made.window_of(start) for name, start in found.starts.items()}
    for name, start in found.starts.items():  # its minute is among those of its cell
        assert any(cell[0] == windows[name] and cell[1] <= start <= cell[2] for cell in every[name])
    model = cp_model.CpModel()
    chosen = between(model, made, every)
    for (name, window), (_, _, there) in chosen.items():
        model.add(there == (windows[name] == window))
    assert cp_model.CpSolver().solve(model) == cp_model.OPTIMAL


@settings(max_examples=25)
@given(problems(most=12), st.integers(0, 3), st.sets(st.sampled_from([Aim.LATE, Aim.EVENINGS, Aim.SETUPS])))
def test_sooner_is_a_calendar_and_never_later(made: Problem, seed: int, aims: set[Aim]) -> None:
    late_ones_first = {board: -due for board, due in usual_dues(made).items()}
    before = greedy(made, late_ones_first)
    assume(not before.misplaced)
    was = measured(made, before.starts)
    kept = {aim: was[aim] for aim in aims}
    least = bounds(made)[Aim.SOON]
    starts, stopped = sooner(made, kept, before.starts, least, 0.05, seed)
    assert not stopped and not faults(made, starts) and starts.keys() == before.starts.keys()
    now = measured(made, starts)
    assert least <= now[Aim.SOON] <= was[Aim.SOON] and all(now[aim] <= was[aim] for aim in aims)
    if now[Aim.SOON] == was[Aim.SOON]:
        assert starts == dict(before.starts)


def yard(boards: int = 12, places: int = 3) -> Problem:
    """Boards that are each cut (60 minutes), glued up for a night, cut again (30) and rest for a night, in evenings of
    three hours: two boards of 90 minutes an evening, and no more than three in the clamps at once."""
    jobs = []
    for board in range(boards):
        jobs += [
            job(f"{board}.cut", 40, board=board),
            job(f"{board}.glue", 20, [f"{board}.cut"], board, held=Held(3, 0, 1), hold=720),
            job(f"{board}.again", 30, [f"{board}.glue"], board, then=720),
        ]
    return problem(*jobs, windows=EVENINGS, means=Means(clamps=12, places=places))


def test_an_evening_is_won_where_hands_and_places_just_do() -> None:
    """12 boards want 12 × 90 = 1080 minutes of evenings of 180: six at least, and all of the sixth; so the last is cut
    again by 21:00 on the sixth evening and has rested at 9:00. Two boards glued up an evening leave a place free. A calendar
    that keeps no hour idle is needed for that, and one in which each board is done before the next begins is not."""
    made = yard()
    one_by_one = {}
    for board in range(12):
        day = board
        one_by_one |= {
            f"{board}.cut": at(day, 18),
            f"{board}.glue": at(day, 18 + 40 / 60),
            f"{board}.again": at(day + 1, 19),
        }
    assert not faults(made, one_by_one) and measured(made, one_by_one)[Aim.SOON] == at(12, 19.5) + 720
    starts, _ = sooner(made, {Aim.LATE: 0}, one_by_one, bounds(made)[Aim.SOON], 0.1, 0)
    assert not faults(made, starts)
    # half way between the bound (the sixth evening) and the thirteenth at the latest
    assert measured(made, starts)[Aim.SOON] <= (at(5, 21) + 720 + at(12, 19.5) + 720) // 2
    best = solve(made)
    assert best.values[Aim.SOON] >= best.bounds[Aim.SOON] == at(6, 9)


def test_times_out_are_counted_among_the_windows_that_there_are_by_then() -> None:
    """300 minutes of work, evenings of 60 and from the eighth on of 300: one would do, but not by the sixth day."""
    windows = tuple((at(day, 18), at(day, 19 if day < 7 else 23)) for day in range(14))
    made = problem(*(job(f"{k}", 60) for k in range(5)), windows=windows)
    assert bounds(made)[Aim.EVENINGS] == 1
    assert times_out(made, at(6, 0)) == 5


def test_no_room_between_windows_is_told_as_such() -> None:
    made = yard(boards=2)
    assert cells(made, dict.fromkeys(range(2), at(0, 20))) is None  # not even one night
    every = cells(made, dict.fromkeys(range(2), at(2, 12)))
    assert every is not None
    chosen = settled(made, every, 0.2, 0)
    assert chosen is not None and {cell[0] for cell in near(every, chosen, 0)["0.glue"]} == {chosen["0.glue"]}
    tight = replace(made, means=replace(made.means, clamps=2))  # three are wanted for each
    assert settled(tight, every, 0.2, 0) is None
