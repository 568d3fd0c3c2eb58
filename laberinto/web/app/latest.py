"""Work on the last thing that was wanted, by a thread that ends when nothing is."""

from __future__ import annotations

import logging
from abc import ABC, abstractmethod
from threading import Lock, Thread
from typing import Generic, TypeVar

log = logging.getLogger(__name__)

W = TypeVar("W")


class Latest(ABC, Generic[W]):
    """At most one thing is worked on at a time; what is overtaken should be given up."""

    def __init__(self) -> None:
        self.wanted: W | None = None
        self.lock = Lock()
        self._thread: Thread | None = None

    @abstractmethod
    def work(self, wanted: W) -> None:
        """Do it, and look now and then whether it is ``still`` wanted. What it raises is told in the log."""

    def still(self, wanted: W) -> bool:
        """Whether this has not been overtaken."""
        return self.wanted is wanted

    def next(self, wanted: W) -> None:
        """Work on this next."""
        with self.lock:
            self.wanted = wanted
            if self._thread is None:
                self._thread = Thread(target=self._run, name=type(self).__name__.lower(), daemon=True)
                self._thread.start()

    def rest(self) -> None:
        """Wait until nothing is worked on any more."""
        thread = self._thread
        if thread is not None:
            thread.join()

    def _run(self) -> None:
        while True:
            with self.lock:
                wanted = self.wanted
                if wanted is None:
                    self._thread = None
                    return
            try:
                self.work(wanted)
            except Exception:
                log.exception("what nobody waits for yet could not be done")
            with self.lock:
                if self.wanted is wanted:
                    self.wanted = None
