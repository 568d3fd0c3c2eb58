"""Areas that convex polygons share, for many pairs at once.

The outline of what two polygons share consists of the parts of either's sides that lie within the other; by Green's
theorem its area is half the sum of p × q over those parts. A side that runs along one of the other's counts once,
and not at all where the two look away from each other.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from .solid import Floats, Ints

ON_SIDE = 1e-9
"""A corner this near a side (mm) lies on it."""

FAR = 1e30
"""So far along a side nothing lies; cheaper to add than to choose by."""


@dataclass(frozen=True, slots=True)
class Outlines:
    """Convex polygons, anticlockwise: ``start``, ``run`` and outward unit ``normal`` (k, 2, m) of their sides, filled
    up with sides of no length at the end; ``sides`` (m,) how many there are; ``box`` (m, 4) low and high corner."""

    start: Floats
    run: Floats
    normal: Floats
    sides: Ints
    box: Floats

    @classmethod
    def of(cls, points: Floats, ptr: Ints) -> Outlines:
        """From corners (n, 2) in order, polygon i having ptr[i]:ptr[i+1]; clockwise ones are turned round."""
        counts = np.diff(ptr)
        most = int(counts.max()) if len(counts) else 1
        k = np.arange(most)[:, None]
        last = counts - 1
        at = ptr[:-1] + np.where(k <= last, k, 0)
        after = ptr[:-1] + np.where(k < last, k + 1, 0)
        flat = np.ascontiguousarray(points.T) if len(points) else np.zeros((2, 1))
        corner, following = (flat.take(i, axis=1).transpose(1, 0, 2) for i in (at, after))
        rel, nxt = corner - corner[:1], following - corner[:1]
        clockwise = (rel[:, 0] * nxt[:, 1] - rel[:, 1] * nxt[:, 0]).sum(axis=0) < 0
        start, end = corner, following
        if clockwise.any():
            start, end = np.where(clockwise, following, corner), np.where(clockwise, corner, following)
        run = end - start
        length = np.sqrt(run[:, 0] ** 2 + run[:, 1] ** 2)
        length[length == 0] = 1.0
        normal = np.stack([run[:, 1] / length, -run[:, 0] / length], axis=1)
        box = np.concatenate([corner.min(axis=0), corner.max(axis=0)]).T
        return cls(start, run, normal, counts, box)

    def parted(self, at: int) -> tuple[Outlines, Outlines]:
        """The first ``at``, and the rest."""

        def some(which: slice) -> Outlines:
            sides = [np.ascontiguousarray(part[..., which]) for part in (self.start, self.run, self.normal)]
            return Outlines(sides[0], sides[1], sides[2], self.sides[which], self.box[which])

        return some(slice(None, at)), some(slice(at, None))

    def __len__(self) -> int:
        return len(self.sides)

    def _columns(self, which: Ints, sides: int, origin: Floats) -> _Columns:
        """``start`` less an origin (2, k), ``run`` and ``normal`` of the chosen ones as (sides, 2, k)."""
        start, run, normal = (part[:sides].take(which, axis=2) for part in (self.start, self.run, self.normal))
        start -= origin
        return start, run, normal


_Columns = tuple[Floats, Floats, Floats]


def shared_areas(first: Outlines, second: Outlines, i: Ints, j: Ints, chunk: int = 2500) -> Floats:
    """Area in mm² that first[i] and second[j] share, (k,)."""
    out = np.zeros(len(i))
    most = np.maximum(first.sides[i], second.sides[j])
    order = np.argsort(most, kind="stable")  # like with like, so that few sides of no length are tried
    for at in range(0, len(i), chunk):
        some = order[at : at + chunk]
        k = int(most[some].max())
        origin = first.start[0].take(i[some], axis=1)  # so that large coordinates do not cost digits
        one, other = first._columns(i[some], k, origin), second._columns(j[some], k, origin)
        out[some] = _within(one, other, once=True) + _within(other, one, once=False)
    return np.maximum(out, 0.0)


def _within(mine: _Columns, other: _Columns, *, once: bool) -> Floats:
    """Half the sum of p × q over the parts of my sides within the other polygon, (k,). ``once``: sides that run along
    a side of the other count here, and not when the two change places."""
    (start, run, _), (corner, along, normal) = mine, other
    x, y, dx, dy = start[:, 0], start[:, 1], run[:, 0], run[:, 1]
    begin, end = np.zeros_like(x), np.ones_like(x)
    off, ahead, part = np.empty_like(x), np.empty_like(x), np.empty_like(x)
    offset = (normal * corner).sum(axis=1)
    for (nx, ny), (ax, ay), h in zip(normal, along, offset, strict=True):
        np.multiply(nx, x, out=off)  # how far outside a side begins
        off += np.multiply(ny, y, out=part)
        off -= h
        np.multiply(nx, dx, out=ahead)  # and how much farther outside it ends
        ahead += np.multiply(ny, dy, out=part)
        level = np.abs(ahead, out=part) < ON_SIDE
        np.copyto(ahead, 0.0, where=level)
        beside = level & (off > -ON_SIDE)
        if beside.any():
            # beside it, or on it; a side of no length has no normal and bounds nothing
            if once:
                beside &= ~((off < ON_SIDE) & (dx * ax + dy * ay > 0))
            beside &= nx * nx + ny * ny > 0
            end -= 2.0 * beside
        # where it crosses: the end of what is within where it runs outwards, else the beginning
        np.divide(off, np.add(ahead, level, out=part), out=off)
        np.negative(off, out=off)
        np.minimum(end, np.add(off, np.multiply(ahead <= 0, FAR, out=part), out=part), out=end)
        np.maximum(begin, np.subtract(off, np.multiply(ahead >= 0, FAR, out=part), out=part), out=begin)
    within = np.maximum(np.minimum(end, 1.0) - begin, 0.0)
    return np.asarray((within * (x * dy - y * dx)).sum(axis=0) / 2)


def near_pairs(first: Floats, group_a: Ints, second: Floats, group_b: Ints) -> tuple[Ints, Ints]:
    """Pairs of boxes (m, 4) of the same group that overlap, by a sweep along whichever axis parts a group best.
    Groups are numbered from 0."""
    if not len(first) or not len(second):
        return np.zeros(0, np.int64), np.zeros(0, np.int64)
    count = int(max(group_a.max(), group_b.max())) + 1
    reach = np.zeros((count, 2))
    low, high = np.full((count, 2), np.inf), np.full((count, 2), -np.inf)
    for box, group in ((first, group_a), (second, group_b)):
        np.minimum.at(low, group, box[:, :2])
        np.maximum.at(high, group, box[:, 2:])
        np.maximum.at(reach, group, box[:, 2:] - box[:, :2])
    room = np.where(high > low, high - low, 1.0)
    axis = (reach / room).argmin(axis=1)
    g = np.arange(count)
    longest = reach[g, axis]
    offset = np.concatenate([[0.0], np.cumsum(room[g, axis] + 2 * longest + 1.0)[:-1]]) + longest - low[g, axis]
    m = np.arange(len(first))
    begin, end = first[m, axis[group_a]] + offset[group_a], first[m, 2 + axis[group_a]] + offset[group_a]
    starts = second[np.arange(len(second)), axis[group_b]] + offset[group_b]
    order = np.argsort(starts, kind="stable")
    lo = np.searchsorted(starts[order], begin - longest[group_a])
    hi = np.searchsorted(starts[order], end)
    i = np.repeat(m, hi - lo)
    j = order[np.arange(len(i)) - np.repeat(np.cumsum(hi - lo) - (hi - lo), hi - lo) + np.repeat(lo, hi - lo)]
    a, b = first[i], second[j]
    meet = ((np.minimum(a[:, 2:], b[:, 2:]) - np.maximum(a[:, :2], b[:, :2])) > ON_SIDE).all(axis=1)
    meet &= group_a[i] == group_b[j]
    return i[meet], j[meet]
