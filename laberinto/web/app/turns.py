"""Who goes first: pages and edits, for which a hand waits. Pictures are worked out between them, since what they
replace is on show meanwhile."""

from __future__ import annotations

from collections.abc import Collection, Iterable, Iterator
from threading import Lock
from time import sleep
from typing import TypeVar

from flask import Flask, g, request

T = TypeVar("T")

GIVE_WAY = 0.002
"""A picture that gives way looks again after so long, s."""

MOST_TIMES = 500
"""So often one picture gives way at most, so that it comes however busy the server is."""


class Turns:
    """Counts the pages that are being answered."""

    def __init__(self) -> None:
        self._pages = 0
        self._lock = Lock()

    def change(self, by: int) -> None:
        with self._lock:
            self._pages += by

    def between(self, parts: Iterable[T]) -> Iterator[T]:
        """The parts of a picture, each when no page is being answered."""
        left = MOST_TIMES
        for part in parts:
            while self._pages and left:
                left -= 1
                sleep(GIVE_WAY)
            yield part


TURNS = Turns()


def init(app: Flask, pictures: Collection[str]) -> None:
    """Every request is a page but for those of endpoints that ``pictures`` names, and files as they lie there."""
    others = {*pictures, "static"}

    @app.before_request
    def _begun() -> None:
        if request.endpoint not in others:
            g.page = True
            TURNS.change(1)

    @app.teardown_request
    def _ended(_: BaseException | None) -> None:
        if g.pop("page", False):
            TURNS.change(-1)
