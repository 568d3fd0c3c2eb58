"""Heavy work in a process of its own: what it takes is given back when it ends, and it ends at once when it is told to.

Each piece of work gets a fresh process from a server that has loaded what they need already, so starting one takes a
hundredth of a second and none grows old.
"""

from __future__ import annotations

import resource
from collections.abc import Callable
from multiprocessing import get_context
from multiprocessing.connection import Connection
from typing import Any

from laberinto.core.errors import LaberintoError

MOST_MEMORY = 3_000_000_000
"""Bytes of one process; what needs more fails, and nothing else does."""

LISTEN = 0.2
"""Seconds between two looks whether to go on."""

PRELOADED = ["weasyprint", "laberinto.web.screens.steps.pdf"]

_CONTEXT = get_context("forkserver")
_CONTEXT.set_forkserver_preload(PRELOADED)

Tell = Callable[[float], bool]


class GoneError(LaberintoError):
    """The work was told to end, or its process ended by itself."""


def apart(work: Callable[..., Any], *arguments: Any, tell: Tell) -> Any:
    """What ``work(*arguments, tell)`` returns, done in another process; all of it must be picklable. ``tell`` hears the
    share that is done and says whether to go on.

    Raises what ``work`` raised, and GoneError where it was told to end or took more memory than it may.
    """
    here, there = _CONTEXT.Pipe(duplex=False)
    process = _CONTEXT.Process(target=_do, args=(there, work, arguments), daemon=True)
    process.start()
    there.close()
    share = 0.0
    try:
        while True:
            if not here.poll(LISTEN):
                if not tell(share):
                    raise GoneError("It was called off.")
                continue
            kind, value = here.recv()
            if kind == "share":
                share = value
                if not tell(share):
                    raise GoneError("It was called off.")
            elif kind == "failed":
                raise value
            else:
                return value
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


def _do(line: Connection, work: Callable[..., Any], arguments: tuple[Any, ...]) -> None:
    resource.setrlimit(resource.RLIMIT_AS, (MOST_MEMORY, MOST_MEMORY))
    try:
        result = work(*arguments, lambda share: line.send(("share", share)))
    except Exception as error:
        line.send(("failed", error if isinstance(error, LaberintoError) else RuntimeError(repr(error))))
    else:
        line.send(("done", result))
    finally:
        line.close()


def ready() -> None:
    """Start what processes come from, while nobody waits."""
    apart(_nothing, tell=lambda _: True)


def _nothing(_tell: Tell) -> None:
    """No work."""
