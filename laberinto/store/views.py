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
    order_for: str
    due: datetime | None
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
