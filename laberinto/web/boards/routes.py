"""Addresses of the list of boards and of the new-board form."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import Any, cast

from flask import Blueprint, Response, make_response, redirect, render_template, request, url_for
from markupsafe import Markup

from laberinto.core.edits.parameters import parse, shown
from laberinto.core.errors import InputError, LaberintoError, PlanError
from laberinto.core.faces import Side, face_of
from laberinto.core.figures import Figures, figures
from laberinto.core.patterns.alternating import SPECS, Alternating
from laberinto.core.plan import read_plan
from laberinto.core.rules import Check, Severity, check
from laberinto.core.simulate import Simulation, simulate
from laberinto.core.stages import Spec
from laberinto.core.steps import steps
from laberinto.core.woods import LIBRARY, Tone
from laberinto.drawing.board import board as draw_board
from laberinto.drawing.board import thumbnail
from laberinto.drawing.skin import Painted, Ringed
from laberinto.store import BoardView, Build

from .. import errors, present, wood

bp = Blueprint("boards", __name__, template_folder="templates")

SHORE = (
    "Tidewrack", "Quay Wall", "Slipway", "Net Loft", "Shoal", "Ladder", "Breakwater", "Mooring", "Skerry", "Dunlin",
    "Groyne", "Kelp Line", "Ballast", "Lee Shore", "Bollard", "Sandbar",
)  # fmt: skip
"""Names offered for a new board."""


@dataclass(frozen=True, slots=True)
class Card:
    """A board in the list."""

    board: BoardView
    picture: Markup
    figures: Figures | None
    reached: str
    next_step: str
    done: int
    total: int
    stops: int
    problem: str = ""
    last: datetime | None = None

    @property
    def finished(self) -> bool:
        return self.total > 0 and self.done == self.total


def card(board: BoardView) -> Card:
    """A board with its face, how far it is and what comes next; one that cannot be built says why."""
    try:
        sim = simulate(board.plan)
    except LaberintoError as error:
        return Card(board, Markup(), None, "", "", 0, 0, 0, error.say(present.lengths()))
    todo = steps(sim, present.lengths())
    ticks = Build(present.store().engine, board.id).ticks()
    open_ = [step for step in todo if step.key not in ticks]
    done = [step for step in todo if step.key in ticks]
    face = face_of(sim.board.pieces[0], Side.TOP)
    skin = Ringed(sim, f"b{board.id}", present.preference("finish"))
    return Card(
        board, Markup(thumbnail(face, skin, label=f"The face of {board.name}")), figures(sim),
        sim.plan.stage(done[-1].stage).title if done else "", open_[0].heading if open_ else "",
        len(done), len(todo), sum(c.severity is Severity.STOP for c in check(sim, present.lengths())),
        last=max(ticks.values(), default=None),
    )  # fmt: skip


@bp.get("/")
def index() -> str:
    return render_template("boards/index.html", cards=[card(board) for board in present.store().boards()])


@dataclass(frozen=True, slots=True)
class Draft:
    """The new-board form: what is typed, what is wrong, and the board it would make."""

    values: dict[str, str]
    errors: dict[str, str]
    sim: Simulation | None = None
    drawing: str = ""
    figures: Figures | None = None
    checks: tuple[Check, ...] = ()
    shortest: str = ""


def _defaults() -> dict[str, str]:
    start = Alternating(name="")
    values = {spec.name: shown(spec, getattr(start, spec.name), present.lengths()) for spec in SPECS}
    taken = {board.name for board in present.store().boards()}
    values["name"] = next((name for name in SHORE if name not in taken), f"Board {len(taken) + 1}")
    return values


def read(values: dict[str, str]) -> Draft:
    """Read the form, gathering every error, and simulate the board where there is none."""
    wrong: dict[str, str] = {}
    parsed: dict[str, Any] = {}
    for spec in SPECS:
        try:
            parsed[spec.name] = _read(spec, values.get(spec.name, ""))
        except InputError as error:
            wrong[spec.name] = error.say(present.lengths())
    if wrong:
        return Draft(values, wrong)
    pattern = Alternating(**parsed)
    try:
        sim = simulate(pattern.plan())
    except InputError as error:
        return Draft(values, {error.field or "name": error.say(present.lengths())})
    except LaberintoError as error:
        return Draft(values, {"": error.say(present.lengths())})
    skin = Painted(sim, "n", wood.address, present.preference("finish"))
    drawing = draw_board(sim.board.pieces[0], skin, present.lengths(), label="The face this makes")
    shortest = present.lengths().field(pattern.shortest_panel)
    return Draft(values, {}, sim, Markup(drawing), figures(sim), tuple(check(sim, present.lengths())), shortest)


def _read(spec: Spec, text: str) -> Any:
    value = parse(spec, text, present.lengths())
    if spec.kind == "wood":
        LIBRARY.require(value, spec.name)
    return " ".join(value.split()) if spec.kind == "text" else value


def _tones() -> list[tuple[str, list[Any]]]:
    return [(tone.value, LIBRARY.of_tone(tone)) for tone in Tone]


def _form() -> dict[str, str]:
    return {spec.name: request.form.get(spec.name, "") for spec in SPECS}


@bp.get("/boards/new")
def new() -> str:
    return render_template("boards/new.html", draft=read(_defaults()), specs=SPECS, tones=_tones())


@bp.post("/boards/new/preview")
def preview() -> Response:
    return make_response(render_template("boards/form.html", draft=read(_form()), specs=SPECS, tones=_tones()))


@bp.post("/boards/new")
def create() -> Response:
    draft = read(_form())
    if draft.sim is None:
        return make_response(render_template("boards/new.html", draft=draft, specs=SPECS, tones=_tones()), 422)
    board_id = present.store().create(draft.sim.plan)
    return cast(Response, redirect(url_for("board.page", board_id=board_id), 303))


@bp.post("/boards/bare")
def bare() -> Response:
    """A board of nothing but the form's strips: every stage after them is put in by hand."""
    draft = read(_form())
    if draft.sim is None:
        return make_response(render_template("boards/new.html", draft=draft, specs=SPECS, tones=_tones()), 422)
    plan = draft.sim.plan
    board_id = present.store().create(plan.model_copy(update={"stages": plan.stages[:1]}))
    return cast(Response, redirect(url_for("board.page", board_id=board_id, view="stage"), 303))


@bp.post("/boards/open")
def open_file() -> Response | tuple[str, int]:
    """A plan file becomes a new board, if it can be read and built."""
    upload = request.files.get("plan")
    data = upload.read() if upload else b""
    if not data:
        return errors.page(422, "No plan file was chosen", "Choose a .json file that Laberinto saved, then open it.")
    try:
        text = data.decode("utf-8-sig")
    except UnicodeDecodeError:
        raise PlanError([("", "This is not a text file. A plan file is JSON in UTF-8.")]) from None
    plan = read_plan(text)
    simulate(plan)
    board_id = present.store().create(plan, words="opened from a file")
    return cast(Response, redirect(url_for("board.page", board_id=board_id), 303))
