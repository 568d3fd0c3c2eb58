"""Where one block of wood ends and the next begins.

A block that is hollowed, eased or grooved shows several planes, and the engine cuts one where it needs to; neither is a
joint.
"""

from __future__ import annotations

import numpy as np
import shapely

from laberinto.core.geometry.faces import Face
from laberinto.core.geometry.polygons import closed_union

from .light import LEANS
from .svg import Floats

SEAM = "#1a120a"


def seams(face: Face) -> list[tuple[int, Floats]] | None:
    """The outlines of the blocks seen in a face whose neighbours are ``merged``, each with a polygon that is part
    of it; or None where they are its polygons as they stand."""
    if not (face.tilt < LEANS).any() and not np.ptp(face.recess).round(3):
        return None
    return face.memo.once(_seams, face)


def _seams(face: Face) -> list[tuple[int, Floats]]:
    members: dict[int, list[int]] = {}
    for i, number in enumerate(face.block.tolist()):
        members.setdefault(number, []).append(i)
    out = [
        (mine[0], face.points[face.ptr[mine[0]] : face.ptr[mine[0] + 1]]) for mine in members.values() if len(mine) == 1
    ]
    joined = [mine for mine in members.values() if len(mine) > 1]
    if joined:
        rings = shapely.linearrings(face.points, indices=np.repeat(np.arange(len(face)), np.diff(face.ptr)))
        polygons = np.asarray(shapely.polygons(rings), object)
        table = np.full((len(joined), max(map(len, joined))), None)
        for row, mine in enumerate(joined):
            table[row, : len(mine)] = polygons[mine]
        for mine, whole in zip(joined, closed_union(table), strict=True):
            for part in shapely.get_parts(whole):
                out += [(mine[0], shapely.get_coordinates(ring)[:-1]) for ring in (part.exterior, *part.interiors)]
    return out
