"""Who goes first: pages and edits, for which a hand waits; then what likely comes next; then the large drawing; then
small pictures. Pictures are worked out between pages, since what they replace is on show meanwhile, and given up where
nobody waits for them any more."""

from __future__ import annotations

from collections.abc import Collection, Iterable, Iterator
from contextlib import contextmanager
from enum import IntEnum
from threading import Condition
from time import monotonic
from typing import TypeVar

from flask import Flask, g, has_request_context, request

T = TypeVar("T")

PATIENCE = 6.0
"""So long one picture waits for pages in all, s, so that it comes however busy the server is."""


class Rank(IntEnum):
    """What goes before what."""

    PAGE = 0
    NEXT = 1
    DRAWING = 2
    SMALL = 3


class NobodyWaitsError(Exception):
    """Who asked for a picture has left, mostly for a newer one."""


class Turns:
    """Counts what is being answered or painted before others."""

    def __init__(self) -> None:
        self._ahead = dict.fromkeys(Rank, 0)
        self._freed = Condition()

    def change(self, by: int, rank: Rank = Rank.PAGE) -> None:
        with self._freed:
            self._ahead[rank] += by
            if not self._ahead[rank]:
                self._freed.notify_all()

    @contextmanager
    def first(self, rank: Rank = Rank.PAGE) -> Iterator[None]:
        """While this lasts what comes after it waits."""
        self.change(1, rank)
        try:
            yield
        finally:
            self.change(-1, rank)

    def free(self, rank: Rank) -> bool:
        """Whether nothing of an earlier rank is under way."""
        return not any(count for ahead, count in self._ahead.items() if ahead < rank)

    def between(self, parts: Iterable[T], rank: Rank = Rank.DRAWING) -> Iterator[T]:
        """The parts of a picture, each when nothing goes before it."""
        left = PATIENCE
        for part in parts:
            if left > 0 and not self.free(rank):
                began = monotonic()
                with self._freed:
                    self._freed.wait_for(lambda: self.free(rank), left)
                left -= monotonic() - began
            yield part


TURNS = Turns()


def between(parts: Iterable[T], rank: Rank = Rank.DRAWING) -> Iterator[T]:
    """The parts of a picture, each when nothing goes before it. Raises NobodyWaitsError as soon as who asked for it in
    a request has left."""
    left = request.environ.get("waitress.client_disconnected") if has_request_context() else None
    for part in TURNS.between(parts, rank):
        if left is not None and left():
            raise NobodyWaitsError
        yield part


def init(app: Flask, pictures: Collection[str]) -> None:
    """Every request is a page but for those of endpoints that ``pictures`` names, and files as they lie there."""
    others = {*pictures, "static"}
    app.register_error_handler(NobodyWaitsError, lambda _: ("", 204))

    @app.before_request
    def _begun() -> None:
        if request.endpoint not in others:
            g.page = True
            TURNS.change(1)

    @app.teardown_request
    def _ended(_: BaseException | None) -> None:
        if g.pop("page", False):
            TURNS.change(-1)
