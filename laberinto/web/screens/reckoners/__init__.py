"""Reckoners: sums of the bench, with a sketch and the formula, worked out as one types."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import cast

from flask import Blueprint, Response, abort, redirect, render_template, request, url_for
from markupsafe import Markup

from laberinto.core.edits import Edit
from laberinto.core.edits.parameters import put
from laberinto.core.errors import InputError, LaberintoError
from laberinto.core.fields import parse, rounded, shown
from laberinto.core.plan.simulate import simulate
from laberinto.core.reckoners import RECKONERS, Reckoner, Result, given, places
from laberinto.core.steps import steps
from laberinto.core.units import degrees
from laberinto.drawing.reckoners import sketch
from laberinto.store import BoardView

from ...app import present, reading
from ...app.fields import FieldView
from ...app.saving import save

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
    value, unit = how.figure(result.value, result.unit), how.unit(result.unit)
    if unit == "°":
        return degrees(value)
    digits = 3 if abs(value) < 1 else 2 if abs(value) < 100 else 0
    unit = unit if unit in ("×", "") else f" {unit}"
    return f"{value:.{digits}f}".rstrip("0").rstrip(".") + unit if digits else f"{value:.0f}" + unit


@dataclass(frozen=True, slots=True)
class Sum:
    """A reckoner as typed: its fields, and where they are right the reckoner and what comes of it."""

    fields: list[FieldView]
    made: Reckoner | None
    results: list[tuple[str, str]]


def _sum(kind: type[Reckoner], args: Mapping[str, str], board: BoardView | None) -> Sum:
    how = present.lengths()
    blank = kind()
    round_figures = {spec.name: rounded(spec, getattr(blank, spec.name), how) for spec in kind.specs()}
    usual = kind(**(round_figures | _given(kind, board)))
    fields: list[FieldView] = []
    values: dict[str, object] = {}
    for spec in kind.specs():
        start = shown(spec, getattr(usual, spec.name), how)
        typed, error = args.get(spec.name, start), ""
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
    return Sum(fields, made, results)


def _given(kind: type[Reckoner], board: BoardView | None) -> dict[str, float]:
    """What the open board says of its fields, where it can be built and they hold it."""
    if board is None:
        return {}
    try:
        values = given(kind, board.plan)
        kind.of(**values)
    except LaberintoError:
        return {}
    return values


def _kind(key: str) -> type[Reckoner]:
    if key not in RECKONERS:
        abort(404)
    return RECKONERS[key]


def _board() -> BoardView | None:
    """The open board, where the reckoner was come to from one."""
    number = reading.whole(request.values.get("board"))
    return None if number is None else present.store().board(number)


@bp.get("")
@bp.get("/<key>")
def page(key: str = "", problem: str = "") -> str:
    """One reckoner, its fields from the address, so that a sum can be kept as a bookmark."""
    kind, board = _kind(key or next(iter(RECKONERS))), _board()
    one = _sum(kind, request.values, board)
    part = request.headers.get("HX-Target") == "sum"
    return render_template(
        "reckoners/sum.html" if part else "reckoners/page.html", kinds=RECKONERS, kind=kind, fields=one.fields,
        results=one.results, drawing=Markup(sketch(one.made)) if one.made else Markup(), board=board,
        places=places(one.made, board.plan) if one.made and board else [], problem=problem,
    )  # fmt: skip


@bp.post("/<key>")
def write(key: str) -> Response | tuple[str, int]:
    """Write the answer into the open board: into a stage that asks for it, or as a note in the build log."""
    kind, board = _kind(key), _board()
    one = _sum(kind, request.form, board)
    if board is None or one.made is None:
        return page(key, "The board is not there any more." if board is None else ""), 422
    into = {place.key: place for place in places(one.made, board.plan)}
    place = into.get(request.form.get("into", ""))
    if place is None:
        return _noted(board, kind, one)
    try:
        edit = put(board.plan, place.stage, place.values, present.lengths())
        if edit.words:
            save(board, Edit(edit.plan, f"{kind.title}, {edit.words}"), based_on=board.revision)
    except LaberintoError as error:
        return page(key, error.say(present.lengths())), 422
    return cast(Response, redirect(url_for("board.page", board_id=board.id, stage=place.stage, view="stage"), 303))


def _noted(board: BoardView, kind: type[Reckoner], one: Sum) -> Response | tuple[str, int]:
    """The answer as a note at the first step that is still open."""
    build = present.store().build(board.id)
    ticks = build.ticks()
    try:
        todo = steps(simulate(board.plan), present.lengths(), present.shop(), ticked=ticks)
    except LaberintoError as error:
        return page(kind.key, error.say(present.lengths())), 422
    at = next((step.key for step in todo if step.key not in ticks), todo[-1].key)
    said = ", ".join(f"{label.lower()} {value}" for label, value in one.results)
    build.write(at, f"{kind.title}: {said}", None)
    return cast(Response, redirect(url_for("build.page", board_id=board.id, at=at), 303))
