"""What a check says."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from enum import StrEnum

Show = Callable[[float], str]
"""Writes a length in mm for reading."""


class Severity(StrEnum):
    """How much it matters: stop before you cut, take care, or just know."""

    STOP = "stop"
    CAUTION = "caution"
    NOTE = "note"


@dataclass(frozen=True, slots=True)
class Remedy:
    """A change that settles a finding: a stage's parameter, its new value (mm for a length), and what a button says."""

    stage: str
    field: str
    value: float | str
    words: str


@dataclass(frozen=True, slots=True)
class Check:
    """One finding: where (stage id), what and why in a sentence, what to do about it, and where one value settles it
    the remedy. ``rule`` is the name of the rule that spoke."""

    severity: Severity
    stage: str
    why: str
    fix: str
    remedy: Remedy | None = None
    rule: str = ""

    @property
    def key(self) -> str:
        """Names the finding for as long as the plan gives rise to it."""
        return f"{self.rule}.{self.stage}"
