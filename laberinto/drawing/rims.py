"""Where a face drops straight down, as into a well: nothing of the wall is seen from above, but the floor has a shadow
beside the wall that is turned from the light, and a bright line along the one that is lit."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
import shapely

from laberinto.core.geometry.faces import Face
from laberinto.core.geometry.polygons import closed_union

from .light import FROM, LEANS
from .svg import Floats

STEP = 1.5
"""A drop of less (mm) is no edge that the eye finds."""

STRETCH = 2.0
"""Of an outline so much (mm) at a time has one drop."""

BESIDE = 0.03
"""So far (mm) from an outline lies what is beside it."""

SHADOW, GLINT = 0.3, 0.7
"""Width of the shadow, as a share of the drop, and of the bright line, mm."""

WIDEST = 3.0
"""No shadow is wider, mm."""

OPACITY = 0.32
"""Of both."""


class Rim(NamedTuple):
    """A band of floor along a wall."""

    ink: str
    rings: list[Floats]
    """Its outlines (k, 2), and those of what it leaves out."""


def rims(face: Face) -> list[Rim]:
    """The bands of a face, none where it is level."""
    if np.ptp(face.recess) < STEP:
        return []
    return face.memo.once(_rims, face)


def _rims(face: Face) -> list[Rim]:
    polygons = face.polygons()
    tree = shapely.STRtree(polygons)
    floors = (face.tilt >= LEANS) & (face.recess > face.recess.min() + STEP)
    levels = np.round(face.recess, 1)
    found: list[Rim] = []
    for level in np.unique(levels[floors]).tolist():
        floor = closed_union(polygons[floors & (levels == level)])
        dark: list[Floats] = []
        lit: list[Floats] = []
        deepest = 0.0
        for ring in shapely.get_rings(shapely.get_parts(floor)):
            corners = shapely.get_coordinates(shapely.segmentize(ring, STRETCH))
            outward, drop = _drops(face, tree, floor, corners, level)
            for at in np.flatnonzero(drop > STEP).tolist():
                (dark if outward[at] @ FROM > 0 else lit).append(corners[at : at + 2])
                deepest = max(deepest, float(drop[at]))
        found += _band(floor, dark, "#000", min(SHADOW * deepest, WIDEST))
        found += _band(floor, lit, "#fff", -GLINT)
    return found


def _band(floor: shapely.Geometry, lines: list[Floats], ink: str, width: float) -> list[Rim]:
    """What of the floor the walls over these lines shade, ``width`` being how far the light carries their edge."""
    if not lines:
        return []
    by = -FROM / np.hypot(*FROM) * width
    left = shapely.difference(floor, shapely.transform(floor, lambda corners: corners + by))
    near = shapely.buffer(shapely.line_merge(shapely.multilinestrings(lines)), abs(width), quad_segs=2)
    rings = shapely.get_rings(shapely.get_parts(shapely.intersection(left, near)))
    return [Rim(ink, [shapely.get_coordinates(ring)[:-1] for ring in rings])] if len(rings) else []


def _drops(
    face: Face, tree: shapely.STRtree, floor: shapely.Geometry, corners: Floats, level: float
) -> tuple[Floats, Floats]:
    """For each stretch (n) of an outline which way is out of the floor, (n, 2), and how much higher (mm) lies what is
    there, 0 where nothing is, (n,)."""
    along = np.diff(corners, axis=0)
    long = np.maximum(np.hypot(*along.T), 1e-9)
    middles = (corners[:-1] + corners[1:]) / 2
    outward = np.stack([along[:, 1], -along[:, 0]], axis=1) / long[:, None]
    inside = shapely.contains_xy(floor, middles + BESIDE * outward)
    outward[inside] *= -1
    points = middles + BESIDE * outward
    asked, there = tree.query(shapely.points(points), predicate="intersects")
    drop = np.zeros(len(points))
    centre = np.add.reduceat(face.points, face.ptr[:-1], axis=0) / np.diff(face.ptr)[:, None]
    slope = face.lean[there] / np.maximum(face.tilt[there], 0.05)[:, None]
    behind = face.recess[there] + (slope * (points[asked] - centre[there])).sum(axis=1)
    drop[asked] = level - behind
    return outward, drop
