"""The record: what a board became, when what was done, and what was measured and noticed on the way."""

from __future__ import annotations

from flask import render_template

from ...app.lookup import find
from . import passport
from .record import bp, record_of


@bp.get("")
def page(board_id: int) -> str:
    """What the board became."""
    return render_template("kept/page.html", record=record_of(find(board_id)))


__all__ = ["bp", "passport"]
