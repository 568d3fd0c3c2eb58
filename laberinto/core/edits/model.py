"""An edit: a plan before, a plan after, and what changed in words."""

from __future__ import annotations

from dataclasses import dataclass

from ..plan.model import Plan

LEFT = "left out: "
"""How the history begins to say that pieces were ruined or are kept as spares."""


@dataclass(frozen=True, slots=True)
class Edit:
    """The plan after the change, and the change as history shows it."""

    plan: Plan
    words: str
