"""What a template is: lines true to size, each with what it stands for, and words beside them.

Lengths are mm. Coordinates run to the right and away from you from the near left corner of the board, or from the
lower left of a section; a template for the underside is seen from below.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from enum import StrEnum

import numpy as np
import shapely

from ..plan.simulate import Simulation
from ..shop import Shop
from ..shop.guides import Guide
from ..solid import Floats
from ..stages import Stage
from ..units import Lengths

ROOM = 4.0
"""About a label's middle, mm."""


class Line(StrEnum):
    """What a line of a template stands for."""

    CUT = "cut"
    MADE = "made"
    BIT = "bit"
    BOARD = "board"

    @property
    def label(self) -> str:
        return {
            "cut": "the template’s edge: saw outside it and smooth to it",
            "made": "what is cut into the board",
            "bit": "where the middle of the bit runs",
            "board": "the board, to lay it by",
        }[self.value]


@dataclass(frozen=True, slots=True)
class Stroke:
    """A line through ``points`` (k, 2) mm; a closed one ends where it began."""

    line: Line
    points: Floats
    closed: bool = True


@dataclass(frozen=True, slots=True)
class Label:
    """Words on a template, in the middle at ``at`` (mm)."""

    at: tuple[float, float]
    words: str


@dataclass(frozen=True, slots=True)
class Template:
    """A template by its ``key``: of which stage, what it is for, its lines, and what to know of it."""

    key: str
    stage: str
    title: str
    strokes: tuple[Stroke, ...]
    says: tuple[str, ...]
    labels: tuple[Label, ...] = ()

    @property
    def box(self) -> tuple[float, float, float, float]:
        """Left, lower, right and upper end of its lines, mm."""
        every = np.concatenate([stroke.points for stroke in self.strokes])
        (left, low), (right, high) = every.min(axis=0), every.max(axis=0)
        return float(left), float(low), float(right), float(high)

    @property
    def frame(self) -> tuple[float, float, float, float]:
        """The same with room for its labels."""
        left, low, right, high = self.box
        for label in self.labels:
            x, y = label.at
            left, low = min(left, x - ROOM), min(low, y - ROOM)
            right, high = max(right, x + ROOM), max(high, y + ROOM)
        return left, low, right, high

    @property
    def size(self) -> tuple[float, float]:
        """Width and height of its lines, mm."""
        left, low, right, high = self.box
        return right - left, high - low

    def area(self, line: Line) -> float:
        """What closed lines of one kind enclose together, mm²."""
        return sum(shapely.Polygon(s.points).area for s in self.strokes if s.line is line and s.closed)


@dataclass(frozen=True, slots=True)
class Making:
    """All that a template is made from: the simulated plan, one stage of it, the box round the first piece that comes
    to it, the shop with its guide, and how lengths are written."""

    sim: Simulation
    stage: Stage
    low: Floats
    high: Floats
    shop: Shop
    lengths: Lengths

    @property
    def guide(self) -> Guide:
        """What leads the router."""
        return self.shop.guide

    @property
    def size(self) -> Floats:
        """Width, length and thickness of the piece, (3,) mm."""
        return np.asarray(self.high - self.low)

    def mm(self, value: float) -> str:
        """A length as it is read."""
        return self.lengths.show(value)

    def board(self) -> Stroke:
        """The piece from above, its near left corner at (0, 0)."""
        return Stroke(Line.BOARD, rectangle(0, 0, float(self.size[0]), float(self.size[1])))


Maker = Callable[[Making], Iterator[Template]]
"""Makes the templates of one kind of stage."""


def rectangle(left: float, low: float, right: float, high: float) -> Floats:
    """Its corners (4, 2), anticlockwise."""
    return np.array([[left, low], [right, low], [right, high], [left, high]])


def closed(line: Line, shape: shapely.Geometry) -> tuple[Stroke, ...]:
    """The outlines of a shape, and of its holes."""
    return tuple(
        Stroke(line, np.asarray(shapely.get_coordinates(ring)[:-1]))
        for part in shapely.get_parts(shape)
        if part.geom_type == "Polygon" and not part.is_empty
        for ring in (part.exterior, *part.interiors)
    )
