"""Edits to the strips of a panel. Positions count from 0, in panel order."""

from __future__ import annotations

from ..errors import InputError
from ..plan import Plan
from ..stages import Mill, StripSpec
from ..stages.mill import MOST_STRIPS, StripTurn
from ..woods import LIBRARY
from .model import Edit


def _mill(plan: Plan, stage_id: str) -> tuple[Mill, list[StripSpec]]:
    stage = plan.stage(stage_id)
    if not isinstance(stage, Mill):
        raise InputError(f"Stage “{stage_id}” mills no strips.")
    return stage, stage.laid_out()


def _done(plan: Plan, stage: Mill, strips: list[StripSpec], words: str) -> Edit:
    if not strips:
        raise InputError("A panel needs at least one strip.", "strips")
    if len(strips) > MOST_STRIPS:
        raise InputError(f"A panel takes at most {MOST_STRIPS} strips.", "strips")
    return Edit(plan.with_stage(stage.model_copy(update={"strips": tuple(strips)})), words)


def _at(strips: list[StripSpec], position: int) -> StripSpec:
    if not 0 <= position < len(strips):
        raise InputError(f"There is no strip {position + 1}; the panel has {len(strips)}.", "strips")
    return strips[position]


def move(plan: Plan, stage_id: str, position: int, to: int) -> Edit:
    """Move a strip to another position; the others close up."""
    stage, strips = _mill(plan, stage_id)
    strip = _at(strips, position)
    strips.pop(position)
    to = max(0, min(to, len(strips)))
    strips.insert(to, strip)
    return _done(plan, stage, strips, f"strip {position + 1} moved to {to + 1}")


def remove(plan: Plan, stage_id: str, position: int) -> Edit:
    """Take a strip out."""
    stage, strips = _mill(plan, stage_id)
    gone = _at(strips, position)
    strips.pop(position)
    return _done(plan, stage, strips, f"strip {position + 1} ({gone.wood}) removed")


def duplicate(plan: Plan, stage_id: str, position: int) -> Edit:
    """Lay another strip of the same wood and width beside a strip, from other stock."""
    stage, strips = _mill(plan, stage_id)
    strip = _at(strips, position)
    mark = max(spec.mark or 0 for spec in strips) + 1
    strips.insert(position + 1, strip.model_copy(update={"mark": mark, "rings": None}))
    return _done(plan, stage, strips, f"strip {position + 1} ({strip.wood}) doubled")


def set_wood(plan: Plan, stage_id: str, position: int, wood: str) -> Edit:
    """Make a strip of another wood."""
    stage, strips = _mill(plan, stage_id)
    strip, named = _at(strips, position), LIBRARY.require(wood, f"wood-{position}")
    strips[position] = strip.model_copy(update={"wood": named.key, "rings": None})
    return _done(plan, stage, strips, f"strip {position + 1}: {strip.wood} → {named.key}")


def set_width(plan: Plan, stage_id: str, position: int, width: float) -> Edit:
    """Make a strip wider or narrower, mm."""
    stage, strips = _mill(plan, stage_id)
    strip = _at(strips, position)
    strips[position] = strip.model_copy(update={"width": width})
    return _done(plan, stage, strips, f"strip {position + 1}: {strip.width:g} → {width:g} mm wide")


def turn(plan: Plan, stage_id: str, position: int, turned: StripTurn) -> Edit:
    """Turn a strip in its place, on top of how it lies already."""
    stage, strips = _mill(plan, stage_id)
    strip = _at(strips, position)
    strips[position] = strip.model_copy(update={"turned": strip.turned.then(turned)})
    return _done(plan, stage, strips, f"strip {position + 1} turned {turned.words}")


def widths(plan: Plan, stage_id: str) -> list[float]:
    """Width of every strip in mm, in panel order."""
    return [strip.width for strip in _mill(plan, stage_id)[1]]
