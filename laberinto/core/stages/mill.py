"""Mill: rough wood becomes strips of one thickness and length, laid out in order."""

from __future__ import annotations

from dataclasses import replace
from enum import StrEnum
from typing import ClassVar, Literal

import numpy as np
from pydantic import BaseModel, ConfigDict, Field, model_validator

from ..errors import StageError
from ..fields.spec import choice, millimetres, yes_no
from ..geometry.rotations import Pose, Spin, Turn
from ..solid import boxes, join
from ..woods import Wood
from ..woods.strips import Rings, Sawn, Strip, rings_for
from .base import Bench, Outcome, Pieces, Stage
from .stock import SHAPING, Stock, StockForm

MOST_STRIPS = 400
LEAST_WIDTH, MOST_WIDTH = 3.0, 400.0
"""Of a strip, mm."""

SHORTEST_STRIP, LONGEST_STRIP = 80.0, 3000.0
"""Shortest and longest strip that is milled, mm."""


class StripTurn(StrEnum):
    """How a strip is laid in its panel; turning neighbours end for end lets their bows cancel."""

    AS_SAWN = "as-sawn"
    FACE_OVER = "face-over"
    END_FOR_END = "end-for-end"
    BOTH = "both"

    @property
    def turn(self) -> Turn:
        """The rotation."""
        return _TURNS[self]

    @property
    def words(self) -> str:
        """As lists of strips say it."""
        return {
            "as-sawn": "",
            "face-over": "face over",
            "end-for-end": "end for end",
            "both": "face over, end for end",
        }[self]

    def then(self, other: StripTurn) -> StripTurn:
        """This turn and another; each undoes itself."""
        total = self.turn.then(other.turn)
        return next(turn for turn in StripTurn if turn.turn == total)


_TURNS = {
    StripTurn.AS_SAWN: Turn(),
    StripTurn.FACE_OVER: Turn(Pose.FACE_OVER),
    StripTurn.END_FOR_END: Turn(Pose.AS_IT_LIES, Spin.END_FOR_END),
    StripTurn.BOTH: Turn(Pose.FACE_OVER, Spin.END_FOR_END),
}


class StripSpec(BaseModel):
    """Strips of one wood and width (mm) as they will lie in the panel.

    ``mark`` is the number on the end of the strip; with a ``count`` the marks run on from it. Strips without ``rings``
    get those that go with their wood and mark, lying as ``sawn`` says where it is given and with a mean width of
    ``ring_spacing`` mm; ``length`` (mm) is their own where they are not as long as the others; with ``sapwood`` they
    keep a corner of it, else they are clear heartwood."""

    model_config = ConfigDict(frozen=True, extra="forbid", allow_inf_nan=False)

    wood: str
    width: float = Field(ge=LEAST_WIDTH, le=MOST_WIDTH)
    length: float | None = Field(default=None, ge=SHORTEST_STRIP, le=LONGEST_STRIP)
    count: int = Field(default=1, ge=1, le=MOST_STRIPS)
    mark: int | None = Field(default=None, ge=1, le=100_000)
    rings: Rings | None = None
    sawn: Sawn | None = None
    ring_spacing: float | None = Field(default=None, gt=0.2, lt=15)
    turned: StripTurn = StripTurn.AS_SAWN
    sapwood: bool = False

    @model_validator(mode="after")
    def _rings_once(self) -> StripSpec:
        if self.rings and (self.sawn or self.ring_spacing or self.sapwood):
            raise ValueError("give either rings in full, or how the strip is sawn, its ring spacing and its sapwood")
        return self

    def rings_of(self, wood: Wood, mark: int, thickness: float) -> Rings:
        """The rings of a strip of this kind with a mark."""
        if self.rings:
            return self.rings
        rings = rings_for(wood, mark, self.width, thickness, self.sawn, sapwood=self.sapwood)
        return rings.model_copy(update={"spacing": self.ring_spacing}) if self.ring_spacing else rings


