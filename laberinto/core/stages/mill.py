"""Mill: rough wood becomes strips of one thickness and length, laid out in order."""

from __future__ import annotations

from enum import StrEnum
from typing import ClassVar, Literal

import numpy as np
from pydantic import BaseModel, ConfigDict, Field, model_validator

from ..errors import StageError
from ..fields.spec import millimetres
from ..geometry.rotations import Pose, Spin, Turn
from ..solid import boxes
from ..woods import Wood
from ..woods.strips import Rings, Sawn, Strip, rings_for
from .base import Bench, Outcome, Pieces, Stage

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
    strips: tuple[StripSpec, ...] = Field(min_length=1, max_length=MOST_STRIPS)

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
                out.append(spec.model_copy(update={"count": 1, "mark": mark}))
        return out

    def length_of(self, spec: StripSpec) -> float:
        """How long a strip is, mm."""
        return spec.length or self.length

    @property
    def shortest(self) -> float:
        """Length of the shortest strip, mm."""
        return min(self.length_of(spec) for spec in self.strips)

    def run(self, pieces: Pieces, bench: Bench) -> Outcome:
        strips: list[Strip] = []
        laid_out = self.laid_out()
        for number, spec in enumerate(laid_out, bench.first_strip):
            wood = bench.woods.get(spec.wood)
            if wood is None:
                raise StageError(
                    self.id, f"There is no wood called “{spec.wood}” in the library.", "Choose another wood.", "strips"
                )
            mark = spec.mark or number + 1
            rings = spec.rings_of(wood, mark, self.thickness)
            strips.append(Strip(number, mark, spec.wood, spec.width, self.thickness, self.length_of(spec), rings))
        sizes = np.array([(s.width, s.length, s.thickness) for s in strips])
        turns = np.stack([spec.turned.turn.matrix for spec in laid_out])
        cells = boxes(sizes, np.array([s.number for s in strips]))
        # a half turn about the strip's middle, so that each piece stays with its corner at the origin
        cells = cells.replace(rot=turns, move=sizes / 2 - np.einsum("nij,nj->ni", turns, sizes / 2))
        return Outcome(Pieces(cells), strips=tuple(strips))
