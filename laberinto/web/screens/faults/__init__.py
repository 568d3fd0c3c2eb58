"""Faults: pins on the face, the underside and the edges of a board, and how each was mended."""

from __future__ import annotations

from dataclasses import dataclass
from typing import cast

from flask import Blueprint, Response, abort, redirect, render_template, request, url_for
from markupsafe import Markup

from laberinto.core.analysis.spot import Spot, spot
from laberinto.core.errors import InputError
from laberinto.core.finish.faults import Fault
from laberinto.core.geometry.faces import Side
from laberinto.core.plan.simulate import Simulation, simulate
from laberinto.core.stages import Fill, Stage
from laberinto.core.units import parse_length
from laberinto.core.woods import LIBRARY
from laberinto.drawing.pinned import Mark, pinned
from laberinto.drawing.skin import Painted
from laberinto.store import BoardView, PinView

from ...app import bitmaps, present, reading
from ...app.lookup import find
from ...app.photos import small_jpeg

bp = Blueprint("faults", __name__, url_prefix="/boards/<int:board_id>/faults", template_folder="templates")

SIDES: dict[Side, str] = {
    Side.TOP: "Face", Side.BOTTOM: "Underside", Side.FRONT: "Near edge", Side.BACK: "Far edge",
    Side.LEFT: "Left edge", Side.RIGHT: "Right edge",
}  # fmt: skip
"""The six sides, in the order in which they are looked over."""

LONGEST = 400
"""Characters of a note on a fault."""

MOST_MINUTES = 10_000.0


@dataclass(frozen=True, slots=True)
class Found:
    """A place that was pressed: mm from the left and the upper edge of the drawn side, and what lies there; None beside
    the wood."""

    x: float
    y: float
    spot: Spot | None


@dataclass(frozen=True, slots=True)
class Faults:
    """The page: a side of the board with its pins, those of all sides, and the place that was pressed."""

    board: BoardView
    side: Side
    piece: int
    pieces: int
    drawing: Markup
    pins: list[PinView]
    found: Found | None

    @property
    def here(self) -> list[PinView]:
        """Those on the side on show."""
        return [pin for pin in self.pins if (pin.side, pin.piece) == (self.side.value, self.piece)]

    def count(self, side: Side) -> int:
        """How many a side has."""
        return sum((pin.side, pin.piece) == (side.value, self.piece) for pin in self.pins)


def _stage(board: BoardView, name: str) -> Stage | None:
    return next((stage for stage in board.plan.stages if stage.id == name), None)


@bp.app_template_global()
def pin_place(board: BoardView, pin: PinView) -> str:
    """Which strip, wood and stage a pin's spot came from, in words."""
    wood = LIBRARY[pin.wood].name.lower() if pin.wood in LIBRARY else pin.wood
    stage = _stage(board, pin.stage)
    return f"{pin.strip}, {wood}{f', milled at {stage.title.lower()}' if stage else ''}"


@bp.app_template_global()
def side_words(side: str) -> str:
    """What a side is called."""
    return SIDES[Side(side)]


def _side(values: dict[str, str]) -> Side:
    asked = values.get("side", Side.TOP.value)
    return Side(asked) if asked in {side.value for side in Side} else Side.TOP


def _page(board: BoardView, status: int = 200, error: InputError | None = None) -> Response:
    values = request.values.to_dict()
    sim, side = simulate(board.plan), _side(values)
    piece = min(reading.whole(values.get("piece")) or 0, len(sim.boards) - 1)
    pins = present.store().pins(board.id).all()
    x, y = reading.number(values.get("x")), reading.number(values.get("y"))
    found = Found(x, y, spot(sim, piece, side, x, y)) if x is not None and y is not None else None
    marks = [
        Mark(str(at), pin.x, pin.y, bool(pin.mended), f"#pin-{pin.id}")
        for at, pin in enumerate(pins, 1)
        if (pin.side, pin.piece) == (side.value, piece)
    ]
    if found is not None and found.spot is not None:
        marks.append(Mark("?", found.x, found.y))
    skin = Painted(sim, "f", bitmaps.atlas_address, present.preference("finish"))
    label = f"{SIDES[side]} of {board.name}"
    drawing = Markup(pinned(sim.boards[piece], side, skin, marks, label=label))
    faults = Faults(board, side, piece, len(sim.boards), drawing, pins, found)
    return Response(
        render_template("faults/page.html", faults=faults, sides=SIDES, kinds=list(Fault), error=error), status
    )


