"""Edits to what is wood already: which stages they change, and what a maker may mean by that."""

from __future__ import annotations

from collections.abc import Collection

from ..plan.model import OFFCUT, Plan
from .model import Edit

CUT = ", of wood that is cut"
"""How the history ends a change of wood that is cut."""


def cut_otherwise(before: Plan, after: Plan, begun: Collection[str]) -> tuple[str, ...]:
    """Stages that are begun and that a change sets otherwise or takes out, in their order."""
    now = {stage.id: stage for stage in after.stages}
    return tuple(stage.id for stage in before.stages if stage.id in begun and now.get(stage.id) != stage)


def marked(before: Plan, edit: Edit, begun: Collection[str], wood: tuple[str, ...]) -> Edit:
    """The edit with words that say so where it changes wood that is cut. What begins like one of ``wood`` tells how
    the wood came out, and changes nothing that was done."""
    if not edit.words or edit.words.startswith(wood) or not cut_otherwise(before, edit.plan, begun):
        return edit
    return Edit(edit.plan, edit.words + CUT)


def from_here(before: Plan, after: Plan, begun: Collection[str]) -> Plan:
    """A change kept only where nothing is cut yet: stages that are begun are as they were. Where it put stages between
    them or took some out it is given up altogether."""
    cut = cut_otherwise(before, after, begun)
    if [stage.id for stage in before.stages] != [stage.id for stage in after.stages]:
        return before
    return after.with_stages(before.stage(stage.id) if stage.id in cut else stage for stage in after.stages)


def anew(plan: Plan, changed: Collection[str]) -> frozenset[str]:
    """Stages to be done again where some are made anew: those, and all that take their wood from them."""
    again = set(changed)
    for stage in plan.stages:
        if any(source.removesuffix(OFFCUT) in again for source in stage.sources):
            again.add(stage.id)
    return frozenset(again)
