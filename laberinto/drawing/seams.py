"""Where one block of wood ends and the next begins.

A block that is hollowed, eased or grooved shows several planes, and the engine cuts one where it needs to; neither is a
joint.
"""

from __future__ import annotations

import numpy as np
import shapely

from laberinto.core.geometry.faces import Face
from laberinto.core.geometry.polygons import closed_union
from laberinto.core.solid import Ints

from .light import LEANS
from .svg import Floats

SEAM = "#1a120a"

LEAST_GAP = 0.01
"""A block that lacks less than this (mm²) of the hull round it has no dent that can be seen."""


def seams(face: Face) -> list[tuple[int, Floats]] | None:
    """The outlines of the blocks seen in a face whose neighbours are ``merged``, each with a polygon that is part
    of it; or None where they are its polygons as they stand."""
    if not (face.tilt < LEANS).any() and not np.ptp(face.recess).round(3):
        return None
    return face.memo.once(_seams, face)


def _seams(face: Face) -> list[tuple[int, Floats]]:
    _, first, block, count = np.unique(face.block, return_index=True, return_inverse=True, return_counts=True)
    alone = first[count == 1]
    out = [(i, face.points[face.ptr[i] : face.ptr[i + 1]]) for i in alone.tolist()]
    several = np.flatnonzero(count > 1)
    if not len(several):
        return out
    # polygons never lie over each other, so what fills the hull round it is the hull
    owner = np.repeat(np.searchsorted(several, block), np.diff(face.ptr))
    mine = np.flatnonzero(np.repeat(count[block] > 1, np.diff(face.ptr)))
    mine = mine[owner[mine].argsort(kind="stable")]
    hulls = np.asarray(shapely.convex_hull(shapely.multipoints(face.points[mine], indices=owner[mine])), object)
    whole = shapely.area(hulls) - np.bincount(block, face.areas())[several] < LEAST_GAP
    whole &= shapely.get_type_id(hulls) == shapely.GeometryType.POLYGON  # a splinter may have no hull but a line
    corners, at = shapely.get_coordinates(shapely.get_exterior_ring(hulls[whole]), return_index=True)
    rings = np.split(corners, np.flatnonzero(np.diff(at)) + 1) if len(corners) else []
    out += zip(first[several[whole]].tolist(), (ring[:-1] for ring in rings), strict=True)
    ragged = several[~whole]
    return out + _unions(face, [np.flatnonzero(block == each) for each in ragged.tolist()])


def _unions(face: Face, blocks: list[Ints]) -> list[tuple[int, Floats]]:
    """The outlines of blocks of several polygons each."""
    if not blocks:
        return []
    polygons = face.polygons()
    table = np.full((len(blocks), max(map(len, blocks))), None)
    for row, mine in enumerate(blocks):
        table[row, : len(mine)] = polygons[mine]
    return [
        (int(mine[0]), shapely.get_coordinates(ring)[:-1])
        for mine, whole in zip(blocks, closed_union(table), strict=True)
        for part in shapely.get_parts(whole)
        for ring in (part.exterior, *part.interiors)
    ]
