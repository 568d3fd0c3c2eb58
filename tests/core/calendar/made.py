"""Problems put together by hand, and by chance."""

from __future__ import annotations

from collections.abc import Iterable

from hypothesis import strategies as st

from laberinto.core.calendar.model import STEP, After, Held, Job, Means, Problem

DAY = 1440
EVENINGS = tuple((day * DAY + 18 * 60, day * DAY + 21 * 60) for day in range(14))
"""Three hours every evening of two weeks."""


def job(name: str, minutes: int = 60, after: Iterable[After | str] = (), board: int = 1, **more: object) -> Job:
    """A job; what it comes after is given by name where the wood need not wait."""
    waits = tuple(After(one) if isinstance(one, str) else one for one in after)
    return Job(name, board, "stage", name, minutes, waits, **more)  # type: ignore[arg-type]


def problem(*jobs: Job, windows: tuple[tuple[int, int], ...] = EVENINGS, **more: object) -> Problem:
    """A problem of these jobs, in the evenings."""
    days = tuple(low // DAY for low, _ in windows)
    return Problem(jobs, windows, days, **more)  # type: ignore[arg-type]


def at(day: int, hour: float) -> int:
    """A minute by its day and hour."""
    return day * DAY + round(hour * 60)


@st.composite
def problems(draw: st.DrawFn, most: int = 5, clamps: int = 6) -> Problem:
    """Few jobs of a few boards in short windows: chains with waits, glue-ups that keep clamps, days that are promised."""
    windows = tuple((day * DAY + 600, day * DAY + 600 + STEP * draw(st.integers(6, 14))) for day in range(4))
    jobs: list[Job] = []
    for number in range(draw(st.integers(2, most))):
        board = draw(st.integers(1, 3))
        mine = [one for one in jobs if one.board == board]
        wait = After(mine[-1].id, draw(st.sampled_from([0, 0, 30, 700]))) if mine and draw(st.booleans()) else None
        glue = draw(st.booleans())
        jobs.append(job(
            f"{board}.{number}", STEP * draw(st.integers(1, 6)), [wait] if wait else [], board,
            held=Held(draw(st.integers(1, clamps)), 0, 1) if glue else Held(),
            hold=draw(st.sampled_from([30, 600])) if glue else 0,
            earliest=draw(st.sampled_from([0, 0, 700])),
        ))  # fmt: skip
    due = {board: draw(st.integers(0, 3)) * DAY + 700 for board in {one.board for one in jobs} if draw(st.booleans())}
    return problem(*jobs, windows=windows, due=due, means=Means(clamps=clamps, places=3))
