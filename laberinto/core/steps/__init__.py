"""The build as steps at the bench, in order, with settings, maps and cautions."""

from __future__ import annotations

from ..analysis.names import names
from ..instructions import told
from ..plan.simulate import Simulation
from ..shop import Shop
from ..units import Lengths
from .cautions import DEFER
from .model import Context, Map, Step
from .writers import WRITERS


def steps(
    sim: Simulation, lengths: Lengths | None = None, shop: Shop | None = None, taken: tuple[str, ...] = ()
) -> list[Step]:
    """Every step of the build in order, with lengths written as ``lengths`` shows them. ``taken`` are sentences on what
    of the store is held for the board; they stand where its wood is cut."""
    how, here, known = lengths or Lengths(), shop or Shop(), names(sim)
    return [
        step
        for result in sim.results
        for step in WRITERS[result.stage.kind](
            Context(sim, result, how, here, known, told(sim, result, here, known), taken)
        )
    ]


__all__ = ["DEFER", "Map", "Step", "steps"]
