"""The build as steps at the bench, in order, with settings, maps and cautions."""

from __future__ import annotations

from ..simulate import Simulation
from ..units import Lengths
from .cautions import DEFER
from .model import Context, Map, Step
from .writers import WRITERS


def steps(sim: Simulation, lengths: Lengths | None = None) -> list[Step]:
    """Every step of the build in order, with lengths written as ``lengths`` shows them."""
    how = lengths or Lengths()
    return [step for result in sim.results for step in WRITERS[type(result.stage)](Context(sim, result, how))]


__all__ = ["DEFER", "Map", "Step", "steps"]
