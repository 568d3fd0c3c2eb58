"""Planing: cells that only lose an end, where every corner slides along the one edge that leaves it.

A planer takes a little off the two faces of a board, a trim off its sides. Where the end of a cell is level, no other
corner lies in what is taken off, and one edge leaves each of the end's corners, the cell that is left has the same
edges and faces as before. What comes off grows with depth as a quadratic section, so its volume is known without
building it.
"""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from .cells import GLUED, LEVEL, ON_PLANE, Bools, Cells, Floats, Ints, dot, gaps, pick, swept


@dataclass(frozen=True, slots=True)
class Planed:
    """The cells of a set that can be planed, ``fits`` (n,): what is ``left`` of those, and what comes off below and
    above, mm³."""

    fits: Bools
    left: Cells
    below: float
    above: float


def planed(cells: Cells, local: Floats, height: Floats, code: Ints, bottom: float, top: float, middle: int) -> Planed:
    """Keep what lies between ``bottom`` and ``top``, mm, either of which may be infinite.

    ``local`` (3, n) is the planes' normal in each strip's frame, ``height`` and ``code`` (nv,) belong to the corners;
    ``middle`` is the code of what is kept, one less and one more are on the planes.
    """
    start, counts = cells.vptr[:-1], gaps(cells.vptr)
    under, over = code < middle - 1, code > middle + 1
    off = under | over
    v0, v1 = cells.edges[:2]
    rising = np.abs(height[v0] - height[v1]) > ON_PLANE
    leaving = rising & (off[v0] | off[v1])
    count = np.bincount(v0[leaving], minlength=len(height)) + np.bincount(v1[leaving], minlength=len(height))
    floor, ceiling = np.minimum.reduceat(height, start), np.maximum.reduceat(height, start)
    level = np.where(under, height - floor.repeat(counts), ceiling.repeat(counts) - height) < ON_PLANE
    fits = np.logical_and.reduceat(np.where(off, (count == 1) & level, code == middle), start)
    if not fits.any():
        return Planed(fits, cells.take(fits), 0.0, 0.0)
    if not fits.all():
        mine = fits.repeat(counts)
        inner = planed(cells.take(fits), local[:, fits], height[mine], code[mine], bottom, top, middle)
        return replace(inner, fits=fits)

    partner = np.zeros(len(height), np.int64)
    partner[v0[leaving]], partner[v1[leaving]] = v1[leaving], v0[leaving]
    goal = np.where(under, bottom, top)
    moving = np.flatnonzero(off)
    towards = partner[moving]
    share = (goal[moving] - height[moving]) / (height[towards] - height[moving])
    slide = np.zeros_like(cells.verts)
    slide[:, moving] = share * (pick(cells.verts, towards) - pick(cells.verts, moving))

    lower, upper = np.maximum(bottom - floor, 0.0), np.maximum(ceiling - top, 0.0)
    gone = [_wedges(cells, local, slide, v, depth) for v, depth in ((under, lower), (over, upper))]
    sides = gaps(cells.fptr)
    facing = dot(cells.faces[:3], local.repeat(sides, axis=1))
    by = np.where(facing > LEVEL, upper.repeat(sides), 0.0) + np.where(facing < -LEVEL, lower.repeat(sides), 0.0)
    faces = cells.faces.copy()
    faces[3] -= by
    faces[GLUED, by > 0] = 0.0
    left = replace(cells, verts=cells.verts + slide, faces=faces, known=np.full(len(cells), np.nan))
    return Planed(fits, left, gone[0], gone[1])


def _wedges(cells: Cells, local: Floats, slide: Floats, off: Bools, depth: Floats) -> float:
    """Volume of all the ends whose corners are ``off`` (nv,), ``depth`` (n,) thick, mm³: their sections integrated."""
    edge = np.flatnonzero(off[cells.edges[0]] & off[cells.edges[1]])
    if not len(edge):
        return 0.0
    a, b = cells.edges[0, edge], cells.edges[1, edge]
    cell = cells.cell_of_edge()[edge]
    normal = pick(local, cell)
    # all round an end its level face is on one side of the edges; where it is on the right they run the other way
    facing = np.abs(dot(pick(cells.faces, cells.edges[2, edge])[:3], normal)) > LEVEL
    sign = np.where(facing, 1.0, -1.0)
    origin = pick(pick(cells.verts, cells.vptr[:-1]), cell)
    p, q = pick(cells.verts, a) - origin, pick(cells.verts, b) - origin
    d, e = pick(slide, a), pick(slide, b)
    areas = swept(p, q, d, e, sign * normal, cell, len(cells))
    return float((np.abs(areas) * depth).sum())
