"""Arrange for me: asked for, watched, cancelled, and one of the candidates taken up."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Any, cast

from flask import Response, abort, redirect, render_template, request, url_for
from markupsafe import Markup

from laberinto.core.edits import rows as row_edits
from laberinto.core.errors import InputError, LaberintoError
from laberinto.core.geometry.faces import Side, face_of
from laberinto.core.geometry.rotations import Lie
from laberinto.core.judging.arrange import FACES, NEIGHBOURS, Candidate, Wish
from laberinto.core.judging.scores import SCORES, Scored
from laberinto.core.plan.model import Plan
from laberinto.core.plan.simulate import simulate
from laberinto.core.stages import Arrange
from laberinto.drawing.board import thumbnail
from laberinto.drawing.skin import Flat
from laberinto.store import BoardView, StaleError

from ...app import present, reading
from ...app.jobs import Job, seed_of
from ...app.lookup import find
from ...app.saving import save
from .routes import bp
from .search import better_orders

AIMS = {**NEIGHBOURS, **FACES}
START = {"woods": Wish.AVOID, "joints": Wish.IGNORE, "repetition": Wish.IGNORE, "balance": Wish.IGNORE}
"""What is wished before anybody says so."""


TELLS = {"woods": "same-wood", "repetition": "repetition", "balance": "balance"}
"""Which score of the table tells how far an aim is met."""


@dataclass(frozen=True, slots=True)
class Shown:
    """A candidate with its face and what it comes to in words."""

    picture: Markup
    rows: str
    figures: list[tuple[str, str]]
    """What the table will say of it, of all that was wished."""
    note: str


def _arrange(board: BoardView) -> Arrange:
    stage = next((stage for stage in board.plan.stages if isinstance(stage, Arrange)), None)
    if stage is None:
        abort(404)
    return stage


def _rows(plan: Plan, stage: Arrange) -> list[tuple[str, int, Lie]]:
    """Name, slice number and lie of each row as it stands."""
    counts = row_edits.slices(plan, stage)
    marks = row_edits.marks_of(plan, stage)
    return [(marks[number - 1], number, lie) for number, lie in stage.rows(counts)]


def panel(board_id: int, errors: dict[str, str] | None = None) -> str:
    """The form with the work under way or what came of it."""
    board = find(board_id)
    stage = _arrange(board)
    job = present.jobs().get(("arrange", board_id))
    running = job is not None and job.running  # once for the whole page: it may end while that is written
    asked: dict[str, Any] = job.asked if job else {"wishes": START, "seed": 1, "locked": {}}
    # a refused form is shown as it was typed
    typed: dict[str, str] = request.form.to_dict() if errors else {}
    wishes = {key: typed.get(f"wish-{key}", asked["wishes"].get(key, Wish.IGNORE)) for key in AIMS}
    return render_template(
        "judge/arrange.html", board=board, stage=stage, rows=_rows(board.plan, stage), aims=AIMS, wishes=wishes,
        seed=typed.get("seed", asked["seed"]), locked=asked["locked"], job=job, errors=errors or {},
        candidates=_candidates(stage, job, running) if job else [], running=running,
        stale=bool(job and job.asked["plan"] != board.plan),
    )  # fmt: skip


def _candidates(stage: Arrange, job: Job, running: bool) -> list[Shown]:
    so_far = [job.best] if job.best else []
    found: list[Candidate] = so_far if running else list(job.result or so_far)
    return [_shown(job.asked["plan"], stage, candidate, job.asked["wishes"], number)
            for number, candidate in enumerate(found, 1)]  # fmt: skip


def _shown(plan: Plan, stage: Arrange, candidate: Candidate, wishes: dict[str, Wish], number: int) -> Shown:
    figures: list[tuple[str, str]] = []
    try:
        laid = row_edits.lay_out(plan, stage.id, candidate.rows, "").plan
        sim = simulate(laid)
        face = face_of(sim.whole(), Side.TOP)
        picture = Markup(thumbnail(face, Flat(sim, present.preference("finish")), label=f"Candidate {number}"))
        on = Scored(sim)
        figures = [(score.label, score.text) for key in _told(wishes) for score in (SCORES[key](on),)]
    except LaberintoError:
        picture = Markup()
    if candidate.proven:
        note = "proven: no arrangement does better"
    elif candidate.gap is not None:
        most = math.ceil(candidate.gap * 1000) / 1000  # never less than it may be short
        note = f"at most {present.percent(most)} short of the best there can be"
    else:
        note = "the best that the search came by"
    text = " ".join(f"{slice_}:{lie.value}" for slice_, lie in candidate.rows)
    return Shown(picture, text, figures, note)


def _told(wishes: dict[str, Wish]) -> list[str]:
    """The scores that tell of what is wished."""
    wished = [key for key, wish in wishes.items() if wish is not Wish.IGNORE]
    return list(dict.fromkeys(TELLS.get(key, "same-wood") for key in wished))


@bp.get("/arrange")
def arranging(board_id: int) -> str:
    """How the search for better orders stands."""
    return panel(board_id)


@bp.post("/arrange")
def arrange(board_id: int) -> tuple[str, int] | str:
    """Begin the search."""
    board = find(board_id)
    stage = _arrange(board)
    wishes = {key: _wish(request.form.get(f"wish-{key}", "")) for key in AIMS}
    errors, seed = {}, 0
    try:
        seed = seed_of(request.form.get("seed", ""))
    except InputError as error:
        errors["seed"] = str(error)
    if all(wish is Wish.IGNORE for wish in wishes.values()):
        errors["wishes"] = "Say for at least one of these what you would like."
    if errors:
        return panel(board_id, errors), 422
    rows = _rows(board.plan, stage)
    kept = {reading.whole(text) for text in request.form.getlist("keep")}
    locked = {at: (number, lie) for at, (_, number, lie) in enumerate(rows) if at in kept}

    def work(job: Job) -> Any:
        return job.apart(better_orders, board.plan, stage, wishes, locked, seed)

    present.jobs().start(
        ("arrange", board_id),
        {"wishes": wishes, "seed": seed, "locked": locked, "plan": board.plan, "revision": board.revision}, work,
    )  # fmt: skip
    return panel(board_id)


def _wish(text: str) -> Wish:
    return Wish(text) if text in set(Wish) else Wish.IGNORE


@bp.post("/arrange/cancel")
def cancel(board_id: int) -> str:
    """Stop the search; the best so far stays."""
    job = present.jobs().get(("arrange", board_id))
    if job is not None:
        job.enough.set()
        job.done.wait(3)
    return panel(board_id)


@bp.post("/arrange/use")
def use(board_id: int) -> Response | tuple[str, int]:
    """Lay the board out as a candidate has it."""
    board = find(board_id)
    stage = _arrange(board)
    try:
        laid = [_row(text) for text in request.form.get("rows", "").split()]
        edit = row_edits.lay_out(board.plan, stage.id, laid, "arranged for me")
        if edit.plan != board.plan:
            board = save(board, edit, based_on=board.revision)
    except (InputError, StaleError) as error:
        return panel(board_id, {"rows": str(error)}), 422
    target = url_for("board.page", board_id=board.id, stage=stage.id, view="face")
    if request.headers.get("HX-Request"):
        return Response("", 200, {"HX-Redirect": target})
    return cast(Response, redirect(target, 303))


def _row(text: str) -> tuple[int, Lie]:
    slice_, _, lie = text.partition(":")
    number = reading.whole(slice_)
    if number is None or lie not in set(Lie):
        raise InputError("That arrangement lost its place; arrange again.")
    return number, Lie(lie)
