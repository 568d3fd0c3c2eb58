"""What a package of its own can add to Laberinto: a pattern family, a rule, a reckoner and a format."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path
from typing import ClassVar

from laberinto.core.analysis.figures import figures
from laberinto.core.fields.spec import millimetres, whole, wood
from laberinto.core.patterns.model import Family, Handles
from laberinto.core.plan.simulate import Simulation
from laberinto.core.reckoners import Reckoner, Result
from laberinto.core.rules import Check, Severity
from laberinto.core.rules.model import Show
from laberinto.core.shop import Shop
from laberinto.core.stages import Stage, StripSpec
from laberinto.files.exports import Export


class Tideline(Family):
    """One thin line of dark wood between wide light ones, off the middle; every other slice is flipped, so that the
    line steps to and fro like the sea's edge."""

    key: ClassVar[str] = "tideline"
    title: ClassVar[str] = "Tideline"
    summary: ClassVar[str] = "A thin line off the middle; every other slice flipped makes it step like the sea's edge."
    handles: ClassVar[Handles] = Handles("", "slices", ("left", "right"), ("row",))

    ground: str = wood("sycamore", label="Ground")
    line_wood: str = wood("bog-oak", label="Line")
    left: float = millimetres(110.0, label="Left of the line", help="Width.", least=10, most=400)
    line: float = millimetres(8.0, label="Line", help="Its width.", least=3, most=60)
    right: float = millimetres(170.0, label="Right of the line", help="Width.", least=10, most=400)
    row: float = millimetres(30.0, label="Row height", help="The panel's thickness once flat.", least=8, most=120)
    slices: int = whole(12, label="Slices", help="Each becomes one row.", least=2, most=100)

    def stages(self) -> list[Stage]:
        strips = [
            StripSpec(wood=key, width=width, mark=at)
            for at, (key, width) in enumerate(
                ((self.ground, self.left), (self.line_wood, self.line), (self.ground, self.right)), 1
            )
        ]
        return [*self.laminate(strips, self.row, self.slices), *self.laid("flip-every-other"), *self.finished()]


CARRIED = 8.0
"""What one hand still lifts out of a sink, kg."""


def heavy_to_carry(sim: Simulation, show: Show, shop: Shop) -> Iterator[Check]:
    """A board that is too heavy for one hand wants something to lift it by."""
    weight = figures(sim).weight
    if weight > CARRIED:
        yield Check(
            Severity.NOTE, sim.board.stage.id, f"At {weight:.1f} kg it is heavy for one hand.",
            "Plan finger coves or handles.",
        )  # fmt: skip


class BoardsInAPlank(Reckoner):
    """How many boards' strips one plank gives, by length alone."""

    key: ClassVar[str] = "boards-in-a-plank"
    title: ClassVar[str] = "Boards in a plank"
    use: ClassVar[str] = "How many panels' lengths one plank gives."
    formula: ClassVar[str] = "boards = ⌊(plank + kerf) / (panel + kerf)⌋"

    plank: float = millimetres(2400.0, label="Plank", help="Its length.", least=100, most=5000)
    panel: float = millimetres(650.0, label="Panel", help="Length of its strips.", least=80, most=3000)
    kerf: float = millimetres(3.0, label="Kerf", help="Of the saw.", least=0.5, most=8)

    def results(self) -> tuple[Result, ...]:
        return (Result("Boards", (self.plank + self.kerf) // (self.panel + self.kerf)),)


def _woods(sim: Simulation, path: Path) -> None:
    path.write_text("".join(f"{line.name}\t{line.weight:.2f} kg\n" for line in figures(sim).woods))


WOODS = Export("each wood's weight, a line each", ".woods.txt", "For a parcel's label.", _woods)
