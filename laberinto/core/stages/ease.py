"""Ease: take the sharpness off edges with a small chamfer."""

from __future__ import annotations

from itertools import product
from typing import ClassVar, Literal

from ..errors import StageError
from ..solid import Cells, Plane, join, shave
from .base import Bench, Cause, Outcome, Pieces, Stage
from .fields import millimetres, yes_no


class Ease(Stage):
    """Chamfer edges at 45°; ``size`` is the leg of the chamfer in mm."""

    title: ClassVar[str] = "Ease edges"
    verb: ClassVar[str] = "Ease the edges"

    kind: Literal["ease"] = "ease"
    size: float = millimetres(3.0, label="Chamfer", help="Measured along each face from the edge.", least=0.5, most=30)
    top: bool = yes_no(True, label="Top edges", help="All four round the face.")
    bottom: bool = yes_no(True, label="Bottom edges", help="All four round the underside; fingers lift by them.")
    corners: bool = yes_no(False, label="Upright corners", help="The four corners seen from above.")

    def run(self, pieces: Pieces, bench: Bench) -> Outcome:
        kept: list[Cells] = []
        gone = 0.0
        for number in range(len(pieces)):
            piece = pieces[number]
            thickness, narrow = float(piece.size()[2]), float(piece.size()[:2].min())
            most = min(thickness / 2 if self.top and self.bottom else thickness, narrow / 2)
            if self.size >= most:
                raise StageError(
                    self.id,
                    "A {size} chamfer eats the whole edge of a board {thickness} thick.",
                    "Keep it under {most}.",
                    "size", size=self.size, thickness=thickness, most=most,
                )  # fmt: skip
            planes = self._planes(piece)
            if planes:
                piece, chips = shave(piece, planes)
                gone += chips.volume()
            kept.append(piece.as_piece(number))
        return Outcome(Pieces(join(kept)), waste={Cause.SHAPING: gone})

    def _planes(self, piece: Cells) -> list[Plane]:
        """The chamfers' planes, each keeping the wood below it."""
        low, high = piece.bounds()
        pairs = [
            (axis, 2, side, up)
            for axis, side, up in product((0, 1), (-1, 1), (-1, 1))
            if (self.top if up > 0 else self.bottom)
        ]
        if self.corners:
            pairs += [(0, 1, x, y) for x, y in product((-1, 1), (-1, 1))]
        planes = []
        for a, b, side_a, side_b in pairs:
            normal = [0.0, 0.0, 0.0]
            normal[a], normal[b] = float(side_a), float(side_b)
            edge = side_a * (high[a] if side_a > 0 else low[a]) + side_b * (high[b] if side_b > 0 else low[b])
            planes.append(Plane.of((normal[0], normal[1], normal[2]), float(edge - self.size) / 2**0.5))
        return planes
