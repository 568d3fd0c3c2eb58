"""Fewer polygons to draw: neighbours of one strip in one plane become one outline. For drawing, never for truth."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import numpy as np
import shapely

from laberinto.core.geometry.faces import Face, carried_back
from laberinto.core.geometry.polygons import closed_union

from .svg import Floats

LEAST_LOST = 1e-3
"""Joining may not change the area of a polygon by more than this, mm²."""


def merged(face: Face) -> Face:
    """The same picture with touching polygons that share strip and map joined. Those that would leave a hole, and
    those that touch nothing, stay as they are."""
    return face if len(face) < 2 else face.memo.once(_merged, face)


def _merged(face: Face) -> Face:
    square = np.hypot(*face.lean.T) < 1e-6
    plane = np.column_stack([face.lean, np.where(square, face.depth, 0.0)])
    key = np.column_stack([face.strip, np.round(face.maps.reshape(len(face), 6), 5), np.round(plane, 4)])
    _, group, count = np.unique(key, axis=0, return_inverse=True, return_counts=True)
    group = group.ravel()
    if len(count) == len(face):
        return face
    rings = [face.points[face.ptr[i] : face.ptr[i + 1]] for i in range(len(face))]
    chosen: list[int] = []
    outlines: list[Floats] = []
    members: dict[int, list[int]] = {}
    for i, number in enumerate(group.tolist()):
        members.setdefault(number, []).append(i)
    for mine in members.values():
        joined = _joined([rings[i] for i in mine])
        chosen += mine if joined is None else [mine[0]] * len(joined)
        outlines += [rings[i] for i in mine] if joined is None else joined
    # keep the order from far to near
    order = np.argsort(chosen, kind="stable")
    index = np.array(chosen, np.int64)[order]
    outlines = [outlines[k] for k in order]
    ptr = np.concatenate([[0], np.cumsum([len(ring) for ring in outlines])]).astype(np.int64)
    points = np.concatenate(outlines)
    return replace(
        face, points=points, local=carried_back(points, face.maps[index], ptr), ptr=ptr, strip=face.strip[index],
        cell=face.cell[index], block=face.block[index], section=face.section[index],
        depth=face.depth[index], tilt=face.tilt[index],
        lean=face.lean[index], recess=face.recess[index], maps=face.maps[index],
    )  # fmt: skip


def _joined(rings: list[Floats]) -> list[Floats] | None:
    """One outline for polygons that touch, or None where there is nothing to join or a hole would be left."""
    if len(rings) == 1:
        return None
    single: Any = np.array([shapely.Polygon(ring) for ring in rings], object)
    parts = shapely.get_parts(closed_union(single))
    if len(parts) == len(rings) or any(len(part.interiors) or not part.is_valid for part in parts):
        return None
    if abs(shapely.area(parts).sum() - shapely.area(single).sum()) > LEAST_LOST * len(rings):
        return None  # the union gave way to rounding
    return [shapely.get_coordinates(part.exterior)[:-1] for part in parts]
