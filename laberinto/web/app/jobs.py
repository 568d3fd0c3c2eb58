"""Work that takes longer than an answer may: done in a thread, asked after by its page, and cancelled there."""

from __future__ import annotations

import logging
from collections import OrderedDict
from collections.abc import Callable, Iterable
from dataclasses import dataclass, field
from threading import Event, Lock, Thread
from time import sleep
from typing import Any

from laberinto.core.errors import LaberintoError
from laberinto.core.plan.model import Plan
from laberinto.core.plan.simulate import at_hand, attempt
from laberinto.core.units import parse_whole

from .workshop import apart

log = logging.getLogger(__name__)

KEPT = 16
"""Jobs that are remembered, the oldest forgotten first."""

MOST_SEED = 999_999
"""Largest seed of a search."""

Name = tuple[str, int]
"""What kind of work, and for which board."""

_ONE_AT_A_TIME = Lock()
"""A page that is filled card by card asks for all at once: the first come sooner when each board is cut alone."""

GIVE_WAY = 0.001
"""Between two boards that are warmed, s, so that a card that waits for its own goes first."""


def cut_alone(plan: Plan) -> None:
    """Act out a plan, unless it is at hand, while no other page that is filled card by card does."""
    if not at_hand(plan):
        with _ONE_AT_A_TIME:
            attempt(plan)


def warm_cells(plans: Iterable[Plan]) -> None:
    """Act out plans that will be asked for in a moment, in their order, while the page that will ask still loads."""

    def cut() -> None:
        for plan in plans:
            cut_alone(plan)  # what fails is kept to its plan by ``attempt``
            sleep(GIVE_WAY)

    Thread(target=cut, name="warming", daemon=True).start()


AT_WORK = 2
"""So many jobs work side by side; the others wait for their turn."""


@dataclass
class Job:
    """One piece of work. ``share`` is how much is done, ``best`` what there is so far, ``result`` what came of it, and
    ``before`` how many wait for their turn before it, None once it is at work."""

    name: Name
    asked: dict[str, Any]
    share: float = 0.0
    best: Any = None
    result: Any = None
    error: LaberintoError | None = None
    failed: bool = False
    before: int | None = None
    done: Event = field(default_factory=Event)
    enough: Event = field(default_factory=Event)
    """Set by who wants what it has so far."""
    cancelled: Event = field(default_factory=Event)
    """Set by who wants nothing of it any more."""

    @property
    def running(self) -> bool:
        """Whether it is still at work."""
        return not self.done.is_set()

    @property
    def words(self) -> str:
        """How far it is, or how many go first."""
        if self.before is None:
            return f"{round(self.share * 100)} % done"
        return f"waiting for its turn, {self.before} before it" if self.before else "waiting for its turn, the next"

    def tell(self, share: float, best: Any = None) -> bool:
        """Note how far it is; whether to go on."""
        self.share, self.best = share, best if best is not None else self.best
        return not self.ending

    @property
    def ending(self) -> bool:
        """Whether it is to come to an end."""
        return self.enough.is_set() or self.cancelled.is_set()

    def apart(self, work: Callable[..., Any], *given: Any) -> Any:
        """Do work in a process of its own. Who says that it is enough gets what it has, once it comes to that; who
        calls it off waits for nothing."""
        return apart(work, *given, tell=self.tell, patient=lambda: not self.cancelled.is_set())


class Jobs:
    """The work under way; one of each name at a time."""

    def __init__(self) -> None:
        self._jobs: OrderedDict[Name, Job] = OrderedDict()
        self._waiting: list[tuple[Job, Callable[[Job], Any]]] = []
        self._at_work = 0
        self._lock = Lock()

    def start(self, name: Name, asked: dict[str, Any], work: Callable[[Job], Any], *, in_turn: bool = True) -> Job:
        """Begin when it is its turn; what went on under this name is cancelled. What a person's hand holds and lets go
        of is not ``in_turn``: it begins at once and takes nobody's place."""
        job = Job(name, asked)
        with self._lock:
            before = self._jobs.pop(name, None)
            if before is not None:
                before.cancelled.set()
            self._jobs[name] = job
            while len(self._jobs) > KEPT:
                self._jobs.popitem(last=False)[1].cancelled.set()
            if in_turn:
                self._waiting.append((job, work))
                self._call_next()
        if not in_turn:
            Thread(target=_do, args=(job, work), name=f"job {name}", daemon=True).start()
        return job

    def _call_next(self) -> None:
        """Let those begin whose turn it is; the lock is held."""
        waiting: list[tuple[Job, Callable[[Job], Any]]] = []
        for job, work in self._waiting:
            if job.ending:
                job.done.set()
            elif self._at_work < AT_WORK:
                self._at_work += 1
                job.before = None
                Thread(target=self._in_turn, args=(job, work), name=f"job {job.name}", daemon=True).start()
            else:
                job.before = len(waiting)
                waiting.append((job, work))
        self._waiting = waiting

    def _in_turn(self, job: Job, work: Callable[[Job], Any]) -> None:
        try:
            _do(job, work)
        finally:
            with self._lock:
                self._at_work -= 1
                self._call_next()

    def get(self, name: Name) -> Job | None:
        """The job of a name, None where there is none."""
        with self._lock:
            return self._jobs.get(name)

    def drop(self, name: Name) -> None:
        """Cancel and forget."""
        with self._lock:
            job = self._jobs.pop(name, None)
            if job is not None:
                job.cancelled.set()
                self._call_next()


def _do(job: Job, work: Callable[[Job], Any]) -> None:
    try:
        job.result = work(job)
    except LaberintoError as error:
        job.error = None if job.cancelled.is_set() else error
    except Exception:
        log.exception("job %s failed", job.name)
        job.failed = True
    finally:
        job.done.set()


def seed_of(text: str) -> int:
    """A typed seed; raises InputError where it is none."""
    return parse_whole(text, 0, MOST_SEED, "seed")
