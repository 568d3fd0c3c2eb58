"""Framed slab: a core of large blocks of one wood in a rim of end grain, its sides and ends of their own width."""

from __future__ import annotations

import math
from typing import ClassVar

from ..fields.spec import millimetres, whole, wood, yes_no
from ..plan.simulate import Simulation
from ..stages import Border, Glue, Mill, Stage, StripSpec, Trim, Turned
from .closing import gap
from .framed import FRAME_STRIP
from .model import Family, Handles, Truth, alternating

SPLINE = (10.0, 5.0)
"""Width of a spline across the joint, and how thick it is, mm."""

STANDS_OVER = 10.0
"""By how much a spline is longer than its joint, mm; it is cut flush."""


class FramedSlab(Family):
    """``strips`` × ``rows`` of one wood, every other row shifted by half a block like bricks, so that no seam runs
    through; trimmed, then the rim goes on in two goes, its seams staggered, with splines in the joints if asked for."""

    key: ClassVar[str] = "slab"
    title: ClassVar[str] = "Framed slab"
    summary: ClassVar[str] = "Large blocks of one wood in a staggered rim, wider at the ends than at the sides."
    handles: ClassVar[Handles] = Handles("strips", "rows", ("block",), ("row",))

    light: str = wood("beech", label="Slab wood")
    dark: str = wood("black-walnut", label="Rim wood")
    strips: int = whole(5, label="Blocks across", help="Of the slab.", least=2, most=40)
    rows: int = whole(6, label="Rows", help="Of the slab.", least=1, most=60)
    block: float = millimetres(54.0, label="Block", help="Its width.", least=15, most=150)
    row: float = millimetres(48.0, label="Row height", help="The panel's thickness once flat.", least=12, most=120)
    rim_sides: float = millimetres(28.0, label="Rim at the sides", help="Its width.", least=12, most=100)
    rim_ends: float = millimetres(44.0, label="Rim at the ends", help="Its width.", least=12, most=100)
    splines: bool = yes_no(False, label="Splines", help="A strip let in along each joint of the rim.")

    @property
    def core(self) -> tuple[float, float]:
        """Width and length of the slab once it is trimmed, mm: shifted rows lose half a block."""
        ragged = self.block / 2 if self.rows > 1 else 0.0
        return self.strips * self.block - ragged - 2 * self.edge, self.rows * self.row - 2 * self.edge

    def stages(self) -> list[Stage]:
        slab = alternating(self.strips, StripSpec(wood=self.light, width=self.block, sawn="quarter"))
        wide, long = self.core
        rims = [
            *self._rim("side", self.rim_sides, long, 101),
            *self._rim("end", self.rim_ends, wide + 2 * self.rim_sides, 201),
        ]
        width, thick = SPLINE
        spline = StripSpec(wood=self.light, width=width, count=4, mark=301)
        longest = math.ceil(max(long, wide + 2 * self.rim_sides) + STANDS_OVER)
        splines = [Mill(id="splines", thickness=thick, length=longest, strips=[spline])] if self.splines else []
        return [
            *self.laminate(slab, self.row, self.rows),
            Glue(
                id="board", source="slices", across="length", clamp_hours=24, shifts=[0, self.block / 2],
                turns=["stand up"],
            ),
            Trim(id="core-true", source="board", edge=self.edge, flush=True),
            *rims,
            *splines,
            Border(
                id="framed",
                source="core-true",
                also=["side-rim", "end-rim", *(stage.id for stage in splines)],
                sides=["side-rim", "end-rim"],
                spline="splines" if self.splines else None,
            ),
            *self.finished(source="framed", edge=2),
        ]  # fmt: skip

    def _rim(self, name: str, wide: float, edge: float, mark: int) -> list[Stage]:
        """Pieces of end grain for two sides ``edge`` mm long; one side begins with half a piece."""
        pieces = 2 * math.ceil(edge / FRAME_STRIP) + 1
        strip = StripSpec(wood=self.dark, width=FRAME_STRIP, sawn="quarter", mark=mark)
        return [
            Mill(id=f"{name}-stock", thickness=wide, length=self.panel_for(pieces), strips=[strip]),
            self.sliced(f"{name}-stock", pieces, f"{name}-slices"),
            Turned(id=f"{name}-rim", source=f"{name}-slices", turns=["stand up"]),
        ]

    def truths(self, sim: Simulation) -> tuple[Truth, ...]:
        return (gap(sim),)
