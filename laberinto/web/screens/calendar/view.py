"""What the calendar's pages show, in words and drawings."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime, time

from flask import url_for
from markupsafe import Markup

from laberinto.core.calendar.bounds import earliest_starts
from laberinto.core.calendar.model import Job
from laberinto.core.calendar.reading import in_use
from laberinto.core.calendar.whynot import Evening
from laberinto.core.shop import Shop
from laberinto.drawing import calendar as drawing

from .state import State, span_words

DAY = 1440
SHOWN = 14
"""Days on one sheet."""


@dataclass(frozen=True, slots=True)
class Going:
    """Something to do: a job with its clock times, its board, and whether it may not slip."""

    job: Job
    board: int
    name: str
    begins: datetime
    ends: datetime
    critical: bool
    latest: datetime | None
    setting: str


@dataclass(frozen=True, slots=True)
class Dated:
    """A job of one board: when it is to be done, at the soonest and at the latest, and how long the wood then waits."""

    job: Job
    begins: datetime | None
    soonest: datetime | None
    latest: datetime | None
    critical: bool
    waits: int


@dataclass(frozen=True, slots=True)
class Standing:
    """A glue-up that is in the clamps at some moment: what, of which board, how many clamps, and until when."""

    words: str
    name: str
    clamps: int
    until: datetime


def sheet(state: State, first: int, style: str = "") -> Markup:
    """Two weeks as lanes; with a ``style`` of its own where no page gives it one."""
    work = state.work
    days = [
        drawing.Day(
            f"{day:%a} {day.day}", f"{day:%B}", day.isoformat(),
            tuple(span for span, of in zip(work.open.windows, work.open.days, strict=True) if of == at), at == 0,
        )
        for at, day in enumerate(work.open.dates) if first <= at < first + SHOWN
    ]  # fmt: skip
    there = state.problem.means.clamps + state.problem.means.long
    now = work.open.minute(datetime.now().astimezone())
    return Markup(drawing.weeks(days, first, _lanes(state), in_use(state.problem, state.found.starts), there, now,
                                style=style))  # fmt: skip


def _lanes(state: State) -> list[drawing.Lane]:
    lanes, critical, ready, late = [], state.critical, state.ready, set(state.late)
    of_board = state.problem.of_boards()
    order = sorted(of_board, key=lambda b: (state.problem.due.get(b, 10**9), b))
    for board in order:
        view, end, due = state.boards[board], ready.get(board), state.problem.due.get(board)
        lanes.append(drawing.Lane(
            view.name, url_for("board.page", board_id=board), tuple(_bars(state, of_board[board], critical)), due,
            _note(state, end, due), board in late,
        ))  # fmt: skip
    return lanes


def _note(state: State, end: int | None, due: int | None) -> str:
    if end is None:
        return "no place for all of it"
    at = state.moment(end)
    said = f"ready {at:%a} {at.day} {at:%b}"
    return f"{said}, {late_by(end, due)}" if due is not None and end > due else said


def late_by(end: int, due: int) -> str:
    """How late something is, in whole days, the day it is due not counted."""
    days = -(-(end - due) // DAY)
    return f"{days} day{'s' if days > 1 else ''} late"


def later(minutes: int) -> str:
    """How much later others are, all together."""
    return f"{span_words(minutes)} later"


def _bars(state: State, jobs: Sequence[Job], critical: set[str]) -> Iterator[drawing.Bar]:
    starts = state.found.starts
    for job in jobs:
        if job.id not in starts:
            continue
        to = url_for("board.page", board_id=job.board, stage=job.stage, view="stage")
        start, end = starts[job.id], starts[job.id] + job.minutes
        waits = [a.least for other in jobs for a in other.after if a.job == job.id]
        until = end + max([job.hold, job.then, *waits])
        kinds = ["critical"] * (job.id in critical) + ["pinned"] * (job.id in state.work.pinned)
        kinds += ["glue"] * bool(job.held) + ["begun"] * (job.id in state.work.begun)
        yield drawing.Bar(job.id, (start, end), job.hold, until, to, _words(state, job), " ".join(kinds))


def _words(state: State, job: Job) -> str:
    start = state.found.starts[job.id]
    begins, ends = state.moment(start), state.moment(start + job.minutes)
    when = f"{begins:%a} {begins.day} {begins:%b}, {begins:%H:%M}–{ends:%H:%M}"
    said = [f"{state.boards[job.board].name}: {job.title}", when]
    if job.held:
        off = state.moment(start + job.minutes + job.hold)
        said.append(f"{job.held.clamps + job.held.long} clamps until {off:%a %H:%M}")
    if job.id in state.work.pinned:
        said.append("pinned")
    return "; ".join(said)


def goings(state: State, low: int, high: int) -> list[Going]:
    """What begins from one minute to another, in order."""
    critical, latest = state.critical, state.latest
    out = []
    for name, start in sorted(state.found.starts.items(), key=lambda pair: pair[1]):
        if low <= start < high:
            job = state.jobs[name]
            out.append(Going(
                job, job.board, state.boards[job.board].name, state.moment(start), state.moment(start + job.minutes),
                name in critical, state.moment(latest[name]) if name in latest else None,
                job.setup.rpartition(", ")[2],
            ))  # fmt: skip
    return out


def dated(state: State, board: int) -> list[Dated]:
    """The jobs of a board in the order in which they are done."""
    jobs = state.problem.of_boards().get(board, [])
    soonest, latest, critical, starts = earliest_starts(state.problem), state.latest, state.critical, state.found.starts

    def at(found: Mapping[str, int], name: str) -> datetime | None:
        return state.moment(found[name]) if name in found else None

    waits = {job.id: max([job.then, *(a.least for other in jobs for a in other.after if a.job == job.id)])
             for job in jobs}  # fmt: skip
    return [
        Dated(job, at(starts, job.id), at(soonest, job.id), at(latest, job.id), job.id in critical, waits[job.id])
        for job in sorted(jobs, key=lambda job: starts.get(job.id, 10**9))
    ]


def standing(state: State, at: int) -> list[Standing]:
    """What is in the clamps at a minute: what this calendar puts there, and what was put there before."""
    out = [
        Standing(job.title, state.boards[job.board].name, job.held.clamps + job.held.long,
                 state.moment(start + job.minutes + job.hold))
        for name, start in state.found.starts.items()
        for job in (state.jobs[name],)
        if job.held and start <= at < start + job.minutes + job.hold
    ]  # fmt: skip
    out += [
        Standing("What is in the clamps already", "", busy.held.clamps + busy.held.long, state.moment(busy.span[1]))
        for busy in state.work.standing if busy.span[0] <= at < busy.span[1]
    ]  # fmt: skip
    return sorted(out, key=lambda one: one.until)


def indoors(state: State, at: int, shop: Shop) -> list[str]:
    """What does not stay in the shop overnight because glue does not set in that cold: what stands in the clamps when
    the hours are over at a minute, and the wood of glue-ups that are begun within a day of it."""
    if shop.air >= shop.glue.times.coldest:
        return []
    standing_ = [f"{one.name}, {one.words[:1].lower()}{one.words[1:]}" for one in standing(state, at) if one.name]
    next_ = [
        f"{going.name}, the wood for it: {going.job.title[:1].lower()}{going.job.title[1:]}"
        for going in goings(state, at, at + DAY) if going.job.held
    ]  # fmt: skip
    return [*standing_, *next_, f"the {shop.glue.label}"] if standing_ or next_ else []


def today(state: State) -> tuple[int, int, bool] | None:
    """The open hours of today that are not over, from when to when, and that it is today; where nothing is to be done
    in them any more, those of the next day on which something is."""
    problem = state.problem
    if not problem.windows:
        return None
    at_work = {problem.window_of(start) for start in state.found.starts.values()} - {None}
    day = problem.days[min((at for at in at_work if at is not None), default=0)]
    spans = [span for span, of in zip(problem.windows, problem.days, strict=True) if of == day]
    return spans[0][0], spans[-1][1], day == 0


EVENING = time(18), time(21)
MOST_OFFERED = 4


def evenings(state: State, board: int) -> tuple[Evening, ...]:
    """Evenings that are closed now, from today until a board is due: what could be opened for it."""
    hours, due = state.work.open, state.problem.due[board]
    out: list[Evening] = []
    for at, day in enumerate(hours.dates):
        low, high = (hours.minute(datetime.combine(day, clock, hours.zone)) for clock in EVENING)
        closed = all(high <= a or b <= low for a, b in state.problem.windows)
        if closed and low > 0 and low > hours.minute(datetime.now().astimezone()) and high < due:
            out.append(Evening(f"{day:%A} {day.day} {day:%B}, 18 to 21", (low, high), at))
    return tuple(out[:MOST_OFFERED])
