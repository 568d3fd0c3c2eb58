"""The calendar as it stands: the boards under way and promised as a problem, what was found for it, and the search that
goes on for a better one."""

from __future__ import annotations

import hashlib
import json
from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import UTC, datetime, timedelta

from laberinto.core.calendar.assemble import Shopwork, Work, assemble
from laberinto.core.calendar.bounds import latest_starts
from laberinto.core.calendar.hours import Open, opened
from laberinto.core.calendar.model import Aim, Found, Job, Misplaced, Problem, Span, finishes, measured
from laberinto.core.calendar.reading import critical
from laberinto.core.calendar.settings import Settings
from laberinto.core.calendar.slips import Slips, slips
from laberinto.core.calendar.valid import faults
from laberinto.core.errors import LaberintoError
from laberinto.core.plan.simulate import simulate
from laberinto.core.units import plural
from laberinto.store import BoardView, in_utc

from ...app import present
from ...app.jobs import Job as Search
from .search import best
from .settings import settings

DAYS = 84
"""Days that are looked at."""

GRACE = timedelta(minutes=45)
"""A job that was to begin so long ago and is not ticked yet may be under way; after that it has slipped."""

Kept = tuple[str, str, datetime]
"""A calendar that was kept: of which problem, its data, and when it was found."""

NAME = ("calendar", 0)
"""What the search goes by."""

HELD = {
    Aim.LATE: "with no more days lost than here, ", Aim.SOON: "with all of it ready no later than here, ",
    Aim.EVENINGS: "in no more times in the shop than here, ", Aim.SETUPS: "with no more machine setups than here, ",
}  # fmt: skip
"""What is kept of an aim of which nothing is proven, while the next one is looked after."""


@dataclass(frozen=True, slots=True)
class State:
    """Everything the calendar's pages show. ``best`` says that ``found`` is what the search ended with."""

    settings: Settings
    boards: Mapping[int, BoardView]
    work: Shopwork
    found: Found
    best: bool
    key: str
    search: Search | None
    said: tuple[tuple[int, str], ...]
    slips: Slips
    since: datetime | None
    """When the calendar was found that slips are told from."""

    @property
    def problem(self) -> Problem:
        return self.work.problem

    @property
    def jobs(self) -> dict[str, Job]:
        """Jobs by their names."""
        return self.problem.by_id()

    @property
    def ready(self) -> dict[int, int]:
        """When each board is ready."""
        return finishes(self.problem, self.found.starts)

    @property
    def late(self) -> list[int]:
        """Boards that are not ready by their day."""
        return [board for board, end in self.ready.items() if end > self.problem.due.get(board, end)]

    @property
    def critical(self) -> set[str]:
        """Jobs that may not slip."""
        return critical(self.problem, self.found.starts)

    @property
    def latest(self) -> dict[str, int]:
        """By when each job must be begun for the promised day."""
        return latest_starts(self.problem, self.problem.due)

    @property
    def searching(self) -> bool:
        """Whether it is looked for."""
        return self.search is not None and self.search.running

    @property
    def wanted(self) -> bool:
        """Whether the best calendar is still to be looked for; one that could not be found is not looked for again."""
        if self.best or self.searching:
            return False
        return self.search is None or self.search.asked["key"] != self.key or self.search.result is not None

    def moment(self, minute: int) -> datetime:
        """A minute of the calendar on the shop's clock."""
        return self.work.open.moment(minute)

    @property
    def verdict(self) -> str:
        """How good it is, in words that are proven."""
        if not self.best:
            return "A first calendar; a better one is being looked for." if self.searching else "A first calendar."
        return proof(self.found, self.settings.aims[:2])


def proof(found: Found, aims: Sequence[Aim]) -> str:
    """What is proven of a calendar by these aims, in words: of each but the first with those before it kept."""
    said: list[str] = []
    for at, aim in enumerate(aims):
        given = "" if at == 0 else "with that, " if said else HELD[aims[at - 1]]
        if words := _proven(found, aim, given):
            said.append(words)
    words = "; ".join(said)
    return f"{words[:1].upper()}{words[1:]}." if said else "The best that was found."


def _proven(found: Found, aim: Aim, given: str) -> str:
    if aim is Aim.LATE and not found.values[aim]:
        return "nothing is late"
    if found.proven(aim):
        return {
            Aim.LATE: f"proven: {given}the days lost cannot be fewer in all",
            Aim.SOON: f"proven: {given}all of it cannot be ready sooner",
        }.get(aim, "")
    if aim is Aim.SOON and aim in found.bounds:
        short = found.values[aim] - found.bounds[aim]
        return f"{given}all of it is ready at most {span_words(short)} later than the soonest there can be"
    return ""


def span_words(minutes: int) -> str:
    """A span in hours, or in days where it is long."""
    hours = round(minutes / 60)
    return plural(hours, "hour") if hours < 36 else f"{round(hours / 24)} days"


def state(now: datetime | None = None) -> State:
    """The calendar of this moment. What was found last is shown as long as it can be worked by; else a plain one, and
    the page asks for a search."""
    now = now or datetime.now(UTC)
    store = present.store()
    mine = settings(store)
    boards, works, said = works_of()
    hours = opened(mine.week, now, DAYS, mine.clock)
    pins = store.calendar.pins()
    work = assemble(works, present.shop(), hours, pins, present.lengths())
    key = _key(work, mine, pins)
    last = store.calendar.found()
    kept = _kept(last, key, work, _since(work.open, opened(mine.week, now - GRACE, DAYS + 1, mine.clock)))
    search, so_far = present.jobs().get(NAME), None
    if kept is None and work.problem.jobs:
        so_far = search.best if search is not None and search.asked["key"] == key else None
    found, best_of = kept or so_far or work.plain, kept is not None or not work.problem.jobs
    slipped, since = _slipped(work, found, last if kept is None else None)
    return State(mine, boards, work, found, best_of, key, search, (*said, *work.said), slipped, since)


