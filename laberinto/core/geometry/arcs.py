"""Arcs over their chords."""

from __future__ import annotations

import math


def rise(radius: float, chord: float) -> float:
    """How high an arc stands over its chord, mm: R − √(R² − c²/4). It is what flattening costs a stave of this outside
    radius, cut to this length; a chord longer than the whole circle is across counts as that."""
    return radius - math.sqrt(max(radius**2 - chord**2 / 4, 0.0))
