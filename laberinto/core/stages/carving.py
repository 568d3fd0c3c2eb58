"""What all carved stages share: sides and faces by name, and a run that takes tools to every piece."""

from __future__ import annotations

from enum import StrEnum
from typing import ClassVar

import numpy as np

from ..errors import StageError
from ..solid import Cells, Floats, Tool, carve
from .base import Bench, Cause, Outcome, Pieces, Stage, worked

LEAST_FLOOR = 3.0
"""A recess leaves at least this much wood below it, mm."""


class BoardEdge(StrEnum):
    """Edges of a board seen from above; front is nearest to you."""

    LEFT = "left"
    RIGHT = "right"
    FRONT = "front"
    BACK = "back"

    @property
    def axis(self) -> int:
        """The axis the edge is square to: 0 for left and right, 1 for front and back."""
        return 0 if self in (BoardEdge.LEFT, BoardEdge.RIGHT) else 1

    @property
    def outwards(self) -> float:
        """1 where the edge looks along its axis, −1 where it looks back."""
        return 1.0 if self in (BoardEdge.RIGHT, BoardEdge.BACK) else -1.0


class Sides(StrEnum):
    """One edge, two opposite ones, or all four."""

    LEFT = "left"
    RIGHT = "right"
    FRONT = "front"
    BACK = "back"
    LEFT_RIGHT = "left-right"
    FRONT_BACK = "front-back"
    ALL = "all"

    @property
    def label(self) -> str:
        return {"left-right": "left and right", "front-back": "front and back", "all": "all four"}.get(
            self.value, self.value
        )

    @property
    def each(self) -> tuple[BoardEdge, ...]:
        return tuple(BoardEdge) if self is Sides.ALL else tuple(BoardEdge(part) for part in self.value.split("-"))


class Surface(StrEnum):
    """The face that is worked."""

    TOP = "top"
    BOTTOM = "bottom"

    @property
    def label(self) -> str:
        return {"top": "the face", "bottom": "the underside"}[self.value]

    @property
    def up(self) -> float:
        """Which way the surface looks, along the vertical."""
        return 1.0 if self is Surface.TOP else -1.0


class Carving(Stage):
    """A stage that takes tools to every piece; subclasses say which."""

    through: ClassVar[str] = "router"

    def tools(self, low: Floats, high: Floats) -> list[Tool]:
        """The tools for a piece by the corners of the box round it, (3,) each. Raises StageError where they
        would go through it."""
        raise NotImplementedError

    def run(self, pieces: Pieces, bench: Bench) -> Outcome:
        return worked(pieces, Cause.SHAPING, self._carved)

    def _carved(self, piece: Cells) -> tuple[Cells, float]:
        left, chips = carve(piece, self.tools(*piece.bounds()))
        return left, chips.volume()

    def check_floor(self, depth: float, low: Floats, high: Floats, what: str) -> None:
        """Raise StageError where a recess this deep would leave too little wood below it."""
        thickness = float(high[2] - low[2])
        if depth > thickness - LEAST_FLOOR:
            raise StageError(
                self.id,
                f"{what} {{depth}} deep leaves no floor in wood {{thickness}} thick.",
                "Keep it to {most} or less.",
                "depth", depth=depth, thickness=thickness, most=max(thickness - LEAST_FLOOR, 0.0),
            )  # fmt: skip


def surface_height(surface: Surface, low: Floats, high: Floats) -> float:
    """Height of the worked face, mm."""
    return float(high[2] if surface is Surface.TOP else low[2])


def middle(low: Floats, high: Floats) -> Floats:
    """Middle of the box from above, (2,)."""
    return np.asarray((low[:2] + high[:2]) / 2)
