"""Height maps: how high the wood stands, looked at from above, on a grid."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from ..geometry.faces import Side, face_of
from ..solid import Cells, Floats

STEP = 0.2
"""From one point of the grid to the next, mm."""

Map = NDArray[np.float32]


@dataclass(frozen=True, slots=True)
class HeightMap:
    """Heights ``z`` (rows from near to far, columns from left to right) in mm over the finished face; the middle of the
    first is half a ``step`` from (``left``, ``low``). Where there is no wood it is ``floor``."""

    z: Map
    left: float
    low: float
    step: float
    floor: float

    @property
    def size(self) -> tuple[float, float]:
        """Width and length of the grid, mm."""
        rows, columns = self.z.shape
        return columns * self.step, rows * self.step

    def copy(self) -> HeightMap:
        """One that is carved without changing this."""
        return replace(self, z=self.z.copy())

    def at(self, x: float, y: float) -> float:
        """The height at a point."""
        column, row = int((x - self.left) / self.step), int((y - self.low) / self.step)
        return float(self.z[row, column])


def seen_from(piece: Cells, side: Side, *, zero: float, step: float = STEP) -> HeightMap:
    """The heights of a piece's upper side, or of its underside as it lies once it is turned over; ``zero`` is how far
    (mm) its foremost point stands over the zero of the map."""
    face = face_of(piece, side)
    wide, long = (float(v) for v in face.size)
    thick = float(piece.size()[2])
    columns, rows = round(wide / step), round(long / step)
    floor = zero - thick
    z = np.full((rows, columns), floor, np.float32)
    points = face.points * [1.0, -1.0] + [0.0, long]
    for i in range(len(face)):
        corners = points[face.ptr[i] : face.ptr[i + 1]]
        _fill(z, corners, zero - float(face.recess[i]), face.lean[i] * [1.0, -1.0], float(face.tilt[i]), step)
    return HeightMap(z, 0.0, 0.0, step, floor)


def _fill(z: Map, corners: Floats, middle: float, lean: Floats, tilt: float, step: float) -> None:
    """Put a polygon's plane in, which lies ``middle`` high at the mean of its corners."""
    rows, columns = z.shape
    (x0, y0), (x1, y1) = corners.min(axis=0), corners.max(axis=0)
    left, right = max(int(np.ceil(x0 / step - 0.5)), 0), min(int(np.floor(x1 / step - 0.5)) + 1, columns)
    low, high = max(int(np.ceil(y0 / step - 0.5)), 0), min(int(np.floor(y1 / step - 0.5)) + 1, rows)
    if left >= right or low >= high or abs(tilt) < 1e-6:
        return
    xs, ys = (np.arange(left, right) + 0.5) * step, (np.arange(low, high) + 0.5) * step
    first, last = _between(corners, ys)
    inside = (xs >= first[:, None]) & (xs <= last[:, None])
    mx, my = corners.mean(axis=0)
    plane = middle - (lean[0] * (xs[None, :] - mx) + lean[1] * (ys[:, None] - my)) / tilt
    np.copyto(z[low:high, left:right], plane, where=inside, casting="same_kind")


def _between(corners: Floats, ys: Floats) -> tuple[Floats, Floats]:
    """From which x to which a convex polygon (n, 2) reaches at each y; from more to less where it does not."""
    x, y = corners.T
    dx, dy = (np.concatenate([corners[1:], corners[:1]]) - corners).T
    if (x * dy - y * dx).sum() < 0:  # gone round clockwise
        dx, dy = -dx, -dy
    dx, dy = dx[:, None], dy[:, None]
    room = dx * (ys - y[:, None]) + 1e-9  # what lies on the edge counts
    at = x[:, None] + room / np.where(dy == 0, 1.0, dy)
    first = np.where(dy < 0, at, np.where((dy == 0) & (room < 0), np.inf, -np.inf)).max(axis=0)
    return first, np.where(dy > 0, at, np.inf).min(axis=0)
