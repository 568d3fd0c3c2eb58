"""What is being typed is worked out before the hand leaves the field, so that it waits less for the answer.

Only the last plan that somebody typed at is wanted: one that is overtaken is given up between two of its stages.
Nothing of it is kept but where an edit looks for what was worked out before: there it is found, or waited for.
"""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from laberinto.core.plan.model import Plan
from laberinto.core.plan.simulate import Simulation, prepare

from .latest import Latest
from .turns import TURNS

Then = Callable[[Simulation], object]


class Ahead(Latest[tuple[Plan, Then]]):
    """At most one plan is worked out ahead at a time."""

    def want(self, plan: Plan, then: Then) -> None:
        """Work this plan out next, and what else an edit that comes to it needs of it."""
        self.next((plan, then))

    def drop(self, but: Plan) -> None:
        """Only this plan is still wanted, if it is the one."""
        with self.lock:
            if self.wanted is not None and self.wanted[0] != but:
                self.wanted = None

    def work(self, wanted: tuple[Plan, Then]) -> None:
        plan, then = wanted
        with TURNS.first():
            sim = prepare(plan, partial(self.still, wanted))
            if sim is not None:
                then(sim)


AHEAD = Ahead()
