"""Work that is given up in the midst of it, once nobody wants it any more."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from contextvars import ContextVar


class OvertakenError(BaseException):
    """What was worked out is not wanted any more. No fault, so nothing that keeps faults to itself takes it for one."""


_still: ContextVar[Callable[[], bool] | None] = ContextVar("still", default=None)


@contextmanager
def while_wanted(still: Callable[[], bool]) -> Iterator[None]:
    """What is done in here ends early, and without a word, where it asks ``go_on`` and is not ``still`` wanted."""
    before = _still.set(still)
    try:
        yield
    except OvertakenError:
        pass
    finally:
        _still.reset(before)


def go_on() -> None:
    """Raises OvertakenError where nobody wants what this thread is at; nothing, and next to no time, elsewhere."""
    still = _still.get()
    if still is not None and not still():
        raise OvertakenError
