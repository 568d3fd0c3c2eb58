"""Zigzag: segments of two laminations, mitred at a slight tilt, with a stripe between each two."""

from __future__ import annotations

import math
from typing import ClassVar

import numpy as np

from ..errors import InputError
from ..fields.spec import millimetres, number, whole, wood
from ..geometry.faces import Side, face_of
from ..plan.simulate import Simulation
from ..stages import Flatten, Glue, Mill, Rip, Stage, StripSpec
from .chevron import WIDEST
from .model import Family, Handles, Truth, alternating

THICKEST = 400.0
"""No strip is milled thicker, mm."""

FLAT = 0.5
"""Planed off each face of the panel beyond the zigzag, mm."""


class Zigzag(Family):
    """Two stacks of layers, one with the woods of the other exchanged, are ripped with the blade tilted into segments
    and rolled until the cuts stand upright. They alternate, those of the second turned end for end, and between each
    two stands a stripe. So every layer climbs in one wood and falls in the other, and meets its own height beyond the
    stripe. The zigzag faces are planed straight."""

    key: ClassVar[str] = "zigzag"
    title: ClassVar[str] = "Zigzag with stripes"
    summary: ClassVar[str] = "Mitred segments of two laminations in turn, a stripe between: light climbs, dark falls."
    handles: ClassVar[Handles] = Handles("pairs", "rows", ("segment", "stripe"), ("layer",))

    light: str = wood("sycamore", label="Light wood")
    mid: str = wood("european-cherry", label="Stripe wood")
    dark: str = wood("european-walnut", label="Dark wood")
    layers: int = whole(8, label="Layers", help="Boards stacked.", least=3, most=40)
    layer: float = millimetres(9.0, label="Layer", help="Thickness of each.", least=4, most=60)
    angle: float = number(8.0, label="Tilt", help="Of the blade.", least=2, most=40, unit="°")
    segment: float = millimetres(36.0, label="Segment", help="Across the board.", least=15, most=150)
    stripe: float = millimetres(8.0, label="Stripe", help="Between two segments.", least=3, most=40)
    pairs: int = whole(4, label="Pairs", help="Of one segment that climbs and one that falls.", least=1, most=15)
    rows: int = whole(5, label="Rows", help="Book-matched.", least=1, most=40)

    @property
    def climb(self) -> float:
        """How far a layer climbs over one segment, mm."""
        return self.segment * math.tan(math.radians(self.angle))

    @property
    def box(self) -> float:
        """How high a segment that stands upright reaches from its lowest corner to its highest, mm."""
        return self.layers * self.layer / math.cos(math.radians(self.angle)) + self.climb

    def check(self) -> None:
        super().check()
        left = self.box - 2 * self.climb
        if left < 8:
            more = math.ceil((8 + self.climb) * math.cos(math.radians(self.angle)) / self.layer)
            raise InputError(
                f"At {self.angle:g}° segments of {{segment}} climb {{climb}}, which leaves nothing of {self.layers} "
                f"layers once they are cut straight. Take {more} layers, or a smaller tilt.", "layers",
                segment=self.segment, climb=self.climb,
            )  # fmt: skip

        if self.box > THICKEST:
            fit = int((THICKEST - self.climb) * math.cos(math.radians(self.angle)) / self.layer)
            raise InputError(
                f"{self.layers} layers of {{layer}} stand {{box}} high, and a stripe is at most {{most}}. Take {fit} "
                "layers or fewer.", "layers", layer=self.layer, box=self.box, most=THICKEST,
            )  # fmt: skip

    def stages(self) -> list[Stage]:
        stripes = [StripSpec(wood=self.mid, width=self.stripe, count=2 * self.pairs - 1, mark=201)]
        first, second = self._segments("a", self.light, self.dark), self._segments("b", self.dark, self.light)
        long = self.panel_for(self.rows)
        sequence = ["a-segments", "stripes", "b-segments", "stripes"]
        return [
            *first,
            *second,
            Mill(id="stripes", thickness=self.box, length=long, strips=stripes),
            Glue(
                id="panel",
                source="a-segments",
                also=["b-segments", "stripes"],
                sequence=sequence,
                turns=["as it lies", "as it lies", "end for end", "as it lies"],
            ),
            Flatten(id="panel-flat", source="panel", each_face=FLAT, level=True, method=self.flattener(long)),
            self.sliced("panel-flat", self.rows),
            *self.laid("book-matched"),
            *self.finished(edge=1),
        ]

    def _segments(self, name: str, one: str, other: str) -> list[Stage]:
        """A stack of layers that begins with a wood at the bottom, ripped into segments that stand upright."""
        tilt, stack = math.radians(self.angle), self.layers * self.layer
        # measured level, a segment takes its width and a kerf over cos; the slanted ends cost the stack's lean
        lean = stack * math.tan(tilt) + 5
        wide = math.ceil(self.pairs * (self.segment + self.kerf) / math.cos(tilt) + lean)
        if wide > WIDEST:
            most = int((WIDEST - lean) * math.cos(tilt) // (self.segment + self.kerf))
            cure = f"Take {most} pairs or fewer, or make them narrower." if most >= 1 else "Make them narrower."
            raise InputError(
                f"{self.pairs} segments of {{segment}} need layers {{width}} wide, and a layer is {{most}} at most. "
                f"{cure}", "pairs", segment=self.segment, width=wide, most=WIDEST,
            )  # fmt: skip
        layers = alternating(self.layers, StripSpec(wood=one, width=wide), StripSpec(wood=other, width=wide))
        cut = {"width": self.segment, "count": self.pairs, "bevel": self.angle, "kerf": self.kerf, "upright": True}
        return [
            Mill(id=f"{name}-layers", thickness=self.layer, length=self.panel_for(self.rows), strips=layers),
            Glue(id=f"{name}-stack", source=f"{name}-layers", across="thickness"),
            Rip(id=f"{name}-segments", source=f"{name}-stack", **cut),
        ]

    def truths(self, sim: Simulation) -> tuple[Truth, ...]:
        """Beyond a stripe every layer goes on at the height at which it came."""
        face, step = face_of(sim["panel"].pieces[0], Side.FRONT), self.segment + self.stripe
        heights = [
            np.unique(face.points[np.abs(face.points[:, 0] - line) < 1e-4, 1].round(4))
            for k in range(1, 2 * self.pairs)
            for line in (k * step - self.stripe, k * step)
        ]
        inner = [found[(found > self.climb) & (found < self.box - self.climb)] for found in heights]
        off = max(
            (
                float(np.abs(near - far).max()) if len(near) == len(far) else math.inf
                for near, far in zip(inner[::2], inner[1::2], strict=True)
                if len(near) or len(far)
            ),
            default=0.0,
        )
        return (Truth("layers meet beyond every stripe", off),)
