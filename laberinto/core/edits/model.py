"""An edit: a plan before, a plan after, and what changed in words."""

from __future__ import annotations

from dataclasses import dataclass

from ..plan.model import Plan


@dataclass(frozen=True, slots=True)
class Edit:
    """The plan after the change, and the change as history shows it."""

    plan: Plan
    words: str
