"""Calendars small enough to be worked out by hand."""

from __future__ import annotations

from dataclasses import replace

from laberinto.core.calendar.assemble import within
from laberinto.core.calendar.bounds import bounds, earliest_starts, latest_starts
from laberinto.core.calendar.greedy import greedy
from laberinto.core.calendar.model import After, Aim, Busy, Held, Means, finishes
from laberinto.core.calendar.reading import critical, in_use
from laberinto.core.calendar.solve import solve
from laberinto.core.calendar.valid import faults
from laberinto.core.calendar.whynot import Evening, why_not

from .made import DAY, EVENINGS, at, job, problem

NIGHT = After("glue", 12 * 60)


def test_work_overnight_waits_and_the_next_evening() -> None:
    """Milling and a glue-up fit into one evening; twelve hours later it is morning, so flattening is the next evening."""
    found = solve(problem(job("mill", 90), job("glue", 30, ["mill"]), job("flatten", 30, [NIGHT])))
    assert found.starts == {"mill": at(0, 18), "glue": at(0, 19.5), "flatten": at(1, 18)}
    assert found.proven(Aim.LATE) and found.proven(Aim.SOON)


def test_two_boards_and_one_set_of_clamps() -> None:
    """Eight clamps, and both glue-ups want six for twelve hours: they stand on two nights, the promised one first."""
    held = Held(6, 0, 1)
    two = problem(
        job("a", 30, held=held, hold=720), job("b", 30, board=2, held=held, hold=720), due={2: at(1, 12)},
        means=Means(clamps=8),
    )  # fmt: skip
    found = solve(two)
    assert found.starts == {"b": at(0, 18), "a": at(1, 18)} and found.values[Aim.LATE] == 0
    assert in_use(two, found.starts) == [(at(0, 18), 6), (at(1, 6.5), 0), (at(1, 18), 6), (at(2, 6.5), 0)]
    enough = solve(replace(two, means=Means(clamps=12)))
    assert {start // DAY for start in enough.starts.values()} == {0}


def test_clamps_that_stand_from_before_are_taken() -> None:
    busy = (Busy((-300, at(0, 19)), Held(4, 0, 1)),)
    found = solve(problem(job("glue", 30, held=Held(6, 0, 1)), busy=busy, means=Means(clamps=8)))
    assert found.starts == {"glue": at(0, 19)}


def test_more_that_stands_in_clamps_than_the_shop_has_leaves_none_over_and_a_calendar_all_the_same() -> None:
    """Two glue-ups of six clamps in a shop of eight: none is free until the first is out, and two from then on."""
    means = Means(clamps=8)
    busy = within([Busy((-60, at(0, 19)), Held(6, 0, 1)), Busy((-60, at(0, 20)), Held(6, 0, 1))], means)
    assert busy == (Busy((-60, at(0, 19)), Held(8, 0, 2)), Busy((at(0, 19), at(0, 20)), Held(6, 0, 1)))
    found = solve(problem(job("glue", 30, held=Held(2, 0, 1)), busy=busy, means=means))
    assert found.starts == {"glue": at(0, 19)} and not found.misplaced


def test_a_rest_over_days_without_hours() -> None:
    """Glued on the first evening, four days of rest, and no hours until the seventh day."""
    windows = (EVENINGS[0], EVENINGS[7])
    found = solve(problem(job("glue", 30), job("flatten", 30, [After("glue", 4 * DAY)]), windows=windows))
    assert found.starts["flatten"] == at(7, 18)


def test_oil_that_must_be_wiped_in_time_waits_for_an_evening_with_room() -> None:
    """Twenty minutes to an hour after oiling: with ten minutes left of an evening it is begun the next day."""
    windows = ((at(0, 20.75), at(0, 21)), EVENINGS[1])
    oiled = problem(job("oil", 10), job("wipe", 5, [After("oil", 20, 60)]), windows=windows)
    for found in (greedy(oiled), solve(oiled)):
        assert found.starts["oil"] == at(1, 18) and not faults(oiled, found.starts)
        assert 20 <= found.starts["wipe"] - found.starts["oil"] - 10 <= 60


def test_what_has_no_place_says_why_and_the_rest_is_planned() -> None:
    jobs = [
        job("long", 200), job("behind", 10, ["long"]), job("clamps", 10, board=2, held=Held(9)),
        job("ring", 10, ["round"], board=3), job("round", 10, ["ring"], board=3), job("fine", 10, board=4),
    ]  # fmt: skip
    found = solve(problem(*jobs, means=Means(clamps=8)))
    why = {one.job: one.why for one in found.misplaced}
    assert found.starts == {"fine": at(0, 18)}
    assert "200 minutes" in why["long"] and "longest span in the week is 180" in why["long"]
    assert "waits for" in why["behind"] and "9 clamps, and the shop has 8" in why["clamps"]
    assert "waits for a job that waits for it" in why["ring"]
    nothing = greedy(problem(*jobs, windows=()))
    said = {one.job: one.why for one in nothing.misplaced}
    assert not nothing.starts and all("no hours" in said[name] for name in ("long", "clamps", "fine"))


def test_two_pairs_of_hands_and_one_planer() -> None:
    two = problem(
        *(job(f"{n}", 60, board=n, machine="planer" if n < 3 else "") for n in range(1, 5)), means=Means(hands=2)
    )
    found = solve(two)
    assert not faults(two, found.starts) and found.values[Aim.SOON] == at(0, 20)


def test_so_often_a_day_one_goes_out() -> None:
    windows = tuple((at(day, hour), at(day, hour + 1)) for day in (0, 1) for hour in (8, 12, 18))
    often = problem(*(job(f"{n}", 60, board=n) for n in range(1, 5)), windows=windows, means=Means(trips=2))
    found = solve(often)
    assert not faults(often, found.starts)
    assert {start // DAY for start in found.starts.values()} == {0, 1}


def test_the_same_setting_is_done_in_one_evening() -> None:
    """Two panels are planed at 32 mm, the second dry a day later; nothing needs the first before. On the evening on which
    both are dry it takes one setup, and one evening less."""
    jobs = [job("a", 30, setup="planer, 32 mm"), job("b", 30, setup="planer, 32 mm", earliest=at(1, 0))]
    end = job("c", 30, ["a", "b"], earliest=at(2, 0))
    found = solve(problem(*jobs, end, means=Means()))
    assert found.values[Aim.SETUPS] == 1 and found.proven(Aim.SETUPS)


def test_by_when_each_must_be_begun_and_what_may_not_slip() -> None:
    """Due on the evening of the third day, a night between: flattening on that evening at half past eight, glue on the
    one before at the latest."""
    due = {1: at(2, 21)}
    made = problem(job("glue", 30), job("flatten", 30, [NIGHT]), due=due)
    assert latest_starts(made, due) == {"flatten": at(2, 20.5), "glue": at(1, 20.5)}
    assert not critical(made, {"glue": at(0, 18), "flatten": at(1, 18)})
    assert critical(made, {"glue": at(0, 18), "flatten": at(2, 20.5)}) == {"flatten"}


def test_why_not_and_the_least_that_mends_it() -> None:
    """Both want six of eight clamps for a night, and both are due the next evening: four more clamps would do, two
    would not; and so would a morning after the first is off again."""
    held = Held(6, 0, 1)
    made = problem(
        job("a", 30, held=held, hold=720), job("b", 30, board=2, held=held, hold=720), due={1: at(1, 20), 2: at(1, 20)},
        means=Means(clamps=8),
    )  # fmt: skip
    late = next(board for board, end in finishes(made, solve(made).starts).items() if end > made.due[board])
    why = why_not(made, late, (Evening("Tuesday morning", (at(1, 7), at(1, 7.5)), 1),))
    mends = [way.words for way in why.ways if way.mends]
    assert why.alone <= why.due < (why.ready or 0)
    assert {"4 more clamps", "hours on Tuesday morning"} <= set(mends)
    assert not any(words.startswith(("6 more", "2 more", "a second pair")) for words in mends)


def test_a_day_that_cannot_be_met_alone_but_by_a_shorter_rest() -> None:
    """Glue, four days of rest of which three can be cut at a risk, half an hour of flattening: ready on the fifth day at
    seven, or on the second."""
    made = problem(job("glue", 30), job("flatten", 30, [After("glue", 4 * DAY, None, 3 * DAY)]), due={1: at(2, 0)})
    why = why_not(made, 1)
    assert why.impossible_alone and why.alone == at(4, 19)
    way = next(way for way in why.ways if way.mends)
    assert way.ready == at(1, 19) and "cut to a day" in way.words and "warps" in way.risk


def test_the_soonest_there_can_be_counts_closed_hours_behind_a_job() -> None:
    """Two boards of an hour and a half, oiled the next day and wiped off twelve hours after that: both begin on the first
    evening, both are oiled on the second and wiped on the third, the second board's wipe right after the first's."""
    made = problem(
        *(one for board in (1, 2) for one in (
            job(f"{board}.mill", 90, board=board), job(f"{board}.oil", 10, [After(f"{board}.mill", 720)], board),
            job(f"{board}.wipe", 5, [After(f"{board}.oil", 720)], board),
        ))
    )  # fmt: skip
    assert bounds(made)[Aim.SOON] == solve(made).values[Aim.SOON] == at(2, 18) + 10


def test_what_can_be_done_at_the_soonest_and_at_the_latest() -> None:
    """Glued at six on the first evening, flat at six on the second; due at the end of the fourth day it need not be glued
    before nine on the third evening, less half an hour for glueing."""
    made = problem(job("glue", 30), job("flatten", 30, [NIGHT]), due={1: at(4, 0)})
    assert earliest_starts(made) == {"glue": at(0, 18), "flatten": at(1, 18)}
    assert latest_starts(made, made.due) == {"glue": at(2, 20.5), "flatten": at(3, 20.5)}
