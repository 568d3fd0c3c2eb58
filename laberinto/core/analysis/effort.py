"""What a build asks for: glue-ups, saw cuts, days and machines, read off a plan and the pieces its saws were given."""

from __future__ import annotations

from dataclasses import dataclass

from ..plan.model import OFFCUT
from ..plan.simulate import Simulation
from ..stages import Crosscut, Gluing, Mill, Profile, Sawing, Stage, Trim
from .glueups import nights, waits

EDGES = 4
"""Cuts that true a board all round."""


@dataclass(frozen=True, slots=True)
class Effort:
    """How much work a plan is. ``days`` counts the day it is begun; see ``days_of``."""

    glue_ups: int
    cuts: int
    days: int
    machines: tuple[str, ...]


def effort(sim: Simulation) -> Effort:
    """The work of a whole build. Of what comes after the last saw ``sim`` needs no results."""
    stages = [stage for stage in sim.plan.stages if not stage.skip]
    machines = dict.fromkeys(name for stage in stages for name in _machines(stage))
    return Effort(
        sum(stage.glue_ups for stage in stages if isinstance(stage, Gluing)),
        sum(cuts_of(sim, stage) for stage in stages),
        days_of(sim),
        tuple(machines),
    )


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
        return len(stage.laid_out())
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
