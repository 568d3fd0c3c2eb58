"""Glue joints: which faces meet when pieces are laid side by side, and over what area."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

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


def joints_along(cells: Cells, axis: int, seams: Floats) -> list[Joint]:
    """The joints of a glue-up whose pieces 0 to n lie one beyond the other along ``axis``.

    ``seams`` (n,) are the coordinates (mm) where piece i ends and piece i + 1 begins.
    """
    pieces = np.arange(len(seams))
    left, left_cell = _polygons(cells, axis, 1.0, pieces, seams)
    right, right_cell = _polygons(cells, axis, -1.0, pieces + 1, seams)
    i, j = shapely.STRtree(right).query(left, predicate="intersects")
    areas = _overlaps(left, right, i, j)
    real = areas > LEAST_AREA
    a, b, areas = left_cell[i[real]], right_cell[j[real]], areas[real]
    into = np.abs(cells.rot[:, axis, 1]) > END_GRAIN  # fibres run along the strip's y
    mixed = np.where(into[a] != into[b], areas, 0.0)
    seam = cells.piece[a]
    contacts: list[list[tuple[int, int, float]]] = [[] for _ in seams]
    for at, one, other, area in zip(seam, cells.strip[a], cells.strip[b], areas, strict=True):
        contacts[int(at)].append((int(one), int(other), float(area)))
    total, faulty = (np.bincount(seam, values, minlength=len(seams)) for values in (areas, mixed))
    return [Joint(k, k + 1, float(total[k]), tuple(contacts[k]), float(faulty[k])) for k in range(len(seams))]


def _overlaps(left: Any, right: Any, i: Ints, j: Ints) -> Floats:
    """Area shared by each pair left[i], right[j]: in closed form between upright rectangles, else by shapely."""
    boxes = [shapely.bounds(side) for side in (left, right)]
    upright = [
        np.isclose(shapely.area(side), (box[:, 2] - box[:, 0]) * (box[:, 3] - box[:, 1]), rtol=1e-12, atol=0)
        for side, box in zip((left, right), boxes, strict=True)
    ]
    a, b = boxes[0][i], boxes[1][j]
    size = np.minimum(a[:, 2:], b[:, 2:]) - np.maximum(a[:, :2], b[:, :2])
    areas = np.asarray(np.prod(np.maximum(size, 0.0), axis=1))
    other = ~(upright[0][i] & upright[1][j])
    areas[other] = shapely.area(shapely.intersection(left[i[other]], right[j[other]]))
    return areas


APART = 8192.0
"""Joints are told apart by laying each this far (mm) from the next; a power of two costs no digits."""


def _polygons(cells: Cells, axis: int, direction: float, pieces: Ints, seams: Floats) -> tuple[Any, Ints]:
    """Faces of ``pieces`` in their ``seams``, one joint laid beside the other, and their cells, (m,) each."""
    normals, offsets = cells.world_planes()
    cell = cells.cell_of_face()
    seam_of = np.full(cells.pieces, -1, np.int64)
    seam_of[pieces] = np.arange(len(pieces))
    seam = seam_of[cells.piece[cell]]
    at = np.where(seam >= 0, seams[seam], np.inf)
    faces = np.flatnonzero((normals[:, axis] * direction > 1 - 1e-9) & (np.abs(offsets * direction - at) < COPLANAR))
    vertex, ptr = corners(cells, faces)
    owner = np.repeat(np.arange(len(faces)), np.diff(ptr))
    flat = cells.world()[vertex][:, [k for k in range(3) if k != axis]]
    flat[:, 0] += APART * seam[faces][owner]
    rings = shapely.linearrings(flat, indices=owner) if len(faces) else np.zeros(0, object)
    return shapely.polygons(rings), cell[faces]
