"""What a board does once it stands in another room: across the fibres it follows the air."""

from __future__ import annotations

from dataclasses import dataclass

from ..plan.simulate import Simulation
from ..woods.movement import moisture, movement

INDOORS = 50.0
"""Relative humidity where nobody has measured, %."""


@dataclass(frozen=True, slots=True)
class Balance:
    """Moisture it leaves with and comes to, percent, and how much width and length grow by then, mm."""

    leaves: float
    comes_to: float
    width: float
    length: float


def shrinkage(sim: Simulation) -> float:
    """Total shrinkage across the fibres in percent, of all its woods by their share: half way between radial and
    tangential, since rings lie every way in end grain."""
    volumes = sim.wood_volumes(sim.board.pieces.cells)
    total = sum(volumes.values())
    return sum(v * (sim.woods[key].tangential + sim.woods[key].radial) / 2 for key, v in volumes.items()) / total


def balance(sim: Simulation, humidity: float, leaves: float | None = None) -> Balance:
    """From the moisture it ``leaves`` the shop with (percent; where it was not measured, what the shop's air gives) to
    what a room of this relative humidity gives. Along the fibres a board keeps its length."""
    before = moisture(INDOORS) if leaves is None else leaves
    after, shrinks = moisture(humidity), shrinkage(sim)
    width, length, _ = sim.board.size
    along = 0.0 if not sim.board.pieces.cells.on_end else 1.0
    points = after - before
    return Balance(before, after, movement(width, shrinks, points), along * movement(length, shrinks, points))
