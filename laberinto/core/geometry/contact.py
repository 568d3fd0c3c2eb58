"""Contact: where faces that look at each other lie in one plane and touch, and over what area."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..solid import Cells, Floats, Ints, counts_of, cross, dot, indptr_of, pick, spread
from .overlap import Outlines, near_pairs, shared_areas
from .polygons import corners

COPLANAR = 1e-5
"""Faces whose planes differ by less (mm) meet."""

PARALLEL = 1e-7
"""Normals that differ by less meet face to face."""

LEAST_AREA = 1e-6
"""Overlaps smaller than this (mm²) are no contact."""


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
    some = np.flatnonzero(live)  # the first kind before the second, of which there are ``at``
    if not len(some):
        none = np.zeros(0, np.int64)
        return Contacts(none, none, np.zeros(0), np.zeros((0, 3)))
    at = int(np.searchsorted(some, len(first)))
    rank = both.cumsum() - 1
    shared = np.empty((count, 3))
    shared[plane] = normal  # they differ by rounding only; any one serves for all
    basis = _basis(shared)
    flat = _flat(cells, face[some], plane[some], basis)
    groups = rank[plane[some]]
    i, j = near_pairs(flat.box[:, :at], groups[:at], flat.box[:, at:], groups[at:])
    area = shared_areas(flat, i, at + j)
    real = area > LEAST_AREA
    i, j = some[i[real]], some[at + j[real]]
    return Contacts(i, j - len(first), area[real], normal[i])


def covered(cells: Cells, first: Ints, second: Ints, group_a: Ints, group_b: Ints) -> tuple[Floats, Floats]:
    """How much of each face of either list touches faces of the other, mm², (len(first),) and (len(second),)."""
    found = touching(cells, first, second, group_a, group_b)
    return (
        np.asarray(np.bincount(found.first, found.area, minlength=len(first)), float),
        np.asarray(np.bincount(found.second, found.area, minlength=len(second)), float),
    )


def _planes(normal: Floats, offset: Floats, group: Ints) -> Ints:
    """Number of the plane of each face: one group, equal normals to within rounding, and no gap in offset."""
    steps = np.round(normal / PARALLEL).astype(np.int64)
    # three numbers and the group mixed into one key; odd multipliers keep different ones apart
    key = ((steps[:, 0] * 0x1F123BB5 + steps[:, 1]) * 0x2545F491 + steps[:, 2]) * 0x61C88647 + group
    order = np.lexsort((offset, key))
    fresh = (np.diff(key[order]) != 0) | (np.diff(offset[order]) > COPLANAR)
    plane = np.empty(len(offset), np.int64)
    plane[order] = indptr_of(fresh)[: len(offset)]
    return plane


def _basis(normal: Floats) -> tuple[Floats, Floats]:
    """Two unit vectors in each plane, (3, n) each."""
    helper = np.eye(3)[np.argmin(np.abs(normal), axis=1)].T
    u = cross(normal.T, helper)
    u /= np.sqrt(dot(u, u))
    return u, cross(normal.T, u)


def _flat(cells: Cells, faces: Ints, plane: Ints, basis: tuple[Floats, Floats]) -> Outlines:
    """Faces, of which some may come twice, in their planes' own two axes."""
    there = np.zeros(cells.faces.shape[1], bool)
    there[faces] = True
    each = np.flatnonzero(there)
    vertex, ptr = corners(cells, faces if len(each) == len(faces) else each)
    if len(each) < len(faces):
        which = np.searchsorted(each, faces)
        counts = counts_of(ptr)[which]
        vertex, ptr = vertex[spread(ptr[which], counts)], indptr_of(counts)
    mine = plane.repeat(counts_of(ptr))
    points = pick(cells.world().T, vertex)
    flat = [dot(points, pick(axis, mine)) for axis in basis]
    return Outlines.of(np.stack(flat, axis=1), ptr)
