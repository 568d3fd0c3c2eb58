"""Where two faces show different woods."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np
import shapely

from ..geometry.faces import Side, face_of
from ..geometry.polygons import closed_union, overlaid
from ..plan.simulate import Simulation

LEAST_SEEN = 0.2
"""Slivers narrower than twice this (mm) are no difference that anybody sees."""


@dataclass(frozen=True, slots=True)
class Unlike:
    """``area`` is a shapely geometry in mm, right and down from the middle of the faces; ``share`` its part of all that
    either face covers."""

    area: Any
    share: float


def unlike(one: Simulation, other: Simulation) -> Unlike:
    """Two finished faces laid middle on middle: where one has another wood than the other, or none."""
    first, second = _by_wood(one), _by_wood(other)
    all_first, all_second = (overlaid(shapely.union_all, list(found.values())) for found in (first, second))
    whole = overlaid(shapely.union, all_first, all_second)
    alike = [overlaid(shapely.intersection, first[wood], second[wood]) for wood in first.keys() & second.keys()]
    rest = overlaid(shapely.difference, whole, overlaid(shapely.union_all, alike)) if alike else whole
    seen = shapely.buffer(shapely.buffer(rest, -LEAST_SEEN, join_style="mitre"), LEAST_SEEN, join_style="mitre")
    return Unlike(seen, float(shapely.area(seen) / shapely.area(whole)))


def _by_wood(sim: Simulation) -> dict[str, Any]:
    face = face_of(sim.whole(), Side.TOP)
    middle = face.size / 2
    wood = np.array([sim.strips[int(strip)].wood for strip in face.strip])
    rings = np.array([shapely.Polygon(face.points[a:b] - middle) for a, b in zip(face.ptr, face.ptr[1:], strict=False)])
    return {str(key): closed_union(rings[wood == key]) for key in np.unique(wood)}
