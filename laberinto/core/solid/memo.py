"""What was worked out once from something that does not change."""

from __future__ import annotations

from collections.abc import Callable, Hashable
from threading import Event, Lock, RLock
from typing import Any, TypeVar

T = TypeVar("T")


class Memo:
    """Results of functions, each kept under the function itself, so that no two can take each other's place."""

    __slots__ = ("__weakref__", "_kept", "_latest", "_lock")

    def __init__(self) -> None:
        self._kept: dict[tuple[Callable[..., Any], Hashable], Any] = {}
        self._latest: dict[Callable[..., Any], tuple[tuple[Hashable, Any], ...]] = {}
        self._lock = RLock()

    def once(self, work: Callable[..., T], *given: Any, key: Hashable = None) -> T:
        """What ``work(*given)`` gives, worked out the first time. ``given`` must follow from what the memo belongs to,
        and from ``key``."""
        at = (work, key)
        if at not in self._kept:
            self._kept[at] = work(*given)
        found: T = self._kept[at]
        return found

    def latest(self, work: Callable[..., T], *given: Any, key: Hashable) -> T:
        """The same, where ``key`` takes ever new values (a shop's settings, what is ticked): only what was asked for
        last is kept, and what was before it. Who asks while it is worked out waits for it."""
        with self._lock:
            kept = self._latest.get(work, ())
            for of, value in kept:
                if of == key:
                    same: T = value
                    return same
            found = work(*given)
            self._latest[work] = ((key, found), *kept[:1])
            return found


class UnderWay:
    """Work of which no two threads do the same: who asks for what another is at waits for it."""

    def __init__(self) -> None:
        self._events: dict[Hashable, Event] = {}
        self._lock = Lock()

    def share(self, key: Hashable, find: Callable[[], T | None], make: Callable[[], T]) -> T:
        """What ``find`` finds; where that is nothing what ``make`` makes, and keeps where ``find`` looks. Where that
        fails, or was not kept, each who waited makes it for itself."""
        while True:
            with self._lock:
                found = find()
                if found is not None:
                    return found
                other = self._events.get(key)
                if other is None:
                    mine = self._events[key] = Event()
                    break
            other.wait()
        try:
            return make()
        finally:
            with self._lock:
                del self._events[key]
            mine.set()
