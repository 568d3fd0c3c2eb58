"""Planing: cells that only lose an end, where every corner slides along the one edge that leaves it.

A planer takes a little off the two faces of a board, a trim off its sides. Where the end of a cell is level, no other
corner lies in what is taken off, and one edge leaves each of the end's corners, the cell that is left has the same
edges and faces as before. What comes off grows with depth as a quadratic section, so its volume is known without
building it.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from .cells import GLUED, LEVEL, ON_PLANE, Bools, Cells, Floats, Ints, counts_of, dot, pick, swept


@dataclass(frozen=True, slots=True)
class Planed:
    """The cells of a set that could be planed, ``fits`` (n,); all ``cells`` with these as they are afterwards and the
    others as they were; and what comes off below and above, mm³."""

    fits: Bools
    cells: Cells
    below: float
    above: float


def planed(
    cells: Cells, cut: Bools, local: Floats, flat: Floats, code: Ints, bottom: float, top: float, middle: int
) -> Planed:
    """Keep what lies between ``bottom`` and ``top``, mm, either of which may be infinite, of the cells that are
    ``cut`` (n,) by them.

    ``local`` (3, n) is the planes' normal in each strip's frame; ``flat`` (3, nv) where the corners lie along two
    directions in the planes and, last, along the normal, as right-handed axes; ``code`` (nv,) belongs to the corners:
    ``middle`` is that of what is kept, one less and one more are on the planes.
    """
    height = flat[2]
    counts, cell = counts_of(cells.vptr), cells.cell_of_vertex()
    met = cut.repeat(counts)
    under, over = met & (code < middle - 1), met & (code > middle + 1)
    off = under | over
    moving = np.flatnonzero(off)
    floor, ceiling = (reach.reduceat(height, cells.vptr[:-1]) for reach in (np.minimum, np.maximum))
    # the edges that leave an end, and the corner they lead to
    v0, v1 = cells.edges[:2]
    edge = np.flatnonzero(off[v0] | off[v1])
    a, b = v0[edge], v1[edge]
    rising = np.abs(height[a] - height[b]) > ON_PLANE
    a, b = a[rising], b[rising]
    count = np.bincount(a, minlength=len(height)) + np.bincount(b, minlength=len(height))
    partner = np.zeros(len(height), np.int64)
    partner[a], partner[b] = b, a
    at = height[moving]
    mine = cell[moving]
    below = under[moving]
    level = np.where(below, at - floor[mine], ceiling[mine] - at) < ON_PLANE
    fits = cut.copy()
    fits[mine[~level | (count[moving] != 1)]] = False
    fits[cell[met & ~off & (code != middle)]] = False
    if not fits.any():
        return Planed(fits, cells, 0.0, 0.0)
    if bool((fits != cut).any()):
        kept = np.flatnonzero(fits[mine])
        moving, at, below = moving[kept], at[kept], below[kept]
        off = off & fits.repeat(counts)

    towards = partner[moving]
    share = (np.array([top, bottom])[below.astype(np.int64)] - at) / (height[towards] - at)

    def slide(points: Floats) -> Floats:
        return np.asarray(share * (pick(points, towards) - pick(points, moving)))

    def slid(points: Floats) -> Floats:
        out = points.copy()
        out[:, moving] += slide(points)
        return out

    lower, upper = np.maximum(bottom - floor, 0.0), np.maximum(ceiling - top, 0.0)
    run = np.zeros((2, len(height)))
    run[:, moving] = slide(flat[:2])
    rim = np.flatnonzero(off[v0] & off[v1] & (under[v0] == under[v1]))
    gone = _wedges(cells, local, flat, run, rim, under, lower, upper)
    sides = counts_of(cells.fptr)
    faces = cells.faces.copy()
    touched = np.flatnonzero(fits.repeat(sides))
    mine = cells.cell_of_face()[touched]
    facing = dot(pick(cells.faces, touched)[:3], pick(local, mine))
    by = upper[mine] * (facing > LEVEL) + lower[mine] * (facing < -LEVEL)
    faces[3, touched] -= by
    faces[GLUED, touched[by > 0]] = 0.0
    out = cells.replace(verts=slid(cells.verts), faces=faces, known=np.where(fits, np.nan, cells.known))
    # no face turns, so where all lies now need not be worked out anew
    if cells.where.world is not None:
        out.where.world = slid(cells.where.world.T).T
    if cells.where.planes is not None:
        normals, offsets = cells.where.planes
        out.where.planes = normals, offsets.copy()
        out.where.planes[1][touched] -= by
    return Planed(fits, out, *gone)


def _wedges(
    cells: Cells, local: Floats, flat: Floats, run: Floats, edge: Ints, under: Bools, lower: Floats, upper: Floats
) -> tuple[float, float]:
    """Volume below and above of all the ends whose level faces the ``edge`` (k,) bound, mm³: sections integrated from
    the corners ``flat`` (2 or more, nv) by ``run`` (2, nv), over depths ``lower`` and ``upper`` (n,)."""
    a, b = cells.edges[0, edge], cells.edges[1, edge]
    cell = cells.cell_of_edge()[edge]
    below = under[a]
    # all round an end its level face is on one side of the edges; where it is on the right they run the other way
    facing = np.abs(dot(pick(cells.faces, cells.edges[2, edge])[:3], pick(local, cell))) > LEVEL
    origin = pick(flat[:2], cells.vptr[cell])
    p, q = pick(flat[:2], a) - origin, pick(flat[:2], b) - origin
    areas = swept(p, q, pick(run, a), pick(run, b)) * (2.0 * facing - 1.0)
    volumes = []
    for which, depth in ((below, lower), (~below, upper)):
        ends = np.bincount(cell[which], areas[which], minlength=len(cells))
        volumes.append(float((np.abs(ends) * depth).sum()))
    return volumes[0], volumes[1]
