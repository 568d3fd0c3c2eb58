"""Outlines seen from above: rectangles with round corners, polygons of one's own, and what lies outside."""

from __future__ import annotations

import math

import numpy as np
import shapely

from ..solid import Cells, Floats
from .cutters import circle, facets, sides


def rounded_rectangle(low: Floats, high: Floats, radius: float) -> Floats:
    """Corners (n, 2) of a rectangle whose corners are arcs, anticlockwise; radius 0 leaves them sharp."""
    if radius <= 0:
        return np.array([low, [high[0], low[1]], high, [low[0], high[1]]])
    arc = circle(radius)
    quarter = facets(radius) // 4
    out = []
    for k, (x, y) in enumerate([(high[0], high[1]), (low[0], high[1]), (low[0], low[1]), (high[0], low[1])]):
        centre = np.array([x - math.copysign(radius, x - low[0] - 1e-9), y - math.copysign(radius, y - low[1] - 1e-9)])
        out.append(np.roll(arc, -k * quarter, axis=0)[: quarter + 1] + centre)
    points = np.concatenate(out)
    # arcs that meet (a stadium, a circle) share a corner
    apart = np.linalg.norm(points - np.roll(points, 1, axis=0), axis=1) > 1e-9
    return np.asarray(points[apart])


def own(points: list[tuple[float, float]], radius: float) -> Floats:
    """A polygon's corners, those that bulge outwards rounded to a radius; raises ValueError where nothing is left."""
    polygon = shapely.Polygon(points)
    if radius > 0:
        steps = max(facets(radius) // 4, 1)
        polygon = polygon.buffer(-radius, join_style="mitre").buffer(radius, quad_segs=steps)
    if polygon.geom_type != "Polygon" or polygon.is_empty:
        raise ValueError("the radius is too large for this outline")
    return _anticlockwise(shapely.get_coordinates(polygon.exterior)[:-1])


def _anticlockwise(ring: Floats) -> Floats:
    """Corners (n, 2) the other way round where they run clockwise."""
    return ring if shapely.LinearRing(ring).is_ccw else ring[::-1]


def is_convex(corners: Floats) -> bool:
    """Whether the outline bulges nowhere inwards."""
    normal, offset = sides(corners)
    return bool((corners @ normal.T <= offset + 1e-6).all())


def outside(corners: Floats, low: Floats, high: Floats) -> list[Floats]:
    """What lies in a box but outside an outline, as triangles (3, 2), anticlockwise."""
    room = shapely.box(*(low - 1), *(high + 1)).difference(shapely.Polygon(corners))
    triangles = shapely.get_parts(shapely.constrained_delaunay_triangles(room))
    return [_anticlockwise(shapely.get_coordinates(t)[:3]) for t in triangles if t.area > 1e-9]


def hull(cells: Cells) -> Floats:
    """The convex outline of cells seen from above, corners (n, 2) anticlockwise, none on a straight line."""
    rounded = np.round(cells.world()[:, :2], 7)
    points = np.unique(rounded[:, 0] + 1j * rounded[:, 1])  # as one number each, which sorts much quicker
    outline = shapely.convex_hull(shapely.linestrings(np.column_stack([points.real, points.imag])))
    ring = _anticlockwise(shapely.get_coordinates(outline)[:-1])
    before, after = ring - np.roll(ring, 1, axis=0), np.roll(ring, -1, axis=0) - ring
    bend = before[:, 0] * after[:, 1] - before[:, 1] * after[:, 0]
    lengths = np.linalg.norm(before, axis=1) * np.linalg.norm(after, axis=1)
    return np.asarray(ring[bend > 1e-6 * lengths])
