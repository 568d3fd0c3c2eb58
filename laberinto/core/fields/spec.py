"""Parameters of a stage, described once: the model validates by them and every form is drawn from them."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum
from functools import lru_cache
from types import UnionType
from typing import Any, Literal, Union, get_args, get_origin

from pydantic import BaseModel, Field
from pydantic.fields import FieldInfo

from ..units import LONGEST, Lengths

Kind = Literal[
    "length", "count", "number", "choice", "yes-no", "grits", "wood", "text",
    "lengths", "point", "points", "runs", "turns", "names", "numbers",
]  # fmt: skip

ListKind = Literal["lengths", "point", "points", "runs", "turns", "names", "numbers"]


@dataclass(frozen=True, slots=True)
class Spec:
    """One parameter as a form sees it. ``least`` and ``most`` are in mm for a length, and for each in a list."""

    name: str
    label: str
    help: str
    kind: Kind
    least: float | None
    most: float | None
    optional: bool
    choices: tuple[tuple[str, str], ...] = ()
    unit: str = ""


def millimetres(default: Any = ..., *, label: str, help: str, least: float = 0.0, most: float = 5000.0) -> Any:
    """A length in mm from ``least`` to ``most``; ``default`` may be None where the field may be empty."""
    return Field(default, ge=least, le=most, title=label, description=help, json_schema_extra={"kind": "length"})


def whole(default: Any = ..., *, label: str, help: str, least: int = 1, most: int = 400) -> Any:
    """A whole number from ``least`` to ``most``."""
    return Field(default, ge=least, le=most, title=label, description=help, json_schema_extra={"kind": "count"})


def number(default: Any = ..., *, label: str, help: str, least: float, most: float, unit: str = "") -> Any:
    """A plain number with a unit that is not a length."""
    extra: dict[str, Any] = {"kind": "number", "unit": unit}
    return Field(default, ge=least, le=most, title=label, description=help, json_schema_extra=extra)


def choice(default: Any = ..., *, label: str, help: str) -> Any:
    """One of the members of a StrEnum; their words stand in the enum's ``label`` property."""
    return Field(default, title=label, description=help, json_schema_extra={"kind": "choice"})


def yes_no(default: bool, *, label: str, help: str) -> Any:
    """On or off."""
    return Field(default, title=label, description=help, json_schema_extra={"kind": "yes-no"})


def wood(default: str, *, label: str, help: str = "") -> Any:
    """A wood of the library, by its key."""
    return Field(default, title=label, description=help, max_length=40, json_schema_extra={"kind": "wood"})


def text(default: str, *, label: str, help: str = "") -> Any:
    """One of a few words that a list elsewhere explains."""
    return Field(default, title=label, description=help, max_length=40, json_schema_extra={"kind": "text"})


def written(default: str | None = None, *, label: str, help: str, most: int = 40) -> Any:
    """A name that a person writes; may be empty where ``default`` is None."""
    return Field(default, title=label, description=help, max_length=most, json_schema_extra={"kind": "text"})


def listed(kind: ListKind, *, label: str, help: str, **more: Any) -> Any:
    """A list as a line of text: lengths ``27, 24.5``; a point ``20 × -15``; points ``0 × 0, 48 × 0, 24 × 40``; several
    runs of points with ``;`` between; turns ``as it lies; quarter roll``; names of stages and whole numbers with commas
    between. Empty unless ``default`` says otherwise."""
    return Field(**{"default": (), **more}, title=label, description=help, json_schema_extra={"kind": kind})


@lru_cache(maxsize=256)
def specs(model: type[BaseModel]) -> list[Spec]:
    """The parameters of a stage or a pattern that a plain form can edit, in the order they are declared, those that
    only plan the work last."""
    plain = [_spec(name, info) for name, info in model.model_fields.items() if isinstance(info.json_schema_extra, dict)]
    planning: tuple[str, ...] = getattr(model, "planning", ())
    seldom: tuple[str, ...] = getattr(model, "seldom", ())
    return sorted(plain, key=lambda spec: (spec.name in planning, spec.name in seldom))


def rounded(spec: Spec, value: Any, lengths: Lengths, coarse: bool = False) -> Any:
    """A default in round figures of this maker's units, inside what is allowed; see ``Lengths.usual``."""
    if value is None or spec.kind not in ("length", "number"):
        return value
    if spec.kind == "length":
        return min(max(lengths.usual(value, coarse), spec.least or 0.0), spec.most or LONGEST)
    if lengths.scale(spec.unit) == 1:
        return value
    return lengths.back(float(f"{lengths.figure(value, spec.unit):.2g}"), spec.unit)


def _spec(name: str, info: FieldInfo) -> Spec:
    extra: Any = info.json_schema_extra
    metadata = list(info.metadata)
    if extra["kind"] == "lengths":
        each = next(iter(get_args(info.annotation)), None)
        metadata = [bound for part in getattr(each, "__metadata__", ()) for bound in getattr(part, "metadata", ())]
    least = next((m.ge for m in metadata if hasattr(m, "ge")), None)
    most = next((m.le for m in metadata if hasattr(m, "le")), None)
    options = get_args(info.annotation) if get_origin(info.annotation) in (Union, UnionType) else (info.annotation,)
    enum = next((t for t in options if isinstance(t, type) and issubclass(t, StrEnum)), None)
    choices = tuple((member.value, getattr(member, "label", member.value)) for member in enum) if enum else ()
    return Spec(
        name=name, label=info.title or name, help=info.description or "", kind=extra["kind"], least=least, most=most,
        optional=type(None) in options, choices=choices, unit=str(extra.get("unit", "")),
    )  # fmt: skip
