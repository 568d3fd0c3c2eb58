"""The calendar for other programs: as a file, and at an address that can be subscribed to."""

from __future__ import annotations

import hashlib
import secrets
from collections.abc import Iterator
from datetime import UTC, datetime
from typing import cast

from flask import Response, abort, redirect, request, url_for

from laberinto.files.calendar import Entry, ics

from ...app import present
from . import view
from .blueprint import bp
from .settings import settings, share
from .state import State, begin, state


@bp.get("/boards.ics")
def file() -> Response:
    """As a file to save."""
    response = _answer(state())
    response.headers["Content-Disposition"] = 'attachment; filename="laberinto.ics"'
    return response


@bp.get("/shared/<secret>/boards.ics")
def subscribed(secret: str) -> Response:
    """At the address that the shop gave away; what is no longer in use is not found."""
    mine = settings(present.store()).secret
    if not mine or not secrets.compare_digest(mine.encode(), secret.encode()):
        abort(404)
    found = state()
    if found.wanted:  # nobody need open a page for it: who asks next, in an hour or so, gets the best
        begin(found)
    return _answer(found)


def _answer(found: State) -> Response:
    return Response(ics(_entries(found), "Laberinto", datetime.now(UTC)), mimetype="text/calendar")


def _entries(found: State) -> Iterator[Entry]:
    for going in view.goings(found, 0, 10**9):
        words = [f"{going.job.minutes} minutes"]
        if going.setting:
            words.append(f"set to {going.setting}")
        if going.job.held:
            until = found.moment(found.found.starts[going.job.id] + going.job.minutes + going.job.hold)
            words.append(f"{going.job.held.clamps + going.job.held.long} clamps until {until:%a %H:%M}")
        uid = hashlib.blake2b(going.job.id.encode(), digest_size=12).hexdigest()
        yield Entry(
            f"{uid}@laberinto", going.begins.astimezone(UTC), going.ends.astimezone(UTC),
            f"{going.name}: {going.job.title}", "; ".join(words),
            url_for("board.page", board_id=going.board, stage=going.job.stage, _external=True),
        )  # fmt: skip


@bp.post("/share")
def sharing() -> Response:
    """Make an address, a new one instead of the old, or none."""
    share(present.store(), on=request.form.get("share") != "off")
    return cast(Response, redirect(url_for("calendar.page", _anchor="share"), 303))
