"""The picture's page, its edits, and the board that is made of it."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import fields
from typing import cast

import numpy as np
from flask import Blueprint, Response, make_response, redirect, render_template, request, url_for
from markupsafe import Markup
from PIL import Image

from laberinto.core.edits import Edit
from laberinto.core.edits.pattern import family_of, reshape
from laberinto.core.errors import InputError, LaberintoError
from laberinto.core.picture import LETTERS, Picture
from laberinto.core.picture import edits as change
from laberinto.core.picture.edits import Block
from laberinto.core.picture.pixels import from_pixels
from laberinto.core.plan.simulate import simulate
from laberinto.core.units import parse_length
from laberinto.core.woods import LIBRARY
from laberinto.drawing.picture import grid
from laberinto.store import StaleError

from ...app import bitmaps, present, reading
from ...app.lookup import find
from ...app.photos import reduced
from ...app.saving import save
from .state import State, read, start

bp = Blueprint("picture", __name__, url_prefix="/boards/new/picture", template_folder="templates")

Form = Mapping[str, str]
MOST_SIDE = 2000

CELL_PPM = 4.0
"""Resolution of a painted cell, pixels a mm: it is drawn large, and larger still on a fine screen."""


@bp.get("")
def page() -> str:
    """A new picture; with ``board`` that of a board."""
    return render_template("picture/page.html", **editor(start(reading.whole(request.args.get("board")) or 0)))


def editor(
    state: State, errors: dict[str, str] | None = None, marked: set[tuple[int, int]] | None = None
) -> dict[str, object]:
    """What the editor's template shows."""
    picture = state.picture
    drawn = grid(picture, swatches(picture), marked=marked or set(), label="The wanted face")
    return {
        "state": state, "grid": Markup(drawn), "letters": LETTERS, "errors": errors or {}, "library": LIBRARY,
        "size": (sum(picture.widths), sum(picture.heights)),
        "chosen_width": _one(picture.widths), "chosen_height": _one(picture.heights),
    }  # fmt: skip


def swatches(picture: Picture) -> dict[str, str]:
    """The address of a bitmap for each wood of the palette."""
    finish = present.preference("finish")
    for key in picture.woods:
        LIBRARY.require(key, "woods")
    return {key: bitmaps.swatch(key, finish, CELL_PPM) for key in picture.woods}


def _one(sizes: tuple[float, ...]) -> str:
    """A size in its field, where all are alike."""
    return present.lengths().field(sizes[0]) if len(set(sizes)) == 1 else ""


def _number(form: Form, name: str) -> int:
    found = reading.whole(form.get(name))
    if found is None:
        raise InputError(f"{name.capitalize()} is a whole number.", name)
    return found


def _block(form: Form, picture: Picture) -> Block:
    """The chosen cells, or all of them."""
    found = reading.wholes(form.get("block"))
    return Block(*found) if found and len(found) == len(fields(Block)) else change.whole(picture)


def _cells(form: Form) -> list[tuple[int, int]]:
    pairs = [reading.wholes(part, "-") for part in form.get("cells", "").split(",") if part]
    found = [(pair[0], pair[1]) for pair in pairs if pair is not None and len(pair) == 2]
    if len(found) < len(pairs):
        raise InputError("Those cells got lost on the way; reload the page.")
    return found


def _sizes(picture: Picture, form: Form) -> Picture:
    how, block = present.lengths(), _block(form, picture)
    width, height = form.get("width", "").strip(), form.get("height", "").strip()
    return change.set_sizes(
        picture, block,
        parse_length(width, how.system, least=3, most=200, field="width") if width else None,
        parse_length(height, how.system, least=8, most=120, field="height") if height else None,
    )  # fmt: skip


def _wood(picture: Picture, form: Form) -> Picture:
    key = form.get("wood", "")
    LIBRARY.require(key, "woods")
    return change.set_wood(picture, form.get("letter", ""), key)


