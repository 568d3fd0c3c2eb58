"""What is worked out in a process of its own: a picture with fewer panels."""

from __future__ import annotations

from collections.abc import Collection

from laberinto.core.picture import Fewer, Picture, with_at_most

from ...app.workshop import Tell


def fewer_panels(picture: Picture, most: int, keep: Collection[tuple[int, int]], tell: Tell) -> Fewer:
    """The picture with at most so many panels; ``tell`` hears how many cells are changed so far."""
    return with_at_most(picture, most, keep, tell=lambda changed: tell(0.0, changed))
