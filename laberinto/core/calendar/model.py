"""What a calendar is made of: jobs with what they occupy and wait for, the hours in which hands work, and the days
found.

All times are whole minutes from one moment that the caller chooses, and multiples of ``STEP``; so no clock, no zone and
no rounding gets into the reckoning.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from enum import StrEnum

STEP = 5
"""Minutes to which jobs are rounded up and at which they may begin."""

Span = tuple[int, int]
"""From and to, minutes."""


def steps_up(minutes: float) -> int:
    """Minutes rounded up to whole steps."""
    return -int(-round(minutes, 6) // STEP) * STEP


class Aim(StrEnum):
    """What a calendar is to be good at."""

    LATE = "late"
    SOON = "soon"
    EVENINGS = "evenings"
    SETUPS = "setups"

    @property
    def words(self) -> str:
        return {
            "late": "nothing late", "soon": "all of it ready soonest", "evenings": "fewest times in the shop",
            "setups": "fewest machine setups",
        }[self.value]  # fmt: skip


AIMS = tuple(Aim)
"""All of them in the usual order."""


@dataclass(frozen=True, slots=True)
class After:
    """Something that must be over: ``job`` by its id, and how long the wood then waits: ``least`` minutes, of which
    ``spare`` could be cut at a risk, and ``most`` where it must not wait longer."""

    job: str
    least: int = 0
    most: int | None = None
    spare: int = 0


@dataclass(frozen=True, slots=True)
class Held:
    """What a job keeps beside hands: clamps of the usual reach, long ones, and places on the bench."""

    clamps: int = 0
    long: int = 0
    places: int = 0

    def __bool__(self) -> bool:
        return bool(self.clamps or self.long or self.places)


@dataclass(frozen=True, slots=True)
class Job:
    """Work in one go: ``minutes`` of one pair of hands, after which what it ``held`` stays so for ``hold`` minutes
    more.

    ``setup`` names the machine and what it is set to. It begins at ``fixed`` where that is said, and not before
    ``earliest``. ``title`` and ``steps`` (keys of the build's steps) say what is done.
    """

    id: str
    board: int
    stage: str
    title: str
    minutes: int
    after: tuple[After, ...] = ()
    held: Held = Held()
    hold: int = 0
    machine: str = ""
    setup: str = ""
    earliest: int = 0
    fixed: int | None = None
    then: int = 0
    """Minutes that the wood waits afterwards where nothing comes after it: until it may be handed over."""
    steps: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True)
class Busy:
    """What is taken already, from and to."""

    span: Span
    held: Held


@dataclass(frozen=True, slots=True)
class Means:
    """What the shop has of hands, clamps and room, and how many times a day somebody goes out to it."""

    hands: int = 1
    clamps: int = 12
    long: int = 0
    places: int = 4
    trips: int = 3

    def has(self, held: Held) -> bool:
        """Whether there is ever enough."""
        return held.clamps <= self.clamps and held.long <= self.long and held.places <= self.places


@dataclass(frozen=True, slots=True)
class Problem:
    """Everything a calendar must keep to. ``windows`` are the hours in which hands work, in order and apart, ``days``
    to which day each belongs; ``due`` says by when a board is promised; ``busy`` is what earlier jobs still hold."""

    jobs: tuple[Job, ...]
    windows: tuple[Span, ...]
    days: tuple[int, ...]
    means: Means = Means()
    due: Mapping[int, int] = field(default_factory=dict)
    busy: tuple[Busy, ...] = ()

    def by_id(self) -> dict[str, Job]:
        """Its jobs by their names."""
        return {job.id: job for job in self.jobs}

    def of_boards(self) -> dict[int, list[Job]]:
        """The jobs of each board: it is ready when all of them are."""
        found: dict[int, list[Job]] = {}
        for job in self.jobs:
            found.setdefault(job.board, []).append(job)
        return found

    def window_of(self, start: int) -> int | None:
        """In which window a moment lies."""
        return next((at for at, (low, high) in enumerate(self.windows) if low <= start < high), None)


@dataclass(frozen=True, slots=True)
class Misplaced:
    """A job that has no place, and why."""

    job: str
    why: str


@dataclass(frozen=True, slots=True)
class Found:
    """A calendar: when each job begins, what could not be placed, and what it comes to by each aim; ``bounds`` are what
    no calendar can go below, where that was worked out."""

    starts: Mapping[str, int]
    misplaced: tuple[Misplaced, ...] = ()
    values: Mapping[Aim, int] = field(default_factory=dict)
    bounds: Mapping[Aim, int] = field(default_factory=dict)

    def proven(self, aim: Aim) -> bool:
        """Whether none is better by this aim, those before it kept."""
        return aim in self.bounds and self.values[aim] <= self.bounds[aim]


def measured(problem: Problem, starts: Mapping[str, int]) -> dict[Aim, int]:
    """What a calendar comes to: minutes late over all boards, minutes until the last board is ready, windows in which
    somebody works, and setups of machines, one for each window in which it is used."""
    finish = finishes(problem, starts)
    windows, setups = set(), set()
    for job in problem.jobs:
        if job.id not in starts:
            continue
        windows.add(at := problem.window_of(starts[job.id]))
        if job.setup:
            setups.add((at, job.setup))
    return {
        Aim.LATE: sum(max(0, end - problem.due[board]) for board, end in finish.items() if board in problem.due),
        Aim.SOON: max(finish.values(), default=0),
        Aim.EVENINGS: len(windows),
        Aim.SETUPS: len(setups),
    }


def total(problem: Problem, starts: Mapping[str, int]) -> int:
    """Minutes until each board is ready, added up: of two calendars that are ready together the one in which the others
    are ready sooner is better."""
    return sum(finishes(problem, starts).values())


def finishes(problem: Problem, starts: Mapping[str, int]) -> dict[int, int]:
    """When each board that is placed whole is ready, its last wait over."""
    found: dict[int, int] = {}
    for board, jobs in problem.of_boards().items():
        if all(job.id in starts for job in jobs):
            found[board] = max(starts[job.id] + job.minutes + max(job.hold, job.then) for job in jobs)
    return found
