"""Reckoners: sums of the bench, with a sketch and the formula, worked out as one types."""

from __future__ import annotations

from flask import Blueprint, abort, render_template, request
from markupsafe import Markup

from laberinto.core.edits.parameters import parse, shown
from laberinto.core.errors import InputError
from laberinto.core.reckoners import RECKONERS, Reckoner, Result
from laberinto.drawing.reckoners import sketch

from .. import present
from ..fields import FieldView

bp = Blueprint("reckoners", __name__, url_prefix="/reckoners", template_folder="templates")


def worked_out(result: Result) -> str:
    """A figure as people read it: fine ones to a hundredth of a millimetre, or in 64ths."""
    how = present.lengths()
    if result.kind == "text" or isinstance(result.value, str):
        return str(result.value)
    if result.kind == "length":
        return how.show(result.value)
    if result.kind == "fine":
        return f"{result.value:.2f} mm" if how.system == "mm" else f"{result.value / 25.4:.4f} in"
    if result.kind == "area":
        return present.area(result.value)
    digits = 3 if abs(result.value) < 1 else 2 if abs(result.value) < 100 else 0
    unit = result.unit if result.unit in ("°", "×", "") else f" {result.unit}"
    return f"{result.value:.{digits}f}".rstrip("0").rstrip(".") + unit if digits else f"{result.value:.0f}" + unit


@bp.get("")
@bp.get("/<key>")
def page(key: str = "") -> str:
    """One reckoner, its fields from the address, so that a sum can be kept as a bookmark."""
    key = key or next(iter(RECKONERS))
    if key not in RECKONERS:
        abort(404)
    kind = RECKONERS[key]
    usual, how = kind(), present.lengths()
    fields: list[FieldView] = []
    values: dict[str, object] = {}
    for spec in kind.specs():
        start = shown(spec, getattr(usual, spec.name), how)
        typed, error = request.args.get(spec.name, start), ""
        try:  # text as it began keeps the exact value behind it
            values[spec.name] = getattr(usual, spec.name) if typed.strip() == start else parse(spec, typed, how)
        except InputError as wrong:
            error = wrong.say(how)
        fields.append(FieldView(spec, typed, error))
    made: Reckoner | None = None
    results: list[tuple[str, str]] = []
    if not any(field.error for field in fields):
        try:
            made = kind.of(**values)
            results = [(result.label, worked_out(result)) for result in made.results()]
        except InputError as wrong:
            known = {field.spec.name for field in fields}
            at = wrong.field if wrong.field in known else fields[0].spec.name
            said = wrong.say(how)
            fields = [FieldView(f.spec, f.value, said if f.spec.name == at else f.error) for f in fields]
            made = None
    part = request.headers.get("HX-Target") == "sum"
    return render_template(
        "reckoners/sum.html" if part else "reckoners/page.html", kinds=RECKONERS, kind=kind, fields=fields,
        results=results, drawing=Markup(sketch(made)) if made else Markup(),
    )  # fmt: skip
