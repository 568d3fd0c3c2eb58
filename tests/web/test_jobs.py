"""Work in the background: told, stopped, replaced, and never silently lost."""

from __future__ import annotations

import os
from collections.abc import Callable
from multiprocessing import Pipe
from threading import Event
from time import sleep

import pytest

from laberinto.core.errors import InputError, StageError
from laberinto.core.units import Lengths
from laberinto.core.woods import LIBRARY
from laberinto.web.app.jobs import KEPT, Job, Jobs
from laberinto.web.app.workshop import MOST_MEMORY, GoneError, Tell, Telling, apart


def test_a_job_tells_how_far_it_is_and_what_came_of_it() -> None:
    jobs, go = Jobs(), Event()

    def work(job: Job) -> str:
        assert job.tell(0.5, "half")
        go.wait(5)
        return "whole"

    job = jobs.start(("sum", 1), {"seed": 1}, work)
    while job.best is None:
        pass
    assert job.running and job.share == 0.5 and jobs.get(("sum", 1)) is job
    go.set()
    assert job.done.wait(5) and job.result == "whole" and not job.running


def test_a_new_job_of_the_same_name_cancels_the_one_before_it() -> None:
    jobs = Jobs()

    def work(job: Job) -> str:
        while job.tell(0.1, "so far"):
            pass
        return "stopped"

    one = jobs.start(("sum", 1), {}, work)
    other = jobs.start(("sum", 1), {}, work)
    assert one.done.wait(5) and one.result == "stopped" and other.running
    jobs.drop(("sum", 1))
    assert other.done.wait(5) and jobs.get(("sum", 1)) is None


def test_what_goes_wrong_is_kept_apart_by_whose_fault_it_is() -> None:
    jobs = Jobs()

    def refuse(_job: Job) -> None:
        raise InputError("Take fewer.", "most")

    def stumble(_job: Job) -> None:
        raise ZeroDivisionError

    refused, stumbled = jobs.start(("a", 1), {}, refuse), jobs.start(("b", 1), {}, stumble)
    assert refused.done.wait(5) and str(refused.error) == "Take fewer." and not refused.failed
    assert stumbled.done.wait(5) and stumbled.failed and stumbled.error is None


def test_only_so_many_are_remembered() -> None:
    jobs = Jobs()
    for number in range(KEPT + 3):
        jobs.start(("n", number), {}, lambda _job: 1)
    assert jobs.get(("n", 0)) is None and jobs.get(("n", KEPT + 2)) is not None


def test_two_are_at_work_and_the_others_know_their_place() -> None:
    """Four at once: two begin, one is next, one has one before it; one that is called off makes room in the line."""
    jobs, go, begun = Jobs(), Event(), [Event() for _ in range(4)]

    def work(number: int) -> Callable[[Job], int]:
        def doing(_job: Job) -> int:
            begun[number].set()
            go.wait(60)
            return number

        return doing

    four = [jobs.start(("n", number), {}, work(number)) for number in range(4)]
    assert begun[0].wait(60) and begun[1].wait(60)
    assert [job.before for job in four] == [None, None, 0, 1]
    assert [job.words for job in four[1:]] == ["0 % done", "waiting for its turn, the next",
                                               "waiting for its turn, 1 before it"]  # fmt: skip
    by_hand = jobs.start(("hand", 1), {}, lambda _job: "at once", in_turn=False)
    assert by_hand.done.wait(60) and not four[2].done.is_set()
    jobs.drop(("n", 2))
    assert four[2].done.is_set() and not begun[2].is_set() and four[3].before == 0
    go.set()
    assert four[3].done.wait(60) and four[3].result == 3


def half_done(tell: Tell) -> None:
    tell(0.5)
    sleep(600)


def hungry(_tell: Tell) -> int:
    return len(bytearray(2 * MOST_MEMORY))


def killed(_tell: Tell) -> None:
    os._exit(3)


def added(one: int, other: int, tell: Tell) -> tuple[int, int]:
    tell(1.0)
    return one + other, os.getpid()


def refused(_tell: Tell) -> None:
    raise InputError("Take fewer.", "most")


def test_work_in_a_process_of_its_own_tells_stops_and_fails_alone() -> None:
    shares: list[float] = []
    assert apart(added, 2, 3, tell=lambda share, _: not shares.append(share))[0] == 5 and shares[-1] == 1.0
    assert apart(added, 2, 3, tell=lambda *_: True)[1] != os.getpid()
    with pytest.raises(InputError, match=r"Take fewer\."):
        apart(refused, tell=lambda *_: True)
    with pytest.raises(GoneError, match="called off"):
        apart(half_done, tell=lambda share, _: share < 0.5)
    with pytest.raises(RuntimeError, match="MemoryError"):
        apart(hungry, tell=lambda *_: True)
    with pytest.raises(GoneError, match=r"ended before it was done \(3\)"):
        apart(killed, tell=lambda *_: True)


def thin(tell: Tell) -> None:
    raise StageError("rip", "This leaves {left}.", "Leave more.", "width", left=12.7)


def counted(tell: Tell) -> int:
    """Counts until it is enough."""
    number = 0
    while tell(0.1, number) or number < 3:
        number += 1
        sleep(0.01)
    return number


def known(_tell: Tell) -> float:
    return LIBRARY["beech"].density


def test_work_whose_asker_is_gone_is_told_to_end_and_makes_no_noise() -> None:
    """As where the server was killed: nothing is raised into the work, nor into the log that a print is followed by."""
    here, there = Pipe()
    tell = Telling(there)
    assert tell(0.1, "a start")
    here.close()
    assert not tell(0.2, "better") and not tell(0.3, "best")


def test_what_a_stage_refuses_is_said_in_ones_own_units_wherever_it_was_worked_out() -> None:
    with pytest.raises(StageError) as refused:
        apart(thin, tell=lambda *_: True)
    error = refused.value
    assert error.say(Lengths("in", 16)) == 'This leaves 1/2". Leave more.' and str(error).startswith(
        "This leaves 12.7 mm"
    )
    assert (error.stage, error.field) == ("rip", "width")


def test_it_knows_the_shops_own_woods() -> None:
    try:
        LIBRARY.take_in([LIBRARY["beech"].model_copy(update={"density": 1234.0})])
        assert apart(known, tell=lambda *_: True) == 1234.0
    finally:
        LIBRARY.take_in(())


def test_who_says_it_is_enough_gets_what_there_is_and_who_calls_it_off_waits_for_nothing() -> None:
    jobs = Jobs()
    job = jobs.start(("count", 1), {}, lambda job: job.apart(counted))
    while not job.best:
        sleep(0.01)
    job.enough.set()
    assert job.done.wait(60) and job.result >= 3 and job.error is None
    stuck = jobs.start(("count", 1), {}, lambda job: job.apart(half_done))
    while not stuck.share:
        sleep(0.01)
    jobs.drop(("count", 1))
    assert stuck.done.wait(60) and stuck.result is None and not stuck.failed and stuck.error is None
