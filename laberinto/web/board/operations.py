"""The edits the page can ask for, by name. A new one is one function and one line in ``OPERATIONS``."""

from __future__ import annotations

from collections.abc import Callable, Mapping

from laberinto.core.edits import Edit, rows, set_parameters, strips
from laberinto.core.errors import InputError
from laberinto.core.plan import Plan
from laberinto.core.stages.mill import StripTurn
from laberinto.core.turns import Lie
from laberinto.core.units import Lengths, parse_length

Form = Mapping[str, str]
Operation = Callable[[Plan, str, Form, Lengths], Edit]


def _number(form: Form, name: str) -> int:
    try:
        return int(form.get(name, ""))
    except ValueError:
        raise InputError("That button lost its place; reload the page.") from None


def _rename(plan: Plan, _stage: str, form: Form, _lengths: Lengths) -> Edit:
    name = " ".join(form.get("name", "").split())
    if not 1 <= len(name) <= 80:
        raise InputError("A name has 1 to 80 characters.", "name")
    return Edit(plan.model_copy(update={"name": name}), f"renamed {name}" if name != plan.name else "")


def _width(plan: Plan, stage: str, form: Form, lengths: Lengths) -> Edit:
    at = _number(form, "at")
    field = f"width-{at}"
    now = strips.widths(plan, stage)[at] if 0 <= at < len(strips.widths(plan, stage)) else 0.0
    if form.get(field, "").strip() == lengths.field(now):
        return Edit(plan, "")
    width = parse_length(form.get(field, ""), lengths.system, least=3, most=400, field=field)
    return strips.set_width(plan, stage, at, width)


def _strip_turn(turned: StripTurn) -> Operation:
    return lambda plan, stage, form, _lengths: strips.turn(plan, stage, _number(form, "at"), turned)


def _row_turn(lie: Lie) -> Operation:
    return lambda plan, stage, form, _lengths: rows.turn(plan, stage, _number(form, "at"), lie)


OPERATIONS: dict[str, Operation] = {
    "rename": _rename,
    "parameters": lambda plan, stage, form, lengths: set_parameters(plan, stage, form, lengths),
    "strip-move": lambda plan, stage, form, _: strips.move(plan, stage, _number(form, "at"), _number(form, "to")),
    "strip-remove": lambda plan, stage, form, _: strips.remove(plan, stage, _number(form, "at")),
    "strip-double": lambda plan, stage, form, _: strips.duplicate(plan, stage, _number(form, "at")),
    "strip-wood": lambda plan, stage, form, _: strips.set_wood(plan, stage, _number(form, "at"), form.get("wood", "")),
    "strip-width": _width,
    "strip-face-over": _strip_turn(StripTurn.FACE_OVER),
    "strip-end-for-end": _strip_turn(StripTurn.END_FOR_END),
    "row-move": lambda plan, stage, form, _: rows.move(plan, stage, _number(form, "at"), _number(form, "to")),
    "row-flip": _row_turn(Lie.FLIP),
    "row-end-for-end": _row_turn(Lie.END_FOR_END),
    "row-other-end-up": _row_turn(Lie.OTHER_END_UP),
    "rows-reset": lambda plan, stage, _form, _: rows.reset(plan, stage),
}
