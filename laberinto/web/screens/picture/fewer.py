"""With at most k panels: which cells to change, which to refuse, and taking the changed picture up."""

from __future__ import annotations

import hashlib
from typing import cast

from flask import render_template, request

from laberinto.core.errors import InputError
from laberinto.core.picture import Fewer, panels
from laberinto.core.picture.grid import MOST_SIDE

from ...app import present, reading
from ...app.jobs import Job
from .routes import bp
from .search import fewer_panels
from .state import State, read


def _key(state: State, most: int, keep: list[tuple[int, int]]) -> tuple[str, int]:
    text = f"{state.data}|{most}|{sorted(keep)}"
    return "fewer", int.from_bytes(hashlib.blake2b(text.encode(), digest_size=6).digest(), "big")


@bp.post("/fewer")
def fewer() -> tuple[str, int] | str:
    """Start or ask after the search; ``keep`` lists cells that stay as they are."""
    try:
        state = read(request.form)
        most = reading.whole(request.form.get("most"), MOST_SIDE)
        if not most:
            raise InputError(f"How many panels at most: a whole number from 1 to {MOST_SIDE}.", "most")
        pairs = (reading.wholes(cell, "-") for cell in request.form.get("keep", "").split(",") if cell)
        keep = [(pair[0], pair[1]) for pair in pairs if pair is not None and len(pair) == 2]
    except InputError as error:
        return render_template("picture/fewer.html", error=error.say(present.lengths()), job=None), 422
    name = _key(state, most, keep)
    job = present.jobs().get(name)
    if job is None:

        def work(job: Job) -> Fewer:
            return cast(Fewer, job.apart(fewer_panels, state.picture, most, keep))

        job = present.jobs().start(name, {}, work)
        job.done.wait(0.8)
    elif request.form.get("stop"):  # what it has so far is shown in a moment
        job.enough.set()
        job.done.wait(0.8)
    running = job.running  # once for the whole page: it may end while that is written
    found: Fewer | None = None if running else job.result
    if not running and job.ending:
        present.jobs().drop(name)  # whoever asks again wants it looked at further
    return render_template(
        "picture/fewer.html", job=job, running=running, found=found, most=most, keep=keep,
        needs=len(panels(state.picture)),
        error=job.error.say(present.lengths()) if job.error else "",
        data=state.drawn(found.picture).data if found else "", before=state.picture,
    )  # fmt: skip
