"""A saw: two parallel planes a kerf apart. What lies between them is dust."""

from __future__ import annotations

from dataclasses import dataclass

from .cells import Cells
from .split import Plane, split


@dataclass(frozen=True, slots=True)
class Cut:
    """What one saw cut leaves: wood before and beyond the blade along its normal, and dust in mm³."""

    before: Cells
    beyond: Cells
    dust: float


def saw(cells: Cells, plane: Plane, kerf: float) -> Cut:
    """Cut along ``plane``; the blade takes the ``kerf`` (mm) on the far side of it."""
    before, rest = split(cells, plane)
    if kerf <= 0:
        return Cut(before, rest, 0.0)
    dust, beyond = split(rest, Plane(plane.normal, plane.offset + kerf))
    return Cut(before, beyond, dust.volume())
