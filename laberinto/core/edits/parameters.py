"""Edits to a stage's plain parameters, from typed text."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from ..errors import InputError
from ..fields import specs
from ..fields.text import parse, shown
from ..plan.model import Plan
from ..plan.subpanels import split
from ..rules.model import SUB_PANELS, Remedy
from ..stages import Stage
from ..units import Lengths
from ..validation import checked
from .model import Edit


def set_parameters(plan: Plan, stage_id: str, typed: Mapping[str, str], lengths: Lengths) -> Edit:
    """Change what differs from what the fields showed; text left alone keeps the exact value behind it.

    Raises InputError for the first field that is wrong.
    """
    stage = plan.stage(stage_id)
    changes: dict[str, Any] = {}
    words: list[str] = []
    for spec in specs(type(stage)):
        if spec.name not in typed:
            continue
        before = shown(spec, getattr(stage, spec.name), lengths)
        if typed[spec.name].strip() == before:
            continue
        changes[spec.name] = parse(spec, typed[spec.name], lengths)
        words.append(f"{spec.label.lower()} {before or '–'} → {typed[spec.name].strip() or '–'}")
    if not changes:
        return Edit(plan, "")
    return Edit(plan.with_stage(_rebuilt(stage, changes)), f"{stage.title}: " + ", ".join(words))


def settle(plan: Plan, remedy: Remedy, lengths: Lengths) -> Edit:
    """The one change that settles a check."""
    stage = plan.stage(remedy.stage)
    if remedy.field == SUB_PANELS:
        return Edit(split(plan, remedy.stage, float(remedy.value)), f"{stage.title}: made as sub-panels")
    spec = next(spec for spec in specs(type(stage)) if spec.name == remedy.field)
    before, after = (shown(spec, v, lengths) for v in (getattr(stage, remedy.field), remedy.value))
    if before == after:
        return Edit(plan, "")
    made = plan.with_stage(_rebuilt(stage, {remedy.field: remedy.value}))
    return Edit(made, f"{stage.title}: {spec.label.lower()} {before or '–'} → {after}")


def put(plan: Plan, stage_id: str, values: Mapping[str, Any], lengths: Lengths) -> Edit:
    """Parameters set to values that were worked out elsewhere; raises InputError where one is not allowed."""
    stage = plan.stage(stage_id)
    by_name = {spec.name: spec for spec in specs(type(stage))}
    words = [
        f"{by_name[name].label.lower()} {shown(by_name[name], getattr(stage, name), lengths) or '–'} → "
        f"{shown(by_name[name], value, lengths)}"
        for name, value in values.items()
        if getattr(stage, name) != value
    ]
    if not words:
        return Edit(plan, "")
    return Edit(plan.with_stage(_rebuilt(stage, dict(values))), f"{stage.title}: {', '.join(words)}")


def _rebuilt(stage: Stage, changes: dict[str, Any]) -> Stage:
    """The stage with changes, validated. Of two that exclude each other the newer wins, and a list goes with the choice
    that asks for it."""
    fields = type(stage).model_fields
    for pair in stage.instead:
        for newer, other in (pair, pair[::-1]):
            if changes.get(newer) and other not in changes:
                changes[other] = fields[other].get_default()
    for name, chooser, answer in stage.drawn:
        if changes.get(name):
            changes[chooser] = answer
        elif chooser in changes and changes[chooser] != answer:
            changes[name] = ()
        elif chooser in changes and not getattr(stage, name):
            label = fields[name].title or name
            raise InputError(f"Type the {label.lower()} first; that makes this choice by itself.", name)
    return checked(type(stage), stage.model_dump() | changes, fallback=next(iter(changes)))
