"""Loose pieces laid out beside each other, to be looked at or written into one file."""

from __future__ import annotations

import numpy as np

from .cells import Cells


def apart(pieces: Cells, axis: int, gap: float) -> Cells:
    """Loose pieces, each at the origin, laid out with a ``gap`` (mm): left to right along x, towards you along y."""
    extent = pieces.piece_sizes()[:, axis]
    start = np.cumsum(extent + gap) - extent - gap
    shift = np.zeros((len(extent), 3))
    shift[:, axis] = start if axis == 0 else -(start + extent)
    return pieces.moved(shift[pieces.piece])
