"""Glue joints: which faces of neighbouring pieces meet, in whatever plane, and over what area."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np
import shapely

from .faces import corners
from .solid import Cells, Floats, Ints

COPLANAR = 1e-5
"""Faces whose planes differ by less (mm) meet."""

PARALLEL = 1e-7
"""Normals that differ by less meet face to face."""

LEAST_AREA = 1e-6
"""Overlaps smaller than this (mm²) are no contact."""

END_GRAIN = 0.7071
"""A joint face shows end grain where fibres run more into it than along it (cosine of 45°)."""

APART = 8192.0
"""Joints are told apart by laying each this far (mm) from the next; a power of two costs no digits."""


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


@dataclass(frozen=True, slots=True)
class _Side:
    """Faces on one side of the joints, (m,) each: the shared plane (numbered over all joints) and its normal
    (m, 3), the cell, and the polygon, laid out plane by plane."""

    plane: Ints
    normal: Floats
    cell: Ints
    polygons: Any


def joints_between(cells: Cells) -> list[Joint]:
    """The joints of a glue-up whose pieces 0 to n were set one against the next, in that order."""
    count = cells.pieces - 1
    if count < 1:
        return []
    first, second = _sides(cells)
    i, j = shapely.STRtree(second.polygons).query(first.polygons, predicate="intersects")
    areas = _overlaps(first.polygons, second.polygons, i, j)
    real = (areas > LEAST_AREA) & (first.plane[i] == second.plane[j])
    i, j, areas = i[real], j[real], areas[real]
    a, b = first.cell[i], second.cell[j]
    joint = cells.piece[a]
    mixed = np.where(_end_grain(cells, a, first.normal[i]) != _end_grain(cells, b, first.normal[i]), areas, 0.0)
    contacts: list[list[tuple[int, int, float]]] = [[] for _ in range(count)]
    for at, one, other, area in zip(joint, cells.strip[a], cells.strip[b], areas, strict=True):
        contacts[int(at)].append((int(one), int(other), float(area)))
    total, faulty = (np.bincount(joint, values, minlength=count) for values in (areas, mixed))
    return [Joint(k, k + 1, float(total[k]), tuple(contacts[k]), float(faulty[k])) for k in range(count)]


def _end_grain(cells: Cells, cell: Ints, normal: Floats) -> Floats:
    """Whether the fibres of each cell (its strip's y) run into a face with this normal."""
    return np.asarray(np.abs((cells.rot[cell][:, :, 1] * normal).sum(axis=1)) > END_GRAIN)


def _sides(cells: Cells) -> tuple[_Side, _Side]:
    """The faces of piece k that share a plane with a face of piece k + 1 looking the other way, and those faces."""
    normals, offsets = cells.world_planes()
    cell = cells.cell_of_face()
    piece = cells.piece[cell]
    ahead, behind = np.flatnonzero(piece < cells.pieces - 1), np.flatnonzero(piece > 0)
    face = np.concatenate([ahead, behind])
    side = np.concatenate([np.zeros(len(ahead), np.int64), np.ones(len(behind), np.int64)])
    sign = np.where(side == 0, 1.0, -1.0)
    joint, normal, offset = piece[face] - side, normals[face] * sign[:, None], offsets[face] * sign
    # one direction: equal normals to within rounding; one plane: then also no gap in offset
    steps = np.round(normal / PARALLEL).astype(np.int64)
    direction = np.unique(np.column_stack([joint, steps]), axis=0, return_inverse=True)[1].ravel()
    order = np.lexsort((offset, direction))
    fresh = (np.diff(direction[order]) != 0) | (np.diff(offset[order]) > COPLANAR)
    plane = np.empty(len(face), np.int64)
    plane[order] = np.concatenate([[0], np.cumsum(fresh)])
    # only planes with faces on both sides can hold a joint
    both = np.bincount(plane[side == 0], minlength=plane.max() + 1).astype(bool)
    both &= np.bincount(plane[side == 1], minlength=plane.max() + 1).astype(bool)
    rank = np.cumsum(both) - 1
    shared = np.empty((len(both), 3))
    shared[plane] = normal  # they differ by rounding only; any one serves for all
    out = []
    for which in (0, 1):
        mine = both[plane] & (side == which)
        exact = shared[plane[mine]]
        out.append(
            _Side(rank[plane[mine]], exact, cell[face[mine]], _polygons(cells, face[mine], exact, rank[plane[mine]]))
        )
    return out[0], out[1]


def _polygons(cells: Cells, faces: Ints, normal: Floats, plane: Ints) -> Any:
    """Faces as shapely polygons (m,) in their plane's own two axes, one plane laid beside the other."""
    vertex, ptr = corners(cells, faces)
    owner = np.repeat(np.arange(len(faces)), np.diff(ptr))
    helper = np.eye(3)[np.argmin(np.abs(normal), axis=1)]
    u = np.cross(normal, helper)
    u /= np.linalg.norm(u, axis=1, keepdims=True)
    v = np.cross(normal, u)
    points = cells.world()[vertex]
    flat = np.stack([(points * u[owner]).sum(axis=1) + APART * plane[owner], (points * v[owner]).sum(axis=1)], axis=1)
    rings = shapely.linearrings(flat, indices=owner) if len(faces) else np.zeros(0, object)
    return shapely.polygons(rings)


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
