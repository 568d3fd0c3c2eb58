"""Ease: take the sharpness off edges with a chamfer or a round-over."""

from __future__ import annotations

import math
from enum import StrEnum
from typing import ClassVar, Literal

import numpy as np

from ..errors import StageError
from ..fields.spec import choice, millimetres, yes_no
from ..geometry.cutters import facets, sides
from ..geometry.outlines import hull
from ..solid import Cells, Floats, Plane, shave
from .base import Bench, Cause, Outcome, Pieces, Stage, worked


class Edge(StrEnum):
    """What an eased edge looks like in section."""

    CHAMFER = "chamfer"
    ROUND_OVER = "round-over"

    @property
    def label(self) -> str:
        return {"chamfer": "chamfer at 45°", "round-over": "round-over"}[self.value]


class Ease(Stage):
    """Ease edges: ``size`` is the leg of the chamfer or the radius of the round-over, mm. Edges follow the outline
    of a shaped board; where it bulges inwards they stay sharp. ``corners`` eases the upright corners of a board
    that has some."""

    title: ClassVar[str] = "Ease edges"
    verb: ClassVar[str] = "Ease the edges"
    through: ClassVar[str] = "router"

    kind: Literal["ease"] = "ease"
    form: Edge = choice(Edge.CHAMFER, label="Form", help="In section.")
    size: float = millimetres(3.0, label="Size", help="Measured along each face from the edge.", least=0.5, most=30)
    top: bool = yes_no(True, label="Top edges", help="All round the face.")
    bottom: bool = yes_no(True, label="Bottom edges", help="All round the underside; fingers lift by them.")
    corners: bool = yes_no(False, label="Upright corners", help="The corners seen from above.")

    def run(self, pieces: Pieces, bench: Bench) -> Outcome:
        return worked(pieces, Cause.SHAPING, self._eased)

    def _eased(self, piece: Cells) -> tuple[Cells, float]:
        self._check(piece)
        outline, gone = hull(piece), 0.0
        if self.corners:
            piece, gone = shave(piece, self._upright(outline))
            outline = hull(piece)
        ways = [up for on, up in ((self.top, 1.0), (self.bottom, -1.0)) if on]
        # the face's edges and the underside's never meet: both are eased at once
        piece, chips = shave(piece, *(self._edges(outline, up, piece) for up in ways))
        return piece, gone + chips

    def _check(self, piece: Cells) -> None:
        thickness, narrow = float(piece.size()[2]), float(piece.size()[:2].min())
        most = min(thickness / 2 if self.top and self.bottom else thickness, narrow / 2)
        if self.size >= most:
            raise StageError(
                self.id,
                f"A {{size}} {self.form.value} eats the whole edge of a board {{thickness}} thick.",
                "Keep it under {most}.",
                "size", size=self.size, thickness=thickness, most=most,
            )  # fmt: skip

    def _edges(self, outline: Floats, up: float, piece: Cells) -> list[Plane]:
        """Planes that ease the edge where the outline meets the face that looks up or down."""
        low, high = piece.bounds()
        level = up * float(high[2] if up > 0 else low[2])
        normals, offsets = sides(outline)
        out = []
        for lean, offset in self._section():
            for (x, y), h in zip(normals, offsets, strict=True):
                out.append(
                    Plane(np.array([lean[0] * x, lean[0] * y, lean[1] * up]), lean[0] * h + lean[1] * level - offset)
                )
        return out

    def _upright(self, outline: Floats) -> list[Plane]:
        """The same for the corners seen from above, each between its two sides."""
        normals, offsets = sides(outline)
        out = []
        for n, h, m, g in zip(np.roll(normals, 1, axis=0), np.roll(offsets, 1), normals, offsets, strict=True):
            if n @ m > 0.5:
                continue  # already round
            # corner frame: the two sides need not be square to each other
            for lean, offset in self._section():
                normal = lean[0] * n + lean[1] * m
                length = float(np.linalg.norm(normal))
                out.append(Plane(np.array([*normal / length, 0.0]), float(lean[0] * h + lean[1] * g - offset) / length))
        return out

    def _section(self) -> list[tuple[tuple[float, float], float]]:
        """Lines that cut the corner of two square sides: the shares of both sides' normals, and how far below the
        corner the line lies."""
        if self.form is Edge.CHAMFER:
            half = math.sqrt(0.5)
            return [((half, half), self.size * half)]
        n = facets(self.size) // 4
        out = []
        for k in range(n):
            a, b = (i * math.pi / 2 / n for i in (k, k + 1))
            middle = (a + b) / 2
            lean = math.cos(middle), math.sin(middle)
            # the chord between two points of the arc, whose centre lies at (size, size) from the corner
            out.append((lean, self.size * (lean[0] + lean[1] - math.cos((b - a) / 2))))
        return out
