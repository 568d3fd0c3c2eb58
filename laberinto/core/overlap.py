"""Areas that convex polygons share, for many pairs at once.

The outline of what two polygons share consists of the parts of either's sides that lie within the other; by Green's
theorem its area is half the sum of p × q over those parts. A side that runs along one of the other's counts once,
and not at all where the two look away from each other.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from .solid import Floats, Ints, gaps

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
        counts = gaps(ptr)
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

    def __len__(self) -> int:
        return len(self.sides)


def shared_areas(outlines: Outlines, i: Ints, j: Ints, chunk: int = 20_000) -> Floats:
    """Area in mm² that outlines i and j share, (k,). Of each so many pairs are looked at together that they have about
    ``chunk`` pairs of sides."""
    out = np.zeros(len(i))
    most = np.maximum(outlines.sides[i], outlines.sides[j])
    order = most.argsort(kind="stable")  # like with like, so that few sides of no length are tried
    some = order[:0]
    at = 0
    while at < len(order):
        fit = max(chunk // int(most[order[at]]) ** 2, 1)
        some = order[at : at + fit]
        k = int(most[some[-1]])
        out[some] = _shared(outlines, np.stack([i[some], j[some]]), k)
        at += fit
    return np.maximum(out, 0.0)


def _shared(outlines: Outlines, pair: Ints, sides: int) -> Floats:
    """Half the sum of p × q over the parts of either's sides that lie within the other, (k,), for pairs (2, k) of
    outlines with so many sides at most."""
    start, run, normal = (
        part[:sides].take(pair, axis=2, mode="clip") for part in (outlines.start, outlines.run, outlines.normal)
    )
    start -= start[:1, :, :1]  # so that large coordinates do not cost digits
    x, y, dx, dy = start[:, 0], start[:, 1], run[:, 0], run[:, 1]
    # the other of each pair, its sides before those that are held against them: (sides, sides, 2, k)
    across = normal[:, None, :, ::-1]
    nx, ny = across[:, :, 0], across[:, :, 1]
    offset = (normal[:, 0] * x + normal[:, 1] * y)[:, None, ::-1]
    off = nx * x  # how far outside a side begins
    off += ny * y
    off -= offset
    ahead = nx * dx  # and how much farther outside it ends
    ahead += ny * dy
    level = np.abs(ahead) < ON_SIDE
    ahead[level] = 0.0
    beside = level & (off > -ON_SIDE)
    begin, end = np.zeros_like(x), np.ones_like(x)
    if beside.any():
        # beside it, or on it: a side that runs along one of the other's counts once, for the first of the pair; a side
        # of no length has no normal and bounds nothing
        once = beside[:, :, 0]
        way = run[:, None, :, 1]
        once &= ~((off[:, :, 0] < ON_SIDE) & (dx[:, 0] * way[:, :, 0] + dy[:, 0] * way[:, :, 1] > 0))
        beside &= ((normal**2).sum(axis=1) > 0)[:, None, ::-1]
        end -= 2.0 * beside.any(axis=0)
    # where it crosses: the end of what is within where it runs outwards, else the beginning
    at = np.divide(off, ahead + level, out=off)
    np.negative(at, out=at)
    np.minimum(end, (at + FAR * (ahead <= 0)).min(axis=0), out=end)
    np.maximum(begin, (at - FAR * (ahead >= 0)).max(axis=0), out=begin)
    within = np.maximum(np.minimum(end, 1.0) - begin, 0.0)
    return np.asarray((within * (x * dy - y * dx)).sum(axis=(0, 1)) / 2)


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
    order = starts.argsort(kind="stable")
    lo = np.searchsorted(starts[order], begin - longest[group_a])
    hi = np.searchsorted(starts[order], end)
    i = m.repeat(hi - lo)
    j = order[np.arange(len(i)) - np.repeat(np.cumsum(hi - lo) - (hi - lo), hi - lo) + lo.repeat(hi - lo)]
    a, b = first[i], second[j]
    meet = ((np.minimum(a[:, 2:], b[:, 2:]) - np.maximum(a[:, :2], b[:, :2])) > ON_SIDE).all(axis=1)
    meet &= group_a[i] == group_b[j]
    return i[meet], j[meet]
