"""Glue joints: which faces meet when pieces are laid side by side, and over what area."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import shapely

from .faces import corners
from .solid import Cells, Floats, Ints

COPLANAR = 1e-5
"""Faces whose planes differ by less (mm) meet."""

LEAST_AREA = 1e-6
"""Overlaps smaller than this (mm²) are no contact."""

END_GRAIN = 0.7071
"""A joint face shows end grain where fibres run more into it than along it (cosine of 45°)."""


@dataclass(frozen=True, slots=True)
class Joint:
    """One glue line between two neighbouring pieces of a glue-up.

    ``area`` is mm². ``contacts`` lists (strip, strip, area) for the cells that meet, and ``mixed``
    is the part of the area (mm²) where end grain meets long grain, which moves apart.
    """

    first: int
    second: int
    area: float
    contacts: tuple[tuple[int, int, float], ...]
    mixed: float


def joint_between(first: Cells, second: Cells, axis: int, at: float) -> Joint:
    """The joint in the plane square to ``axis`` at ``at`` (mm), with ``second`` beyond it."""
    left, left_cells = _polygons(first, axis, 1.0, at)
    right, right_cells = _polygons(second, axis, -1.0, at)
    if not len(left) or not len(right):
        return Joint(int(first.piece[0]), int(second.piece[0]), 0.0, (), 0.0)
    i, j = shapely.STRtree(right).query(left, predicate="intersects")
    areas = shapely.area(shapely.intersection(left[i], right[j]))
    real = areas > LEAST_AREA
    i, j, areas = i[real], j[real], areas[real]
    a, b = left_cells[i], right_cells[j]
    mixed = _end_grain(first, axis)[a] != _end_grain(second, axis)[b]
    contacts = tuple(
        (int(s), int(t), float(area)) for s, t, area in zip(first.strip[a], second.strip[b], areas, strict=True)
    )
    return Joint(int(first.piece[0]), int(second.piece[0]), float(areas.sum()), contacts, float(areas[mixed].sum()))


def _end_grain(cells: Cells, axis: int) -> Floats:
    """For each cell, whether its fibres (strip y) run into a joint square to ``axis``."""
    return np.abs(cells.rot[:, axis, 1]) > END_GRAIN  # type: ignore[return-value]


def _polygons(cells: Cells, axis: int, direction: float, at: float) -> tuple[Floats, Ints]:
    """Faces in the joint's plane as shapely polygons (m,), and the cells they belong to (m,)."""
    normals, offsets = cells.world_planes()
    meets = (normals[:, axis] * direction > 1 - 1e-9) & (np.abs(offsets * direction - at) < COPLANAR)
    faces = np.flatnonzero(meets)
    vertex, ptr = corners(cells, faces)
    other = [k for k in range(3) if k != axis]
    flat = cells.world()[vertex][:, other]
    owner = np.repeat(np.arange(len(faces)), np.diff(ptr))
    rings = shapely.linearrings(flat, indices=owner) if len(faces) else np.zeros(0, object)
    return shapely.polygons(rings), cells.cell_of_face()[faces]
