"""Fewer polygons to draw: neighbours of one strip in one plane become one outline. For drawing, never for truth."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from typing import Any

import numpy as np
import shapely

from laberinto.core.geometry.faces import Face, carried_back
from laberinto.core.geometry.polygons import by_group, closed_union
from laberinto.core.solid import Ints

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
    several = np.flatnonzero(count > 1)
    by_key = group.argsort(kind="stable")
    ends = count.cumsum()
    members = [by_key[ends[k] - count[k] : ends[k]] for k in several]
    chosen = by_key[count[group[by_key]] == 1].tolist()
    outlines = [face.points[face.ptr[i] : face.ptr[i + 1]] for i in chosen]
    for mine, joined in zip(members, _joined(face.polygons(), members), strict=True):
        chosen += mine.tolist() if joined is None else [int(mine[0])] * len(joined)
        outlines += [face.points[face.ptr[i] : face.ptr[i + 1]] for i in mine] if joined is None else joined
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


def _joined(polygons: Any, members: Sequence[Ints]) -> list[list[Floats] | None]:
    """For each group of polygons that may touch the outlines of what they make; None where there is nothing to join or
    a hole would be left."""
    found: list[list[Floats] | None] = []
    before = shapely.area(polygons)
    for mine, whole in zip(members, by_group(closed_union, polygons, members), strict=True):
        parts = shapely.get_parts(whole)
        lost = abs(float(shapely.area(parts).sum() - before[mine].sum()))
        if (
            len(parts) == len(mine) or lost > LEAST_LOST * len(mine)  # nothing touches, or it gave way to rounding
            or shapely.get_num_interior_rings(parts).any() or not shapely.is_valid(parts).all()
        ):  # fmt: skip
            found.append(None)
        else:
            found.append([ring[:-1] for ring in map(shapely.get_coordinates, shapely.get_exterior_ring(parts))])
    return found
