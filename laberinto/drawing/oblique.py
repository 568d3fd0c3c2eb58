"""Pieces in cabinet projection: the end true to shape, the length running back at an angle."""

from __future__ import annotations

import numpy as np

from laberinto.core.geometry.faces import Side, face_of
from laberinto.core.solid import Cells

from .faces import wood
from .skin import Skin
from .svg import Floats

BACK_X, BACK_Y = 0.26, 0.34
"""Picture right and up for each mm of length."""


def point(x: float, y: float, z: float) -> tuple[float, float]:
    """Where a bench point (mm) falls in the picture; down is positive."""
    return x + BACK_X * y, -z - BACK_Y * y


def block(piece: Cells, skin: Skin, *, dim: float = 0.0) -> str:
    """The top, right side and front end of one piece, where it lies at the bench."""
    low, high = piece.bounds()
    parts = []
    for side, place in (
        (Side.TOP, _top(low, high)),
        (Side.RIGHT, _right(low, high)),
        (Side.FRONT, _front(low, high)),
    ):
        parts.append(wood(face_of(piece, side), skin, place, dim=dim + (0.16 if side is Side.RIGHT else 0.0)))
    return "".join(parts)


def _top(low: Floats, high: Floats) -> Floats:
    x0, y0 = point(float(low[0]), float(high[1]), float(high[2]))
    return np.array([[1.0, -BACK_X, x0], [0.0, BACK_Y, y0]])


def _right(low: Floats, high: Floats) -> Floats:
    x0, y0 = point(float(high[0]), float(low[1]), float(high[2]))
    return np.array([[BACK_X, 0.0, x0], [-BACK_Y, 1.0, y0]])


def _front(low: Floats, high: Floats) -> Floats:
    x0, y0 = point(float(low[0]), float(low[1]), float(high[2]))
    return np.array([[1.0, 0.0, x0], [0.0, 1.0, y0]])
