"""The pattern a board was made from: its parameters, to be changed on the board as it stands."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace

from laberinto.core.edits import Edit
from laberinto.core.edits.pattern import family_of, measured, set_pattern
from laberinto.core.errors import InputError
from laberinto.core.fields import Spec, shown
from laberinto.core.patterns import Family, Truth
from laberinto.core.plan.model import Plan
from laberinto.core.units import Lengths
from laberinto.store import BoardView

from ...app import present
from ...app.fields import FieldView
from .looking import Fault
from .view import good

PREFIX = "pattern-"
"""Before the names of the pattern's fields, since stages have parameters of the same names."""


@dataclass(frozen=True, slots=True)
class PatternView:
    """The form: the family, its fields, and whether the wood holds what the pattern promises."""

    family: Family
    fields: list[FieldView]
    truths: tuple[Truth, ...]


def pattern_view(board: BoardView, fault: Fault | None = None) -> PatternView | None:
    """The pattern of a board, or None where it was made without one."""
    family = family_of(board.plan)
    if family is None:
        return None
    typed = fault.typed if fault else {}
    how = present.lengths()
    values = {spec.name: shown(spec, family.value(spec.name), how) for spec in family.specs()}
    fields = [
        FieldView(
            _prefixed(spec), typed.get(PREFIX + spec.name, shown(spec, family.value(spec.name), how)),
            fault.message if fault and fault.field == PREFIX + spec.name else "",
        )
        for spec in family.specs_for(values)
    ]  # fmt: skip
    return PatternView(family, fields, measured(board.plan, good(board)[0]))


def change(plan: Plan, _stage: str, form: Mapping[str, str], lengths: Lengths) -> Edit:
    """The edit that the form asks for."""
    typed = {name.removeprefix(PREFIX): text for name, text in form.items() if name.startswith(PREFIX)}
    try:
        return set_pattern(plan, typed, lengths)
    except InputError as error:
        raise InputError(error.template, PREFIX + error.field if error.field else "", **error.mm) from None


def _prefixed(spec: Spec) -> Spec:
    return replace(spec, name=PREFIX + spec.name)
