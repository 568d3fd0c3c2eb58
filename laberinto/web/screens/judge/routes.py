"""The scores of a face, each shown on it."""

from __future__ import annotations

from flask import Blueprint, render_template, request
from markupsafe import Markup

from laberinto.core.edits.again import cut_stage
from laberinto.core.judging.scores import SCORES, Scored, scores
from laberinto.core.stages import Arrange
from laberinto.drawing.scores import judged
from laberinto.drawing.skin import Painted

from ...app import bitmaps, present
from ...app.lookup import find
from ..board.view import good

bp = Blueprint("judge", __name__, url_prefix="/boards/<int:board_id>/judge", template_folder="templates")


@bp.get("")
def page(board_id: int) -> str:
    """Every score; ``show`` names the one whose places are lit."""
    board = find(board_id)
    sim, _, error = good(board)
    on = Scored(sim, present.preference("finish"))
    found = scores(on)
    shown = next((score for score in found if score.key == request.args.get("show")), None)
    skin = Painted(sim, "j", bitmaps.atlas_address, present.preference("finish"))
    label = f"The face of {board.name}" + (f", {shown.label.lower()}" if shown else "")
    arranged = next((stage for stage in board.plan.stages if isinstance(stage, Arrange)), None)
    return render_template(
        "judge/page.html", board=board, scores=found, shown=shown, all_scores=SCORES, error=error,
        drawing=Markup(judged(on, shown, skin, label=label)),
        arranged=arranged, can_cut=cut_stage(board.plan) is not None, stage=on.result.stage,
    )  # fmt: skip
