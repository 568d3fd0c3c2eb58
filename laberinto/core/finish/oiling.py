"""How much oil and wax a board takes, from its surface and the pores of its woods.

The figures are rules of thumb for a planning sheet: what a board really took up is weighed, see ``uptake``.
"""

from __future__ import annotations

from ..plan.simulate import Simulation
from ..woods import Caution, Porosity, Wood

END_GRAIN = 0.004
"""Litres of oil that a dm² of diffuse-porous end grain takes in the first round; each further round takes half of the
one before."""

LONG_GRAIN = 0.3
"""What a dm² along the fibres takes, of what end grain does."""

PORES: dict[Porosity, float] = {
    Porosity.RING: 1.4, Porosity.SEMI_RING: 1.2, Porosity.DIFFUSE: 1.0, Porosity.NONE: 1.1,
}  # fmt: skip
"""How thirsty end grain is by its pores, diffuse-porous being 1: wide vessels drink most; softwood has none, but its
tracheids are open."""

SEEPING = 1.5
"""Times as much where vessels are open from end to end."""

WAX = 0.0015
"""Litres of wax paste for a dm², which stays on the surface whatever the wood."""

PASTE = 0.9
"""Kilograms of a litre of wax paste."""


def thirst(wood: Wood) -> float:
    """How much its end grain takes, diffuse-porous being 1."""
    return PORES[wood.porosity] * (SEEPING if Caution.SEEPS in wood.cautions else 1.0)


def area(sim: Simulation) -> float:
    """Both faces and the edges of the finished board, or of all, dm²."""
    sizes = [piece.size() for piece in sim.boards]
    return float(sum(2 * (wide * long + thick * (wide + long)) for wide, long, thick in sizes)) / 1e4


def oil_litres(sim: Simulation, rounds: int) -> list[float]:
    """Litres round by round: end grain by the pores of its woods and their share, edges as long grain; where fibres lie
    all of it is long grain."""
    faces = float(sum(2 * piece.size()[0] * piece.size()[1] for piece in sim.boards)) / 1e4
    volumes = sim.wood_volumes(sim.board.pieces.cells)
    mean = sum(v * thirst(sim.woods[key]) for key, v in volumes.items()) / sum(volumes.values())
    ends = faces if sim.board.pieces.cells.on_end else 0.0
    first = END_GRAIN * mean * (ends + LONG_GRAIN * (area(sim) - ends))
    return [first * 0.5**k for k in range(rounds)]


def wax_litres(sim: Simulation) -> float:
    """Litres of paste for one coat."""
    return WAX * area(sim)
