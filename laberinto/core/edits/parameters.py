"""Edits to a stage's plain parameters, from typed text."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from enum import StrEnum
from typing import Any

from ..errors import InputError
from ..plan import Plan
from ..rules.model import SUB_PANELS, Remedy
from ..stages import Spec, Stage, specs
from ..subpanels import split
from ..units import Lengths, cut_short, parse_length, parse_number, parse_weight, parse_whole
from ..validation import checked
from .model import Edit

LISTS = ("lengths", "points", "runs", "turns")
"""Kinds of parameters that are several values in one field."""

MOST_LIST = 4000
"""Characters that are read of one."""

_COMMA = re.compile(r",\s|,$|\n")
"""Between values: a comma alone may be a decimal."""

_APART = re.compile(r"[x×]", re.I)

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
    if spec.kind == "lengths":
        return ", ".join(_signed(v, lengths) for v in value)
    if spec.kind == "points":
        return _points(value, lengths)
    if spec.kind == "runs":
        return "; ".join(_points(run, lengths) for run in value)
    if spec.kind == "turns":
        return "; ".join(value)
    if isinstance(value, StrEnum):
        return value.value
    if spec.kind == "number" and lengths.scale(spec.unit) != 1:
        return f"{value * lengths.scale(spec.unit):.4g}"
    return f"{value:g}" if isinstance(value, float) else str(value)


def _signed(mm: float, lengths: Lengths) -> str:
    return ("-" if mm < 0 else "") + lengths.field(abs(mm))


def _points(points: Sequence[tuple[float, float]], lengths: Lengths) -> str:
    return ", ".join(f"{_signed(x, lengths)} × {_signed(y, lengths)}" for x, y in points)


def _list(spec: Spec, text: str, lengths: Lengths) -> Any:
    """A typed list; raises InputError that says which part cannot be read."""
    if len(text) > MOST_LIST:
        raise InputError(f"{spec.label} has {len(text)} characters; at most {MOST_LIST} are read.", spec.name)
    if spec.kind == "turns":
        return tuple(" ".join(part.split()) for part in text.split(";") if part.strip())

    def length(part: str) -> float:
        bare = part.strip()
        back = bare.startswith(("-", "−"))
        mm = parse_length(bare.lstrip("-−"), lengths.system, zero=True, field=spec.name)
        return -mm if back else mm

    def point(part: str) -> tuple[float, float]:
        pair = [half for half in _APART.split(part.strip()) if half.strip()]
        if len(pair) != 2:
            raise InputError(
                f"“{cut_short(part.strip())}” is no point. Write two lengths with × between: 48 × 20.", spec.name
            )
        return length(pair[0]), length(pair[1])

    if spec.kind == "lengths":
        return tuple(length(part) for part in _COMMA.split(text) if part.strip())
    if spec.kind == "points":
        return tuple(point(part) for part in _COMMA.split(text) if part.strip())
    return tuple(
        tuple(point(part) for part in _COMMA.split(run) if part.strip()) for run in text.split(";") if run.strip()
    )


def parse(spec: Spec, text: str, lengths: Lengths) -> Any:
    """The typed ``text`` as a value of this parameter; raises InputError naming the field."""
    text = text.strip()
    if spec.kind == "yes-no":
        return text == "yes"
    if spec.kind in LISTS:
        return _list(spec, text, lengths)
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
    if spec.kind == "count":
        return _count(spec, parse_number(text, spec.name))
    return _number(spec, text, lengths)


def _count(spec: Spec, number: float) -> int:
    if number != int(number):
        raise InputError(f"{spec.label} is a whole number.", spec.name)
    if not (spec.least or 0) <= number <= (spec.most or float("inf")):
        raise InputError(f"{spec.label} goes from {spec.least:g} to {spec.most:g}.", spec.name)
    return int(number)


def _number(spec: Spec, text: str, lengths: Lengths) -> float:
    """A typed figure in this maker's unit as one in the declared unit."""
    scale, unit = lengths.scale(spec.unit), lengths.unit(spec.unit)
    if spec.unit == "kg":
        number = parse_weight(text, lengths.system, spec.name)
    else:
        number = parse_number(text, spec.name) / scale
    least, most = spec.least or 0.0, spec.most if spec.most is not None else float("inf")
    if not least - 1e-9 <= number <= most + 1e-9:
        ends = f"{least * scale:.4g} to {most * scale:.4g}"
        raise InputError(f"{spec.label} goes from {ends}{'' if unit in ('', '°') else ' '}{unit}.", spec.name)
    return min(max(number, least), most)


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
