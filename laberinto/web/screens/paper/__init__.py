"""Paper: all that can be printed of a board or saved as a file, in one place."""

from __future__ import annotations

from flask import Blueprint, render_template

from ...app.lookup import find
from ..steps import PAPERS, usual_paper

bp = Blueprint("paper", __name__, url_prefix="/boards/<int:board_id>/paper", template_folder="templates")


@bp.get("")
def page(board_id: int) -> str:
    """What there is, by what it is good for."""
    return render_template("paper/page.html", board=find(board_id), papers=PAPERS, usual=usual_paper())
