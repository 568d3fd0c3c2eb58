"""Framed core: a checkered core in an end-grain frame, glued on in two goes."""

from __future__ import annotations

import math
from typing import ClassVar

from ..fields.spec import millimetres, whole, wood
from ..plan.simulate import Simulation
from ..stages import Border, Mill, Stage, StripSpec, Trim, Turned
from .closing import gap
from .model import Family, Handles, Truth, alternating

FRAME_STRIP = 60.0
"""Length of a frame piece along the edge, mm."""


class Framed(Family):
    """A flipped core of ``strips`` × ``slices``, framed by end-grain pieces ``frame`` wide with staggered seams."""

    key: ClassVar[str] = "framed"
    title: ClassVar[str] = "Framed core"
    summary: ClassVar[str] = "A checkered core in an end-grain frame, which moves with it."
    handles: ClassVar[Handles] = Handles("strips", "slices", ("cell",), ("cell",), across_step=2)

    light: str = wood("sycamore", label="Light wood")
    mid: str = wood("pear", label="Second wood")
    dark: str = wood("plum", label="Frame wood")
    strips: int = whole(8, label="Strips", help="An even number.", least=2, most=40)
    cell: float = millimetres(30.0, label="Square", help="Side of each square of the core.", least=10, most=100)
    slices: int = whole(10, label="Slices", help="Each becomes one row.", least=2, most=60)
    frame: float = millimetres(32.0, label="Frame", help="Its width.", least=12, most=100)

    def check(self) -> None:
        super().check()
        self.even()

    def stages(self) -> list[Stage]:
        core = alternating(
            self.strips, StripSpec(wood=self.light, width=self.cell), StripSpec(wood=self.mid, width=self.cell)
        )
        wide, long = self.strips * self.cell - 2 * self.edge, self.slices * self.cell - 2 * self.edge
        # along the edge each piece is as long as the frame strip is wide; one side of each pair begins with a half
        pieces = 2 * sum(math.ceil(side / FRAME_STRIP) + 1 for side in (long, wide + 2 * self.frame))
        each = math.ceil(pieces / 2)
        return [
            *self.laminate(core, self.cell, self.slices),
            *self.laid("flip-every-other"),
            Trim(id="core-true", source="board", edge=self.edge),
            Mill(
                id="frame-stock",
                thickness=self.frame,
                length=self.panel_for(each),
                strips=[StripSpec(wood=self.dark, width=FRAME_STRIP, sawn="quarter", mark=101, count=2)],
            ),
            self.sliced("frame-stock", each, "frame-slices"),
            Turned(id="frame", source="frame-slices", turns=["stand up"]),
            Border(id="framed", source="core-true", also=["frame"]),
            *self.finished(source="framed", edge=2),
        ]

    def truths(self, sim: Simulation) -> tuple[Truth, ...]:
        return (gap(sim),)
