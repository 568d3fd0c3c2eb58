"""What is offered for an order: its boards with how many of each, what one costs, and what all of them come to.

Amounts are in the shop's money.
"""

from __future__ import annotations

from dataclasses import dataclass

from ..analysis.figures import Figures
from .cost import Bill


@dataclass(frozen=True, slots=True)
class Line:
    """A board of an order: how many are made, their sizes (width, length, thickness in mm; several where one plan gives
    several boards), the woods in them, most of it first, and price, cost and hours of one."""

    board: int
    name: str
    count: int
    sizes: tuple[tuple[float, float, float], ...]
    woods: tuple[str, ...]
    each: float
    cost: float
    hours: float

    @property
    def price(self) -> float:
        """What all of them are to be sold for."""
        return self.each * self.count


@dataclass(frozen=True, slots=True)
class Quote:
    """All lines, and the price that was ``agreed``, where one was."""

    lines: tuple[Line, ...]
    agreed: float | None = None

    @property
    def sum(self) -> float:
        """What the lines come to."""
        return sum(line.price for line in self.lines)

    @property
    def price(self) -> float:
        """What is asked for all of it: what was agreed, else what the lines come to."""
        return self.sum if self.agreed is None else self.agreed

    @property
    def cost(self) -> float:
        """What it costs the shop."""
        return sum(line.cost * line.count for line in self.lines)

    @property
    def hours(self) -> float:
        """Hours of hands, boards made one after another: like steps done together take less."""
        return sum(line.hours * line.count for line in self.lines)

    @property
    def over(self) -> float:
        """What the price leaves above wood, materials and hours; less than nothing where it does not cover them."""
        return self.price - self.cost


def line(board: int, name: str, times: int, made: Figures, bill: Bill) -> Line:
    """A board's line, read off its figures and its bill."""
    sizes = tuple((one.width, one.length, one.thickness) for one in made.boards)
    woods = sorted((wood for wood in made.woods if wood.in_board > 0), key=lambda wood: -wood.in_board)
    return Line(board, name, times, sizes, tuple(wood.wood for wood in woods), bill.price, bill.cost, bill.hours)
