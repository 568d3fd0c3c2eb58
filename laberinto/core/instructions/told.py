"""What the instructions of a stage are made from."""

from __future__ import annotations

from dataclasses import dataclass

from ..analysis.names import Name, Names
from ..plan.simulate import Simulation, StageResult
from ..shop import Shop
from ..solid import Cells


@dataclass(frozen=True, slots=True)
class Told:
    """A stage's result, in its build and shop, with the names of all pieces."""

    sim: Simulation
    result: StageResult
    names: Names
    shop: Shop

    @property
    def makes(self) -> tuple[Name, ...]:
        """What the stage leaves."""
        return self.names[self.result.stage.id]

    @property
    def takes(self) -> tuple[Name, ...]:
        """What it takes from its first source."""
        assert self.result.stage.source is not None
        return self.names[self.result.stage.source]

    @property
    def pieces(self) -> list[Cells]:
        """The wood of those."""
        assert self.result.stage.source is not None
        taken = self.sim.taken(self.result.stage.source)
        return [taken[number] for number in range(len(taken))]
