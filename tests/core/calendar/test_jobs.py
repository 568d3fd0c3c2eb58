"""From plans to jobs: every step is in one, with its minutes, its clamps and its waits."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta
from functools import cache

import pytest

from laberinto.core.calendar.assemble import Work, assemble
from laberinto.core.calendar.hours import Week, opened
from laberinto.core.calendar.jobs import jobs_of
from laberinto.core.calendar.model import After, Held, finishes
from laberinto.core.calendar.valid import faults
from laberinto.core.patterns import FAMILIES, Alternating
from laberinto.core.plan.simulate import Simulation, simulate
from laberinto.core.shop import Shop
from laberinto.core.steps import steps
from laberinto.core.timber.cost import bill

HALF_DAY, DAY = 720, 1440
MONDAY = datetime(2026, 11, 30, 7, tzinfo=UTC)


@cache
def slipway() -> Simulation:
    """A checker of twelve strips: two glue-ups, of which the second rests two days off the clamps."""
    return simulate(Alternating(strips=12, strip_width=25, row=25, slices=16, thickness=40).plan("Slipway"))


@pytest.mark.parametrize("family", sorted(FAMILIES))
def test_every_step_is_in_a_job_or_only_waits(family: str) -> None:
    sim = simulate(FAMILIES[family]().plan("Any"))
    made = jobs_of(3, sim, Shop())
    covered = {key for job in made.jobs for key in job.steps}
    waits = {key for step in steps(sim) for key in step.keys if key.endswith(".rest")}
    assert covered | waits == {key for step in steps(sim) for key in step.keys}
    names = {job.id for job in made.jobs}
    assert len(names) == len(made.jobs) and all(after.job in names for job in made.jobs for after in job.after)
    hours = sum(job.minutes for job in made.jobs) / 60
    assert bill(sim, Shop()).hours <= hours + 1e-9  # each is rounded up to five minutes
    assert hours < bill(sim, Shop()).hours + len(made.jobs) * 10 / 60


def test_what_a_glue_up_keeps_and_how_long_the_wood_waits() -> None:
    """A panel 820 long takes a clamp every 175 and one more: 5. Its twelve hours in them are kept; the board's rest of two
    days off them is waited for, of which one could be cut."""
    jobs = {job.id.partition(".")[2]: job for job in jobs_of(1, slipway(), Shop()).jobs}
    panel, flat = jobs["panel.dry"], jobs["panel-flat.flatten"]
    assert panel.held == Held(5, 0, 1) and panel.hold == HALF_DAY and panel.minutes == 30
    assert flat.after == (After(panel.id, HALF_DAY),)
    board, rested = jobs["board.dry"], jobs["board-flat.flatten"]
    assert rested.after == (After(board.id, board.hold + 2 * DAY, None, DAY),)
    oil, wipe = jobs["oiled.dust"], jobs["oiled.dust~wipe"]
    assert wipe.after == (After(oil.id, 20, 60),) and not oil.hold  # the shop's oil soaks for 20 minutes
    assert flat.setup == "thickness planer, 25 mm"


def test_more_clamps_than_there_are_are_all_taken_and_said() -> None:
    made = jobs_of(1, slipway(), Shop(clamps=3))
    assert "5 clamps are wanted and the shop has 3" in made.said[0]
    assert max(job.held.clamps for job in made.jobs) == 3
    longer = jobs_of(1, slipway(), Shop(clamps=3, long_clamps=4, clamp_reach=310))
    panel = next(job for job in longer.jobs if job.stage == "panel")
    assert panel.held == Held(3, 2, 1) and not longer.said


def test_ticks_take_jobs_away_and_what_they_left_still_waits() -> None:
    todo = steps(slipway())
    upto = next(at for at, step in enumerate(todo) if step.key == "panel.glue")
    ticks = {key: -60 for step in todo[: upto + 1] for key in step.keys}
    made = jobs_of(1, slipway(), Shop(), ticks)
    assert made.jobs[0].stage == "panel-flat" and made.jobs[0].earliest == HALF_DAY - 60
    assert [busy.span for busy in made.busy] == [(-60, HALF_DAY - 60)] and made.busy[0].held.clamps == 5
    half = jobs_of(1, slipway(), Shop(), {todo[0].keys[0]: -60})
    assert half.begun == {half.jobs[0].id} and 0 < half.jobs[0].minutes < 50
    assert not jobs_of(1, slipway(), Shop(), {key: -60 for step in todo for key in step.keys}).jobs


def test_a_batch_is_milled_in_parts_and_glued_one_by_one() -> None:
    four = slipway().plan.model_copy(update={"times": 4})
    made = jobs_of(1, simulate(four), Shop()).jobs
    glued = [job for job in made if job.stage == "panel"]
    milled = [job for job in made if job.stage == "strips"]
    assert [job.title.partition(", ")[2] for job in glued] == ["1 of 4", "2 of 4", "3 of 4", "4 of 4"]
    assert sum(job.minutes for job in milled) >= 4 * 48 and all(job.minutes <= 120 for job in milled)
    assert {after.job for job in made if job.stage == "panel-flat" for after in job.after} == {job.id for job in glued}


def works(*ticked: int) -> list[Work]:
    todo = steps(slipway())
    return [
        Work(number, f"Board {number}", slipway(),
             {key: MONDAY - timedelta(hours=1) for step in todo[:done] for key in step.keys}, MONDAY + timedelta(days=20))
        for number, done in enumerate(ticked, 1)
    ]  # fmt: skip


def test_a_shop_of_boards_with_a_pin_that_holds_and_ones_that_cannot() -> None:
    hours = opened(Week(), MONDAY, 40, UTC)
    pins = {
        "1.panel-flat.flatten": datetime(2026, 12, 3, 18, tzinfo=UTC),  # the wood is dry by then
        "2.board-flat.flatten": datetime(2026, 11, 30, 18, tzinfo=UTC),  # nothing of it is done yet
        "2.trimmed.edges": datetime(2026, 12, 4, 18, tzinfo=UTC),  # a Friday: nobody is there
        "9.gone": datetime(2026, 12, 3, 18, tzinfo=UTC),
    }
    made = assemble(works(5, 0), Shop(), hours, pins)
    assert made.pinned == {"1.panel-flat.flatten"}
    assert hours.moment(made.plain.starts["1.panel-flat.flatten"]) == pins["1.panel-flat.flatten"]
    said = [words for board, words in made.said if board == 2]
    assert any("before what comes first is over" in words for words in said)
    assert any("Friday 4 December, 18:00, where it finds no room" in words for words in said)
    assert not made.plain.misplaced and not faults(made.problem, made.plain.starts)
    assert max(finishes(made.problem, made.plain.starts).values()) < made.problem.due[1]


def test_two_hundred_jobs_in_hours_that_are_too_few() -> None:
    hours = opened(Week(), MONDAY, 7, UTC)
    made = assemble(works(*[0] * 13), Shop(), hours)
    assert len(made.problem.jobs) > 200 and made.plain.misplaced
    assert not faults(made.problem, made.plain.starts)
    assert any("no room for it in the days" in one.why for one in made.plain.misplaced)


def test_a_timer_that_runs_at_the_bench_says_how_long_the_wood_waits() -> None:
    """The panel was glued up at minute 0 and waits for 720; its timer was set to 1000, so the clamps stay on until then
    and it is flattened no sooner. One that ends before the usual wait is over shortens nothing."""
    sim = slipway()
    todo = steps(sim)
    glued = [step.key for step in todo].index("panel.glue")
    ticks = {key: 0 for step in todo[: glued + 1] for key in step.keys}
    label = todo[glued].wait_label

    def flattened(ends: int | None = None) -> tuple[int, int]:
        made = jobs_of(1, sim, Shop(), ticks, timers={} if ends is None else {label: ends})
        return next(job.earliest for job in made.jobs if job.stage == "panel-flat"), made.busy[0].span[1]

    assert flattened() == (HALF_DAY, HALF_DAY)
    assert flattened(1000) == (1000, 1000) and flattened(300) == (HALF_DAY, HALF_DAY)


def test_what_stands_in_clamps_is_told_each_with_its_own_end() -> None:
    """Two panels glued an hour apart: the problem adds them up, and what is told of them keeps both."""
    todo = steps(slipway())
    glued = [step.key for step in todo].index("panel.glue")
    works = [
        Work(board, "Slipway", slipway(), {key: MONDAY + timedelta(hours=board) for step in todo[: glued + 1] for key in step.keys})
        for board in (0, 1)
    ]  # fmt: skip
    made = assemble(works, Shop(clamps=8), opened(Week(), MONDAY, 14, UTC))
    first, second = made.standing
    assert (first.held, second.held) == (Held(5, 0, 1),) * 2 and second.span[1] == first.span[1] + 60
    assert max(busy.held.clamps for busy in made.problem.busy) == 8  # no more than there are
