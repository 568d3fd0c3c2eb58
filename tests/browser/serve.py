"""A server in a process split off from the one that has read all code (``preload``)."""

from __future__ import annotations

from multiprocessing import forkserver
from typing import Any

from laberinto.web import serving

from .shelf import shelved


def serve(*given: Any) -> None:
    """Run it; its heavy work comes from the same process, which has read what that needs too."""
    # what was split off knows whom by, and yet would start another of its own
    forkserver._forkserver.ensure_running = lambda: None  # type: ignore[attr-defined]
    serving.create_app = shelved
    serving.run(*given)
