"""Shape: the board's outline, seen from above."""

from __future__ import annotations

from enum import StrEnum
from typing import Annotated, ClassVar, Literal

import numpy as np
import shapely
from pydantic import Field, model_validator

from ..errors import StageError
from ..fields.spec import choice, listed, millimetres
from ..geometry.cutters import circle, sides, upright
from ..geometry.outlines import is_convex, outside, own, rounded_rectangle
from ..solid import Cells, Floats, Plane, carve, shave
from .base import Bench, Cause, Outcome, Pieces, Stage, worked

Coordinate = Annotated[float, Field(ge=-3000, le=3000)]


class Outline(StrEnum):
    """What the board looks like from above."""

    ROUNDED = "rounded"
    CIRCLE = "circle"
    OWN = "own"

    @property
    def label(self) -> str:
        return {"rounded": "rounded corners", "circle": "circle", "own": "own outline"}[self.value]


class Shape(Stage):
    """Cut the board to an outline: corners rounded to ``radius``; a circle of ``diameter`` about the middle (the
    largest that fits where it is empty); or ``points``, the (x, y) corners in mm from the near left corner, whose
    outward corners take ``radius``."""

    title: ClassVar[str] = "Shape"
    verb: ClassVar[str] = "Cut to an outline"
    drawn: ClassVar[tuple[tuple[str, str, str], ...]] = (("points", "outline", "own"),)
    through: ClassVar[str] = "router"

    kind: Literal["shape"] = "shape"
    outline: Outline = choice(Outline.ROUNDED, label="Outline", help="Seen from above.")
    radius: float = millimetres(20.0, label="Corner radius", help="Of corners that bulge outwards.", least=0, most=500)
    diameter: float | None = millimetres(
        None, label="Diameter", help="Of a circle; empty: the largest that fits.", least=30, most=2000
    )
    points: tuple[tuple[Coordinate, Coordinate], ...] = listed(
        "points", label="Own corners", help="From the near left corner: 0 × 0, 300 × 0, 150 × 260.",
        max_length=400,
    )  # fmt: skip

    @model_validator(mode="after")
    def _drawn(self) -> Shape:
        if bool(self.points) != (self.outline is Outline.OWN):
            raise ValueError("give corners exactly where the outline is “own”")
        if self.points:
            if len(self.points) < 3:
                raise ValueError("an outline needs at least three corners")
            polygon = shapely.Polygon(self.points)
            if not polygon.is_valid or polygon.area < 1:
                raise ValueError("the outline crosses itself or has no area")
            own(list(self.points), self.radius)
        return self

    @property
    def idle(self) -> frozenset[str]:
        """A circle has no corners, and only a circle a diameter."""
        return frozenset({"radius"} if self.outline is Outline.CIRCLE else {"diameter"})

    def run(self, pieces: Pieces, bench: Bench) -> Outcome:
        return worked(pieces, Cause.SHAPING, self._shaped)

    def _shaped(self, piece: Cells) -> tuple[Cells, float]:
        low, high = piece.bounds()
        corners = self.corners(low, high)
        if is_convex(corners):
            normals, offsets = sides(corners)
            planes = [Plane(np.array([x, y, 0.0]), float(h)) for (x, y), h in zip(normals, offsets, strict=True)]
            left, gone = shave(piece, planes)
        else:
            tools = [upright(t, low[2] - 1, high[2] + 1) for t in outside(corners, low[:2], high[:2])]
            left, chips = carve(piece, tools)
            gone = chips.volume()
        if not len(left):
            raise StageError(self.id, "This outline lies outside the wood.", "Move its corners.", "points")
        return left.at_origin(), gone

    def corners(self, low: Floats, high: Floats) -> Floats:
        """The outline's corners (k, 2) in the box round a board, anticlockwise, mm."""
        size = high[:2] - low[:2]
        if self.outline is Outline.OWN:
            return own(list(self.points), self.radius) + low[:2]
        most = float(size.min())
        if self.outline is Outline.CIRCLE:
            if self.diameter is not None and self.diameter > most + 1e-9:
                raise StageError(
                    self.id, "A circle of {wanted} does not fit on wood {there} across.", "Ask for {there} or less.",
                    "diameter", wanted=self.diameter, there=most,
                )  # fmt: skip
            return circle((self.diameter or most) / 2, *(float(v) for v in (low[:2] + high[:2]) / 2))
        if self.radius > most / 2 + 1e-9:
            raise StageError(
                self.id, "Corners of {radius} do not fit on wood {there} across.", "Keep them to {most} or less.",
                "radius", radius=self.radius, there=most, most=most / 2,
            )  # fmt: skip
        return rounded_rectangle(low[:2], high[:2], min(self.radius, most / 2))
