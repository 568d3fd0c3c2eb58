"""Paper: all that can be printed of a board or saved as a file, in one place."""

from __future__ import annotations

from flask import render_template

from ...app import present
from ...app.lookup import find
from ..steps import PAPERS, usual_paper
from . import labels, tables, truesize
from .blueprint import bp
from .book import PARTS

__all__ = ["bp", "labels", "tables", "truesize"]


@bp.get("")
def page(board_id: int) -> str:
    """What there is, by what it is good for."""
    held = next(iter(present.store().timber.cuts(board_id)), None)
    return render_template(
        "paper/page.html", board=find(board_id), papers=PAPERS, usual=usual_paper(), parts=PARTS,
        planks=held is not None and held.plan.planks,
    )  # fmt: skip
