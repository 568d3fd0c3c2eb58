"""The build log: tick steps, write down what was measured and noticed."""

from __future__ import annotations

from contextlib import suppress
from typing import cast

from flask import Response, abort, current_app, make_response, redirect, render_template, request, url_for
from markupsafe import Markup

from laberinto.core.analysis.compare import differences
from laberinto.core.analysis.unlike import unlike
from laberinto.core.asbuilt import SAID, WAYS, Situation, ways_out
from laberinto.core.edits import Edit
from laberinto.core.errors import InputError, StageError
from laberinto.core.geometry.faces import Side, face_of
from laberinto.core.plan.simulate import Simulation, attempt, simulate
from laberinto.core.rules import Check, check
from laberinto.devices.bench import LOOPBACK
from laberinto.devices.line import device_for, take
from laberinto.drawing.board import thumbnail
from laberinto.drawing.skin import Flat
from laberinto.drawing.unlike import unlike as hatch
from laberinto.store import BoardView, StaleError, TrashView
from laberinto.store.trash import STEP_PHOTO
from laberinto.web.screens.steps import sheet
from laberinto.web.screens.wood.view import lots_for

from ...app import present, reading
from ...app.lookup import find
from ...app.photos import small_jpeg
from ...app.saving import OTHERWISE
from ...app.thread import begun
from .blueprint import bp
from .readings import Reading, followed, piece_of, read, there
from .view import Log, log

LONGEST_NOTE = 2000

MOST_WARNED = 3
"""Findings that are said where a decision waits; the page of checks has them all."""


@bp.app_template_test("came_out_otherwise")
def came_out_otherwise(board: BoardView) -> bool:
    """Whether the last change of a board says that its wood is other than planned."""
    return board.words.startswith(OTHERWISE)


def _answer(board_id: int, status: int = 200, **faults: object) -> Response:
    board, part = find(board_id), bool(request.headers.get("HX-Request"))
    try:
        whole = sheet(board)
    except StageError as error:  # a measurement has shown that it cannot go on as planned: its ways out are offered
        if not board.words.startswith(OTHERWISE):
            raise
        template = "build/stopped.html" if part else "build/page.html"
        said = error.say(present.lengths())
        return make_response(render_template(template, board=board, stopped=said, **faults), status)
    build = present.store().build(board_id)
    entries = log(whole, build.notes(), request.values.get("at", ""), build.photos())
    template = "build/log.html" if part else "build/page.html"
    return make_response(render_template(template, log=entries, board=board, **faults), status)


def _after(board_id: int, removed: TrashView | None = None) -> Response:
    if not request.headers.get("HX-Request"):
        return cast(Response, redirect(url_for("build.page", board_id=board_id), 303))
    return _answer(board_id, removed=removed)


@bp.get("")
def page(board_id: int) -> Response:
    """The build log at one of its steps."""
    return _answer(board_id)


@bp.post("/tick")
def tick(board_id: int) -> Response:
    """Tick a step, or take its tick back."""
    known = {step.key: step for step in sheet(find(board_id)).steps}
    step = known.get(request.form.get("step", ""))
    if step is None:
        abort(404)
    build = present.store().build(board_id)
    for key in step.keys:
        if request.form.get("done") == "no":
            build.untick(key)
        else:
            build.tick(key)
    return _after(board_id)


@bp.post("/note")
def note(board_id: int) -> Response:
    """Write down what was measured or noticed at a step."""
    board = find(board_id)
    known = {step.key: step for step in sheet(board).steps}
    key, text, typed = (request.form.get(name, "").strip() for name in ("step", "text", "measured"))
    if key not in known:
        abort(404)
    step = known[key]
    kept = {
        "typed_text": text, "typed_measured": typed, "typed_piece": request.form.get("piece", ""),
        "typed_quantity": request.form.get("quantity", ""),
    }  # fmt: skip
    if not text and not typed:
        return _answer(board_id, 422, error="Write what you measured or noticed first.", field="text", **kept)
    if len(text) > LONGEST_NOTE:
        message = f"That is {len(text)} characters; a note takes {LONGEST_NOTE}. Split it in two."
        return _answer(board_id, 422, error=message, field="text", **kept)
    reading_ = Reading(None)
    try:
        if typed:
            reading_ = read(board.plan, step, request.form)
        # the plan is asked first: what it cannot have is refused, and nothing is half written down
        edit = followed(board.plan, step, reading_) if request.form.get("follow") else Edit(board.plan, "")
    except InputError as error:
        said = error.say(present.lengths())
        return _answer(board_id, 422, error=said, field=error.field or "measured", **kept)
    present.store().build(board_id).write(key, " ".join([reading_.said, text]).strip(), **reading_.kept)
    if edit.words:
        with suppress(StaleError):  # someone was quicker: the page shows the board as it is now
            present.store().save(board_id, edit.plan, edit.words, based_on=board.revision)
    return _after(board_id)


@bp.post("/device")
def device(board_id: int) -> tuple[dict[str, str], int]:
    """A reading from an instrument, for the field that asks; or in words why there is none."""
    board, how = find(board_id), present.lengths()
    known = {step.key: step for step in sheet(board).steps}
    step = known.get(request.form.get("step", ""))
    port = current_app.config["DEVICES"]
    if step is None or port is None:
        abort(404)
    one = there(board.plan, step).get(request.form.get("quantity", ""))
    kind = device_for(one.unit, one.key) if one else None
    if one is None or kind is None:
        return {"said": "No instrument measures that: count it, and type it by hand."}, 422
    try:
        piece = piece_of(request.form.get("piece", ""))
        which = f" piece={piece}" if piece is not None else ""
        under = f"board={board_id} step={step.key} quantity={one.key}{which}"
        value = take((LOOPBACK, port), kind, under)
    except InputError as error:
        return {"said": str(error)}, 422
    text = how.field(round(value, 2)) if one.unit == "mm" else f"{value:.3f} kg" if one.unit == "kg" else f"{value:.1f}"
    return {"text": text, "said": f"The {kind.label} reads {one.say(round(value, 3), how)}."}, 200


