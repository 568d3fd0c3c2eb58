"""Contact: where faces that look at each other lie in one plane and touch, and over what area."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np
import shapely

from .polygons import corners
from .solid import Cells, Floats, Ints

COPLANAR = 1e-5
"""Faces whose planes differ by less (mm) meet."""

PARALLEL = 1e-7
"""Normals that differ by less meet face to face."""

LEAST_AREA = 1e-6
"""Overlaps smaller than this (mm²) are no contact."""

APART = 8192.0
"""Planes are told apart by laying each this far (mm) from the next; a power of two costs no digits."""


@dataclass(frozen=True, slots=True)
class Contacts:
    """Pairs of faces that touch: positions in the two lists that were asked for, (k,) each, the area in mm² (k,),
    and the normal of the first face (k, 3)."""

    first: Ints
    second: Ints
    area: Floats
    normal: Floats


def touching(cells: Cells, first: Ints, second: Ints, group_a: Ints, group_b: Ints) -> Contacts:
    """Which of the ``first`` faces touch which of the ``second`` of the same group. Groups number what may meet."""
    normals, offsets = cells.world_planes()
    face = np.concatenate([first, second])
    side = np.concatenate([np.zeros(len(first), np.int64), np.ones(len(second), np.int64)])
    sign = np.where(side == 0, 1.0, -1.0)
    normal, offset = normals[face] * sign[:, None], offsets[face] * sign
    plane = _planes(normal, offset, np.concatenate([group_a, group_b]))
    # only planes with faces on both sides can hold a contact
    count = int(plane.max()) + 1 if len(plane) else 0
    both = np.bincount(plane[side == 0], minlength=count).astype(bool)
    both &= np.bincount(plane[side == 1], minlength=count).astype(bool)
    live = both[plane]
    index = [np.flatnonzero(live & (side == which)) for which in (0, 1)]
    rank = np.cumsum(both) - 1
    shared = np.empty((count, 3))
    shared[plane] = normal  # they differ by rounding only; any one serves for all
    basis = _basis(shared)
    flats = [_flat(cells, face[i], plane[i], rank, basis) for i in index]
    boxes: list[Any] = [shapely.box(*flat.box.T) for flat in flats]
    i, j = shapely.STRtree(boxes[1]).query(boxes[0])
    same = plane[index[0][i]] == plane[index[1][j]]
    i, j = i[same], j[same]
    area = _overlaps(flats[0], flats[1], i, j)
    real = area > LEAST_AREA
    i, j = i[real], j[real]
    return Contacts(index[0][i], index[1][j] - len(first), area[real], normal[index[0][i]])


def _planes(normal: Floats, offset: Floats, group: Ints) -> Ints:
    """Number of the plane of each face: one group, equal normals to within rounding, and no gap in offset."""
    steps = np.round(normal / PARALLEL).astype(np.int64)
    # three numbers and the group mixed into one key; odd multipliers keep different ones apart
    key = ((steps[:, 0] * 0x1F123BB5 + steps[:, 1]) * 0x2545F491 + steps[:, 2]) * 0x61C88647 + group
    order = np.lexsort((offset, key))
    fresh = (np.diff(key[order]) != 0) | (np.diff(offset[order]) > COPLANAR)
    plane = np.empty(len(offset), np.int64)
    plane[order] = np.concatenate([[0], np.cumsum(fresh)])[: len(offset)]
    return plane


def _basis(normal: Floats) -> tuple[Floats, Floats]:
    """Two unit vectors in each plane, (n, 3) each."""
    helper = np.eye(3)[np.argmin(np.abs(normal), axis=1)]
    u = np.cross(normal, helper)
    u /= np.linalg.norm(u, axis=1, keepdims=True)
    return u, np.cross(normal, u)


@dataclass(frozen=True, slots=True)
class _Flat:
    """Faces in their planes' own axes, one plane laid beside the other: corners (k, 2), owner (k,), boxes (m, 4),
    and whether each is an upright rectangle (m,)."""

    points: Floats
    owner: Ints
    box: Floats
    upright: Any

    def polygons(self, which: Ints) -> Any:
        """The chosen faces as shapely polygons."""
        used, inverse = np.unique(which, return_inverse=True)
        rank = np.full(len(self.box), -1, np.int64)
        rank[used] = np.arange(len(used))
        mine = rank[self.owner]
        rings = shapely.linearrings(self.points[mine >= 0], indices=mine[mine >= 0])
        polygons: Any = shapely.polygons(rings)
        return polygons[inverse]


def _flat(cells: Cells, faces: Ints, plane: Ints, rank: Ints, basis: tuple[Floats, Floats]) -> _Flat:
    vertex, ptr = corners(cells, faces)
    owner = np.repeat(np.arange(len(faces)), np.diff(ptr))
    points = cells.world()[vertex]
    mine = plane[owner]
    flat = np.stack(
        [(points * basis[0][mine]).sum(axis=1) + APART * rank[mine], (points * basis[1][mine]).sum(axis=1)], axis=1
    )
    if not len(faces):
        return _Flat(flat, owner, np.zeros((0, 4)), np.zeros(0, bool))
    low, high = (op.reduceat(flat, ptr[:-1], axis=0) for op in (np.minimum, np.maximum))
    nxt = np.arange(len(flat)) + 1
    nxt[ptr[1:] - 1] = ptr[:-1]
    middle = flat[ptr[:-1]][owner]
    a, b = flat - middle, flat[nxt] - middle
    area = np.abs(np.add.reduceat(a[:, 0] * b[:, 1] - a[:, 1] * b[:, 0], ptr[:-1])) / 2
    box = np.prod(high - low, axis=1)
    return _Flat(flat, owner, np.concatenate([low, high], axis=1), np.isclose(area, box, rtol=1e-12, atol=0))


def _overlaps(left: _Flat, right: _Flat, i: Ints, j: Ints) -> Floats:
    """Area shared by each pair: in closed form between upright rectangles, else by shapely."""
    a, b = left.box[i], right.box[j]
    size = np.minimum(a[:, 2:], b[:, 2:]) - np.maximum(a[:, :2], b[:, :2])
    areas = np.asarray(np.prod(np.maximum(size, 0.0), axis=1))
    other = np.flatnonzero(~(left.upright[i] & right.upright[j]) & (areas > LEAST_AREA))
    if len(other):
        areas[other] = shapely.area(shapely.intersection(left.polygons(i[other]), right.polygons(j[other])))
    return areas