OPERATIONS: dict[str, Callable[[Picture, Form], Picture]] = {
    "": lambda picture, _form: picture,
    "paint": lambda picture, form: change.paint(picture, _cells(form), form.get("letter", "")),
    "fill": lambda picture, form: change.fill(picture, (*_cells(form), (-1, -1))[0], form.get("letter", "")),
    "mirror": lambda picture, form: change.mirror(picture, _block(form, picture), across=True),
    "turn-over": lambda picture, form: change.mirror(picture, _block(form, picture), across=False),
    "repeat": lambda picture, form: change.repeat(picture, _block(form, picture)),
    "paste": lambda picture, form: change.paste(
        picture, form.get("rows", "").split(","), (*_cells(form), (0, 0))[0]
    ),
    "resize": lambda picture, form: change.resize(picture, _number(form, "rows"), _number(form, "columns")),
    "sizes": _sizes,
    "wood": _wood,
}  # fmt: skip
"""What the page can ask of its picture; a new edit is a function in ``core/picture/edits.py`` and a line here."""


@bp.post("/edit")
def edit() -> Response | tuple[str, int]:
    """The picture after one edit; the page keeps the states before it to undo."""
    try:
        state = read(request.form)
    except InputError as error:
        return render_template("picture/editor.html", **editor(start(), {"rows": error.say(present.lengths())})), 422
    operation = OPERATIONS.get(request.form.get("op", ""), OPERATIONS[""])
    try:
        state = state.drawn(operation(state.picture, request.form))
    except InputError as error:
        wrong = {error.field: error.say(present.lengths())}
        return render_template("picture/editor.html", **editor(state, wrong)), 422
    return make_response(render_template("picture/editor.html", **editor(state)))


@bp.post("/import")
def import_image() -> Response | tuple[str, int]:
    """An image laid over the grid and reduced to the palette."""
    state = read(request.form)
    upload = request.files.get("image")
    try:
        image = reduced(upload.read() if upload else b"", "image", MOST_SIDE)
        paper = Image.new("RGBA", image.size, "white")  # what is clear is paper
        paper.alpha_composite(image.convert("RGBA"))
        rgb = np.asarray(paper.convert("RGB"))
    except InputError as error:
        return render_template("picture/editor.html", **editor(state, {"image": str(error)})), 422
    picture = state.picture
    woods = [LIBRARY.require(key, "woods") for key in picture.woods]
    rows = from_pixels(
        rgb, len(picture.rows), len(picture.widths), woods, present.preference("finish"),
        stretch=request.form.get("stretch") == "yes",
    )  # fmt: skip
    state = state.drawn(picture.model_copy(update={"rows": rows}))
    return make_response(render_template("picture/editor.html", **editor(state)))


@bp.post("")
def make() -> Response | tuple[str, int]:
    """A board of the picture, or the board it belongs to made anew."""
    try:
        state = read(request.form)
    except InputError as error:
        return render_template("picture/page.html", **editor(start(), {"rows": error.say(present.lengths())})), 422
    try:
        if not 1 <= len(state.name) <= 80:
            raise InputError("A name has 1 to 80 characters.", "name")
        family = state.family()
        if state.board:
            board = find(state.board)
            before = family_of(board.plan)
            if before is None:
                raise InputError("That board is no longer made of a picture; start a new one.", "name")
            plan, _ = reshape(board.plan, before, family)
            simulate(plan)
            save(board, Edit(plan, "picture changed"), based_on=board.revision)
            board_id = state.board
        else:
            plan = family.plan(state.name)
            simulate(plan)
            board_id = present.store().create(plan)
    except InputError as error:
        return render_template("picture/page.html", **editor(state, {error.field: error.say(present.lengths())})), 422
    except (LaberintoError, StaleError) as error:
        return render_template("picture/page.html", **editor(state, {"rows": str(error)})), 422
    return cast(Response, redirect(url_for("board.page", board_id=board_id), 303))
