"""What is being typed is worked out before the hand leaves the field, so that it waits less for the answer.

Only the last plan that somebody typed at is wanted: one that is overtaken is given up between two of its stages.
Nothing of it is kept but where an edit looks for what was worked out before: there it is found, or waited for.
"""

from __future__ import annotations

import logging
from collections.abc import Callable
from functools import partial
from threading import Lock, Thread

from laberinto.core.plan.model import Plan
from laberinto.core.plan.simulate import Simulation, prepare

log = logging.getLogger(__name__)

Then = Callable[[Simulation], object]


class Ahead:
    """At most one plan is worked out ahead at a time, by a thread that ends with it."""

    def __init__(self) -> None:
        self._wanted: tuple[Plan, Then] | None = None
        self._thread: Thread | None = None
        self._lock = Lock()

    def want(self, plan: Plan, then: Then) -> None:
        """Work this plan out next, and what else an edit that comes to it needs of it."""
        with self._lock:
            self._wanted = plan, then
            if self._thread is None:
                self._thread = Thread(target=self._work, name="ahead", daemon=True)
                self._thread.start()

    def drop(self, but: Plan) -> None:
        """Only this plan is still wanted, if it is the one."""
        with self._lock:
            if self._wanted is not None and self._wanted[0] != but:
                self._wanted = None

    def _still(self, wanted: tuple[Plan, Then]) -> bool:
        return self._wanted is wanted

    def rest(self) -> None:
        """Wait until nothing is worked out any more."""
        thread = self._thread
        if thread is not None:
            thread.join()

    def _work(self) -> None:
        while True:
            with self._lock:
                wanted = self._wanted
                if wanted is None:
                    self._thread = None
                    return
            plan, then = wanted
            try:
                sim = prepare(plan, partial(self._still, wanted))
                if sim is not None:
                    then(sim)
            except Exception:
                log.exception("what was typed could not be worked out ahead")
            with self._lock:
                if self._wanted is wanted:
                    self._wanted = None


AHEAD = Ahead()
