"""Trim: true the long edges and crosscut the board to its size."""

from __future__ import annotations

from enum import StrEnum
from typing import ClassVar, Literal

import numpy as np
from pydantic import model_validator

from ..errors import StageError
from ..fields.allowances import USUAL
from ..fields.spec import choice, millimetres, yes_no
from ..geometry.clear import clean_rectangle, full, sealed_if_full
from ..solid import ON_PLANE, Cells, Floats, gathered, slabs
from .base import Bench, Cause, Outcome, Pieces, Stage, cut_back

LEAST_LEFT = 10.0
"""Trimming by an edge allowance leaves at least this much, mm."""


class TrimSide(StrEnum):
    """Which sides are cut: all, or one alone against the others as reference."""

    ALL = "all"
    LEFT = "left"
    RIGHT = "right"
    NEAR = "near"
    FAR = "far"

    @property
    def label(self) -> str:
        return {"all": "all four", "left": "the left edge", "right": "the right edge", "near": "the near end",
                "far": "the far end"}[self.value]  # fmt: skip

    def shares(self, axis: int) -> tuple[float, float]:
        """Of what comes off along an axis in all: at its lower and its upper end."""
        if self is TrimSide.ALL:
            return 0.5, 0.5
        mine, share = {"left": (0, (1.0, 0.0)), "right": (0, (0.0, 1.0)), "near": (1, (1.0, 0.0)),
                       "far": (1, (0.0, 1.0))}[self.value]  # fmt: skip
        return share if mine == axis else (0.0, 0.0)


class Trim(Stage):
    """Cut the board square: to ``width`` and ``length`` in mm, taken equally from both sides, or where
    one is not given by ``edge`` mm off either side. ``only`` cuts one side alone."""

    title: ClassVar[str] = "Trim"
    verb: ClassVar[str] = "True and trim"
    through: ClassVar[str] = "crosscut sled"

    kind: Literal["trim"] = "trim"
    edge: float = millimetres(
        USUAL.edge, label="Off each edge", help="Where no finished size is given.", least=0, most=100
    )
    width: float | None = millimetres(
        None, label="To width", help="Empty: only the edge allowance comes off.", least=30, most=3000
    )
    length: float | None = millimetres(
        None, label="To length", help="Empty: only the edge allowance comes off.", least=30, most=3000
    )

    only: TrimSide = choice(TrimSide.ALL, label="Of which side", help="One alone: the others stay as they are.")
    flush: bool = yes_no(False, label="Cut flush", help="To the largest clean rectangle first.")

    @model_validator(mode="after")
    def _all_sides(self) -> Trim:
        if self.flush and self.only is not TrimSide.ALL:
            raise ValueError("cutting flush takes all four sides; choose all four, or leave it")
        return self

    def run(self, pieces: Pieces, bench: Bench) -> Outcome:
        return cut_back(pieces, Cause.TRIMMING, self._trimmed)

    def _trimmed(self, piece: Cells) -> tuple[Cells, float, Floats]:
        if not self.flush:
            return self._cut(piece, *piece.bounds())
        made = self._cut(piece, *clean_rectangle(piece))
        # else there are gaps that only show from the side
        return made if full(made[0]) else self._cut(piece, *clean_rectangle(piece, sides=True))

    def _cut(self, piece: Cells, near: Floats, far: Floats) -> tuple[Cells, float, Floats]:
        """Take off what lies beyond a rectangle, and the allowance."""
        lines: list[tuple[int, float, float]] = []
        for axis, wanted, name in ((0, self.width, "width"), (1, self.length, "length")):
            low, high = float(near[axis]), float(far[axis])
            first, last = self.only.shares(axis)
            if not first + last:
                continue
            takes = self._off(high - low, wanted, name)
            if takes > 0 or self.flush:
                lines.append((axis, low + takes * first, high - takes * last))
        left, gone, off = _within(piece, lines)
        return sealed_if_full(left.at_origin()), gone, off

    def _off(self, there: float, wanted: float | None, name: str) -> float:
        """How much comes off in all, mm."""
        sides = 2 if self.only is TrimSide.ALL else 1
        if wanted is None:
            if there - sides * self.edge < LEAST_LEFT:
                raise StageError(
                    self.id,
                    f"{{edge}} off each edge leaves {{left}} of {name}.",
                    "Take at most {most} off each edge.",
                    "edge", edge=self.edge, left=max(there - sides * self.edge, 0.0),
                    most=max((there - LEAST_LEFT) / sides, 0.0),
                )  # fmt: skip
            return sides * self.edge
        if wanted > there + 1e-9:
            raise StageError(
                self.id,
                f"The board comes out {{there}} in {name}, {{short}} short of {{wanted}}.",
                f"Ask for {{there}} or less, or add {'strips' if name == 'width' else 'slices'}.",
                name, there=there, wanted=wanted, short=wanted - there,
            )  # fmt: skip
        return there - wanted


def _within(piece: Cells, lines: list[tuple[int, float, float]]) -> tuple[Cells, float, Floats]:
    """What lies between two lines square to each axis named, the volume beyond, mm³, and how far each line lies inside
    what stands out there once those before it are cut, (axis, lower and upper end). Most cells of a large board lie
    well within all of them and are passed by."""
    points = piece.world()
    reached = np.zeros(len(points), bool)
    for axis, low, high in lines:
        reached |= (points[:, axis] < low + ON_PLANE) | (points[:, axis] > high - ON_PLANE)
    outer = np.logical_or.reduceat(reached, piece.vptr[:-1])
    cut, gone, off = piece.take(outer), 0.0, np.zeros((3, 2))
    for axis, low, high in lines:
        near, far = (float(bound[axis]) for bound in (cut if len(cut) else piece).bounds())
        off[axis] = max(low - near, 0.0), max(far - high, 0.0)
        made = slabs(cut, np.eye(3)[axis], np.array([low, high]), np.array([1]))
        cut, gone = made.cells, gone + float(made.lost.sum())
    return gathered([(piece, np.flatnonzero(~outer)), (cut, None)]), gone, off
