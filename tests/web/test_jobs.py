"""Work in the background: told, stopped, replaced, and never silently lost."""

from __future__ import annotations

from threading import Event

from laberinto.core.errors import InputError
from laberinto.web.app.jobs import KEPT, Job, Jobs


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
