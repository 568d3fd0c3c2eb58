"""Edits to the woods of a whole plan."""

from __future__ import annotations

from typing import Any

from ..errors import InputError
from ..fields import specs
from ..plan.model import Plan
from ..stages import Mill, Stage
from ..woods import LIBRARY
from .model import Edit


def used(plan: Plan) -> list[str]:
    """Keys of all woods a plan asks for, by name."""
    found = set(plan.strip_woods)
    for stage in plan.stages:
        found |= {str(getattr(stage, spec.name)) for spec in specs(type(stage)) if spec.kind == "wood"} - {"None"}
    return sorted(found, key=lambda key: LIBRARY[key].name if key in LIBRARY else key)


def letters(plan: Plan) -> dict[str, str]:
    """The palette of a plan: A, B, C and so on, for its woods by name."""
    return {chr(ord("A") + i): key for i, key in enumerate(used(plan)[:26])}


def _in_another_wood(stage: Stage, old: str, new: str) -> Stage:
    changes: dict[str, Any] = {
        spec.name: new for spec in specs(type(stage)) if spec.kind == "wood" and getattr(stage, spec.name) == old
    }
    if isinstance(stage, Mill):
        anew = {"wood": new, "rings": None}
        changes["strips"] = tuple(s.model_copy(update=anew) if s.wood == old else s for s in stage.strips)
    return stage.model_copy(update=changes)


def replace_wood(plan: Plan, old: str, new: str) -> Edit:
    """Put one wood in the place of another throughout; ring positions that go with the wood are drawn anew."""
    if old not in used(plan):
        raise InputError(f"There is no {old} in this board.", "old")
    named = LIBRARY.require(new, "new")
    if old == new:
        return Edit(plan, "")
    stages = [_in_another_wood(stage, old, named.key) for stage in plan.stages]
    before = LIBRARY[old].name if old in LIBRARY else old
    return Edit(plan.with_stages(stages), f"{before} → {named.name.lower()} throughout")
