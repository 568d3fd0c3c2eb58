"""A board and a line of its history, as they are read."""

from __future__ import annotations

import re
from dataclasses import dataclass
from datetime import datetime
from enum import StrEnum

from laberinto.core.plan.model import Plan

from .plans import plan_of

VARIANTS = "ABCDEF"
"""Letters under which states of a board can be pinned."""

_WOOD = re.compile(r'"wood":\s*"([a-z][a-z0-9-]*)"')
_FAMILY = re.compile(r'"pattern":\s*\{\s*"family":\s*"([a-z][a-z0-9-]*)"')


class OrderState(StrEnum):
    """How far an order is."""

    ASKED = "asked"
    QUOTED = "quoted"
    AGREED = "agreed"
    HANDED = "handed"
    OFF = "off"

    @property
    def words(self) -> str:
        return {
            "asked": "asked for", "quoted": "quoted", "agreed": "agreed", "handed": "handed over", "off": "called off",
        }[self.value]  # fmt: skip


@dataclass(frozen=True, slots=True)
class OrderView:
    """An order as it stands, and the numbers of its boards. ``due`` is the day that is wished for, which is promised
    once the order is agreed; ``price`` what was agreed, in the shop's money."""

    id: int
    whom: str
    due: datetime | None
    price: float | None
    state: OrderState
    note: str
    created: datetime
    since: datetime
    boards: tuple[int, ...] = ()


class Shelf(StrEnum):
    """Where boards lie: at hand, put away, or removed and not yet gone."""

    BENCH = "bench"
    ARCHIVE = "archive"
    REMOVED = "removed"


@dataclass(frozen=True, slots=True)
class BoardView:
    """A board as it stands: its plan at the head revision, and whether there is something to undo or redo."""

    id: int
    name: str
    order: int | None
    """The order it belongs to."""
    order_for: str
    due: datetime | None
    """The day it is promised for: that of its order, if that is agreed and not handed over."""
    handed: bool
    """Whether its order is handed over."""
    created: datetime
    changed: datetime
    revision: int
    words: str
    text: str
    """The plan as it is kept; ``plan`` reads it when it is asked for."""
    can_undo: bool
    can_redo: bool
    variant: str = ""
    variants: tuple[tuple[str, int], ...] = ()
    """Pinned variants: letter and revision, by letter."""
    archived: datetime | None = None
    removed: datetime | None = None

    @property
    def plan(self) -> Plan:
        """Its plan."""
        return plan_of(self.text)

    @property
    def woods(self) -> set[str]:
        """The woods of its strips, without reading all of the plan: a list of a thousand boards is searched by them."""
        return set(_WOOD.findall(self.text))

    @property
    def family(self) -> str:
        """The pattern it was made from, "" for none; told without reading all of the plan."""
        found = _FAMILY.search(self.text)
        return found[1] if found else ""

    @property
    def shelf(self) -> Shelf:
        """Where it lies."""
        return Shelf.REMOVED if self.removed else Shelf.ARCHIVE if self.archived else Shelf.BENCH

    @property
    def free_letter(self) -> str:
        """The next letter a variant can be pinned under, or ""."""
        taken = {letter for letter, _ in self.variants}
        return next((letter for letter in VARIANTS if letter not in taken), "")


@dataclass(frozen=True, slots=True)
class RevisionView:
    """One line of a board's history."""

    id: int
    words: str
    created: datetime
    is_head: bool
    name: str = ""
    letters: str = ""
    """Variants pinned here."""
