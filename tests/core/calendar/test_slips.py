"""What slipped since an earlier calendar, worked out by hand."""

from __future__ import annotations

from laberinto.core.calendar.model import Found, Job, Problem
from laberinto.core.calendar.slips import LEAST, Moved, slips

DAY = 1440
JOBS = (
    Job("1.cut", 1, "cut", "Cut", 60),
    Job("2.cut", 2, "cut", "Cut", 60, then=DAY),
    Job("3.cut", 3, "cut", "Cut", 60),
)
PROBLEM = Problem(JOBS, ((0, 5 * DAY),), (0,), due={1: 2 * DAY, 2: 3 * DAY})


def test_a_job_that_was_to_be_over_and_is_not_done_has_slipped_the_oldest_first() -> None:
    ends = {"2.cut": 50, "1.cut": 20, "3.cut": 700, "gone": 10}  # what is done meanwhile is no job any more
    found = slips(PROBLEM, Found({}), ends, {}, now=60)
    assert found.jobs == (("1.cut", 20), ("2.cut", 50)) and not found.moved


def test_boards_that_moved_and_what_that_does_to_their_promise() -> None:
    """Board 1 is ready at 2940, an hour behind its day; 2 at 60 + 60 + a day; 3 has moved by less than is told."""
    found = slips(
        PROBLEM, Found({"1.cut": 2 * DAY, "2.cut": 60, "3.cut": 60}), {},
        {1: 2 * DAY - 600, 2: 4 * DAY, 3: 120 + LEAST - 1, 9: 5},
    )  # fmt: skip
    first, second = found.moved
    assert first == Moved(1, 2 * DAY - 600, 2 * DAY + 60, 2 * DAY) and first.breaks and not first.keeps
    assert second == Moved(2, 4 * DAY, DAY + 120, 3 * DAY) and second.keeps and not second.breaks


def test_nothing_slipped_says_nothing() -> None:
    assert not slips(PROBLEM, Found({"1.cut": 0}), {"1.cut": 60}, {1: 60}, now=59)
