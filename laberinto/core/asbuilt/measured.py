"""What a maker can measure at a stage, and where it goes in the plan. Declared once, by the stage's kind."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Any

from ..edits.model import Edit
from ..errors import InputError
from ..plan.model import Plan
from ..stages import Crosscut, Flatten, Mill, Resaw, Rip, Stage, Trim
from ..stages.flatten import FacePair
from ..units import Lengths
from ..validation import checked

NEAR = 0.02
"""Sizes that differ by less (mm) are the same: a reading this near what is planned says that it came out so."""

SAID = "as measured: "
"""How the history begins to say it."""

Values = Mapping[str, Any]


@dataclass(frozen=True, slots=True)
class Quantity:
    """Something that can be measured: at which of its stage's steps (the end of the step's key), what the plan says of
    it in mm (None where there is no one value), and the parameters that a reading sets."""

    key: str
    label: str
    step: str
    planned: Callable[[Any], float | None]
    put: Callable[[Any, float], Values]


def _one(values: set[float]) -> float | None:
    return values.pop() if len(values) == 1 else None


def _strips(stage: Mill, width: float) -> Values:
    return {"strips": tuple(spec.model_copy(update={"width": width}) for spec in stage.strips)}


def _set(name: str) -> Callable[[Any, float], Values]:
    return lambda _stage, mm: {name: mm}


MEASURED: dict[type[Stage], tuple[Quantity, ...]] = {
    Mill: (
        Quantity("thickness", "thickness of the strips", "plane", lambda s: s.thickness, _set("thickness")),
        Quantity("width", "width of the strips", "rip", lambda s: _one({spec.width for spec in s.strips}), _strips),
    ),
    Flatten: (
        Quantity(
            "to", "thickness", "flatten", lambda s: s.to if s.faces is FacePair.TOP_BOTTOM else None,
            lambda _s, mm: {"to": mm, "each_face": None},
        ),
    ),
    Crosscut: (Quantity("slice", "thickness of the slices", "cut", lambda s: s.slice, _set("slice")),),
    Rip: (Quantity("width", "width of the pieces", "saw", lambda s: s.width, _set("width")),),
    Resaw: (Quantity("width", "thickness of the pieces", "saw", lambda s: s.width, _set("width")),),
    Trim: (
        Quantity("width", "width", "edges", lambda s: s.width, _set("width")),
        Quantity("length", "length", "ends", lambda s: s.length, _set("length")),
    ),
}  # fmt: skip
"""What can be measured, by stage kind."""


def quantities(plan: Plan, stage_id: str, step: str = "") -> tuple[Quantity, ...]:
    """What can be measured at a stage, or at one of its steps (``step`` is what its key ends in), where the plan has
    one value to hold it against."""
    stage = plan.stage(stage_id)
    found = next((of for kind, of in MEASURED.items() if type(stage) is kind), ())
    return tuple(one for one in found if step in ("", one.step) and one.planned(stage) is not None)


def measure(plan: Plan, stage_id: str, key: str, mm: float, lengths: Lengths) -> Edit:
    """The plan with what was measured at a stage in the place of what was planned; no change, and no words, where it
    came out as planned. Raises InputError where it cannot be."""
    stage = plan.stage(stage_id)
    quantity = next((one for one in quantities(plan, stage_id) if one.key == key), None)
    if quantity is None:
        raise InputError(f"Nothing of that name is measured at {stage.title.lower()}.", "measured")
    planned = quantity.planned(stage)
    assert planned is not None
    if abs(planned - mm) < NEAR:
        return Edit(plan, "")
    try:
        made = checked(type(stage), stage.model_dump() | dict(quantity.put(stage, mm)))
    except InputError as error:
        raise InputError(f"That cannot be: {error}", "measured") from None
    words = f"{SAID}{quantity.label}, {stage.title.lower()}: {lengths.show(planned)} → {lengths.show(mm)}"
    return Edit(plan.with_stage(made), words)