def _slipped(work: Shopwork, found: Found, last: Kept | None) -> tuple[Slips, datetime | None]:
    """What slipped since the calendar that was worked by before today: the ``last`` one where it does not hold any
    more and is of an earlier day, or is the first of all."""
    before, at = present.store().calendar.before(), work.open.minute
    base = (last[1], last[2]) if last is not None and (before is None or at(last[2]) < 0) else before
    data = json.loads(base[0]) if base else {}
    if base is None or "ends" not in data:  # none yet, or found by an older Laberinto
        return Slips(), None

    def read(pairs: Mapping[str, str]) -> dict[str, int]:
        return {name: at(datetime.fromisoformat(moment)) for name, moment in pairs.items()}

    ready = {int(board): end for board, end in read(data["ready"]).items()}
    return slips(work.problem, found, read(data["ends"]), ready, at(datetime.now(UTC) - GRACE)), base[1]


def _since(now: Open, then: Open) -> tuple[Span, ...]:
    """The open hours from an earlier moment on, which may lie on the day before, in the minutes of this one."""
    by = now.minute(then.origin)
    return tuple((low + by, high + by) for low, high in then.windows)


def works_of(also: Collection[int] = ()) -> tuple[dict[int, BoardView], list[Work], tuple[tuple[int, str], ...]]:
    """Boards on the bench that are begun or promised and not handed over, and ``also`` these; what cannot be built is
    said."""
    store = present.store()
    ticks, counted = store.shelf.ticks(), store.bench.tallies()
    timers: dict[int, dict[str, datetime]] = {}
    for timer in store.bench.timers():
        if timer.board is not None:
            timers.setdefault(timer.board, {})[timer.label] = timer.ends
    boards, works, said = {}, [], []
    for board in sorted(store.boards(), key=lambda board: board.id):
        if board.id not in also and (board.handed or (board.id not in ticks and board.due is None)):
            continue
        boards[board.id] = board
        try:
            sim = simulate(board.plan)
        except LaberintoError as error:
            said.append((board.id, error.say(present.lengths())))
            continue
        due = in_utc(board.due) if board.due else None
        works.append(Work(
            board.id, board.name, sim, ticks.get(board.id, {}), due, counted.get(board.id, {}), timers.get(board.id, {})
        ))  # fmt: skip
    return boards, works, tuple(said)


def _key(work: Shopwork, mine: Settings, pins: Mapping[str, datetime]) -> str:
    """Tells whether a calendar is of this problem, at whatever moment of whatever day it is asked for."""
    at = work.open
    jobs = [
        (j.id, j.minutes, j.after, j.held, j.hold, j.then, j.machine, j.setup,
         at.moment(j.earliest).astimezone(UTC).isoformat() if j.earliest else "")
        for j in work.problem.jobs
    ]  # fmt: skip
    due = {board: at.moment(end).astimezone(UTC).isoformat() for board, end in work.problem.due.items()}
    said = repr((jobs, work.problem.means, due, mine.typed, sorted(pins.items())))
    return hashlib.blake2b(said.encode(), digest_size=12).hexdigest()


def _kept(kept: Kept | None, key: str, work: Shopwork, since: tuple[Span, ...]) -> Found | None:
    """What was found last, if it is of this problem and can still be worked by."""
    if kept is None or kept[0] != key:
        return None
    data = json.loads(kept[1])
    starts = {name: work.open.minute(datetime.fromisoformat(at)) for name, at in data["starts"].items()}
    lost = tuple(Misplaced(*one) for one in data["lost"])
    problem = work.problem
    early = Problem(
        tuple(j if j.id not in work.begun else replace(j, fixed=None) for j in problem.jobs), since,
        tuple(range(len(since))), problem.means, problem.due, problem.busy,
    )  # fmt: skip
    if set(starts) | {one.job for one in lost} != set(problem.by_id()) or faults(early, starts):
        return None
    bounds = {Aim(aim): low for aim, low in data["bounds"].items()}
    moved = work.open.minute(datetime.fromisoformat(data["origin"]))
    if Aim.SOON in bounds:
        bounds[Aim.SOON] += moved
    return Found(starts, lost, measured(problem, starts), bounds)


def begin(it: State) -> None:
    """Look for the best calendar, and keep it."""
    store, work, key = present.store(), it.work, it.key

    def look(search: Search) -> Found:
        found: Found = search.apart(best, work.problem, it.settings.aims)
        at, jobs = work.open.moment, work.problem.by_id()
        ends = {name: at(start + jobs[name].minutes).isoformat() for name, start in found.starts.items()}
        ready = {board: at(end).isoformat() for board, end in finishes(work.problem, found.starts).items()}
        store.calendar.keep(key, json.dumps({
            "origin": at(0).isoformat(), "starts": {name: at(start).isoformat() for name, start in
            found.starts.items()}, "lost": [(one.job, one.why) for one in found.misplaced],
            "bounds": {aim.value: low for aim, low in found.bounds.items()},
            "ends": ends, "ready": ready,
        }), at(0).astimezone(UTC))  # fmt: skip
        return found

    present.jobs().start(NAME, {"key": key}, look)
