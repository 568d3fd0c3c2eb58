"""Stairs: light and dark pairs that are squares, every other turned a quarter, each row a step on."""

from __future__ import annotations

from enum import StrEnum
from typing import ClassVar

from ..fields.spec import choice, millimetres, whole, wood
from ..plan.simulate import Simulation
from ..stages import Flatten, Glue, Mill, Stage, StripSpec
from .closing import broken_flights
from .model import Family, Handles, Truth, alternating


class Step(StrEnum):
    """How far each row is shifted against the last, as a share of a pair."""

    HALF = "half"
    WHOLE = "whole"

    @property
    def label(self) -> str:
        return {"half": "half a pair", "whole": "a whole pair"}[self.value]

    @property
    def share(self) -> float:
        """Of a pair that every other row is shifted by."""
        return {"half": 0.5, "whole": 1.0}[self.value]


class Stairs(Family):
    """Bars of a light and a dark strip, planed on all four sides to squares of ``pair``; every other rolled a
    quarter. Rows climb by ``step``; as the pattern repeats after two pairs, so do the shifts."""

    key: ClassVar[str] = "stairs"
    title: ClassVar[str] = "Stairs"
    summary: ClassVar[str] = "Light and dark pairs, square once planed; every other rolled, each row a step on."
    handles: ClassVar[Handles] = Handles("pairs", "rows", ("pair",), ("pair",))

    light: str = wood("hornbeam", label="Light wood")
    dark: str = wood("elm", label="Dark wood")
    step: Step = choice(Step.HALF, label="Each row climbs", help="By this share of a pair.")
    pair: float = millimetres(
        36.0, label="Pair", help="Side of the square, a light and a dark half.", least=12, most=120
    )
    pairs: int = whole(9, label="Pairs across", help="Before the ragged ends are lost.", least=3, most=40)
    rows: int = whole(10, label="Rows", help="Each is one pair high.", least=2, most=60)

    def stages(self) -> list[Stage]:
        off = self.flatten_panel
        half = {"width": self.pair / 2 + off}
        count = int(4 / (2 * self.step.share))
        # each row goes back to the left: to the right, half a pair's halves meet in corners and no flight goes on
        shifts = [-k * self.step.share * self.pair + 0.0 for k in range(count)]
        return [
            Mill(
                id="strips",
                thickness=self.pair + 2 * off,
                length=self.panel_for(self.rows),
                strips=alternating(
                    2 * self.pairs, StripSpec(wood=self.light, **half), StripSpec(wood=self.dark, **half)
                ),
            ),
            # one clamp-up, dry between the pairs
            Glue(id="pairs", source="strips", dry=list(range(2, 2 * self.pairs, 2))),
            Flatten(id="pairs-flat", source="pairs", each_face=off),
            Flatten(id="pairs-square", source="pairs-flat", each_face=off, faces="left-right"),
            Glue(id="panel", source="pairs-square", turns=["as it lies", "quarter roll"]),
            self.sliced("panel", self.rows),
            *self.laid("as-cut", shifts=shifts),
            *self.finished(flush=True, edge=1),
        ]

    def truths(self, sim: Simulation) -> tuple[Truth, ...]:
        """Planed on all four sides, a pair is a square with its seam in the middle, and flights of one wood run on from
        row to row until the edge of the board ends them."""
        width, _, height = sim["pairs-square"].size
        cells = sim["pairs-square"].pieces[0]
        seam = float(cells.take(cells.strip == 0).world()[:, 0].max()) if len(cells) else 0.0
        return (
            Truth("pairs square", width - height),
            Truth("seam in the middle of the pair", seam - width / 2),
            broken_flights(sim, "trimmed"),
        )
