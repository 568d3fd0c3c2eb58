"""Feet: pilot holes for four feet under the board."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from ..errors import StageError
from ..fields.spec import millimetres
from ..geometry.cutters import CLEAR, circle, upright
from ..solid import Floats, Tool
from .carving import Carving


class Feet(Carving):
    """Four feet under the corners, ``inset`` mm from both edges to the screw: pilot holes of ``pilot`` mm, ``depth``
    mm deep. ``height`` is that of the foot; it lifts the board and holds no wood."""

    title: ClassVar[str] = "Feet"
    verb: ClassVar[str] = "Drill for the feet"
    through: ClassVar[str] = "drill"

    kind: Literal["feet"] = "feet"
    inset: float = millimetres(30.0, label="Inset", help="From both edges to the screw.", least=5, most=500)
    pilot: float = millimetres(2.5, label="Pilot hole", help="Of the screw's core.", least=0.5, most=12)
    depth: float = millimetres(14.0, label="Depth", help="Of the hole.", least=2, most=80)
    height: float = millimetres(10.0, label="Foot height", help="What the board stands on.", least=0, most=80)

    @property
    def idle(self) -> frozenset[str]:
        """The feet themselves hold no wood of the board."""
        return frozenset({"height"})

    def tools(self, low: Floats, high: Floats) -> list[Tool]:
        self.check_floor(self.depth, low, high, "A pilot hole")
        narrow = float((high - low)[:2].min())
        if 2 * self.inset > narrow - 2 * self.pilot:
            raise StageError(
                self.id, "Feet {inset} in from the edges meet on a board {narrow} across.", "Keep it under {most}.",
                "inset", inset=self.inset, narrow=narrow, most=narrow / 2 - self.pilot,
            )  # fmt: skip
        out = []
        for x in (low[0] + self.inset, high[0] - self.inset):
            for y in (low[1] + self.inset, high[1] - self.inset):
                hole = circle(self.pilot / 2, float(x), float(y))
                out.append(upright(hole, float(low[2]) - CLEAR, float(np.asarray(low[2]) + self.depth)))
        return out
