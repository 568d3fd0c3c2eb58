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
class Check:
    """One finding: where (stage id), what and why in a sentence, and what to do about it."""

    severity: Severity
    stage: str
    why: str
    fix: str
