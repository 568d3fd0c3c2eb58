"""The process that the servers of tests and all heavy work are split off from: one for all workers of a run, since it
takes ten seconds to read all that is ever needed."""

from __future__ import annotations

import os
from multiprocessing import forkserver

READ = ["tests.browser.preload"]

_known = forkserver._forkserver  # type: ignore[attr-defined]


def begin() -> str:
    """Start it, and give its address."""
    forkserver.set_forkserver_preload(READ)
    forkserver.ensure_running()
    address: str = _known._forkserver_address
    return address


def join(address: str) -> None:
    """Have what this process splits off come from there."""
    _known._forkserver_address = address
    _known._forkserver_alive_fd = os.open(os.devnull, os.O_RDONLY)  # whoever began it says how long it lives
    stay()


def stay() -> None:
    """What was split off knows where from, and yet would start another such process for what it splits off itself."""
    _known.ensure_running = lambda: None
