"""Jobs that are moved by hand: pinned to a day, let go of, and the last move taken back."""

from __future__ import annotations

from dataclasses import replace
from datetime import UTC, date, datetime, time

from flask import request

from laberinto.core.calendar.model import Problem
from laberinto.core.calendar.timeline import Timeline
from laberinto.core.errors import InputError

from ...app import present
from .blueprint import bp
from .routes import shown
from .state import State, state


@bp.post("/move")
def move() -> tuple[str, int] | str:
    """Pin a job to a day, at the first moment at which it can be done then; without a day, let go of it."""
    found = state()
    job = found.jobs.get(request.form.get("job", ""))
    store = present.store().calendar
    try:
        if job is None:
            raise InputError("That job is done or gone meanwhile; the page shows how it stands.")
        day = request.form.get("day", "").strip()
        store.pin(job.board, job.id, _place(found, job.id, _day(day)) if day else None)
    except InputError as error:
        return shown(found, "calendar/sheet.html", problem=str(error)), 422
    return shown(state(), "calendar/sheet.html")


def _day(text: str) -> date:
    try:
        return date.fromisoformat(text)
    except ValueError:
        raise InputError(f"There is no day {text[:20]}.") from None


def _place(found: State, name: str, day: date) -> datetime:
    """The first moment of a day at which a job can be done beside what is fixed. Raises InputError where there is
    none."""
    hours, problem = found.work.open, found.problem
    low = hours.minute(datetime.combine(day, time(), hours.zone))
    job = replace(found.jobs[name], fixed=None)
    line = Timeline(_fixed_alone(problem, name))
    for other in problem.jobs:
        if other.fixed is not None and other.id != name:
            line.put(other, other.fixed)
    start = line.earliest(job, max(low, 0))
    if start is None or hours.moment(start).date() != day:
        raise InputError(
            f"“{job.title}” finds no room on {day:%A} {day.day} {day:%B}: there are no hours, or they are full."
        )
    return hours.moment(start).astimezone(UTC)


def _fixed_alone(problem: Problem, name: str) -> Problem:
    return replace(problem, jobs=tuple(job for job in problem.jobs if job.fixed is not None or job.id == name))


@bp.post("/undo")
def undo() -> str:
    """Take the last move back."""
    present.store().calendar.take_back()
    return shown(state(), "calendar/sheet.html")
