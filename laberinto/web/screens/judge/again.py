"""Shall I cut it again? The chart of further passes, and taking one up."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any, cast

from flask import Response, abort, redirect, render_template, request, url_for
from markupsafe import Markup

from laberinto.core.edits.again import MOST, cut_again, cut_stage
from laberinto.core.errors import InputError, LaberintoError
from laberinto.drawing import chart
from laberinto.store import BoardView, StaleError

from ...app import present, reading
from ...app.jobs import MOST_SEED, Job, seed_of
from ...app.lookup import find
from ...app.saving import save
from .routes import bp
from .search import Passes, cut_on


@bp.get("/again")
def again(board_id: int) -> str:
    """The page, with what was worked out for the board as it is; ``seed`` shuffles the strips. Where nothing was, it
    asks for that once it is there."""
    board = _board(board_id)
    seed, text, wrong = _seed(request.args)
    return _shown(board, _job(board, seed), text, wrong)


@bp.post("/again")
def begin(board_id: int) -> Response | str:
    """Act out the further passes."""
    board = _board(board_id)
    seed, text, wrong = _seed(request.form)
    job = _job(board, seed)
    if not wrong and (job is None or job.failed or job.cancelled.is_set()):
        shop, finish = present.shop(), present.preference("finish")

        def work(job: Job) -> Any:
            return job.apart(cut_on, board.plan, seed, shop, finish)

        job = present.jobs().start(("again", board_id), _asked(board, seed), work)
        job.done.wait(0.6)  # a small board needs no waiting page
    if request.headers.get("HX-Request"):
        return _shown(board, job, text, wrong)
    return cast(Response, redirect(url_for("judge.again", board_id=board_id, seed=text), 303))


def _board(board_id: int) -> BoardView:
    board = find(board_id)
    return board if cut_stage(board.plan) is not None else abort(404)


def _seed(given: Mapping[str, str]) -> tuple[int, str, str]:
    """The number of the shuffle, as it was typed, and what is wrong with that."""
    text = given.get("seed", "1").strip()
    try:
        return seed_of(text), text, ""
    except InputError as error:
        return 1, text, str(error)


def _asked(board: BoardView, seed: int) -> dict[str, Any]:
    return {"plan": board.plan, "seed": seed, "shop": present.shop(), "finish": present.preference("finish")}


def _job(board: BoardView, seed: int) -> Job | None:
    """What was begun for this very board and shuffle, None where nothing was."""
    job = present.jobs().get(("again", board.id))
    return job if job is not None and job.asked == _asked(board, seed) else None


def _shown(board: BoardView, job: Job | None, text: str, wrong: str) -> str:
    part = request.headers.get("HX-Target") == "again"
    running = job is not None and job.running  # once for the whole page: it may end while that is written
    found: Passes | None = None if running or job is None else job.result
    return render_template(
        "judge/points.html" if part else "judge/again.html", board=board, job=job, running=running, seed=text,
        wrong=wrong, outlook=found, chart=_chart(found) if found else "",
        problem=job.error.say(present.lengths()) if job and job.error else "",
    )  # fmt: skip


def _chart(found: Passes) -> Markup:
    first = found.points[0].size[0] * found.points[0].size[1]
    left = [point.size[0] * point.size[1] / first for point in found.points]
    return Markup(
        chart.outlook(
            [p.disorder for p in found.points], left, [p.worth for p in found.points], found.best,
            label="Disorder, face left and their product, after each further pass",
        )
    )  # fmt: skip


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
