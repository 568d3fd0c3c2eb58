"""What if: another blade, wider strips, another way to flatten or another wood over all stages, beside the board as it
is, and kept as a variant in one press."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any, cast

from flask import Blueprint, Response, redirect, render_template, request, url_for
from markupsafe import Markup

from laberinto.core.analysis.compare import differences
from laberinto.core.analysis.effort import effort
from laberinto.core.analysis.figures import figures
from laberinto.core.edits import Edit
from laberinto.core.edits.whatif import Asked, what_if
from laberinto.core.edits.woods import used
from laberinto.core.errors import InputError, LaberintoError
from laberinto.core.fields import parse
from laberinto.core.geometry.faces import Side, face_of
from laberinto.core.plan.simulate import Simulation, simulate
from laberinto.core.rules import Severity, check
from laberinto.core.timber.cost import bill
from laberinto.core.validation import checked
from laberinto.drawing.board import thumbnail
from laberinto.drawing.skin import Ringed
from laberinto.store import BoardView, StaleError

from ...app import present, reading
from ...app.fields import FieldView
from ...app.lookup import find
from ..cost import rates

bp = Blueprint("whatif", __name__, url_prefix="/boards/<int:board_id>/what-if", template_folder="templates")

WOODS = ("old", "new")


@dataclass(frozen=True, slots=True)
class Half:
    """One of the two boards: its face and the figures people decide by."""

    picture: Markup
    lines: list[tuple[str, str]]


@dataclass(frozen=True, slots=True)
class Answer:
    """What came of it: the edit and both boards, or why there is none."""

    fields: list[FieldView]
    values: Mapping[str, str]
    now: Half
    then: Half | None = None
    words: tuple[str, ...] = ()
    problem: str = ""
    edit: Edit | None = None


def _side(sim: Simulation, prefix: str, within: tuple[float, float]) -> Half:
    how, shop = present.lengths(), present.shop()
    f, costs = figures(sim, shop), bill(sim, shop, rates(), lengths=how)
    skin = Ringed(sim, prefix, present.preference("finish"))
    stops = sum(c.severity is Severity.STOP for c in check(sim, how, shop))
    lines = [
        ("Finished", how.show_size(f.width, f.length, f.thickness)), ("Weight", present.weight(f.weight)),
        ("Wood, rough", present.volume(sum(line.rough for line in f.woods))), ("Waste", present.percent(f.wasted)),
        ("Days", str(effort(sim).days)), ("Hours", f"{costs.hours:.1f}"), ("Cost", present.money(costs.cost)),
        ("Stops", str(stops)),
    ]  # fmt: skip
    face = face_of(sim.whole(), Side.TOP)
    return Half(Markup(thumbnail(face, skin, label="Its face", within=within)), lines)


def _reach(*sims: Simulation) -> tuple[float, float]:
    sizes = [sim.whole().size() for sim in sims]
    return max(float(size[0]) for size in sizes), max(float(size[1]) for size in sizes)


def _answer(board: BoardView, typed: Mapping[str, str]) -> Answer:
    """Read what is asked, and act both boards out."""
    how, specs, errors = present.lengths(), Asked.specs(), dict[str, str]()
    values = {name: typed.get(name, "").strip() for name in specs}
    sim, asked, problem, edit = simulate(board.plan), dict[str, Any](), "", None
    for name, spec in specs.items():
        if not values[name]:
            continue
        try:
            asked[name] = parse(spec, values[name], how)
        except InputError as wrong:
            errors[name] = wrong.say(how)
    if not errors:
        try:
            edit = what_if(sim, checked(Asked, asked), how)
        except InputError as wrong:
            errors[wrong.field] = wrong.say(how)
    then, words = None, tuple[str, ...]()
    within = _reach(sim)
    if edit is not None and edit.words:
        try:
            other = simulate(edit.plan)
            within = _reach(sim, other)
            then, words = _side(other, "wr", within), tuple(differences(sim, other, how))
        except LaberintoError as error:
            problem, edit = error.say(how), None
    fields = [FieldView(spec, values[n], errors.get(n, "")) for n, spec in specs.items() if n not in WOODS]
    problem = problem or next((said for name, said in errors.items() if name in ("", *WOODS)), "")
    return Answer(fields, values, _side(sim, "wl", within), then, words, problem, edit)


@bp.get("")
def page(board_id: int) -> str:
    """The questions, with both boards side by side."""
    board = find(board_id)
    template = "whatif/answer.html" if request.headers.get("HX-Request") else "whatif/page.html"
    try:
        answer = _answer(board, request.args)
    except LaberintoError as error:
        return render_template("whatif/page.html", board=board, broken=error.say(present.lengths()))
    return render_template(template, board=board, answer=answer, used=used(board.plan))


@bp.post("")
def keep(board_id: int) -> Response | tuple[str, int]:
    """Keep what came of it as a variant; the board as it was stays under a letter too."""
    board = find(board_id)
    answer, store = _answer(board, request.form), present.store()

    def again(status: int, broken: str = "") -> tuple[str, int]:
        shown = render_template("whatif/page.html", board=board, answer=answer, used=used(board.plan), broken=broken)
        return shown, status

    if answer.edit is None or not answer.edit.words:
        return again(422)
    based = reading.whole(request.form.get("revision"))
    if board.free_letter and not board.variant:
        store.pin(board_id, board.free_letter)
    try:
        saved = store.save(
            board_id, answer.edit.plan, answer.edit.words, based_on=board.revision if based is None else based
        )
    except StaleError as stale:
        return again(409, str(stale))
    if saved.free_letter:
        store.pin(board_id, saved.free_letter)
        store.switch(board_id, saved.free_letter)
    return cast(Response, redirect(url_for("board.page", board_id=board_id), 303))
