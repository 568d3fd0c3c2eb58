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
    if "seams" not in face.memo:
        face.memo["seams"] = _seams(face)
    found: list[tuple[int, Floats]] = face.memo["seams"]
    return found


def _seams(face: Face) -> list[tuple[int, Floats]]:
    members: dict[int, list[int]] = {}
    for i, number in enumerate(face.block.tolist()):
        members.setdefault(number, []).append(i)
    out: list[tuple[int, Floats]] = []
    for mine in members.values():
        rings = [face.points[face.ptr[i] : face.ptr[i + 1]] for i in mine]
        if len(rings) == 1:
            out.append((mine[0], rings[0]))
            continue
        whole = closed_union(np.array([shapely.Polygon(ring) for ring in rings], object))
        for part in shapely.get_parts(whole):
            out += [(mine[0], shapely.get_coordinates(ring)[:-1]) for ring in (part.exterior, *part.interiors)]
    return out
