"""Edits to a stage's plain parameters, from typed text."""

from __future__ import annotations

from collections.abc import Mapping
from enum import StrEnum
from typing import Any

from ..errors import InputError
from ..plan import Plan
from ..rules.model import SUB_PANELS, Remedy
from ..stages import Spec, Stage, specs
from ..subpanels import split
from ..units import Lengths, parse_length, parse_number, parse_whole
from ..validation import checked
from .model import Edit

MOST_TEXT = 400
"""Characters that are read of a list of numbers."""


def shown(spec: Spec, value: Any, lengths: Lengths) -> str:
    """A parameter's value as text in its field; a yes-or-no is "yes" or ""."""
    if value is None:
        return ""
    if spec.kind == "length":
        return lengths.field(float(value))
    if spec.kind == "grits":
        return " ".join(str(grit) for grit in value)
    if spec.kind == "yes-no":
        return "yes" if value else ""
    if isinstance(value, StrEnum):
        return value.value
    return f"{value:g}" if isinstance(value, float) else str(value)


def parse(spec: Spec, text: str, lengths: Lengths) -> Any:
    """The typed ``text`` as a value of this parameter; raises InputError naming the field."""
    text = text.strip()
    if spec.kind == "yes-no":
        return text == "yes"
    if not text:
        if spec.optional:
            return None
        raise InputError(f"{spec.label} is missing.", spec.name)
    if spec.kind == "length":
        least, most = spec.least or 0.0, spec.most or 5000.0
        return parse_length(text, lengths.system, least=least, most=most, zero=least == 0, field=spec.name)
    if spec.kind in ("choice", "wood", "text"):
        if spec.kind == "text" and len(text) > (spec.most or 80):
            raise InputError(f"{spec.label} is longer than {spec.most:g} characters.", spec.name)
        return text
    if spec.kind == "grits":
        try:
            return tuple(parse_whole(part) for part in text[:MOST_TEXT].replace(",", " ").split())
        except InputError:
            raise InputError("Grits are whole numbers with spaces between, like 80 120 180.", spec.name) from None
    number = parse_number(text, spec.name)
    if spec.kind == "count" and number != int(number):
        raise InputError(f"{spec.label} is a whole number.", spec.name)
    if not (spec.least or 0) <= number <= (spec.most or float("inf")):
        raise InputError(f"{spec.label} goes from {spec.least:g} to {spec.most:g}.", spec.name)
    return int(number) if spec.kind == "count" else number


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
    """The stage with changes, validated; a thickness and an amount exclude each other, so the newer wins."""
    if "each_face" in changes and changes["each_face"] is not None and "to" not in changes:
        changes["to"] = None
    elif "to" in changes and changes["to"] is not None and "each_face" not in changes:
        changes["each_face"] = None
    return checked(type(stage), stage.model_dump() | changes, fallback=next(iter(changes)))
