"""A server in a process split off from the one that has read all code (``preload``)."""

from __future__ import annotations

from multiprocessing import forkserver
from typing import Any

from laberinto.web import serving

from .shelf import shelved


def serve(*given: Any) -> None:
    """Run it; its heavy work comes from the process that was started for all."""
    from .preload import HEAVY  # what split this process off has done that already; elsewhere it is not wanted

    workers = forkserver._forkserver  # type: ignore[attr-defined]
    workers._forkserver_address, workers._forkserver_alive_fd = HEAVY
    workers.ensure_running = lambda: None
    serving.create_app = shelved
    serving.run(*given)
