"""An independent solid modeller to hold the engine against: manifold3d, one body a cell."""

from __future__ import annotations

import manifold3d

from laberinto.core.solid import Cells


def body(cells: Cells) -> manifold3d.Manifold:
    """All cells as one body: the hull of each, added."""
    world = cells.world()
    hulls = [manifold3d.Manifold.hull_points(world[a:b]) for a, b in zip(cells.vptr[:-1], cells.vptr[1:], strict=True)]
    return manifold3d.Manifold.batch_boolean(hulls, manifold3d.OpType.Add)


def overlap_volume(one: Cells, other: Cells) -> float:
    """What two sets of cells share, mm³."""
    return float((body(one) ^ body(other)).volume())
