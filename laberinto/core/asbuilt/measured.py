"""What a maker can measure at a stage, and where it goes in the plan. Declared once, by the stage's kind."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from typing import Any

from ..edits.model import Edit
from ..errors import InputError
from ..plan.model import Plan
from ..stages import Across, Arrange, Crosscut, Flatten, Glue, Mill, Oil, Resaw, Rest, Rip, Sand, Stage, Trim
from ..stages.flatten import FacePair
from ..stages.mill import LEAST_WIDTH
from ..units import Lengths, degrees
from ..validation import checked

NEAR = 0.02
"""Sizes (mm) or angles (degrees) that differ by less are the same: a reading this near what is planned says that it
came out so."""

SAID = "as measured: "
"""How the history begins to say it."""

Planned = Callable[[Plan, Any], float | None]
Put = Callable[[Plan, Any, float], Plan]


@dataclass(frozen=True, slots=True)
class Quantity:
    """Something that can be measured: at which of its stage's steps (the end of the step's key, "" for any), in which
    unit (mm, °, %, kg, or "" for a count), what the plan says of it (None where it says nothing, or no one value), and
    the plan that a reading makes; None where it moves no wood and is only written down.

    ``each`` gives what is planned of every piece, and ``put_each`` takes a reading of one, counted from 0, where pieces
    can be measured one by one. ``drift`` is how far off it comes out at a usual bench (one standard deviation); 0 where
    that follows from something else that is measured."""

    key: str
    label: str
    step: str
    planned: Planned = lambda _plan, _stage: None
    put: Put | None = None
    unit: str = "mm"
    each: Callable[[Any], tuple[float, ...]] | None = None
    put_each: Callable[[Any, int, float], dict[str, Any]] | None = None
    drift: float = 0.2

    def of_piece(self, stage: Stage, piece: int) -> float:
        """What is planned of one piece, counted from 0; raises InputError where there is none of that number or they
        are not measured one by one."""
        if self.each is None:
            raise InputError(f"The {self.label} is measured of all together; leave the piece empty.", "piece")
        pieces = self.each(stage)
        if not 0 <= piece < len(pieces):
            raise InputError(f"There are {len(pieces)} pieces here; type a number from 1 to {len(pieces)}.", "piece")
        return pieces[piece]

    def say(self, value: float, lengths: Lengths) -> str:
        """A reading as it is written."""
        if self.unit == "mm":
            return lengths.show(value)
        if self.unit == "kg":
            return f"{value * lengths.scale('kg'):.4g} {lengths.unit('kg')}"
        return degrees(value) if self.unit == "°" else f"{value:g}{' ' + self.unit if self.unit else ''}"


def _one(values: Sequence[float]) -> float | None:
    return values[0] if len(set(values)) == 1 else None


def _plain(name: str) -> Planned:
    return lambda _plan, stage: getattr(stage, name)


def _rebuilt(plan: Plan, stage: Stage, changes: dict[str, Any]) -> Plan:
    return plan.with_stage(checked(type(stage), stage.model_dump() | changes))


def _sets(name: str) -> Put:
    return lambda plan, stage, value: _rebuilt(plan, stage, {name: value})


def _counts(plan: Plan, stage: Stage, value: float) -> Plan:
    if value != int(value) or not value >= 1:
        raise InputError("Slices are counted in whole numbers, from 1.", "measured")
    return _rebuilt(plan, stage, {"count": int(value)})


def _all_as_wide(plan: Plan, stage: Mill, value: float) -> Plan:
    return _rebuilt(plan, stage, {"strips": [spec.model_dump() | {"width": value} for spec in stage.strips]})


def _one_as_wide(stage: Mill, piece: int, value: float) -> dict[str, Any]:
    strips = [spec.model_dump() for spec in stage.laid_out()]
    strips[piece]["width"] = value
    return {"strips": strips}


def _one_in(name: str, each: Callable[[Any], tuple[float, ...]]) -> Callable[[Any, int, float], dict[str, Any]]:
    """A list with a value for each piece, one of them as it came out."""
    return lambda stage, piece, value: {name: [*each(stage)[:piece], value, *each(stage)[piece + 1 :]]}


def _lamination(plan: Plan, glue: Glue) -> Mill | None:
    """The strips that a glue-up lays side by side, nothing between them, where it does."""
    mill = plan.stage(glue.source or "") if glue.source and ":" not in glue.source else None
    side_by_side = isinstance(mill, Mill) and not mill.as_is and glue.across is Across.WIDTH
    plain = not (glue.also or glue.turns or glue.turned or glue.sequence)
    return mill if side_by_side and plain and isinstance(mill, Mill) else None


def _panel_width(plan: Plan, glue: Glue) -> float | None:
    mill = _lamination(plan, glue)
    return sum(spec.width for spec in mill.laid_out()) if mill else None


def _narrower(plan: Plan, glue: Glue, value: float) -> Plan:
    """Every strip lost its share: what a joint takes, and what was planed off edges before it."""
    mill, planned = _lamination(plan, glue), _panel_width(plan, glue)
    assert mill is not None and planned
    strips = [spec.model_dump() | {"width": round(spec.width * value / planned, 4)} for spec in mill.laid_out()]
    if any(spec["width"] < LEAST_WIDTH for spec in strips):
        raise InputError(f"A panel that narrow leaves strips under {LEAST_WIDTH:g} mm.", "measured")
    return _rebuilt(plan, mill, {"strips": strips})


def _panel_length(plan: Plan, glue: Glue) -> float | None:
    mill = _lamination(plan, glue)
    return mill.length if mill and not any(spec.length for spec in mill.strips) else None


def _shorter(plan: Plan, glue: Glue, value: float) -> Plan:
    mill = _lamination(plan, glue)
    assert mill is not None
    return _rebuilt(plan, mill, {"length": value})


def _row_height(plan: Plan, glue: Glue) -> Flatten | None:
    """What gives rows their height, where all come of one flattened panel."""
    rows = plan.stage(glue.source or "") if glue.source else None
    if not isinstance(rows, Arrange) or rows.also or glue.across is not Across.LENGTH:
        return None
    cut = plan.stage(rows.source or "")
    flat = plan.stage(cut.source or "") if isinstance(cut, Crosscut) and ":" not in (cut.source or "") else None
    return flat if isinstance(flat, Flatten) and flat.to is not None else None


def _pitch(plan: Plan, glue: Glue) -> float | None:
    flat = _row_height(plan, glue)
    return flat.to if flat else None


def _higher(plan: Plan, glue: Glue, value: float) -> Plan:
    flat = _row_height(plan, glue)
    assert flat is not None
    return _rebuilt(plan, flat, {"to": value, "each_face": None})


def _written(key: str, label: str, step: str, unit: str, drift: float) -> Quantity:
    return Quantity(key, label, step, unit=unit, drift=drift)


KERF = Quantity("kerf", "kerf", "cut", _plain("kerf"), _sets("kerf"), drift=0.1)
SKEW = Quantity("skew", "blade turned from square", "cut", _plain("skew"), _sets("skew"), "°", drift=0.0)
BEVEL = Quantity("bevel", "blade tilted from upright", "cut", _plain("bevel"), _sets("bevel"), "°", drift=0.0)

MEASURED: dict[type[Stage], tuple[Quantity, ...]] = {
    Mill: (
        Quantity("thickness", "thickness of the strips", "plane", _plain("thickness"), _sets("thickness")),
        Quantity(
            "width", "width of the strips", "rip", lambda _p, s: _one([spec.width for spec in s.strips]), _all_as_wide,
            each=lambda s: tuple(spec.width for spec in s.laid_out()), put_each=_one_as_wide,
        ),
        _written("moisture", "moisture", "rough", "%", 1.0),
    ),
    Glue: (
        Quantity("panel-width", "width of the panel", "glue", _panel_width, _narrower, drift=0.0),
        Quantity("panel-length", "length of the panel", "glue", _panel_length, _shorter, drift=0.0),
        Quantity("pitch", "height of a row", "glue", _pitch, _higher, drift=0.0),
    ),
    Flatten: (
        Quantity(
            "to", "thickness", "flatten", lambda _p, s: s.to if s.faces is FacePair.TOP_BOTTOM else None,
            lambda plan, stage, value: _rebuilt(plan, stage, {"to": value, "each_face": None}),
        ),
    ),
    Crosscut: (
        Quantity(
            "slice", "thickness of the slices", "cut", lambda _p, s: _one(s.slices),
            lambda plan, stage, value: _rebuilt(plan, stage, {"slice": value, "own": ()}),
            each=lambda s: s.slices, put_each=_one_in("own", lambda s: s.slices),
        ),
        Quantity("count", "good slices", "cut", _plain("count"), _counts, "", drift=0.0),
        SKEW, BEVEL, KERF,
    ),
    Rip: (
        Quantity(
            "width", "width of the pieces", "saw", _plain("width"), _sets("width"),
            each=lambda s: s.widths, put_each=_one_in("widths", lambda s: s.widths),
        ),
        replace(SKEW, step="saw"), replace(BEVEL, step="saw"),
        replace(KERF, step="saw"),
    ),
    Resaw: (
        Quantity(
            "width", "thickness of the pieces", "saw", _plain("width"), _sets("width"),
            each=lambda s: s.widths, put_each=_one_in("widths", lambda s: s.widths),
        ),
        replace(KERF, step="saw"),
    ),
    Rest: (
        _written("moisture", "moisture", "rest", "%", 1.0),
        _written("humidity", "humidity of the air", "rest", "%", 1.0),
    ),
    Trim: (
        Quantity("width", "width", "edges", _plain("width"), _sets("width")),
        Quantity("length", "length", "ends", _plain("length"), _sets("length")),
    ),
    Sand: (_written("thickness", "finished thickness", "", "mm", 0.1), _written("weight", "weight", "", "kg", 0.03)),
    Oil: (_written("weight", "weight", "", "kg", 0.03),),
}  # fmt: skip
"""What can be measured, by stage kind."""


def quantities(plan: Plan, stage_id: str, step: str = "") -> tuple[Quantity, ...]:
    """What can be measured at a stage, or at one of its steps (``step`` is what its key ends in): what the plan has a
    value to hold it against, for all pieces or for each, and what is only written down."""
    stage = plan.stage(stage_id)
    found = next((of for kind, of in MEASURED.items() if type(stage) is kind), ())
    return tuple(
        one for one in found
        if (not step or one.step in ("", step))
        and (one.put is None or one.planned(plan, stage) is not None or (one.each is not None and one.each(stage)))
    )  # fmt: skip


def measure(plan: Plan, stage_id: str, key: str, value: float, lengths: Lengths, piece: int | None = None) -> Edit:
    """The plan with what was measured at a stage, of all its pieces or of one counted from 0, in the place of what was
    planned; no change, and no words, where it came out as planned or moves no wood. Raises InputError where it cannot
    be."""
    stage = plan.stage(stage_id)
    quantity = next((one for one in quantities(plan, stage_id) if one.key == key), None)
    if quantity is None:
        raise InputError(f"Nothing of that name is measured at {stage.title.lower()}.", "measured")
    planned = quantity.planned(plan, stage) if piece is None else quantity.of_piece(stage, piece)
    if quantity.put is None:
        return Edit(plan, "")
    if planned is None:
        raise InputError(f"The {quantity.label} differs from piece to piece: say which one this is.", "piece")
    if abs(planned - value) < NEAR:
        return Edit(plan, "")
    try:
        if piece is None:
            made = quantity.put(plan, stage, value)
        else:
            assert quantity.put_each is not None
            made = _rebuilt(plan, stage, quantity.put_each(stage, piece, value))
    except InputError as error:
        raise InputError(f"That cannot be: {error}", "measured") from None
    of = f" of piece {piece + 1}" if piece is not None else ""
    words = f"{SAID}{quantity.label}{of}, {stage.title.lower()}: {quantity.say(planned, lengths)} → "
    return Edit(made, words + quantity.say(value, lengths))
