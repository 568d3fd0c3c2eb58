"""Glue: loose pieces become one, side by side in the order they come."""

from __future__ import annotations

from dataclasses import replace
from enum import StrEnum
from typing import ClassVar, Literal

import numpy as np

from ..joints import Joint, joints_along
from ..solid import Cells, Floats
from .base import Bench, Outcome, Pieces, Stage
from .fields import choice, number


class Across(StrEnum):
    """Which way the pieces are set beside each other."""

    WIDTH = "width"
    LENGTH = "length"

    @property
    def label(self) -> str:
        return {"width": "side by side, left to right", "length": "row behind row"}[self.value]


class Spread(StrEnum):
    """How many faces of a joint get glue; schools differ."""

    ONE = "one"
    BOTH = "both"

    @property
    def label(self) -> str:
        return {"one": "one face of each joint", "both": "both faces of each joint"}[self.value]


class Glue(Stage):
    """Set pieces against each other and glue them. Along the length the first piece lies farthest away."""

    title: ClassVar[str] = "Glue-up"
    verb: ClassVar[str] = "Glue up"

    kind: Literal["glue"] = "glue"
    across: Across = choice(Across.WIDTH, label="Set pieces", help="The way the pieces lie beside each other.")
    spread: Spread = choice(Spread.BOTH, label="Spread glue on", help="Both faces wet out better; one face is quicker.")
    clamp_hours: float = number(
        12,
        label="In the clamps",
        help="Until it may be worked; the glue's label decides.",
        least=0.5,
        most=96,
        unit="h",
    )

    def run(self, pieces: Pieces, bench: Bench) -> Outcome:
        axis = 0 if self.across is Across.WIDTH else 1
        extents = pieces.cells.piece_sizes()[:, axis]
        ends = np.cumsum(extents)
        shift = np.zeros((len(extents), 3))
        shift[:, axis] = ends - extents if axis == 0 else -ends
        laid = pieces.cells.moved(shift[pieces.cells.piece])
        seams = ends[:-1] if axis == 0 else -ends[:-1]
        return Outcome(Pieces(laid.as_piece(0).at_origin()), joints=tuple(self._joints(laid, axis, seams)))

    @staticmethod
    def _joints(laid: Cells, axis: int, seams: Floats) -> list[Joint]:
        if axis == 0:
            return joints_along(laid, axis, seams)
        # rows run towards you: number them the other way for the kernel, and back for the reader
        last = laid.pieces - 1
        found = joints_along(replace(laid, piece=last - laid.piece), axis, seams[::-1])
        return [replace(j, first=last - j.second, second=last - j.first) for j in reversed(found)]
