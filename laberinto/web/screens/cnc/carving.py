"""The simulated machine at work: a program is sent to it line by line over a port, held, gone on with, stopped."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import timedelta
from threading import Event
from typing import Any

import numpy as np
from flask import Response, abort, render_template, request

from laberinto.core.cnc.program import Carved, Program, machine_for
from laberinto.core.plan.simulate import simulate
from laberinto.core.units import MM_PER_INCH
from laberinto.devices.controller import Controller, Sender, Server
from laberinto.drawing.cnc import WITHIN, deviation_png
from laberinto.files.relief import relief
from laberinto.store import BoardView

from ...app import present
from ...app.jobs import Job
from ...app.lookup import find
from .asked import Asked, asked, bed, tools
from .blueprint import bp

WAIT = 0.05
"""How long a sender waits before it asks again whether it may go on, s."""

PICTURES = 40
"""So often over a program the wood is shown as it comes off."""


@dataclass
class Run:
    """A program on the machine: how far it is, and what came of it."""

    program: Program
    text: str
    controller: Controller | None = None
    go_on: Event = field(default_factory=Event)
    shown: int = 0
    solid: bytes = b""
    carved: Carved | None = None
    picture: bytes = b""
    judged: Mapping[str, float] = field(default_factory=dict)
    """How much is too deep, how much is left (mm), and the share that is as planned."""


@dataclass(frozen=True, slots=True)
class Carving:
    """What the page says of a run."""

    running: bool
    held: bool
    share: float
    where: str
    shown: int
    carved: Carved | None
    failed: bool
    mine: bool
    """Whether it is a run of what the page now asks for."""
    gouged: float = 0.0
    left: float = 0.0
    good: float = 0.0


@bp.app_template_filter("hair")
def hair(value: float) -> str:
    """A length too small for a rule: to a hundredth of a millimetre, or a thousandth of an inch."""
    return f"{value:.2f} mm" if present.lengths().system == "mm" else f'{value / MM_PER_INCH:.3f}"'


def _name(board_id: int) -> tuple[str, int]:
    return "carve", board_id


def state(board: BoardView, it: Asked | None) -> Carving | None:
    """How far the board's run is; None where there is none."""
    job = present.jobs().get(_name(board.id))
    if job is None:
        return None
    run: Run = job.asked["run"]
    controller = run.controller
    where = controller.say("?") if controller else ""
    carved, running = run.carved, job.running
    return Carving(
        running, bool(controller and controller.held), job.share, where, run.shown, None if running else carved,
        job.failed, it is None or it.made is None or it.made.text == run.text, **run.judged,
    )  # fmt: skip


@bp.post("/carve")
def carve(board_id: int) -> Response | tuple[str, int]:
    """Put the board on the simulated machine and send the program."""
    board = find(board_id)
    it = asked(simulate(board.plan), request.form)
    if it.made is None:
        said = next(iter(it.errors.values()), "There is nothing to carve from this side.")
        return render_template("cnc/carving.html", board=board, carving=None, problem=said), 422
    run = Run(it.made, it.made.text)
    run.go_on.set()
    table, shop, clamps = tools(), present.shop(), it.clamps

    def work(job: Job) -> Any:
        before, planned = run.program.wood()
        machine = machine_for(run.program, before, table, clamps, bed(shop))
        run.controller = Controller(machine)
        lines = run.text.splitlines()
        every = max(len(lines) // PICTURES, 1)
        stopped = ""
        with Server(0, run.controller) as server, Sender(server.server_address[1]) as sender:
            number = 0
            for answer in sender.send(run.text):
                if answer == "held":
                    run.go_on.wait(WAIT)
                    if job.cancelled.is_set():
                        sender.say("stop")
                    continue
                number += 1
                stopped = answer.removeprefix("error ") if answer != "ok" else ""
                if number % every == 0:
                    run.solid, run.shown = relief(machine.wood), run.shown + 1
                if not job.tell(number / len(lines)) and not stopped:
                    sender.say("stop")
        run.solid, run.shown = relief(machine.wood), run.shown + 1
        run.carved = Carved(planned, machine.wood, timedelta(seconds=round(machine.seconds)), stopped)
        run.picture, off = deviation_png(run.carved), run.carved.deviation
        run.judged = {
            "gouged": float(-off.min()), "left": float(off.max()), "good": float((np.abs(off) <= WITHIN).mean()),
        }  # fmt: skip
        return run.carved

    job = present.jobs().start(_name(board_id), {"run": run}, work, in_turn=False)
    job.done.wait(0.3)
    return Response(render_template("cnc/carving.html", board=board, carving=state(board, it), problem=""))


@bp.get("/carving")
def progress(board_id: int) -> str:
    """How far it is, as the page asks."""
    board = find(board_id)
    return render_template("cnc/carving.html", board=board, carving=state(board, None), problem="")


def _run(board_id: int) -> tuple[Job, Run]:
    job = present.jobs().get(_name(board_id))
    return (job, job.asked["run"]) if job is not None else abort(404)


@bp.post("/say")
def say(board_id: int) -> str:
    """Hold, go on, or stop, as one would at the machine."""
    job, run = _run(board_id)
    word = {"hold": "!", "resume": "~", "stop": "stop"}.get(request.form.get("what", ""))
    if word is None:
        abort(400)
    if run.controller is not None and job.running:
        run.controller.say(word)
        if word == "!":
            run.go_on.clear()
        else:
            run.controller.say("~")
            run.go_on.set()
    return progress(board_id)


@bp.get("/relief.glb")
def solid(board_id: int) -> Response:
    """The wood as it stands, to be turned."""
    _, run = _run(board_id)
    if not run.solid:
        abort(404)
    return Response(run.solid, mimetype="model/gltf-binary", headers={"Cache-Control": "no-store"})


@bp.get("/deviation.png")
def deviation(board_id: int) -> Response:
    """How what was carved differs from what was planned."""
    _, run = _run(board_id)
    if not run.picture:
        abort(404)
    return Response(run.picture, mimetype="image/png", headers={"Cache-Control": "no-store"})
