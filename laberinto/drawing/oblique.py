"""Pieces in cabinet projection: the end true to shape, the length running back at an angle."""

from __future__ import annotations

from collections.abc import Callable, Sequence

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


def block(piece: Cells, skin: Skin) -> str:
    """The top, right side and front end of one piece, where it lies at the bench."""
    return blocks(piece, [0.0], skin)[0]


def blocks(pieces: Cells, along: Sequence[float], skin: Skin) -> list[str]:
    """The same of several pieces, each carried ``along`` to the right, mm. What is seen of them is worked out for all
    at once, since pieces do not hide one another."""
    lows, highs = pieces.piece_bounds()
    seen = [(*_SIDES[side], side, face_of(pieces, side)) for side in _SIDES]
    of_piece = [pieces.piece[face.cell] for *_, face in seen]
    out = []
    for number, (low, high, at) in enumerate(zip(lows, highs, along, strict=True)):
        right = np.array([at, 0.0, 0.0])
        parts = []
        for (placed, dim, side, face), owner in zip(seen, of_piece, strict=True):
            place = placed(low + right, high + right)
            # in the picture of all of them its corner may lie further in
            place[:, 2] += place[:, :2] @ (_corner(lows, highs, side).min(axis=0) - _corner(low, high, side))
            parts.append(wood(face.take(np.flatnonzero(owner == number)), skin, place, dim=dim))
        out.append("".join(parts))
    return out


def _corner(low: Floats, high: Floats, side: Side) -> Floats:
    """The upper left corner of boxes (…, 3) in the picture of a side, (…, 2)."""
    frame = side.frame[:2]
    return np.asarray(np.minimum(low[..., None, :] * frame, high[..., None, :] * frame).sum(axis=-1))


def _top(low: Floats, high: Floats) -> Floats:
    x0, y0 = point(float(low[0]), float(high[1]), float(high[2]))
    return np.array([[1.0, -BACK_X, x0], [0.0, BACK_Y, y0]])


def _right(low: Floats, high: Floats) -> Floats:
    x0, y0 = point(float(high[0]), float(low[1]), float(high[2]))
    return np.array([[BACK_X, 0.0, x0], [-BACK_Y, 1.0, y0]])


def _front(low: Floats, high: Floats) -> Floats:
    x0, y0 = point(float(low[0]), float(low[1]), float(high[2]))
    return np.array([[1.0, 0.0, x0], [0.0, 1.0, y0]])


_SIDES: dict[Side, tuple[Callable[[Floats, Floats], Floats], float]] = {
    Side.TOP: (_top, 0.0), Side.RIGHT: (_right, 0.16), Side.FRONT: (_front, 0.0),
}  # fmt: skip
"""How each side that is seen is placed, and how far it is darkened."""
