"""Drawings that were shown and may be asked for again: drawing them is most of what a list or the steps cost."""

from __future__ import annotations

import sys
from collections.abc import Callable, Hashable, Sized
from threading import Lock
from typing import Any, TypeVar
from weakref import ref

from cachetools import LRUCache
from markupsafe import Markup

from laberinto.core.geometry.faces import Side, face_of
from laberinto.core.plan.simulate import Simulation
from laberinto.core.solid.memo import Memo, UnderWay
from laberinto.drawing.board import thumbnail
from laberinto.drawing.skin import Ringed
from laberinto.store import BoardView

from . import present

T = TypeVar("T", bound=Sized)

ROOM = 16_000_000
"""Bytes of drawings that are kept; the one not asked for longest goes first."""


class The:
    """A thing as a key: that very thing, not what equals it."""

    __slots__ = ("_it",)

    def __init__(self, it: object) -> None:
        self._it = it

    def __eq__(self, other: object) -> bool:
        return isinstance(other, The) and other._it is self._it

    def __hash__(self) -> int:
        return id(self._it)


class _Of:
    """A memo as a key, which does not keep it: what belongs to one that is gone is never found again."""

    __slots__ = ("_hash", "_memo")

    def __init__(self, memo: Memo) -> None:
        self._memo, self._hash = ref(memo), id(memo)

    def __eq__(self, other: object) -> bool:
        return self is other or (isinstance(other, _Of) and self._memo() is not None and other._memo() is self._memo())

    def __hash__(self) -> int:
        return self._hash


def _room(drawn: Sized) -> int:
    """Bytes that a drawing takes: text with one sign of another script takes twice as many as it has letters."""
    return sys.getsizeof(drawn) if isinstance(drawn, str) else len(drawn)


_kept: LRUCache[Hashable, Any] = LRUCache(ROOM, _room)
_lock = Lock()
_under_way = UnderWay()


def kept(sim: Simulation, *key: Hashable, draw: Callable[[], T]) -> T:
    """What ``draw`` gives, drawn once for one build and ``key``, which names all else that the drawing depends on."""
    at = (_Of(sim.memo), *key)

    def find() -> T | None:
        with _lock:
            found: T | None = _kept.get(at)
        return found

    def make() -> T:
        made = draw()
        with _lock:
            if _room(made) <= ROOM:
                _kept[at] = made
        return made

    return _under_way.share(at, find, make)


def small_face(board: BoardView, sim: Simulation, label: str | None = None) -> Markup:
    """The face of a board for a list, with another ``label`` where its name stands beside it. Each list shows a board
    once, so its number tells its gradients apart."""
    finish = present.preference("finish")
    label = f"The face of {board.name}" if label is None else label

    def draw() -> Markup:
        return Markup(thumbnail(face_of(sim.whole(), Side.TOP), Ringed(sim, f"b{board.id}", finish), label=label))

    return kept(sim, "small face", board.id, finish, label, draw=draw)
