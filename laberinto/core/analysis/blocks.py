"""What is seen of a board as whole blocks of wood, for whatever draws outlines: files for other programs, hatches."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np
import shapely

from ..geometry.faces import Face
from ..geometry.polygons import closed_union
from ..plan.simulate import Simulation

LEAST = 0.01
"""Slivers below this, mm², are rounding."""


def blocks_by_wood(sim: Simulation, face: Face) -> Mapping[str, list[shapely.Polygon]]:
    """The outlines of all blocks seen in a face, by wood, the woods in the order of their names: polygons in the
    picture's coordinates (mm, right and down). Where the engine only cut a block for its own purposes there is no
    line."""
    polygons = face.polygons()
    blocks, first, where = np.unique(face.block, return_index=True, return_inverse=True)
    order = np.argsort(where, kind="stable")
    groups = np.split(polygons[order], np.cumsum(np.bincount(where))[:-1])
    table = np.full((len(blocks), max(map(len, groups), default=0)), None)
    for row, mine in enumerate(groups):
        table[row, : len(mine)] = mine
    several = np.flatnonzero([len(mine) > 1 for mine in groups])
    whole = table[:, 0] if len(blocks) else np.array([], object)
    if len(several):
        whole = whole.copy()
        whole[several] = closed_union(table[several])
    out: dict[str, list[shapely.Polygon]] = {}
    for at, shape in zip(first.tolist(), whole.tolist(), strict=True):
        wood = sim.strips[face.strip[at]].wood
        parts = [part for part in shapely.get_parts(shape) if part.geom_type == "Polygon" and part.area > LEAST]
        out.setdefault(wood, []).extend(parts)
    return dict(sorted(out.items()))
