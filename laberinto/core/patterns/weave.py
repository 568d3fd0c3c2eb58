"""Weave: a band through a square bar, cut to a diamond so that the band runs from corner to corner."""

from __future__ import annotations

import math
from enum import StrEnum
from typing import ClassVar

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

    def check(self) -> None:
        super().check()
        share = 1 if self.bands is Bands.SINGLE else 0.5
        most = self.square * SQRT2 * share / 2
        if self.band > most:
            raise InputError(
                "A band of {band} leaves no ground in squares of {square}. Take {most} or less.", "band",
                band=self.band, square=self.square, most=int(most),
            )  # fmt: skip
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
        side, lay = self.diamond * SQRT2, self.lamination
        strips = [
            StripSpec(wood=wood, width=width, mark=bar * len(lay) + k + 1)
            for bar in range(self.bars)
            for k, (wood, width) in enumerate(lay)
        ]
        stages: list[Stage] = [
            Mill(id="strips", thickness=side, length=self.panel_for(self.rows), strips=strips),
            Glue(id="bars", source="strips", dry=list(range(len(lay), len(strips), len(lay)))),
            Profile(id="diamonds", source="bars", section="diamond", rest_on=1, kerf=self.kerf),
        ]
        source = "diamonds"
        if self.plane_sides:
            off = self.plane_sides
            stages.append(Flatten(id="diamonds-true", source=source, each_face=off, faces="left-right"))
            source = "diamonds-true"
            if self.way is Way.BOOK:
                stages.append(Flatten(id="diamonds-square", source=source, each_face=off))
                source = "diamonds-square"
        turns = ["as it lies", "quarter roll"] if self.way is Way.BOOK else ["as it lies"]
        stages.append(Glue(id="panel", source=source, turns=turns))
        source = "panel"
        if self.plane:
            stages.append(Flatten(id="panel-flat", source="panel", each_face=self.plane))
            source = "panel-flat"
        rule = "book-matched" if self.way is Way.BOOK else "as-cut"
        return [*stages, self.sliced(source, self.rows), *self.laid(rule), *self.finished(edge=1)]

    def truths(self, sim: Simulation) -> tuple[Truth, ...]:
        """Where bands meet at the joints between bars and between rows. A single band that runs the same way everywhere
        crosses no joint but ends in the corners of its square, so there the square is what counts."""
        width, length, _ = sim["board"].size
        bars, rows = width / self.bars, length / self.rows
        if self.way is Way.SAME and self.bands is Bands.SINGLE:
            return (Truth("squares square, so that bands end in their corners", bars - rows),)
        upright = crossings(sim, "board", Side.TOP, [k * bars for k in range(1, self.bars)], 0)
        level = crossings(sim, "board", Side.TOP, [k * rows for k in range(1, self.rows)], 1)
        return Truth("bands meet from bar to bar", upright), Truth("bands meet from row to row", level)