class Mill(Stage):
    """Joint, plane and rip strips. Widths, thickness and length in mm, ready to glue."""

    title: ClassVar[str] = "Strips"
    verb: ClassVar[str] = "Mill the strips"
    through: ClassVar[str] = "jointer, planer and table saw"

    kind: Literal["mill"] = "mill"
    thickness: float = millimetres(
        35.0, label="Strip thickness", help="As milled, before the panel is flattened.", least=3, most=400
    )
    length: float = millimetres(
        600.0,
        label="Strip length",
        help="Squared ends; becomes the panel's length.",
        least=SHORTEST_STRIP,
        most=LONGEST_STRIP,
    )
    stock: StockForm = choice(
        StockForm.SQUARED,
        label="Stock",
        help="Milled to size, or laid down as it is for later stages.",
    )
    radius: float = millimetres(
        1800.0, label="Curve", help="Radius of a stave’s outside, along its length.", least=50, most=10_000
    )
    wane: float = millimetres(
        12.0, label="Wane", help="How much narrower the upper face is at a bark edge.", least=0, most=150
    )
    waist: float = millimetres(0.0, label="Narrower midway", help="Than at the near end.", least=0, most=350)
    taper: float = millimetres(0.0, label="Narrower at the far end", help="Than at the near end.", least=0, most=350)
    both_edges: bool = yes_no(False, label="Bark on both edges", help="Else on the right one.")
    heart: float = millimetres(
        0.0, label="Heart off the middle", help="To the right; to the left with a minus.", least=-180, most=180
    )
    strips: tuple[StripSpec, ...] = Field(min_length=1, max_length=MOST_STRIPS)

    @model_validator(mode="after")
    def _stock_is_possible(self) -> Mill:
        for spec in self.strips:
            length = self.length_of(spec)
            if self.stock is StockForm.STAVE and self.radius - self.thickness < length / 2 + 1:
                raise ValueError(
                    f"a stave {length:g} mm long and {self.thickness:g} mm thick cannot be bent to a radius of "
                    f"{self.radius:g} mm; take {length / 2 + self.thickness + 1:g} mm or more, or shorter staves"
                )
            if (left := self.rough_stock.narrowest(spec.width)) < LEAST_WIDTH:
                raise ValueError(
                    f"a board {spec.width:g} mm wide is {max(left, 0.0):g} mm where its bark edges come closest; take "
                    f"less wane, waist and taper, so that {LEAST_WIDTH:g} mm are left"
                )
        return self

    @model_validator(mode="after")
    def _marks_differ(self) -> Mill:
        marks = [spec.mark for spec in self.laid_out()]
        if len(marks) > MOST_STRIPS:
            raise ValueError(f"{len(marks)} strips are more than the {MOST_STRIPS} one panel may have")
        if len(set(marks)) != len(marks):
            twice = next(mark for mark in marks if marks.count(mark) > 1)
            raise ValueError(f"two strips carry the mark {twice}; each needs its own")
        return self

    def laid_out(self) -> list[StripSpec]:
        """Every strip on its own, in panel order, each with a mark."""
        used = {spec.mark + k for spec in self.strips if spec.mark is not None for k in range(spec.count)}
        free = (n for n in range(1, 2 * MOST_STRIPS * 400) if n not in used)
        out: list[StripSpec] = []
        for spec in self.strips:
            for k in range(spec.count):
                mark = spec.mark + k if spec.mark is not None else next(free)
                alone = spec.count == 1 and spec.mark == mark
                out.append(spec if alone else spec.model_copy(update={"count": 1, "mark": mark}))
        return out

    @property
    def rough_stock(self) -> Stock:
        """How its pieces are shaped."""
        own = {name: getattr(self, name) for name in self.stock.numbers}
        return Stock(self.stock, **own)

    @property
    def as_is(self) -> bool:
        """Whether the wood is laid down as it is, nothing milled yet."""
        return self.rough_stock.as_is

    @property
    def heading(self) -> str:
        return "Lay down the stock as it is" if self.as_is else self.verb

    @property
    def machine(self) -> str:
        return "" if self.as_is else self.through

    @property
    def idle(self) -> frozenset[str]:
        return super().idle | (SHAPING - self.stock.numbers)

    def length_of(self, spec: StripSpec) -> float:
        """How long a strip is, mm."""
        return spec.length or self.length

    @property
    def shortest(self) -> float:
        """Length of the shortest strip, mm."""
        return min(self.length_of(spec) for spec in self.strips)

    def run(self, pieces: Pieces, bench: Bench) -> Outcome:
        laid_out, stock = self.laid_out(), self.rough_stock
        strips: list[Strip] = []
        for number, spec in enumerate(laid_out, bench.first_strip):
            wood = bench.woods.get(spec.wood)
            if wood is None:
                raise StageError(
                    self.id, f"There is no wood called “{spec.wood}” in the library.", "Choose another wood.", "strips"
                )
            mark = spec.mark or number + 1
            rings = spec.rings_of(wood, mark, self.thickness)
            if self.stock is StockForm.LOG:
                rings = rings.model_copy(update={"heart": (spec.width / 2 + self.heart, self.thickness / 2)})
            length = self.length_of(spec)
            height = stock.height(length, self.thickness)
            strips.append(Strip(number, mark, spec.wood, spec.width, height, length, rings))
        if self.as_is:
            shapes = [stock.cells(s.width, s.length, self.thickness) for s in strips]
            strips = [replace(strip, solid=shape.volume()) for strip, shape in zip(strips, shapes, strict=True)]
            cells = join([
                replace(shape.as_piece(at), strip=np.full(len(shape), strip.number))
                for at, (strip, shape) in enumerate(zip(strips, shapes, strict=True))
            ])  # fmt: skip
        else:
            sizes = np.array([(s.width, s.length, s.thickness) for s in strips])
            cells = boxes(sizes, np.array([s.number for s in strips]))
        # a half turn about the strip's middle, so that each piece stays with its corner at the origin
        turns = np.stack([spec.turned.turn.matrix for spec in laid_out])
        middles = np.array([(s.width, s.length, s.thickness) for s in strips]) / 2
        moves = middles - np.einsum("nij,nj->ni", turns, middles)
        cells = cells.replace(rot=turns[cells.piece], move=moves[cells.piece])
        return Outcome(Pieces(cells), strips=tuple(strips))
