"""Where wood is whole: behind steps, slants and ragged ends."""

from __future__ import annotations

from typing import Any

import numpy as np
import shapely

from .faces import Side
from .polygons import closed_union
from .sight import Seen, seen
from .solid import Cells, Floats

STEEP = 0.72
"""A face looks towards a side rather than past it where its normal leans less than this from it (cosine); a 45°
bevel looks past."""

SAME = 1e-6
"""Coordinates nearer than this (mm) are one."""


def clean_thickness(piece: Cells) -> tuple[float, float]:
    """From what height to what height no step or hollow looks up or down, mm; the first may lie above the second."""
    normals, offsets = piece.world_planes()
    limits = []
    for side, pick in ((Side.BOTTOM, np.max), (Side.TOP, np.min)):
        frame = side.frame
        shown, owner = _looking(piece, frame)
        facing, across = normals[shown.faces] @ frame[2], normals[shown.faces] @ frame[:2].T
        depth = (offsets[shown.faces][owner] - (across[owner] * shown.points).sum(axis=1)) / facing[owner]
        limits.append(float(pick(depth * frame[2, 2])))
    return limits[0], limits[1]


def _looking(piece: Cells, frame: Floats) -> tuple[Seen, Any]:
    """What is seen of the faces that look towards the eye, and the face of each corner."""
    shown = seen(piece, frame)
    facing = piece.world_planes()[0][shown.faces] @ frame[2] > STEEP
    counts = np.diff(shown.ptr)
    mine = np.repeat(facing, counts)
    left = Seen(shown.faces[facing], shown.points[mine], np.concatenate([[0], np.cumsum(counts[facing])]))
    return left, np.repeat(np.arange(len(left.faces)), counts[facing])


def clean_rectangle(piece: Cells) -> tuple[Floats, Floats]:
    """The largest rectangle, seen from above, in which the piece is wood from its underside to its top: near left
    and far right corner, (2,) each. Its sides run through corners of the outline."""
    low, high = (b[:2] for b in piece.bounds())
    plan = _plan(piece)
    if abs(plan.area - float(np.prod(high - low))) < 1e-7 * plan.area:
        return low, high
    starts, ends = _segments(plan)
    stops = _distinct(np.concatenate([starts[:, 0], ends[:, 0]]))
    floor, ceiling = _columns(starts, ends, stops)
    # every run of columns: as tall as the lowest ceiling over the highest floor
    below = np.maximum.accumulate(np.where(np.tri(len(floor), dtype=bool).T, floor[None], -np.inf), axis=1)
    above = np.minimum.accumulate(np.where(np.tri(len(floor), dtype=bool).T, ceiling[None], np.inf), axis=1)
    wide = stops[None, 1:] - stops[:-1, None]
    tall = np.where((wide > 0) & (above > below), above, 0.0) - np.where((wide > 0) & (above > below), below, 0.0)
    area = np.where(np.isfinite(tall), tall, 0.0) * wide
    i, j = np.unravel_index(int(area.argmax()), area.shape)
    return np.array([stops[i], below[i, j]]), np.array([stops[j + 1], above[i, j]])


def _plan(piece: Cells) -> Any:
    """The piece from above without slanted sides: where both top and underside look straight out."""
    shapes = []
    for side in (Side.TOP, Side.BOTTOM):
        shown, owner = _looking(piece, side.frame)
        flat = shown.points * side.frame[:2, :2].diagonal()  # back to x and y
        shapes.append(closed_union(shapely.polygons(shapely.linearrings(flat, indices=owner))))
    return shapely.intersection(shapes[0], shapes[1])


def _segments(plan: Any) -> tuple[Floats, Floats]:
    """Sides of an outline from left to right, those that run up left out."""
    parts: Any = shapely.get_parts(shapely.boundary(plan))
    starts, ends = [], []
    for line in shapely.get_parts(parts):
        points = shapely.get_coordinates(line)
        starts.append(points[:-1])
        ends.append(points[1:])
    a, b = np.concatenate(starts), np.concatenate(ends)
    level = np.abs(a[:, 0] - b[:, 0]) > SAME
    a, b = a[level], b[level]
    back = a[:, 0] > b[:, 0]
    return np.where(back[:, None], b, a), np.where(back[:, None], a, b)


def _distinct(values: Floats) -> Floats:
    values = np.sort(values)
    return np.asarray(values[np.concatenate([[True], np.diff(values) > SAME])])


def _columns(starts: Floats, ends: Floats, stops: Floats) -> tuple[Floats, Floats]:
    """The longest clear stretch of each column between two stops: its floor and its ceiling."""
    left, right = stops[:-1], stops[1:]
    middle = (left + right) / 2
    spans = (starts[:, :1] < middle) & (ends[:, :1] > middle)
    slope = (ends[:, 1] - starts[:, 1]) / (ends[:, 0] - starts[:, 0])
    at = [starts[:, 1:] + slope[:, None] * (x - starts[:, :1]) for x in (left, middle, right)]
    floor, ceiling = np.full(len(middle), np.inf), np.full(len(middle), -np.inf)
    for k in range(len(middle)):
        mine = np.flatnonzero(spans[:, k])
        mine = mine[np.argsort(at[1][mine, k])]
        if len(mine) < 2:
            continue
        ends_ = np.stack([at[0][mine, k], at[2][mine, k]])
        bottoms, tops = ends_[:, ::2].max(axis=0), ends_[:, 1::2].min(axis=0)
        best = int((tops - bottoms).argmax())
        floor[k], ceiling[k] = bottoms[best], tops[best]
    return floor, ceiling
