"""Right prisms: cells that stand square on the planes that cut them, as strips under a square saw do.

A slab of such a cell is the cell itself with its ends moved: same edges, same sides, and a volume in proportion.
"""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from .cells import ON_PLANE, Bools, Cells, Floats, Ints


def upright(cells: Cells, local: Floats, height: Floats) -> Bools:
    """Which cells are right prisms along a normal, (n,): all corners at the floor or the ceiling, and every edge
    between the two straight up. ``local`` (3, n) is the normal in each strip's frame, ``height`` (nv,) along it."""
    start = cells.vptr[:-1]
    counts = np.diff(cells.vptr)
    floor, ceiling = np.minimum.reduceat(height, start), np.maximum.reduceat(height, start)
    off = np.minimum(height - np.repeat(floor, counts), np.repeat(ceiling, counts) - height)
    level = np.maximum.reduceat(off, start) < ON_PLANE
    if not level.any():
        return np.asarray(level)
    a, b = cells.edges[0], cells.edges[1]
    rise = height[b] - height[a]
    rising = np.flatnonzero(np.abs(rise) > ON_PLANE)
    cell = cells.cell_of_edge()[rising]
    a, b, rise = a[rising], b[rising], rise[rising]
    aside = np.abs(cells.verts[:, b] - cells.verts[:, a] - rise * local[:, cell]).max(axis=0)
    level[cell[aside > ON_PLANE]] = False
    return np.asarray(level)


def sliced(cells: Cells, local: Floats, height: Floats, bounds: tuple[Floats, Floats], source: Ints) -> Cells:
    """Prisms cut to the heights between ``bounds`` (k,) each; ``source`` (k,) is the cell each comes from. Bounds may
    lie outside the cell."""
    start, counts = cells.vptr[:-1], np.diff(cells.vptr)
    floor, ceiling = np.minimum.reduceat(height, start), np.maximum.reduceat(height, start)
    low, high = np.maximum(bounds[0], floor[source]), np.minimum(bounds[1], ceiling[source])
    volume = cells.volumes()[source] * ((high - low) / (ceiling - floor)[source])
    out = cells.take(source)
    at_ceiling = (height - np.repeat(floor, counts)) > np.repeat((ceiling - floor) / 2, counts)
    if out is not cells:
        ends = np.cumsum(counts[source])
        vertex = np.arange(ends[-1]) + np.repeat(start[source] - (ends - counts[source]), counts[source])
        at_ceiling = at_ceiling[vertex]
    n = local[:, source]
    down, up = low - floor[source], high - ceiling[source]  # how far either end moves
    verts = out.verts + np.where(
        at_ceiling, np.repeat(up, counts[source]), np.repeat(down, counts[source])
    ) * np.repeat(n, counts[source], axis=1)
    sides = np.diff(out.fptr)
    facing = (out.faces[:3] * np.repeat(n, sides, axis=1)).sum(axis=0)
    faces = out.faces.copy()
    faces[3] += np.where(facing > 0.5, np.repeat(up, sides), np.where(facing < -0.5, -np.repeat(down, sides), 0.0))
    return replace(out, verts=verts, faces=faces, known=volume)
