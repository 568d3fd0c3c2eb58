"""The record: what a board became, when what was done, and what was measured and noticed on the way."""

from __future__ import annotations

from typing import cast

from flask import Response, redirect, render_template, request, url_for

from laberinto.core.analysis.together import Real
from laberinto.core.errors import InputError
from laberinto.core.finish.care import REPAIRS, Care
from laberinto.core.units import parse_number

from ...app import present, reading
from ...app.lookup import find
from . import passport
from .record import bp, record_of

MOST = {Real.HOURS: 2000.0, Real.PRICE: 1_000_000.0}
"""What can be written down of a board."""

LONGEST_CARE = 300
"""Characters of a note on care that are kept."""


@bp.get("")
def page(board_id: int) -> str:
    """What the board became."""
    return _page(board_id)


def _page(board_id: int, error: InputError | None = None) -> str:
    return render_template(
        "kept/page.html",
        record=record_of(find(board_id)),
        care_kinds=list(Care),
        mark_lines=passport.mark_lines,
        repairs=REPAIRS,
        error=error,
        real={kind: present.store().shelf.last(kind.key).get(board_id) for kind in Real},
    )


@bp.post("/real")
def real(board_id: int) -> Response | tuple[str, int]:
    """Write down the hours a board took and the price it got; an empty field is not known."""
    find(board_id)
    build, known = present.store().build(board_id), present.store().shelf
    read = {}
    for kind in Real:
        typed = request.form.get(kind.value, "").strip()
        try:
            read[kind] = parse_number(typed, kind.value) if typed else None
            if (value := read[kind]) is not None and not 0 <= value <= MOST[kind]:
                raise InputError(f"That is {value:g}; {kind.label} are from 0 to {MOST[kind]:g}.", kind.value)
        except InputError as error:
            return _page(board_id, error), 422
    for kind, value in read.items():
        if value != known.last(kind.key).get(board_id):
            for note in build.notes():
                if note.step == kind.key:
                    build.erase(note.id)
            if value is not None:
                build.write(kind.key, "", value)
    return cast(Response, redirect(url_for("kept.page", board_id=board_id, _anchor="real"), 303))


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
