"""What goes with a finished board: its passport, and a card on how it is cared for, both as PDF."""

from __future__ import annotations

from base64 import b64encode
from datetime import UTC, datetime
from io import BytesIO
from pathlib import Path

import segno
from flask import Response, current_app, render_template, request, url_for
from markupsafe import Markup

from laberinto.core.finish.care import care, cure_days
from laberinto.core.geometry.faces import Side, face_of
from laberinto.core.plan.simulate import Simulation
from laberinto.core.timber.cost import bill
from laberinto.core.woods import LIBRARY
from laberinto.drawing.board import thumbnail
from laberinto.drawing.engraving import engraving
from laberinto.drawing.raster import jpeg
from laberinto.drawing.skin import Flat

from ...app import present
from ...app.lookup import find
from ...app.printing import begin
from ..steps import PAPERS, usual_paper
from ..steps.pdf import PICTURE, to_pdf
from .record import Record, bp, record_of

PICTURES = 6
"""So many small pictures of the build at most."""

CARDS = 4
"""Cards on a sheet: A6 four times on A4."""


FACE = "face-that-is-drawn-last"
"""Stands in a sheet for the address of the face."""


def face(sim: Simulation) -> str:
    """The finished face with its rings, as an address that holds it."""
    return PICTURE + b64encode(jpeg(sim)).decode()


def story(sim: Simulation) -> list[tuple[str, Markup]]:
    """The build in a few small pictures, from strips to board."""
    shaping = [r for r in sim.results if r.stage.shapes_wood and not r.stage.skip]
    step = max((len(shaping) - 1) / (PICTURES - 1), 1.0)
    chosen = [shaping[round(k * step)] for k in range(min(PICTURES, len(shaping))) if round(k * step) < len(shaping)]
    out = []
    for result in chosen:
        picture = thumbnail(face_of(result.pieces[0], Side.TOP), Flat(sim, "raw"), label=result.stage.title)
        out.append((result.stage.title, Markup(picture)))
    return out


LONG = 120
"""Characters from which on a code is set to hold more rather than to be read when it is scratched."""


def code(text: str) -> Markup:
    """A code to scan."""
    out = BytesIO()
    segno.make(text, error="l" if len(text) > LONG else "m", micro=False, boost_error=False).save(
        out, kind="svg", xmldecl=False, svgns=True, omitsize=True, border=1
    )
    return Markup(out.getvalue().decode())


def _sheet(board_id: int, template: str, name: str, *, said: str) -> Response:
    board = find(board_id)
    record = record_of(board)
    sim = record.sheet.sim
    asked = request.values.get("paper", "")
    shown = record.pictured[-1].photo if record.first_and_last else None
    photo = present.store().build(board_id).photo(shown.id) if shown else None
    html = render_template(
        template, record=record, face=FACE, story=story(sim) if template.endswith("passport.html") else [],
        care=care(sim), cure=cure_days(board.plan), woods=LIBRARY,
        hours=record.hours or bill(sim, present.shop()).hours,
        size=PAPERS[asked if asked in PAPERS else usual_paper()], today=datetime.now(UTC), code=code(said),
        cards=range(CARDS), dense=len(said) > LONG, photo=PICTURE + b64encode(photo).decode() if photo else "",
    )  # fmt: skip
    # the face is drawn when its turn has come: that takes longer than anybody waits for an answer
    return begin(lambda: html.replace(FACE, face(sim)), board_id, f"laberinto-{board_id}-{name}", to_pdf)


@bp.post("/passport.pdf")
def passport(board_id: int) -> Response:
    """What the board is, and how it came about, on a sheet."""
    address = url_for("kept.page", board_id=board_id, _external=True)
    return _sheet(board_id, "kept/passport.html", "passport", said=address)


LETTERS = "vendor/fonts/atkinson-hyperlegible-next-700.woff2"

LONGEST_MARK = 60


def mark_lines(record: Record) -> list[str]:
    """What is burned or engraved: the maker's mark, the number, and the month in which it was finished."""
    when = record.done[-1].done if record.finished and record.done else None
    month = (when or datetime.now(UTC)).strftime("%B %Y")
    return [present.shop().maker.strip()[:LONGEST_MARK], f"No. {record.board.id}", month]


@bp.get("/mark.svg")
def mark(board_id: int) -> Response:
    """The board's mark in true size, as outlines."""
    font = (Path(current_app.static_folder or "") / LETTERS).read_bytes()
    drawn = engraving(mark_lines(record_of(find(board_id))), font, present.shop().capital)
    response = Response(drawn, mimetype="image/svg+xml")
    if "save" in request.args:
        response.headers["Content-Disposition"] = f'attachment; filename="laberinto-{board_id}-mark.svg"'
    return response


@bp.post("/care-card.pdf")
def care_card(board_id: int) -> Response:
    """Four cards on a sheet, faces on the first page and care on the second. The code opens the record on this machine,
    or with ``code=care`` holds the care text itself."""
    if request.values.get("code") == "care":
        said = " ".join(care(record_of(find(board_id)).sheet.sim))
    else:
        said = url_for("kept.page", board_id=board_id, _external=True)
    return _sheet(board_id, "kept/card.html", "care-card", said=said)