@bp.get("")
def page(board_id: int) -> Response:
    """A side of the board with its pins."""
    return _page(find(board_id))


def _placed(sim: Simulation, side: Side, piece: int) -> tuple[float, float, Spot]:
    """Where a pin is to be, typed or pressed. Raises InputError beside the wood."""
    how = present.lengths()
    x, y = (parse_length(request.form.get(name, ""), how.system, zero=True, field=name) for name in ("x", "y"))
    there = spot(sim, piece, side, x, y)
    if there is None:
        raise InputError("There is no wood at that place. Press on the drawing, or type other distances.", "x")
    return x, y, there


@bp.post("")
def put(board_id: int) -> Response:
    """Stick a pin into a place of a side."""
    board = find(board_id)
    sim, side = simulate(board.plan), _side(request.form.to_dict())
    piece = min(reading.whole(request.form.get("piece")) or 0, len(sim.boards) - 1)
    try:
        fault, text = reading.must_be(Fault, request.form, "fault"), _text("text")
        x, y, there = _placed(sim, side, piece)
    except InputError as error:
        return _page(board, 422, error)
    strip, wood, stage = there.strips[0]
    named = " and ".join(dict.fromkeys(name for name, *_ in there.strips))
    number = present.store().pins(board_id).put(
        piece, side.value, x, y, fault.value, wood=wood, stage=stage, text=text,
        strip=f"{'joint of ' + named if there.on_joint else strip}{f', slice {there.row}' if there.row else ''}",
    )  # fmt: skip
    return _to(board_id, side, piece, number)


def _text(name: str) -> str:
    text = " ".join(request.form.get(name, "").split())
    if len(text) > LONGEST:
        raise InputError(f"That is {len(text)} characters; a note on a fault takes {LONGEST}.", name)
    return text


def _to(board_id: int, side: Side, piece: int, number: int = 0) -> Response:
    anchor = f"pin-{number}" if number else None
    where = url_for("faults.page", board_id=board_id, side=side.value, piece=piece or None, _anchor=anchor)
    return cast(Response, redirect(where, 303))


@bp.post("/<int:number>")
def change(board_id: int, number: int) -> Response:
    """Write down how a fault was mended, give it a photo, or take its pin out."""
    board, pins = find(board_id), present.store().pins(board_id)
    pin = next((one for one in pins.all() if one.id == number), None)
    if pin is None:
        abort(404)
    if request.form.get("pull"):
        pins.pull(number)
        return _to(board_id, Side(pin.side), pin.piece)
    try:
        typed = request.form.get("minutes", "").strip()
        minutes = reading.number(typed.replace(",", "."))
        if typed and (minutes is None or not 0 <= minutes <= MOST_MINUTES):
            raise InputError(f"“{typed[:20]}” is no number of minutes, from 0 to {MOST_MINUTES:g}.", "minutes")
        upload = request.files.get("photo")
        jpeg = small_jpeg(upload) if upload and upload.filename else None
        pins.mend(number, _text("text"), _text("mended"), minutes)
        if jpeg is not None:
            pins.picture(number, f"{_filling(board)}.fault", jpeg)
    except InputError as error:
        return _page(board, 422, InputError(error.say(present.lengths()), f"{error.field}-{number}"))
    return _to(board_id, Side(pin.side), pin.piece, number)


def _filling(board: BoardView) -> str:
    """The stage that photos of faults stand at: where it is filled, or else the last."""
    fills = [stage.id for stage in board.plan.stages if isinstance(stage, Fill)]
    return fills[0] if fills else board.plan.stages[-1].id


__all__ = ["SIDES", "bp"]
