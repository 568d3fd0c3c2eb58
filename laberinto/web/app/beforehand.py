"""What is likely asked for next is answered before it is asked for, while the server rests.

An answer is given once, and only where nobody has saved anything since it was made.
"""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Callable, Hashable, Sequence
from time import sleep
from typing import TypeVar

from .latest import Latest
from .turns import TURNS

Page = TypeVar("Page", bound=Hashable)
Answer = TypeVar("Answer")

REST = 0.15
"""So long after an answer its page is on show, s: what is made before would keep it from being painted."""

KEPT = 6
"""So many answers are kept, the oldest forgotten first."""


class Beforehand(Latest[tuple[Sequence[Page], Callable[[Page], Answer | None]]]):
    """Answers by the page they are for. ``state`` is another one as soon as anything was saved."""

    def __init__(self, state: Callable[[], Hashable], rest: float) -> None:
        super().__init__()
        self._state, self._pause = state, rest
        self._made: OrderedDict[Page, tuple[Hashable, Answer]] = OrderedDict()

    def want(self, pages: Sequence[Page], make: Callable[[Page], Answer | None]) -> None:
        """Make these next, the likeliest first; what was wanted before is wanted no more. ``make`` must read what it
        shows when it is called, as something may be saved before that; None where there is nothing to show."""
        self.next((pages, make))

    def take(self, page: Page) -> Answer | None:
        """The answer for a page, if there is one that is still true."""
        with self.lock:
            made = self._made.pop(page, None)
        return made[1] if made is not None and made[0] == self._state() else None

    def work(self, wanted: tuple[Sequence[Page], Callable[[Page], Answer | None]]) -> None:
        sleep(self._pause)
        pages, make = wanted
        for page in TURNS.between(pages):
            if not self.still(wanted):
                return
            state = self._state()
            answer = make(page)
            if answer is not None:
                self._keep(page, state, answer)

    def _keep(self, page: Page, state: Hashable, answer: Answer) -> None:
        with self.lock:
            self._made[page] = state, answer
            while len(self._made) > KEPT:
                self._made.popitem(last=False)
