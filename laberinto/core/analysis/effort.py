"""What a build asks for: glue-ups, saw cuts, days and machines, read off a plan and the pieces its saws were given."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from ..plan.model import OFFCUT
from ..plan.simulate import Simulation
from ..stages import Crosscut, Gluing, Inlay, Mill, Profile, Sawing, Shape, Stage, Trim
from ..stages.carving import Carving
from .glueups import nights, waits

EDGES = 4
"""Cuts that true a board all round."""

FEW_GLUE_UPS = 2
"""A panel and the rows of its slices: what every end-grain board has at least."""

MANY_GLUE_UPS = 5
"""From here on errors of one glue-up add up in the next."""

Level = Literal["a first board", "some practice", "steady hands"]


@dataclass(frozen=True, slots=True)
class Effort:
    """How much work a plan is. ``days`` counts the day it is begun; see ``days_of``. ``level`` says how hard it is and
    ``why`` what makes it so."""

    glue_ups: int
    cuts: int
    days: int
    machines: tuple[str, ...]
    level: Level
    why: str


def effort(sim: Simulation) -> Effort:
    """The work of a whole build. Of what comes after the last saw ``sim`` needs no results."""
    stages = [stage for stage in sim.plan.stages if not stage.skip]
    machines = dict.fromkeys(name for stage in stages for name in _machines(stage))
    glue_ups = sum(stage.glue_ups for stage in stages if isinstance(stage, Gluing))
    return Effort(
        glue_ups,
        sum(cuts_of(sim, stage) for stage in stages),
        days_of(sim),
        tuple(machines),
        *difficulty(stages, glue_ups),
    )


def difficulty(stages: Sequence[Stage], glue_ups: int) -> tuple[Level, str]:
    """How hard a build is, and what makes it so: blades off square and many glue-ups, whose errors add up, ask for
    steady hands; a third glue-up, or a router guided by a template, for some practice."""
    if any(stage.angled for stage in stages):
        return "steady hands", "angled cuts"
    if glue_ups >= MANY_GLUE_UPS:
        return "steady hands", "many glue-ups"
    if any(isinstance(stage, Carving | Shape | Inlay) for stage in stages):
        return "some practice", "router work"
    if glue_ups > FEW_GLUE_UPS:
        return "some practice", "several glue-ups"
    return "a first board", "square cuts"


def days_of(sim: Simulation) -> int:
    """Days from the first cut to the last coat: panels that do not need each other share a night, and every wait in the
    clamps, off them or between coats takes the nights that it lasts. A reckoning, not a calendar."""
    nights_: dict[str, int] = {}
    for stage in sim.plan.stages:
        before = max((nights_[name.removesuffix(OFFCUT)] for name in stage.sources), default=0)
        nights_[stage.id] = before + sum(nights(hours) for hours in waits(sim.plan, stage))
    return max(nights_.values()) + 1


def cuts_of(sim: Simulation, stage: Stage) -> int:
    """Passes of a blade: strips are ripped one by one."""
    if isinstance(stage, Mill):
        return 0 if stage.as_is else len(stage.laid_out())
    if isinstance(stage, Trim):
        return EDGES
    if not isinstance(stage, Sawing | Crosscut | Profile):
        return 0
    pieces = sim.taken(stage.sources[0])
    if isinstance(stage, Profile):
        return len(pieces) * stage.sides
    runs = (stage.layout(pieces[number])[1] for number in range(len(pieces)))
    return sum(int((run[:, 1] - run[:, 0] > 1e-9).sum()) for run in runs)


def _machines(stage: Stage) -> list[str]:
    names = stage.machine.replace(" and ", ", ").split(", ")
    return ["thickness planer" if name == "planer" else name for name in names if name]
