"""Layered diamonds: a slab of layers cut to bars on their diagonal, so that four bars close to diamonds in diamonds."""

from __future__ import annotations

import math
from typing import ClassVar

from ..errors import InputError
from ..fields.spec import millimetres, whole, wood
from ..geometry.faces import Side
from ..plan.simulate import Simulation
from ..stages import Flatten, Glue, Mill, Profile, Stage, StripSpec
from .closing import crossings
from .model import Family, Handles, Truth

SQRT2 = math.sqrt(2)
THINNEST = 3.0
"""Thinnest layer that can still be milled and clamped, mm."""


class LayeredDiamonds(Family):
    """A slab laminated of ``layers`` of one width, the woods in turn, is cut twice at 45° to a square whose diagonal
    runs
    across the layers; planed on all sides, every other bar rolled a quarter, and the rows book-matched."""

    key: ClassVar[str] = "layered"
    title: ClassVar[str] = "Layered diamonds"
    summary: ClassVar[str] = "Slabs of many layers cut on the diagonal: diamonds lie within diamonds."
    handles: ClassVar[Handles] = Handles("bars", "rows", ("square",), ("square",), across_step=2, along_step=2)

    light: str = wood("holly", label="First wood")
    mid: str = wood("pear", label="Second wood")
    dark: str = wood("european-walnut", label="Third wood")
    layers: int = whole(4, label="Layers", help="From corner to corner of a bar.", least=2, most=16)
    square: float = millimetres(38.0, label="Square", help="Side of a bar once planed.", least=12, most=120)
    bars: int = whole(8, label="Bars across", help="An even number, two to a diamond.", least=2, most=30)
    rows: int = whole(10, label="Rows", help="An even number, two to a diamond.", least=2, most=60)
    plane: float = millimetres(1.0, label="Planed off", help="Each face and side of a bar.", least=0, most=10)

    @property
    def side(self) -> float:
        """Width and thickness of a slab, mm: the diagonal of the bar as it comes off the saw."""
        return (self.square + 2 * self.plane) * SQRT2

    def check(self) -> None:
        super().check()
        for name in ("bars", "rows"):
            if getattr(self, name) % 2:
                raise InputError(
                    f"{getattr(self, name)} {name} leave half diamonds at one edge only. Take "
                    f"{getattr(self, name) + 1}.", name,
                )  # fmt: skip
        if self.side / self.layers < THINNEST:
            raise InputError(
                f"{self.layers} layers in squares of {{square}} are {{each}} each. Take "
                f"{math.floor(self.side / THINNEST)} or fewer, or larger squares.", "layers",
                square=self.square, each=self.side / self.layers,
            )  # fmt: skip

    def stages(self) -> list[Stage]:
        woods = (self.light, self.mid, self.dark)
        strips = [
            StripSpec(wood=woods[k % len(woods)], width=self.side / self.layers, mark=bar * self.layers + k + 1)
            for bar in range(self.bars)
            for k in range(self.layers)
        ]
        dry = list(range(self.layers, len(strips), self.layers))
        stages: list[Stage] = [
            Mill(id="strips", thickness=self.side, length=self.panel_for(self.rows), strips=strips),
            Glue(id="slabs", source="strips", dry=dry),
            Profile(id="diamonds", source="slabs", section="diamond", rest_on=1, kerf=self.kerf),
        ]
        if self.plane:
            stages += [
                Flatten(id="flat", source="diamonds", each_face=self.plane),
                Flatten(id="square", source="flat", each_face=self.plane, faces="left-right"),
            ]
        return [
            *stages,
            Glue(id="panel", source=stages[-1].id, turns=["as it lies", "quarter roll"]),
            self.sliced("panel", self.rows),
            *self.laid("book-matched"),
            *self.finished(edge=0),
        ]

    def truths(self, sim: Simulation) -> tuple[Truth, ...]:
        """Layers meet at every joint, so that diamonds close."""
        width, length, _ = sim["board"].size
        bars, rows = width / self.bars, length / self.rows
        upright = crossings(sim, "board", Side.TOP, [k * bars for k in range(1, self.bars)], 0)
        level = crossings(sim, "board", Side.TOP, [k * rows for k in range(1, self.rows)], 1)
        return (Truth("layers meet at every joint", max(upright, level)),)
