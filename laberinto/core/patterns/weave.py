"""Weave: a band through a square bar, cut to a diamond so that the band runs from corner to corner."""

from __future__ import annotations

import math
from enum import StrEnum
from typing import Any, ClassVar

from ..errors import InputError
from ..fields.spec import choice, millimetres, whole, wood
from ..geometry.faces import Side
from ..plan.simulate import Simulation
from ..stages import Flatten, Glue, Mill, Profile, Stage, StripSpec
from .closing import crossings
from .model import Family, Handles, Truth

SQRT2 = math.sqrt(2)
LEAST_GROUND = 3.0
"""Thinnest strip of ground beside a band, mm: what can still be milled and clamped."""


class Bands(StrEnum):
    """How many bands run through each bar."""

    SINGLE = "single"
    DOUBLE = "double"

    @property
    def label(self) -> str:
        return {"single": "one band", "double": "two bands"}[self.value]


class Way(StrEnum):
    """How bars and rows are turned."""

    SAME = "same-way"
    BOOK = "book-matched"

    @property
    def label(self) -> str:
        return {"same-way": "all the same way, to slanting bands", "book-matched": "book-matched, to a knot"}[
            self.value
        ]


class Weave(Family):
    """Bars laminated ground, band, ground are cut to the diamond through the middles of their sides, planed, and glued
    in rotated order. All the same way, their sides are planed by as much as the panel is on its faces: then bands run
    on across the rows. Book-matched, all four sides are planed, as every other bar is rolled. Two bands lie a quarter
    of the square's diagonal from its middle, so that they run on from bar to bar."""

    key: ClassVar[str] = "weave"
    title: ClassVar[str] = "Weave"
    summary: ClassVar[str] = "Laminated bars cut to diamonds: bands run from corner to corner and cross."
    handles: ClassVar[Handles] = Handles("bars", "rows", ("square", "band"), ("square", "band"))

    light: str = wood("sycamore", label="Band wood")
    dark: str = wood("elm", label="Ground wood")
    bands: Bands = choice(Bands.SINGLE, label="Bands", help="In every bar.")
    way: Way = choice(Way.BOOK, label="Turned", help="How bars and rows follow each other.")
    square: float = millimetres(36.0, label="Square", help="Side of a bar once planed.", least=15, most=120)
    band: float = millimetres(11.0, label="Band", help="Its width.", least=4, most=80)
    bars: int = whole(8, label="Bars across", help="Each is one square.", least=2, most=30)
    rows: int = whole(10, label="Rows", help="Each is one square high.", least=2, most=60)
    plane: float = millimetres(1.0, label="Planed off the panel", help="Off each face.", least=0, most=20)
    plane_sides: float = millimetres(
        1.0, label="Planed off the bars", help="Off the two other sides.", least=0, most=20
    )

    @property
    def diamond(self) -> float:
        """Side of the diamond as it comes off the saw."""
        return self.square + 2 * self.plane_sides

    @property
    def lamination(self) -> list[tuple[str, float]]:
        """Woods and widths across the bar before it is cut to a diamond, mm."""
        side, band = self.diamond * SQRT2, self.band
        if self.bands is Bands.SINGLE:
            ground = (side - band) / 2
            return [(self.dark, ground), (self.light, band), (self.dark, ground)]
        apart = self.square / SQRT2  # between the bands' middles: half the diagonal of the planed square
        outer = (side - apart - band) / 2
        return [
            (self.dark, outer),
            (self.light, band),
            (self.dark, apart - band),
            (self.light, band),
            (self.dark, outer),
        ]

    def check_band(self) -> None:
        """Raise InputError where the band is as wide as its ground."""
        share = 1 if self.bands is Bands.SINGLE else 0.5
        most = self.square * SQRT2 * share / 2
        if self.band > most:
            raise InputError(
                "A band of {band} leaves no ground in squares of {square}. Take {most} or less.", "band",
                band=self.band, square=self.square, most=int(most),
            )  # fmt: skip

    def check(self) -> None:
        super().check()
        self.check_band()
        most = self.band / SQRT2
        if self.way is Way.BOOK and self.plane > most:
            raise InputError(
                "Planing {plane} off each face of the panel parts the bands where rows meet: bands {band} wide bear "
                "{most} or less.", "plane", plane=self.plane, band=self.band, most=math.floor(most * 10) / 10,
            )  # fmt: skip
        # what planing leaves of the ground at a bar's edge: the diamond's corner, less the planing on both sides
        sides = self.plane_sides * (2 if self.way is Way.BOOK else 1)
        left = self.lamination[0][1] - (self.plane + sides) / SQRT2
        if left < LEAST_GROUND:
            off = math.floor((self.plane - (LEAST_GROUND - left) * SQRT2) * 10) / 10
            raise InputError(
                "Planing {plane} off each face eats the ground beside the band. Take {most} off or less, or make the "
                "square larger.", "plane", plane=self.plane, most=max(off, 0.0),
            )  # fmt: skip

    def stages(self) -> list[Stage]:
        faces = self.plane_sides if self.way is Way.BOOK else 0.0  # those that are rolled show them
        made, source = self.diamonds(self.lamination, self.bars, self.plane_sides, faces)
        turns = ["as it lies", "quarter roll"] if self.way is Way.BOOK else ["as it lies"]
        rule = "book-matched" if self.way is Way.BOOK else "as-cut"
        return [*made, *self.from_bars(rule, source=source, turns=turns)]

    def diamonds(
        self, lay: list[tuple[str, float]], bars: int, sides: float, faces: float, name: str = ""
    ) -> tuple[list[Stage], str]:
        """Bars of a lamination cut to diamonds, with ``sides`` planed off left and right and ``faces`` off below and
        above, mm each; and the last stage's id. ``name`` stands before each id where there are several."""
        at, side = f"{name}-" if name else "", self.diamond * SQRT2
        strips = [
            StripSpec(wood=wood, width=width, mark=bar * len(lay) + k + 1)
            for bar in range(bars)
            for k, (wood, width) in enumerate(lay)
        ]
        stages: list[Stage] = [
            Mill(id=f"{at}strips", thickness=side, length=self.panel_for(self.rows), strips=strips),
            Glue(id=f"{at}bars", source=f"{at}strips", dry=list(range(len(lay), len(strips), len(lay)))),
            Profile(id=f"{at}diamonds", source=f"{at}bars", section="diamond", rest_on=1, kerf=self.kerf),
        ]
        for what, off, where in (("true", sides, "left-right"), ("square", faces, "top-bottom")):
            if off:
                planed = Flatten(id=f"{at}diamonds-{what}", source=stages[-1].id, each_face=off, faces=where)
                stages.append(planed)
        return stages, stages[-1].id

    def from_bars(self, rule: str, **glue: Any) -> list[Stage]:
        """Bars glued to a panel, planed, sliced, laid under a rule and finished."""
        stages: list[Stage] = [Glue(id="panel", **glue)]
        if self.plane:
            stages.append(Flatten(id="panel-flat", source="panel", each_face=self.plane))
        return [*stages, self.sliced(stages[-1].id, self.rows), *self.laid(rule), *self.finished(edge=1)]

    def truths(self, sim: Simulation) -> tuple[Truth, ...]:
        """Where bands meet at the joints between bars and between rows. A single band that runs the same way everywhere
        crosses no joint but ends in the corners of its square, so there the square is what counts."""
        width, length, _ = sim["board"].size
        bars, rows = width / self.bars, length / self.rows
        if self.way is Way.SAME and self.bands is Bands.SINGLE:
            return (Truth("squares square, so that bands end in their corners", bars - rows),)
        return self.meet(sim)

    def meet(self, sim: Simulation) -> tuple[Truth, ...]:
        """Where bands meet at the joints between bars and between rows."""
        width, length, _ = sim["board"].size
        bars, rows = width / self.bars, length / self.rows
        upright = crossings(sim, "board", Side.TOP, [k * bars for k in range(1, self.bars)], 0)
        level = crossings(sim, "board", Side.TOP, [k * rows for k in range(1, self.rows)], 1)
        return Truth("bands meet from bar to bar", upright), Truth("bands meet from row to row", level)
