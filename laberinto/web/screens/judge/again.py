"""Shall I cut it again? The chart of further passes, and taking one up."""

from __future__ import annotations

from typing import Any, cast

from flask import Response, abort, redirect, render_template, request, url_for
from markupsafe import Markup

from laberinto.core.edits.again import MOST, cut_again, cut_stage
from laberinto.core.errors import InputError, LaberintoError
from laberinto.core.geometry.faces import Side, face_of
from laberinto.core.judging.outlook import Outlook, Point, outlook
from laberinto.drawing import chart
from laberinto.drawing.board import thumbnail
from laberinto.drawing.skin import Flat
from laberinto.store import StaleError

from ...app import present, reading
from ...app.jobs import MOST_SEED, Job, seed_of
from ...app.lookup import find
from ...app.saving import save
from .routes import bp


@bp.get("/again")
def again(board_id: int) -> str:
    """The page; the passes are simulated meanwhile. ``seed`` shuffles the strips."""
    board, shop = find(board_id), present.shop()
    if cut_stage(board.plan) is None:
        abort(404)
    text, wrong, seed = request.args.get("seed", "1").strip(), "", 1
    try:
        seed = seed_of(text)
    except InputError as error:
        wrong = str(error)
    job = present.jobs().get(("again", board_id))
    if job is None or job.asked["plan"] != board.plan or job.asked["seed"] != seed:

        def work(job: Job) -> Any:
            return outlook(board.plan, seed, shop, progress=lambda passes: job.tell((passes + 1) / (MOST + 1)))

        job = present.jobs().start(("again", board_id), {"plan": board.plan, "seed": seed}, work)
        job.done.wait(0.6)  # a small board needs no waiting page
    part = request.headers.get("HX-Target") == "again"
    running = job.running  # once for the whole page: it may end while that is written
    found: Outlook | None = None if running else job.result
    return render_template(
        "judge/points.html" if part else "judge/again.html", board=board, job=job, running=running, seed=text,
        wrong=wrong, outlook=found, chart=_chart(found) if found else "",
        faces=[_face(point, found.points[0].size[:2]) for point in found.points] if found else [],
        problem=job.error.say(present.lengths()) if job.error else "",
    )  # fmt: skip


def _chart(found: Outlook) -> Markup:
    first = found.points[0].size[0] * found.points[0].size[1]
    left = [point.size[0] * point.size[1] / first for point in found.points]
    return Markup(
        chart.outlook(
            [p.disorder for p in found.points], left, [p.worth for p in found.points], found.best,
            label="Disorder, face left and their product, after each further pass",
        )
    )  # fmt: skip


def _face(point: Point, within: tuple[float, float]) -> Markup:
    """All to one scale, so that one sees what is lost."""
    face = face_of(point.sim.whole(), Side.TOP)
    skin = Flat(point.sim, present.preference("finish"))
    return Markup(thumbnail(face, skin, label=f"The face after {point.passes} further passes", within=within))


@bp.post("/again/adopt")
def adopt(board_id: int) -> Response | str:
    """Make the board's plan that with so many more passes."""
    board = find(board_id)
    passes = reading.whole(request.form.get("passes"), MOST)
    seed = reading.whole(request.form.get("seed"), MOST_SEED)
    if not passes or seed is None:
        abort(400)
    try:
        edit = cut_again(board.plan, passes, seed, present.shop())
        save(board, edit, based_on=board.revision)
    except StaleError:
        pass  # someone was quicker: the page shows the board as it is now
    except LaberintoError:
        abort(409)
    return cast(Response, redirect(url_for("board.page", board_id=board_id), 303))
