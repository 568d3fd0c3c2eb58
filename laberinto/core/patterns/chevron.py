"""Mitred chevron: a lamination cut at a slight tilt into segments, every other turned, its edges cut straight."""

from __future__ import annotations

import math
from typing import ClassVar

from ..errors import InputError
from ..fields.spec import millimetres, number, whole, wood
from ..geometry.faces import Side
from ..plan.simulate import Simulation
from ..stages import Flatten, Glue, Mill, Rip, Stage, StripSpec
from .closing import crossings
from .model import Family, Handles, Truth, alternating

WIDEST = 390.0
"""Widest board that is laid as a layer, mm."""


class MitredChevron(Family):
    """Boards are glued up in layers, ripped with the blade tilted into segments, rolled until the cuts stand upright
    and every other turned end for end: layers climb and fall. The zigzag faces are planed straight."""

    key: ClassVar[str] = "chevron"
    title: ClassVar[str] = "Mitred chevron"
    summary: ClassVar[str] = "Layers ripped at a tilt into segments, every other turned: they climb and fall."
    handles: ClassVar[Handles] = Handles("segments", "rows", ("segment",), ("layer",))

    light: str = wood("lime", label="Light wood")
    dark: str = wood("european-walnut", label="Dark wood")
    layers: int = whole(9, label="Layers", help="Boards stacked.", least=3, most=40)
    layer: float = millimetres(8.0, label="Layer", help="Thickness of each.", least=4, most=60)
    angle: float = number(15.0, label="Tilt", help="Of the blade.", least=2, most=40, unit="°")
    segment: float = millimetres(40.0, label="Segment", help="Across the board.", least=15, most=150)
    segments: int = whole(7, label="Segments", help="Across the board.", least=2, most=30)
    rows: int = whole(5, label="Rows", help="Book-matched.", least=1, most=40)

    @property
    def climb(self) -> float:
        """How far a layer climbs over one segment, mm."""
        return self.segment * math.tan(math.radians(self.angle))

    @property
    def height(self) -> float:
        """What is left of the layers once the zigzag is cut straight, mm."""
        return self.layers * self.layer / math.cos(math.radians(self.angle)) - self.climb

    def check(self) -> None:
        super().check()
        if self.height < 8:
            more = math.ceil((8 + self.climb) * math.cos(math.radians(self.angle)) / self.layer)
            raise InputError(
                f"At {self.angle:g}° segments of {{segment}} climb {{climb}}, which leaves nothing of {self.layers} "
                f"layers once they are cut straight. Take {more} layers, or a smaller tilt.", "layers",
                segment=self.segment, climb=self.climb,
            )  # fmt: skip

    def stages(self) -> list[Stage]:
        tilt = math.radians(self.angle)
        stack = self.layers * self.layer
        # measured level, a segment takes its width and a kerf over cos; the slanted ends cost the stack's lean
        width = (self.segments * (self.segment + self.kerf)) / math.cos(tilt) + stack * math.tan(tilt) + 5
        boards = max(1, math.ceil(width / WIDEST))
        if boards > 1:
            most = int((WIDEST - 5 - stack * math.tan(tilt)) * math.cos(tilt) // (self.segment + self.kerf))
            cure = f"Take {most} segments or fewer, or make them narrower." if most >= 2 else "Make them narrower."
            raise InputError(
                f"{self.segments} segments of {{segment}} need layers {{width}} wide, and a layer is {{most}} at most. "
                f"{cure}", "segments", segment=self.segment, width=width, most=WIDEST,
            )  # fmt: skip
        each = math.ceil(width / boards)
        layers = alternating(self.layers, StripSpec(wood=self.light, width=each), StripSpec(wood=self.dark, width=each))
        return [
            Mill(id="layers", thickness=self.layer, length=self.panel_for(self.rows), strips=layers),
            Glue(id="stack", source="layers", across="thickness"),
            Rip(
                id="segments",
                source="stack",
                width=self.segment,
                count=self.segments,
                bevel=self.angle,
                kerf=self.kerf,
                upright=True,
            ),
            Glue(id="panel", source="segments", turns=["as it lies", "end for end"]),
            Flatten(
                id="panel-flat",
                source="panel",
                each_face=0.5,
                level=True,
                method=self.flattener(self.panel_for(self.rows)),
            ),
            self.sliced("panel-flat", self.rows),
            *self.laid("book-matched"),
            *self.finished(edge=1),
        ]

    def truths(self, sim: Simulation) -> tuple[Truth, ...]:
        """Layers meet at every joint between segments."""
        lines = [k * self.segment for k in range(1, self.segments)]
        return (Truth("layers meet from segment to segment", crossings(sim, "panel", Side.FRONT, lines, 0)),)