@bp.post("/photo")
def keep_photo(board_id: int) -> Response:
    """Keep a photo of a step, made small; or, with ``erase``, put one into the trash."""
    known = {step.key for step in sheet(find(board_id)).steps}
    build, number = present.store().build(board_id), reading.whole(request.form.get("erase"))
    if number is not None:
        build.erase_photo(number)
        return _after(board_id, removed=present.store().trash.newest(STEP_PHOTO))
    if request.form.get("step") not in known:
        abort(404)
    try:
        build.keep_photo(request.form["step"], small_jpeg(request.files.get("photo")))
    except InputError as error:
        return _answer(board_id, 422, error=str(error), field="photo")
    return _after(board_id)


@bp.get("/photo/<int:number>.jpg")
def photo(board_id: int, number: int) -> Response:
    """A photo of a step."""
    jpeg = present.store().build(board_id).photo(number)
    if jpeg is None:
        abort(404)
    return Response(jpeg, mimetype="image/jpeg", headers={"Cache-Control": "private, max-age=31536000, immutable"})


def _situation(board: BoardView) -> tuple[Situation, str] | None:
    """What was measured last, and against which plan; None where the last change was no measurement."""
    planned = present.store().revisions(board.id).before(lambda words: words.startswith(OTHERWISE))
    if planned is None:
        return None
    changed = [s.id for s in board.plan.stages if s.id in {p.id for p in planned.stages} and s != planned.stage(s.id)]
    ticks = present.store().build(board.id).ticks()
    done = begun(board.plan, ticks)
    last = changed[-1] if changed else board.plan.stages[0].id
    return Situation(simulate(planned), board.plan, last, frozenset(done), present.shop()), last


@bp.get("/ways")
def ways(board_id: int) -> str:
    """What was measured means this for the board, and these are the ways out, each acted out."""
    board = find(board_id)
    found = _situation(board)
    if found is None:
        return ""
    situation, stage = found
    how = present.lengths()
    results, fault = attempt(board.plan)
    built = Simulation.of(board.plan, results) if fault is None else None
    out = ways_out(situation, how)
    faces = [Markup(thumbnail(face_of(o.sim.whole(), Side.TOP), Flat(o.sim, present.preference("finish")), label=""))
             for o in out]  # fmt: skip
    return render_template(
        "build/ways.html", board=board, out=list(zip(out, faces, strict=True)), words=board.words.removeprefix(SAID),
        says=differences(situation.planned, built, how)[:3] if built else [], fault=fault.say(how) if fault else "",
        stage=board.plan.stage(stage), planned=situation.planned.board.size,
        pictures=_side_by_side(situation.planned, built) if built else [],
        lots={need: lots_for(board_id, need) for one in out for need in one.fresh},
        warned=_warned(situation.planned, built) if built else [],
    )  # fmt: skip


def _warned(planned: Simulation, built: Simulation) -> list[Check]:
    """What the checks say of it that they did not say of the plan: corners that no longer meet, rows of unequal height,
    strips too thin for a machine."""
    how, shop = present.lengths(), present.shop()
    before = {(one.rule, one.stage) for one in check(planned, how, shop)}
    return [
        one for one in check(built, how, shop) if one.severity != "note" and (one.rule, one.stage) not in before
    ][:MOST_WARNED]  # fmt: skip


def _side_by_side(planned: Simulation, built: Simulation) -> list[Markup]:
    """The face as planned and as it comes out, to one scale, each hatched where it differs from the other."""
    found, faces = unlike(planned, built), [face_of(sim.whole(), Side.TOP) for sim in (planned, built)]
    within = max(float(face.size[0]) for face in faces), max(float(face.size[1]) for face in faces)
    return [
        Markup(thumbnail(
            face, Flat(sim, present.preference("finish")), label=what, within=within,
            over=hatch(found, (float(face.size[0]), float(face.size[1]))),
        ))
        for what, sim, face in zip(("As planned", "As built so far"), (planned, built), faces, strict=True)
    ]  # fmt: skip


@bp.post("/way")
def way(board_id: int) -> Response:
    """Take one of the ways out; undo takes it back like any change."""
    board, key = find(board_id), request.form.get("way", "")
    found = _situation(board)
    if found is None or key not in WAYS:
        abort(404)
    taken = next((one for one in ways_out(found[0], present.lengths()) if one.key == key), None)
    if taken is None:
        abort(409)
    revision = reading.whole(request.form.get("revision"))
    why = f"way out: {taken.way.title.lower()}"
    with suppress(StaleError):  # someone was quicker: the page shows the board as it is now
        present.store().save(board_id, taken.plan, why, based_on=revision or board.revision)
    return _after(board_id)


@bp.post("/erase")
def erase(board_id: int) -> Response:
    """Remove an entry."""
    find(board_id)
    number = reading.whole(request.form.get("note"))
    if number is not None:
        present.store().build(board_id).erase(number)
    return _after(board_id)


__all__ = ["Log", "bp"]
