"""A parameter's value as the text in its field, and that text as a value."""

from __future__ import annotations

import re
from collections.abc import Sequence
from enum import StrEnum
from typing import Any

from ..errors import InputError
from ..units import Lengths, cut_short, parse_length, parse_number, parse_weight, parse_whole
from .spec import Spec

LISTS = ("lengths", "point", "points", "runs", "turns", "names", "numbers")
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
        return _signed(float(value), lengths)
    if spec.kind == "grits":
        return " ".join(str(grit) for grit in value)
    if spec.kind == "yes-no":
        return "yes" if value else ""
    if spec.kind == "lengths":
        return ", ".join(_signed(v, lengths) for v in value)
    if spec.kind == "point":
        return _points([value], lengths)
    if spec.kind == "points":
        return _points(value, lengths)
    if spec.kind in ("names", "numbers"):
        return ", ".join(map(str, value))
    if spec.kind == "runs":
        return "; ".join(_points(run, lengths) for run in value)
    if spec.kind == "turns":
        return "; ".join(value)
    if isinstance(value, StrEnum):
        return value.value
    if spec.kind == "number" and lengths.scale(spec.unit) != 1:
        return f"{lengths.figure(value, spec.unit):.4g}"
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
    if spec.kind in ("names", "numbers"):
        words = text.replace(",", " ").replace(";", " ").split()
        return tuple(words if spec.kind == "names" else (_place(word, spec) for word in words))

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
        each = tuple(length(part) for part in _COMMA.split(text) if part.strip())
        least, most = spec.least or 0.0, spec.most
        if most is not None and not all(least - 1e-9 <= mm <= most + 1e-9 for mm in each):
            raise InputError(f"{spec.label} go from {lengths.show(least)} to {lengths.show(most)} each.", spec.name)
        return each
    if spec.kind == "point":
        return point(text)
    if spec.kind == "points":
        return tuple(point(part) for part in _COMMA.split(text) if part.strip())
    return tuple(
        tuple(point(part) for part in _COMMA.split(run) if part.strip()) for run in text.split(";") if run.strip()
    )


def _place(word: str, spec: Spec) -> int:
    """A number from 1 in a list of them."""
    try:
        return parse_whole(word, least=1, field=spec.name)
    except InputError:
        raise InputError(
            f"“{cut_short(word)}” is no place. {spec.label} are whole numbers from 1: 3, 6, 9.", spec.name
        ) from None


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
        if least < 0:
            return _either_way(text, spec, lengths)
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


def _either_way(text: str, spec: Spec, lengths: Lengths) -> float:
    """A length that may be negative."""
    back = text.startswith(("-", "−"))
    farthest = max(abs(spec.least or 0.0), spec.most or 0.0)
    mm = parse_length(text.lstrip("-−+ "), lengths.system, most=farthest, zero=True, field=spec.name)
    mm = -mm if back and mm else mm
    if not (spec.least or 0.0) - 1e-9 <= mm <= (spec.most or 0.0) + 1e-9:
        raise InputError(
            f"{spec.label} goes from {lengths.show(spec.least or 0.0)} to {lengths.show(spec.most or 0.0)}.", spec.name
        )
    return mm


def _count(spec: Spec, number: float) -> int:
    if number != int(number):
        raise InputError(f"{spec.label} is a whole number.", spec.name)
    if not (spec.least or 0) <= number <= (spec.most or float("inf")):
        raise InputError(f"{spec.label} goes from {spec.least:g} to {spec.most:g}.", spec.name)
    return int(number)


def _number(spec: Spec, text: str, lengths: Lengths) -> float:
    """A typed figure in this maker's unit as one in the declared unit."""
    unit = lengths.unit(spec.unit)
    if spec.unit == "kg":
        number = parse_weight(text, lengths.system, spec.name)
    else:
        number = lengths.back(parse_number(text, spec.name), spec.unit)
    least, most = spec.least or 0.0, spec.most if spec.most is not None else float("inf")
    if not least - 1e-9 <= number <= most + 1e-9:
        ends = f"{lengths.figure(least, spec.unit):.4g} to {lengths.figure(most, spec.unit):.4g}"
        raise InputError(f"{spec.label} goes from {ends}{'' if unit in ('', '°') else ' '}{unit}.", spec.name)
    return min(max(number, least), most)
