"""What was measured at a step, as it is typed: of which quantity, in its unit, of all pieces or of one."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from flask import request
from markupsafe import Markup

from laberinto.core.asbuilt import Quantity, measure, quantities
from laberinto.core.edits import Edit
from laberinto.core.errors import InputError
from laberinto.core.finish import heights
from laberinto.core.finish.heights import Heights
from laberinto.core.plan.model import Plan
from laberinto.core.steps import Step
from laberinto.core.units import parse_length, parse_number, parse_weight
from laberinto.drawing.heights import heights as draw_heights
from laberinto.store import NoteView

from ...app import present
from ...app.lookup import find
from .blueprint import bp

SPOTS = 5
"""Four corners and the middle: so many readings at most stand in one field."""

LIMITS = {"°": (-90.0, 90.0), "%": (0.0, 100.0), "": (0.0, 10_000.0)}
"""What a reading may be, by its unit."""


Read = tuple[float, str, tuple[float, ...]]
"""What was read, in mm or its own unit, what that says, and each reading where there were several."""


@dataclass(frozen=True, slots=True)
class Reading:
    """A reading of a quantity, or of what the step itself says is measured; ``said`` goes into the note."""

    value: float | None
    quantity: Quantity | None = None
    piece: int | None = None
    planned: float | None = None
    said: str = ""
    spots: tuple[float, ...] = ()
    """What was read at several places, of which ``value`` is the mean."""

    @property
    def kept(self) -> dict[str, Any]:
        """As a note keeps it."""
        one = self.quantity
        return {
            "measured": self.value, "planned": self.planned, "quantity": one.key if one else "",
            "unit": one.unit if one else "mm", "piece": self.piece, "spots": self.spots,
        }  # fmt: skip


@dataclass(frozen=True, slots=True)
class Offer:
    """A quantity as the form offers it."""

    quantity: Quantity
    planned: str
    pieces: int


def there(plan: Plan, step: Step) -> dict[str, Quantity]:
    """What can be measured at a step, by its key."""
    last = step.key.rpartition(".")[2]
    return {one.key: one for stage in reversed(step.stages) for one in quantities(plan, stage, last)}


@bp.app_template_global()
def measured_as(note: NoteView, value: float) -> str:
    """A value of a note in its unit."""
    return Quantity("", "", "", unit=note.unit).say(value, present.lengths())


@bp.app_template_global()
def height_map(note: NoteView) -> Markup | None:
    """A map of the heights of a face, where a note holds those of its corners."""
    face = Heights.of(note.spots) if note.quantity == "to" and note.unit == "mm" else None
    if face is None:
        return None
    return Markup(draw_heights(face, lambda mm: present.lengths().show(mm, unit=False), label="Heights of the face"))


@bp.app_template_global()
def measurable(step: Step) -> list[Offer]:
    """What can be measured at a step, with what the plan says of it."""
    plan = find((request.view_args or {})["board_id"]).plan
    stage, how, out = plan.stage(step.stage), present.lengths(), []
    for one in there(plan, step).values():
        planned = one.planned(plan, stage)
        pieces = len(one.each(stage)) if one.each else 0
        out.append(Offer(one, one.say(planned, how) if planned is not None else "", pieces))
    return out


def read(plan: Plan, step: Step, form: Mapping[str, str]) -> Reading:
    """What is typed. Raises InputError at the field that cannot be read."""
    found, key = there(plan, step), form.get("quantity", "")
    if key and key not in found:
        raise InputError("Nothing of that name is measured at this step. Choose another.", "quantity")
    one = found[key] if key else next((q for q in found.values() if q.put and q.unit == "mm"), None)
    to = one.planned(plan, plan.stage(step.stage)) if one and one.key == "to" else None
    value, said, spots = _value(
        form.get("measured", ""), one.unit if one else "mm", faces=bool(one and one.key == "to"), to=to
    )
    piece = piece_of(form.get("piece", ""))
    if one is None:
        return Reading(value, planned=step.measure, said=said, spots=spots)
    stage = plan.stage(step.stage)
    planned = one.planned(plan, stage) if piece is None else one.of_piece(stage, piece)
    return Reading(value, one, piece, planned if planned is not None or key else step.measure, said, spots)


def piece_of(text: str) -> int | None:
    """Which piece, counted from 0; None where all are meant."""
    text = text.strip()
    if not text:
        return None
    if not (text.isascii() and text.isdigit() and 1 <= int(text[:6]) <= 9999):
        raise InputError(f"“{text[:20]}” is no piece. Type its number, or leave it empty for all.", "piece")
    return int(text) - 1


def _value(text: str, unit: str, *, faces: bool, to: float | None = None) -> Read:
    """A reading in its unit. Several lengths with ``;`` between, as of four corners and the middle, count as their
    mean, and where they are of a face it is said what they tell of it."""
    how = present.lengths()
    if unit == "kg":
        return parse_weight(text, how.system, "measured"), "", ()
    if unit == "mm":
        parts = [part for part in text.split(";") if part.strip()] or [text]
        if len(parts) > SPOTS:
            raise InputError(f"At most {SPOTS} readings, with ; between.", "measured")
        spots = [parse_length(part, how.system, field="measured") for part in parts]
        mean = round(sum(spots) / len(spots), 4)
        if faces and (face := Heights.of(spots)) is not None:
            return mean, " ".join(heights.words(face, how.show, to)), tuple(spots)
        apart = f"{', '.join(how.show(spot) for spot in spots)}: {how.show(max(spots) - min(spots))} apart."
        return (mean, apart, tuple(spots)) if len(spots) > 1 else (mean, "", ())
    value = parse_number(text.replace("°", "").replace("%", ""), "measured")
    least, most = LIMITS[unit]
    if not least <= value <= most:
        raise InputError(f"That is {value:g}; from {least:g} to {most:g}{unit} can be.", "measured")
    return value, "", ()


def followed(plan: Plan, step: Step, read_: Reading) -> Edit:
    """The plan as it follows a reading at each stage that the step is done for. Raises InputError where it cannot."""
    one, words = read_.quantity, ""
    if one is None or read_.value is None:
        return Edit(plan, "")
    for stage in step.stages:
        if one.key in {q.key for q in quantities(plan, stage)}:
            edit = measure(plan, stage, one.key, read_.value, present.lengths(), read_.piece)
            plan, words = edit.plan, words or edit.words
    return Edit(plan, words)
