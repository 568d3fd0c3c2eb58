"""A rehearsal: a glue-up gone through dry against the clock, piece by piece, with the time that would be left."""

from __future__ import annotations

from dataclasses import dataclass
from typing import cast

from flask import Blueprint, Response, abort, redirect, render_template, request, url_for

from laberinto.core.calendar.rehearsal import Beat, Score, beats, score
from laberinto.core.instructions import GlueUp
from laberinto.core.steps import Step
from laberinto.store import BoardView

from ...app import present, reading
from ...app.lookup import find
from ..steps import Drawn, Sheet, sheet

bp = Blueprint("rehearsal", __name__, url_prefix="/boards/<int:board_id>/rehearse", template_folder="templates")

LONGEST = 4 * 3600
"""Seconds that a rehearsal may take."""


@dataclass(frozen=True, slots=True)
class Rehearsal:
    """A glue-up to go through."""

    board: BoardView
    step: Step
    told: GlueUp
    beats: list[Beat]
    drawn: Drawn | None

    @property
    def joints(self) -> int:
        """Joints that get glue."""
        return sum(beat.glued for beat in self.beats)


def _rehearsal(board_id: int, stage: str) -> Rehearsal:
    """The glue-up of a stage; 404 where it has none."""
    whole: Sheet = sheet(find(board_id))
    for step in whole.steps:
        told = next((one for one in step.does if isinstance(one, GlueUp)), None)
        if step.stage == stage and told is not None:
            return Rehearsal(whole.board, step, told, beats(told, present.shop()), whole.map(step))
    return abort(404)


@bp.get("/<stage>")
def page(board_id: int, stage: str) -> str:
    """The pieces, the clock, and what the last time said."""
    return render_template("rehearsal/page.html", it=_rehearsal(board_id, stage), shop=present.shop(), score=None)


@bp.post("/<stage>")
def done(board_id: int, stage: str) -> str | Response:
    """What a rehearsal took: told, and noted at the dry fit."""
    it = _rehearsal(board_id, stage)
    laid, clamped = (reading.number(request.form.get(name)) for name in ("laid", "clamped"))
    if laid is None or clamped is None or not 0 < laid <= clamped <= LONGEST:
        return cast(Response, redirect(url_for("rehearsal.page", board_id=board_id, stage=stage), 303))
    found = score(it.beats, laid, clamped, present.shop())
    present.store().build(board_id).write(f"{stage}.dry", said(found), None)
    return render_template("rehearsal/page.html", it=it, shop=present.shop(), score=found)


def said(found: Score) -> str:
    """A rehearsal as the log keeps it."""
    end = "in time" if found.in_time else "too slow for this glue"
    return f"Rehearsed: all laid after {clock(found.laid)}, clamps on after {clock(found.clamped)}; {end}."


@bp.app_template_filter("clock")
def clock(seconds: float) -> str:
    """Minutes and seconds: ``4:05``."""
    whole = round(abs(seconds))
    return f"{'−' if seconds < 0 and whole else ''}{whole // 60}:{whole % 60:02}"
