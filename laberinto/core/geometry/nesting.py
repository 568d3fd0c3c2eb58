"""Setting one piece against the next: how far apart they must lie to touch and not overlap.

Pieces with square sides meet box to box. Bevelled, mitred and ragged ones nest. Seen along the axis, the far faces of
the first and the near faces of the second lie over one another in convex patches; over each the room between them
changes evenly, so it is least over one of the patch's corners: a corner of either face, or where their edges cross.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np
import shapely

from ..solid import GLUED, Cells, Floats, Ints, counts_of
from .overlap import Outlines, near_pairs, shared_areas
from .polygons import areas, corners, overlaid

ALONG = 1e-6
"""A face looks along the axis where its normal leans towards it by more than this (cosine)."""

LEAST_SHADOW = 1e-5
"""Patches smaller than this (mm²) are edges that only pass by each other, and hold nothing apart."""


@dataclass(frozen=True, slots=True)
class _Shadows:
    """Faces that look along an axis or back, seen along it: their outlines, corners (k, 2) with ``ptr`` (m+1,), and how
    far along the axis each reaches: height = level − slope · (a, b)."""

    outlines: Outlines
    points: Floats
    ptr: Ints
    level: Floats
    slope: Floats

    @classmethod
    def of(cls, piece: Cells, axis: int, way: float) -> _Shadows:
        """Of the faces that look ``way`` along the axis and are not known to be glued."""
        across = [k for k in range(3) if k != axis]
        normals, offsets = piece.world_planes()
        faces = np.flatnonzero((way * normals[:, axis] > ALONG) & (piece.faces[GLUED] == 0))
        vertex, ptr = corners(piece, faces)
        if len(faces):
            broad = areas(piece, vertex, ptr) * np.abs(normals[faces, axis]) > LEAST_SHADOW
            faces = faces[broad]
            vertex, ptr = corners(piece, faces)
        points = piece.world()[vertex][:, across]
        steep = normals[faces, axis]
        return cls(
            Outlines.of(points, ptr), points, ptr, offsets[faces] / steep, normals[faces][:, across] / steep[:, None]
        )

    def height(self, faces: Ints, at: Floats) -> Floats:
        """How far along the axis faces reach over points (k, 2)."""
        return np.asarray(self.level[faces] - (self.slope[faces] * at).sum(axis=1))

    def polygons(self, faces: Ints) -> Any:
        """The outlines as shapely polygons, one for each of ``faces``."""
        rings = shapely.linearrings(self.points, indices=np.arange(len(self.ptr) - 1).repeat(counts_of(self.ptr)))
        shapes: Any = shapely.polygons(rings)
        return shapes[faces]


def distance(first: Cells, second: Cells, axis: int) -> float | None:
    """How far along ``axis`` the second piece must be moved so that it just touches the first beyond it, mm; None where
    it passes by whatever is done, since no part of one lies behind the other."""
    one, other = _Shadows.of(first, axis, 1.0), _Shadows.of(second, axis, -1.0)
    group_a, group_b = np.zeros(len(one.outlines), np.int64), np.zeros(len(other.outlines), np.int64)
    i, j = near_pairs(one.outlines.box, group_a, other.outlines.box, group_b)
    both = _both(one.outlines, other.outlines)
    meet = shared_areas(both, i, len(one.outlines) + j) > LEAST_SHADOW
    i, j = i[meet], j[meet]
    patches = overlaid(shapely.intersection, one.polygons(i), other.polygons(j))
    points, which = shapely.get_coordinates(patches, return_index=True)
    if not len(points):
        return None
    return float((one.height(i[which], points) - other.height(j[which], points)).max())


def _both(one: Outlines, other: Outlines) -> Outlines:
    """Outlines of two kinds as one list, the first kind first."""
    most = max(one.start.shape[0], other.start.shape[0])

    def padded(part: Floats) -> Floats:
        return np.concatenate([part, np.zeros((most - part.shape[0], *part.shape[1:]))])

    start, run, normal = (
        np.concatenate([padded(getattr(one, name)), padded(getattr(other, name))], axis=2)
        for name in ("start", "run", "normal")
    )
    return Outlines(
        start, run, normal, np.concatenate([one.sides, other.sides]), np.concatenate([one.box, other.box], axis=1)
    )
