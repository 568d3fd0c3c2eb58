"""What a board asks of the store: its strips, rough, with room to joint, plane and square them."""

from __future__ import annotations

from dataclasses import dataclass

from ..analysis.figures import CutLine, cut_list
from ..analysis.marks import runs
from ..plan.simulate import Simulation
from ..shop import Shop


@dataclass(frozen=True, slots=True)
class Need:
    """Strips of one rough size (mm) and wood, and how many; ``name`` says which they are."""

    wood: str
    length: float
    width: float
    thickness: float
    count: int
    name: str = ""

    @property
    def volume(self) -> float:
        """Of all of them, mm³."""
        return self.length * self.width * self.thickness * self.count


def needs(sim: Simulation, shop: Shop) -> tuple[Need, ...]:
    """The rough strips of a plan, as many times as it is made, like with like, longest first. What is taken as it is
    is not cut from anything; see ``as_they_are``."""
    found = (need_of(line, sim.plan.times) for line in cut_list(sim, shop=shop) if not line.stock.as_is)
    return tuple(sorted(found, key=lambda n: (n.wood, -n.length, -n.width)))


def as_they_are(sim: Simulation) -> tuple[CutLine, ...]:
    """What a plan takes from the racks without cutting it: staves, bark-edged boards, pieces of a log."""
    return tuple(line for line in cut_list(sim) if line.stock.as_is)


def need_of(line: CutLine, times: int = 1) -> Need:
    """Rough strips of a line of the cut list, as many times as its plan is made."""
    length, width, thickness = line.rough
    named = f"{line.name.lower()} {runs(line.marks)}" + (f", {times} boards" if times > 1 else "")
    return Need(line.wood, length, width, thickness, line.count * times, named)
