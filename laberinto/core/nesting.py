"""Setting one piece against the next: how far apart they must lie to touch and not overlap.

Pieces with square sides meet box to box. Bevelled and mitred ones nest: the distance is the largest, over
all lines along the axis that run through both, of where the first ends less where the second begins. For
convex cells that is reached over a corner of one of the two, so corners are the lines that are tried.
"""

from __future__ import annotations

import numpy as np

from .solid import Cells, Floats

SQUARE = 1e-9
"""A side is square where its faces' normals differ from the axis by less."""

OUTSIDE = 1e-6
"""A line this far (mm) outside a cell still counts as touching it."""


def distance(first: Cells, second: Cells, axis: int) -> float:
    """How far along ``axis`` the second piece must be moved so that it just touches the first beyond it, mm."""
    across = [k for k in range(3) if k != axis]
    corners = np.concatenate([first.world(), second.world()])[:, across]
    # one line for corners that are one, compared as single numbers, which is quicker than by rows; as they lie, for a
    # rounded line would leave a gap of its own rounding
    rounded = np.round(corners, 6)
    lines = corners[np.unique(rounded[:, 0] + 1j * rounded[:, 1], return_index=True)[1]]
    gap = _end(first, axis, across, lines, 1.0) + _end(second, axis, across, lines, -1.0)
    if not np.isfinite(gap).any():
        return float(first.bounds()[1][axis] - second.bounds()[0][axis])
    return float(gap[np.isfinite(gap)].max())


def _end(piece: Cells, axis: int, across: list[int], lines: Floats, direction: float) -> Floats:
    """How far the piece reaches along ``direction`` on each line (m, 2); −inf where a line misses it."""
    normals, offsets = piece.world_planes()
    along = normals[:, axis] * direction
    rest = offsets[:, None] - normals[:, across] @ lines.T  # what is left of the plane's offset on each line
    start = piece.fptr[:-1]
    with np.errstate(divide="ignore", invalid="ignore"):
        cut = rest / along[:, None]
    upper = np.minimum.reduceat(np.where(along[:, None] > SQUARE, cut, np.inf), start, axis=0)
    lower = np.maximum.reduceat(np.where(along[:, None] < -SQUARE, cut, -np.inf), start, axis=0)
    level = np.abs(along[:, None]) <= SQUARE
    inside = np.logical_and.reduceat(~level | (rest > -OUTSIDE), start, axis=0) & (lower <= upper + OUTSIDE)
    return np.asarray(np.where(inside, upper, -np.inf).max(axis=0))
