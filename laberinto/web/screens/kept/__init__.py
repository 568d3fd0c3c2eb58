"""The record: what a board became, when what was done, and what was measured and noticed on the way."""

from __future__ import annotations

from typing import cast

from flask import Response, redirect, render_template, request, url_for

from laberinto.core.finish.care import Care

from ...app import present, reading
from ...app.lookup import find
from . import passport
from .record import bp, record_of

LONGEST_CARE = 300
"""Characters of a note on care that are kept."""


@bp.get("")
def page(board_id: int) -> str:
    """What the board became."""
    return render_template(
        "kept/page.html", record=record_of(find(board_id)), care_kinds=list(Care), mark_lines=passport.mark_lines
    )


@bp.post("/care")
def cared(board_id: int) -> Response:
    """Note what was done for the board; or, with ``erase``, let go of such a note."""
    find(board_id)
    build, number = present.store().build(board_id), reading.whole(request.form.get("erase"))
    if number is not None:
        build.erase(number)
    else:
        kind = reading.must_be(Care, request.form, "kind")
        build.write(kind.key, " ".join(request.form.get("text", "").split())[:LONGEST_CARE], None)
    return cast(Response, redirect(url_for("kept.page", board_id=board_id, _anchor="care"), 303))


__all__ = ["bp", "passport"]
