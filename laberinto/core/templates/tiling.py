"""A drawing true to size on sheets of paper: which part of it each sheet shows."""

from __future__ import annotations

import math
from dataclasses import dataclass

OVERLAP = 10.0
"""Of neighbouring sheets, mm on the paper."""


@dataclass(frozen=True, slots=True)
class Tile:
    """One sheet: its row and column from the upper left, from 0, and the part of the drawing it shows: left and upper
    end, width and height, mm of the drawing."""

    row: int
    column: int
    left: float
    top: float
    width: float
    height: float

    @property
    def name(self) -> str:
        """A letter for the row and a number for the column: A1."""
        return f"{chr(ord('A') + self.row)}{self.column + 1}"


def tiles(width: float, height: float, room: tuple[float, float], factor: float = 1.0) -> list[Tile]:
    """The sheets for a drawing of this size in mm, row by row. A sheet has ``room`` mm of paper; ``factor`` is by how
    much the drawing is made larger so that the printer gets it right. Neighbours overlap by ``OVERLAP``."""
    wide, high = room[0] / factor, room[1] / factor
    step_x, step_y = wide - OVERLAP / factor, high - OVERLAP / factor
    columns = 1 + max(math.ceil((width - wide) / step_x - 1e-9), 0)
    rows = 1 + max(math.ceil((height - high) / step_y - 1e-9), 0)
    return [
        Tile(row, column, column * step_x, row * step_y, wide, high) for row in range(rows) for column in range(columns)
    ]


def factor(ruler: float) -> float:
    """By how much to enlarge for a printer that makes ``ruler`` % of a length."""
    return 100.0 / ruler
