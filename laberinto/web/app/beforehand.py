"""What is likely asked for next is answered before it is asked for, while the server rests.

An answer is given once, and only where nobody has saved anything since it was made.
"""

from __future__ import annotations

import logging
from collections import OrderedDict
from collections.abc import Callable, Hashable, Sequence
from threading import Lock, Thread
from time import sleep
from typing import Generic, TypeVar

from .turns import TURNS

log = logging.getLogger(__name__)

Page = TypeVar("Page", bound=Hashable)
Answer = TypeVar("Answer")

REST = 0.15
"""So long after an answer its page is on show, s: what is made before would keep it from being painted."""

KEPT = 6
"""So many answers are kept, the oldest forgotten first."""


class Beforehand(Generic[Page, Answer]):
    """Answers by the page they are for. ``state`` is another one as soon as anything was saved."""

    def __init__(self, state: Callable[[], Hashable], rest: float = REST) -> None:
        self._state, self._rest = state, rest
        self._made: OrderedDict[Page, tuple[Hashable, Answer]] = OrderedDict()
        self._wanted: tuple[Sequence[Page], Callable[[Page], Answer | None]] | None = None
        self._thread: Thread | None = None
        self._lock = Lock()

    def want(self, pages: Sequence[Page], make: Callable[[Page], Answer | None]) -> None:
        """Make these next, the likeliest first; what was wanted before is wanted no more. ``make`` must read what it
        shows when it is called, as something may be saved before that; None where there is nothing to show."""
        with self._lock:
            self._wanted = pages, make
            if self._thread is None:
                self._thread = Thread(target=self._work, name="beforehand", daemon=True)
                self._thread.start()

    def take(self, page: Page) -> Answer | None:
        """The answer for a page, if there is one that is still true."""
        with self._lock:
            made = self._made.pop(page, None)
        return made[1] if made is not None and made[0] == self._state() else None

    def settled(self) -> None:
        """Wait until nothing is made any more."""
        thread = self._thread
        if thread is not None:
            thread.join()

    def _work(self) -> None:
        while True:
            with self._lock:
                wanted, self._wanted = self._wanted, None
                if wanted is None:
                    self._thread = None
                    return
            sleep(self._rest)
            pages, make = wanted
            for page in TURNS.between(pages):
                if self._wanted is not None:
                    break
                try:
                    state = self._state()
                    answer = make(page)
                except Exception:
                    log.exception("a page could not be made beforehand")
                    break
                if answer is None:
                    continue
                with self._lock:
                    self._made[page] = state, answer
                    while len(self._made) > KEPT:
                        self._made.popitem(last=False)
