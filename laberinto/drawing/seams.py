"""Where one block of wood ends and the next begins.

A block that is hollowed, eased or grooved shows several planes, and the engine cuts one where it needs to; neither is a
joint. All that shows one section of one strip by one map is one block to the eye, however deep it lies.
"""

from __future__ import annotations

import numpy as np
import shapely

from laberinto.core.faces import Face
from laberinto.core.polygons import closed_union

from .light import LEANS
from .svg import Floats

SEAM = "#1a120a"


def seams(face: Face) -> list[Floats] | None:
    """The outlines of the blocks seen in a face whose neighbours are ``merged``, or None where they are its polygons
    as they stand."""
    if not (face.tilt < LEANS).any() and not np.ptp(face.recess).round(3):
        return None
    if "seams" not in face.memo:
        face.memo["seams"] = _seams(face)
    found: list[Floats] = face.memo["seams"]
    return found


def _seams(face: Face) -> list[Floats]:
    key = np.column_stack([face.strip, face.section, np.round(face.maps.reshape(len(face), 6), 4)])
    _, group = np.unique(key, axis=0, return_inverse=True)
    members: dict[int, list[Floats]] = {}
    for i, number in enumerate(group.ravel().tolist()):
        members.setdefault(number, []).append(face.points[face.ptr[i] : face.ptr[i + 1]])
    out: list[Floats] = []
    for rings in members.values():
        if len(rings) == 1:
            out += rings
            continue
        whole = closed_union(np.array([shapely.Polygon(ring) for ring in rings], object))
        for part in shapely.get_parts(whole):
            out += [shapely.get_coordinates(ring)[:-1] for ring in (part.exterior, *part.interiors)]
    return out
