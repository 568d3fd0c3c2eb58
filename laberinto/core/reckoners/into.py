"""Where a reckoner's answer can go in a board: which parameters of which stages it sets. One line a reckoner."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from ..plan import Plan
from ..stages import Cove, Crosscut, Groove, Hollow, Mill, Rip, Stage
from .amounts import GrooveCapacity
from .angles import Arc, Mitre, Skew, Stave
from .model import Reckoner


@dataclass(frozen=True, slots=True)
class Into:
    """Values for parameters of one stage (mm for a length), and what they are in words."""

    stage: str
    values: dict[str, float]
    words: str


def places(reckoner: Reckoner, plan: Plan) -> list[Into]:
    """The stages of a plan that can take this answer; none for a sum that no stage asks for."""
    writes = _WRITES.get(type(reckoner))
    if writes is None:
        return []
    kinds, values, words = writes
    found = [stage for stage in plan.stages if isinstance(stage, kinds)]
    return [Into(stage.id, values(reckoner), f"{words} of {stage.title.lower()}") for stage in found]


def _radius(r: Any) -> dict[str, float]:
    return {"radius": round(float(r.results()[0].value), 2)}


def _flat(r: Any) -> dict[str, float]:
    return {"thickness": int(float(r.results()[0].value) * 10) / 10}  # rounded down: there is no more


def _groove(r: Any) -> dict[str, float]:
    return {"inset": r.inset, "width": r.bit, "depth": r.depth}


_WRITES: dict[type[Reckoner], tuple[tuple[type[Stage], ...], Callable[[Any], dict[str, float]], str]] = {
    Arc: ((Hollow, Cove), _radius, "radius"),
    Stave: ((Mill,), _flat, "thickness"),
    Skew: ((Rip, Crosscut), lambda r: {"skew": r.angle}, "skew"),
    Mitre: ((Rip,), lambda r: {"bevel": round(180 / r.sides, 4)}, "bevel"),
    GrooveCapacity: ((Groove,), _groove, "inset, width and depth"),
}
