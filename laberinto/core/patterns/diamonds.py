"""Diamonds: bars of two woods with their seam from corner to corner, turned so that four make a diamond."""

from __future__ import annotations

import math
from typing import ClassVar

from ..errors import InputError
from ..fields.spec import millimetres, whole, wood
from ..geometry.faces import Side
from ..plan.simulate import Simulation
from ..stages import Flatten, Glue, Mill, Profile, Stage, StripSpec
from .closing import crossings
from .model import Family, Handles, Truth, alternating

SQRT2 = math.sqrt(2)


class Diamonds(Family):
    """Slabs of two woods, their seam the centre line, are cut twice at 45° to a square whose diagonal is the seam;
    planed parallel, turned on edge, every other rolled a quarter, and the rows book-matched."""

    key: ClassVar[str] = "diamonds"
    title: ClassVar[str] = "Diamonds"
    summary: ClassVar[str] = "Two woods with the seam on the diagonal: four bars close to a diamond."
    handles: ClassVar[Handles] = Handles("bars", "rows", ("square",), ("square",), across_step=2, along_step=2)

    light: str = wood("holly", label="Light wood")
    dark: str = wood("plum", label="Dark wood")
    square: float = millimetres(32.0, label="Square", help="Side of a bar once planed.", least=12, most=120)
    bars: int = whole(8, label="Bars across", help="An even number, two to a diamond.", least=2, most=30)
    rows: int = whole(10, label="Rows", help="An even number, two to a diamond.", least=2, most=60)
    plane: float = millimetres(1.0, label="Planed off", help="Each face and side of a bar.", least=0, most=10)

    def check(self) -> None:
        super().check()
        for name in ("bars", "rows"):
            if getattr(self, name) % 2:
                raise InputError(
                    f"{getattr(self, name)} {name} leave half diamonds at one edge only. Take "
                    f"{getattr(self, name) + 1}.", name,
                )  # fmt: skip

    def stages(self) -> list[Stage]:
        side = (self.square + 2 * self.plane) * SQRT2
        half = {"width": side / 2}
        stages: list[Stage] = [
            Mill(
                id="strips",
                thickness=side,
                length=self.panel_for(self.rows),
                strips=alternating(
                    2 * self.bars, StripSpec(wood=self.light, **half), StripSpec(wood=self.dark, **half)
                ),
            ),
            Glue(id="slabs", source="strips", dry=list(range(2, 2 * self.bars, 2))),
            Profile(id="diamonds", source="slabs", section="diamond", rest_on=1, kerf=self.kerf),
        ]
        source = "diamonds"
        if self.plane:
            stages += [
                Flatten(id="flat", source="diamonds", each_face=self.plane),
                Flatten(id="square", source="flat", each_face=self.plane, faces="left-right"),
            ]
            source = "square"
        turns = ["as it lies", "quarter roll"]
        return [
            *stages,
            Glue(id="panel", source=source, turns=turns),
            self.sliced("panel", self.rows),
            *self.laid("book-matched"),
            *self.finished(edge=0),
        ]

    def truths(self, sim: Simulation) -> tuple[Truth, ...]:
        """Seams end in the corners, where four squares meet."""
        width, length, _ = sim["board"].size
        bars, rows = width / self.bars, length / self.rows
        upright = crossings(sim, "board", Side.TOP, [k * bars for k in range(1, self.bars)], 0)
        level = crossings(sim, "board", Side.TOP, [k * rows for k in range(1, self.rows)], 1)
        return (Truth("seams meet in the corners", max(upright, level)),)
