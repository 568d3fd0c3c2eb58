"""Where a reckoner's answer can go in a board: which parameters of which stages it sets. One line a reckoner."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from ..analysis.figures import Figures, figures
from ..plan.model import Plan
from ..plan.simulate import simulate
from ..stages import Cove, Crosscut, Groove, Hollow, Mill, Rip, Stage
from .amounts import GrooveCapacity
from .angles import Arc, Mitre, Skew, Stave, Turntable
from .model import Reckoner


@dataclass(frozen=True, slots=True)
class Into:
    """Values for parameters of one stage (mm for a length), and what they are in words."""

    stage: str
    values: dict[str, float]
    words: str

    @property
    def key(self) -> str:
        """Tells this place from others, also in the same stage."""
        return ".".join((self.stage, *self.values))


def places(reckoner: Reckoner, plan: Plan) -> list[Into]:
    """The stages of a plan that can take this answer; none for a sum that no stage asks for."""
    return [
        Into(stage.id, values(reckoner), f"{words} of {stage.title.lower()}")
        for kinds, values, words in _WRITES.get(type(reckoner), ())
        for stage in plan.stages
        if isinstance(stage, kinds)
    ]


def given(kind: type[Reckoner], plan: Plan) -> dict[str, float]:
    """What a board says of a reckoner's fields, to begin with. Raises LaberintoError where it cannot be built."""
    says = _GIVEN.get(kind)
    return says(figures(simulate(plan))) if says else {}


_GIVEN: dict[type[Reckoner], Callable[[Figures], dict[str, float]]] = {
    Turntable: lambda f: {"weight": round(f.weight, 2), "radius": round(max(f.width, f.length) / 2, 1)},
}


def _radius(r: Any) -> float:
    return round(float(r.results()[0].value), 2)


def _flat(r: Any) -> dict[str, float]:
    return {"thickness": int(float(r.results()[0].value) * 10) / 10}  # rounded down: there is no more


def _groove(r: Any) -> dict[str, float]:
    return {"inset": r.inset, "width": r.bit, "depth": r.depth}


_Write = tuple[tuple[type[Stage], ...], Callable[[Any], dict[str, float]], str]

_WRITES: dict[type[Reckoner], tuple[_Write, ...]] = {
    Arc: (
        ((Hollow,), lambda r: {"radius": _radius(r), "depth": r.rise}, "radius and depth"),
        ((Hollow,), lambda r: {"knife": _radius(r)}, "knife"),
        ((Cove,), lambda r: {"radius": _radius(r)}, "radius"),
    ),
    Stave: (((Mill,), _flat, "thickness"),),
    Skew: (((Rip, Crosscut), lambda r: {"skew": r.angle}, "skew"),),
    Mitre: (((Rip,), lambda r: {"bevel": round(180 / r.sides, 4)}, "bevel"),),
    GrooveCapacity: (((Groove,), _groove, "inset, width and depth"),),
}
