"""Round: a flipped board cut to a circle, its rows all alike or each as long as its chord."""

from __future__ import annotations

import math
from collections import Counter
from enum import StrEnum
from typing import ClassVar

from ..errors import InputError
from ..fields.spec import choice, millimetres, wood
from ..geometry.cutters import circle
from ..geometry.polygons import area
from ..plan.simulate import Simulation
from ..stages import Arrange, Glue, Shape, Stage, StripSpec
from .closing import own_wood
from .model import Family, Handles, Truth, alternating


class Rows(StrEnum):
    """How long the rows are before the circle is cut."""

    ALIKE = "alike"
    CHORDS = "chords"

    @property
    def label(self) -> str:
        return {"alike": "all alike, from one panel", "chords": "each to its chord, from narrower panels"}[self.value]


class Round(Family):
    """As many squares as cover a circle of ``diameter``, every other row flipped, then cut round. Cut to their chords,
    rows near the ends come from panels of fewer strips: what the circle would cut off is never glued."""

    key: ClassVar[str] = "round"
    title: ClassVar[str] = "Round"
    summary: ClassVar[str] = "Squares glued to a block a little larger than the circle that is cut from it."
    handles: ClassVar[Handles] = Handles(pitch=("diameter",), rise=("diameter",))

    light: str = wood("beech", label="Light wood")
    dark: str = wood("robinia", label="Dark wood")
    diameter: float = millimetres(300.0, label="Diameter", help="Of the finished board.", least=80, most=800)
    cell: float = millimetres(32.0, label="Square", help="Side of each square.", least=10, most=120)
    rows: Rows = choice(Rows.ALIKE, label="Rows", help="To their chords they save wood and take more panels.")

    @property
    def count(self) -> int:
        """Squares each way: an even number that covers the circle and what trimming takes."""
        need = int(-(-(self.diameter + 2 * self.edge) // self.cell))
        return max(need + need % 2, 2)

    @property
    def chords(self) -> list[int]:
        """Squares in each row from the far side: an even number that covers the circle where the row is longest. The
        rows in the middle keep the whole width, so that the board can be trimmed square before it is cut round."""
        radius, half = self.diameter / 2 + self.edge, self.count // 2
        out = []
        for row in range(self.count):
            near = max(min(abs(row - half), abs(row + 1 - half)), 0) * self.cell  # its edge next to the middle
            chord = math.sqrt(max(radius**2 - near**2, 0.0))
            out.append(min(2 * math.ceil(chord / self.cell - 1e-9), self.count))
        return out

    def check(self) -> None:
        super().check()
        if self.diameter < 2 * self.cell:
            raise InputError(
                "Squares of {cell} are too large for a circle of {diameter}. Take {most} or less.", "cell",
                cell=self.cell, diameter=self.diameter, most=self.diameter / 2,
            )  # fmt: skip

    def stages(self) -> list[Stage]:
        cut = Shape(id="round", outline="circle", diameter=self.diameter)
        if self.rows is Rows.ALIKE:
            return [
                *self.laminate(self._strips(self.count), self.cell, self.count), *self.laid("flip-every-other"),
                *self.finished(cut),
            ]  # fmt: skip
        chords, lengths = self.chords, Counter(self.chords)
        panels = sorted(lengths, reverse=True)
        made: list[Stage] = []
        waiting: dict[int, list[int]] = {}
        first = 1
        for squares in panels:
            made += self.laminate(self._strips(squares), self.cell, lengths[squares], f"of-{squares}")
            waiting[squares] = list(range(first, first + lengths[squares]))
            first += lengths[squares]
        sources = [f"of-{squares}-slices" for squares in panels]
        return [
            *made,
            Arrange(
                id="rows", source=sources[0], also=sources[1:], rule="flip-every-other", panels="in-turn",
                order=[waiting[squares].pop(0) for squares in chords],
            ),
            Glue(
                id="board", source="rows", across="length", clamp_hours=24,
                shifts=[(self.count - squares) * self.cell / 2 for squares in chords],
            ),
            *self.finished(cut),
        ]  # fmt: skip

    def _strips(self, count: int) -> list[StripSpec]:
        """A shorter row begins further in, so that its woods stand in the columns of the longest."""
        woods = [self.light, self.dark] if (self.count - count) % 4 == 0 else [self.dark, self.light]
        return alternating(count, *(StripSpec(wood=wood, width=self.cell) for wood in woods))

    def truths(self, sim: Simulation) -> tuple[Truth, ...]:
        """As wide as long, and nothing missing in it: a circle's volume as its facets have it."""
        width, length, thickness = sim["round"].size
        missing = area(circle(self.diameter / 2)) * thickness - sim["round"].volume
        return (
            Truth("as wide as long", width - length), Truth("wood missing in the circle", missing, "mm³"),
            own_wood(sim, "board"),
        )  # fmt: skip
