"""How long a browser keeps an answer."""

from __future__ import annotations

from typing import TypeVar

from werkzeug.wrappers import Response

R = TypeVar("R", bound=Response)

A_YEAR = 31_536_000


def for_good(response: R, *, private: bool = False) -> R:
    """Kept for a year and never asked for again: the address names the contents. ``private`` where it shows a board."""
    response.headers["Cache-Control"] = f"{'private' if private else 'public'}, max-age={A_YEAR}, immutable"
    return response
