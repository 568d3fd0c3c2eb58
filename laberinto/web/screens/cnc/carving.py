"""The simulated machine on the page: how far it is, held, gone on with, stopped, and what came of it."""

from __future__ import annotations

from contextlib import suppress
from dataclasses import dataclass
from typing import cast

from flask import Response, abort, render_template, request

from laberinto.core.plan.simulate import simulate
from laberinto.core.units import MM_PER_INCH
from laberinto.devices.controller import Sender
from laberinto.store import BoardView

from ...app import present
from ...app.jobs import Job
from ...app.lookup import find
from .asked import Asked, asked, bed, tools
from .blueprint import bp
from .machining import Done, Going, carve

WORDS = {"hold": "!", "resume": "~", "stop": "stop"}
"""What is said to the machine, by what is pressed."""


@dataclass(frozen=True, slots=True)
class Carving:
    """What the page says of a run."""

    running: bool
    held: bool
    share: float
    where: str
    shown: int
    carved: Done | None
    failed: bool
    mine: bool
    """Whether it is a run of what the page now asks for."""


@bp.app_template_filter("hair")
def hair(value: float) -> str:
    """A length too small for a rule: to a hundredth of a millimetre, or a thousandth of an inch."""
    return f"{value:.2f} mm" if present.lengths().system == "mm" else f'{value / MM_PER_INCH:.3f}"'


def _name(board_id: int) -> tuple[str, int]:
    return "carve", board_id


def _said(job: Job, word: str) -> str:
    """What the machine answers to a word, "" where it does not listen yet or any more."""
    going: Going | None = job.best
    if going is not None and job.running:
        with suppress(OSError), Sender(going.port) as line:
            return line.say(word)
    return ""


def state(board: BoardView, it: Asked | None) -> Carving | None:
    """How far the board's run is; None where there is none."""
    job = present.jobs().get(_name(board.id))
    if job is None:
        return None
    running, where = job.running, _said(job, "?")
    stands: Going | Done | None = job.best if running else job.result
    return Carving(
        running, where.startswith("<hold"), job.share, where, stands.shown if stands else 0,
        None if running else job.result, not running and job.result is None,
        it is None or it.made is None or it.made.text == job.asked["text"],
    )  # fmt: skip


@bp.post("/carve")
def begin(board_id: int) -> Response | tuple[str, int]:
    """Put the board on the simulated machine and send the program."""
    board = find(board_id)
    it = asked(simulate(board.plan), request.form)
    if it.made is None:
        said = next(iter(it.errors.values()), "There is nothing to carve from this side.")
        return render_template("cnc/carving.html", board=board, carving=None, problem=said), 422
    given = (board.plan, it.given, tools(), it.clamps, bed(present.shop()))

    def work(job: Job) -> Done:
        return cast(Done, job.apart(carve, *given))

    job = present.jobs().start(_name(board_id), {"text": it.made.text}, work, in_turn=False)
    job.done.wait(0.3)
    return Response(render_template("cnc/carving.html", board=board, carving=state(board, it), problem=""))


@bp.get("/carving")
def progress(board_id: int) -> str:
    """How far it is, as the page asks."""
    board = find(board_id)
    return render_template("cnc/carving.html", board=board, carving=state(board, None), problem="")


def _run(board_id: int) -> Job:
    job = present.jobs().get(_name(board_id))
    return job if job is not None else abort(404)


@bp.post("/say")
def say(board_id: int) -> str:
    """Hold, go on, or stop, as one would at the machine."""
    job = _run(board_id)
    word = WORDS.get(request.form.get("what", ""))
    if word is None:
        abort(400)
    _said(job, word)
    return progress(board_id)


@bp.get("/relief.glb")
def solid(board_id: int) -> Response:
    """The wood as it stands, to be turned."""
    job = _run(board_id)
    stands: Going | Done | None = job.result or job.best
    if stands is None or not stands.solid:
        abort(404)
    return Response(stands.solid, mimetype="model/gltf-binary", headers={"Cache-Control": "no-store"})


@bp.get("/deviation.png")
def deviation(board_id: int) -> Response:
    """How what was carved differs from what was planned."""
    done: Done | None = _run(board_id).result
    if done is None:
        abort(404)
    return Response(done.picture, mimetype="image/png", headers={"Cache-Control": "no-store"})
