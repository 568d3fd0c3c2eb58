"""Prisms: cells whose corners all lie at their floor or their ceiling, each joined to one of the other end.

Strips under a saw square to them are such cells, and so is a whole board under a planer, upright or leaning. A slab of
one is the cell itself with every corner moved along its own edge: same edges, same sides. Its section grows with
height as a quadratic, so its volume is known without building it.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from .cells import GLUED, LEVEL, ON_PLANE, Bools, Cells, Floats, Ints, counts_of, dot, pick, spread, turn


@dataclass(frozen=True, slots=True)
class Prisms:
    """Prisms along a normal: ``floor`` and ``ceiling`` (n,) of each, which corners are at the ceiling (nv,), and the
    vector from each corner to its partner at the other end (3, nv). ``flat`` and ``flat_across`` (2, nv) are corners
    and vectors seen along the normal."""

    cells: Cells
    local: Floats
    floor: Floats
    ceiling: Floats
    at_ceiling: Bools
    across: Floats
    flat: Floats
    flat_across: Floats

    @classmethod
    def of(cls, cells: Cells, local: Floats, flat: Floats) -> tuple[Bools, Prisms | None]:
        """Which cells are prisms, and those. ``local`` (3, n) is the normal in each strip's frame; ``flat`` (3, nv)
        where corners lie along two directions square to it and, last, along it, as right-handed axes."""
        height = flat[2]
        start, counts = cells.vptr[:-1], counts_of(cells.vptr)
        floor, ceiling = np.minimum.reduceat(height, start), np.maximum.reduceat(height, start)
        rising = height[cells.edges[1]] - height[cells.edges[0]]
        edge = np.flatnonzero(np.abs(rising) > ON_PLANE)
        a, b = cells.edges[0, edge], cells.edges[1, edge]
        single = np.bincount(a, minlength=len(height)) + np.bincount(b, minlength=len(height)) == 1
        off = np.minimum(height - floor.repeat(counts), ceiling.repeat(counts) - height)
        fits = np.logical_and.reduceat(single & (off < ON_PLANE), start)
        if not fits.any():
            return fits, None
        partner = np.zeros(len(height), np.int64)
        partner[a], partner[b] = b, a
        across = pick(cells.verts, partner) - cells.verts
        mine = fits.repeat(counts)
        at_ceiling = height > np.repeat((floor + ceiling) / 2, counts)
        return fits, cls(
            cells.take(fits),
            local[:, fits],
            floor[fits],
            ceiling[fits],
            at_ceiling[mine],
            across.compress(mine, axis=1),
            flat[:2].compress(mine, axis=1),
            (pick(flat[:2], partner) - flat[:2]).compress(mine, axis=1),
        )

    def volumes(self, source: Ints, low: Floats, high: Floats) -> Floats:
        """Volume between two heights of the cells ``source`` (k,), mm³: the section's quadratic, integrated."""
        cells = self.cells
        floor_edge = np.flatnonzero(~self.at_ceiling[cells.edges[0]] & ~self.at_ceiling[cells.edges[1]])
        a, b = cells.edges[0, floor_edge], cells.edges[1, floor_edge]
        cell = cells.cell_of_edge()[floor_edge]
        # seen from above the floor runs anticlockwise along edges that have the floor's face on their right
        facing = dot(pick(cells.faces, cells.edges[2, floor_edge])[:3], pick(self.local, cell))
        sign = 1.0 - 2.0 * (facing < -LEVEL)
        origin = pick(self.flat, cells.vptr[cell])
        p, q = pick(self.flat, a) - origin, pick(self.flat, b) - origin
        d, e = pick(self.flat_across, a), pick(self.flat_across, b)
        terms = (turn(p, q), turn(p, e) + turn(d, q), turn(d, e))
        c0, c1, c2 = (np.bincount(cell, sign * t, minlength=len(cells)) / 2 for t in terms)
        tall = self.ceiling - self.floor
        t0, t1 = (np.clip((at - self.floor[source]) / tall[source], 0.0, 1.0) for at in (low, high))

        def below(t: Floats) -> Floats:
            return np.asarray(c0[source] * t + c1[source] * t**2 / 2 + c2[source] * t**3 / 3)

        return tall[source] * (below(t1) - below(t0))

    def sliced(self, source: Ints, low: Floats, high: Floats, volume: Floats) -> Cells:
        """The cells ``source`` (k,) cut to the heights between ``low`` and ``high`` (k,), which may lie outside."""
        cells, floor, ceiling = self.cells, self.floor[source], self.ceiling[source]
        low, high = np.maximum(low, floor), np.minimum(high, ceiling)
        out = cells.take(source)
        at_ceiling, across = self.at_ceiling, self.across
        counts, sides = counts_of(out.vptr), counts_of(out.fptr)
        if out is not cells:
            vertex = spread(cells.vptr[source], counts)
            at_ceiling, across = at_ceiling[vertex], pick(across, vertex)
        tall = ceiling - floor
        share = np.where(
            at_ceiling, np.repeat((ceiling - high) / tall, counts), np.repeat((low - floor) / tall, counts)
        )
        facing = dot(out.faces[:3], np.repeat(pick(self.local, source), sides, axis=1))
        faces = out.faces.copy()
        by = (facing > LEVEL) * (high - ceiling).repeat(sides) - (facing < -LEVEL) * (low - floor).repeat(sides)
        faces[3] += by
        faces[GLUED, by != 0] = 0.0
        return out.replace(verts=out.verts + share * across, faces=faces, known=volume)
