"""A board in a few figures, to be kept: what it was planned to take, so that many boards can be added up without
building each anew."""

from __future__ import annotations

from collections.abc import Iterable

from pydantic import BaseModel, ConfigDict

from ..plan.simulate import Simulation
from ..shop import Shop
from .cost import bill


class Summary(BaseModel):
    """Hours, price and cost of materials in the shop's money, share of the milled wood that is wasted (0 to 1), litres
    of each wood taken, and the keys of all steps."""

    model_config = ConfigDict(frozen=True)

    hours: float
    price: float
    materials: float
    waste: float
    woods: dict[str, float]
    steps: tuple[str, ...]

    @classmethod
    def of(cls, sim: Simulation, shop: Shop, steps: Iterable[str]) -> Summary:
        """Of a board as planned, with the keys of its steps."""
        cost = bill(sim, shop)
        return cls(
            hours=cost.hours, price=cost.price, materials=cost.cost - cost.labour,
            waste=sum(sim.waste().values()) / sim.milled, woods={line.wood: line.taken for line in cost.woods},
            steps=tuple(steps),
        )  # fmt: skip
