"""What is being typed is worked out before the hand leaves the field, and after a small step the next one before it is
taken, so that a hand waits less for the answer.

Only the last plan is wanted: one that is overtaken is given up at once.
Nothing of it is kept but where an edit looks for what was worked out before: there it is found, or waited for.
"""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from itertools import repeat
from time import monotonic, sleep

from laberinto.core.plan.model import Plan
from laberinto.core.plan.simulate import Simulation, prepare
from laberinto.core.wanted import go_on, while_wanted

from .latest import Latest
from .turns import TURNS, Rank

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
        with TURNS.first(), while_wanted(partial(self.still, wanted)):
            _work_out(*wanted)


class Onward(Ahead):
    """What likely comes next, between pages and ``rest`` s after the last one, so that this one is painted first."""

    def __init__(self, rest: float) -> None:
        super().__init__()
        self._rest = rest
        self._from = 0.0

    def want(self, plan: Plan, then: Then) -> None:
        self._from = monotonic() + self._rest
        super().want(plan, then)

    def work(self, wanted: tuple[Plan, Then]) -> None:
        sleep(max(self._from - monotonic(), 0.0))
        turns = TURNS.between(repeat(None), Rank.NEXT)
        with TURNS.first(Rank.NEXT), while_wanted(partial(self.still, wanted)):
            _work_out(*wanted, partial(next, turns))


def _work_out(plan: Plan, then: Then, between: Callable[[], object] = lambda: None) -> None:
    go_on()
    sim = prepare(plan, between)
    if sim is not None:
        then(sim)


AHEAD = Ahead()
