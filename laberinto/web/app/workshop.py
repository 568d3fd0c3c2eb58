"""Heavy work in a process of its own: what it takes is given back when it ends, and it ends at once when it is told to.

Each piece of work gets a fresh process from a server that has loaded what they need already, so starting one takes a
hundredth of a second and none grows old.
"""

from __future__ import annotations

import os
import resource
from collections.abc import Callable
from contextlib import suppress
from multiprocessing import get_context
from multiprocessing.connection import Connection
from threading import Lock
from time import monotonic
from typing import Any

from laberinto.core.errors import LaberintoError
from laberinto.core.woods import LIBRARY, Wood

MOST_MEMORY = 3_000_000_000
"""Bytes of one process; what needs more fails, and nothing else does."""

LISTEN = 0.1
"""Seconds between two looks whether to go on."""

PATIENCE = 0.6
"""Seconds that work may take to come to an end by itself, with what it has, once it was told to."""

EVERY = 0.05
"""Seconds between two words on how far it is, where nothing better was found."""

NICE = 10
"""How far it stands back behind the pages that somebody waits for."""

PRELOADED = ["weasyprint", "ortools.sat.python.cp_model", "laberinto.web"]

_CONTEXT = get_context("forkserver")
_CONTEXT.set_forkserver_preload(PRELOADED)

Tell = Callable[..., bool]
"""Called with the share that is done and, where there is one, the best so far; answers whether to go on."""


class GoneError(LaberintoError):
    """The work was told to end, or its process ended by itself."""


def apart(
    work: Callable[..., Any], *arguments: Any, tell: Tell, patient: Callable[[], bool] = lambda: False
) -> Any:  # fmt: skip
    """What ``work(*arguments, tell)`` returns, done in another process that knows the same woods; all of it must be
    picklable. ``tell`` hears how far it is and what it has so far, and says whether to go on: work that is told to end
    may still return what it has, if that takes no time, or as long as one is ``patient``.

    Raises what ``work`` raised, and GoneError where it was told to end and did not, or took more memory than it may.
    """
    here, there = _CONTEXT.Pipe()
    given = (there, tuple(LIBRARY.own.values()), work, arguments)
    process = _CONTEXT.Process(target=_do, args=given, daemon=True)
    process.start()
    there.close()
    share, best, told = 0.0, None, 0.0
    try:
        while True:
            if here.poll(LISTEN):
                kind, value = here.recv()
                if kind == "failed":
                    raise value
                if kind == "done":
                    return value
                share, best = value[0], best if value[1] is None else value[1]
            if tell(share, best):
                continue
            if not told:
                told = monotonic()
                with suppress(OSError):  # it is done meanwhile
                    here.send("end")
            elif monotonic() > told + PATIENCE and not patient():
                raise GoneError("It was called off.")
    except EOFError:
        process.join()
        raise GoneError(
            f"It ended before it was done ({process.exitcode}); it may have taken too much memory."
        ) from None
    finally:
        if process.is_alive():
            process.terminate()
        process.join()
        here.close()


class Telling:
    """Tells whoever started the work how far it is, not more often than anybody wants to know."""

    def __init__(self, line: Connection) -> None:
        self._line, self._lock = line, Lock()
        self._said, self._best, self._going = 0.0, None, True

    def __call__(self, share: float, best: Any = None) -> bool:
        with self._lock:  # a solver calls from threads of its own
            news = best is not None and best != self._best
            if news or monotonic() > self._said + EVERY:
                try:
                    self._line.send(("share", (share, best if news else None)))
                    self._going = self._going and not self._line.poll()
                except ConnectionError:  # whoever asked is gone
                    self._going = False
                self._said, self._best = monotonic(), best
            return self._going


def _do(line: Connection, own: tuple[Wood, ...], work: Callable[..., Any], arguments: tuple[Any, ...]) -> None:
    os.nice(NICE)
    resource.setrlimit(resource.RLIMIT_AS, (MOST_MEMORY, MOST_MEMORY))
    LIBRARY.take_in(own)
    try:
        result = work(*arguments, Telling(line))
    except Exception as error:
        told = "failed", error if isinstance(error, LaberintoError) else RuntimeError(repr(error))
    else:
        told = "done", result
    with suppress(ConnectionError):  # whoever asked is gone
        line.send(told)
    line.close()


def ready() -> None:
    """Start what processes come from, while nobody waits."""
    apart(_nothing, tell=lambda *_: True)


def _nothing(_tell: Tell) -> None:
    """No work."""
