"""Joint: make an edge straight and square on the jointer, or with a plane."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from ..errors import StageError
from ..fields.spec import choice, millimetres, yes_no
from ..geometry.clear import clean_limit
from ..solid import Cells, Floats, slabs
from .base import Bench, Cause, Outcome, Pieces, Stage, cut_back
from .carving import BoardEdge, Sides

LEAST_LEFT = 3.0
"""Jointing leaves at least this much, mm."""


class JointEdge(Stage):
    """Take ``off`` mm from an edge, from where the wood is whole where ``level`` is on, so that steps vanish."""

    title: ClassVar[str] = "Joint an edge"
    verb: ClassVar[str] = "Joint the edge"
    through: ClassVar[str] = "jointer"

    kind: Literal["joint"] = "joint"
    edges: Sides = choice(Sides.LEFT, label="Edges", help="Which edges are made straight.")
    off: float = millimetres(1.0, label="Off", help="What comes off each edge.", least=0, most=50)
    level: bool = yes_no(True, label="Level first", help="Measure from the lowest spot, so that steps vanish.")

    def run(self, pieces: Pieces, bench: Bench) -> Outcome:
        return cut_back(pieces, Cause.TRIMMING, self._all_jointed)

    def _all_jointed(self, piece: Cells) -> tuple[Cells, float, Floats]:
        gone, off = 0.0, np.zeros((3, 2))
        for side in self.edges.each:
            end = int(side.outwards > 0)
            stands_out = float(piece.bounds()[end][side.axis])
            piece, dust, cut = self._jointed(piece, side)
            off[side.axis, end] = abs(cut - stands_out)
            gone += dust
        return piece.at_origin(), gone, off

    def _jointed(self, piece: Cells, side: BoardEdge) -> tuple[Cells, float, float]:
        axis = side.axis
        low, high = (float(bound[axis]) for bound in piece.bounds())
        start: float | None = high if side.outwards > 0 else low
        if self.level:
            start = clean_limit(piece, axis, side.outwards)
        if start is None:
            raise StageError(
                self.id, f"There is no straight stretch on the {side.value} to level from.",
                "Turn the piece, or switch “Level first” off.", "level",
            )  # fmt: skip
        there = start - low if side.outwards > 0 else high - start
        if there - self.off < LEAST_LEFT:
            raise StageError(
                self.id, "{off} off the edge leaves {left}.", "Take at most {most}.",
                "off", off=self.off, left=max(there - self.off, 0.0), most=max(there - LEAST_LEFT, 0.0),
            )  # fmt: skip
        cut = start - self.off * side.outwards
        left = slabs(piece, np.eye(3)[axis], np.array([cut]), np.array([0 if side.outwards > 0 else 1]))
        return left.cells, float(left.lost.sum()), cut
