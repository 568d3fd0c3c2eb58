"""Areas that convex polygons share, for many pairs at once.

The outline of what two polygons share consists of the parts of either's sides that lie within the other; by Green's
theorem its area is half the sum of p × q over those parts. A side that runs along one of the other's counts once,
and not at all where the two look away from each other.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..solid import TAKE, Floats, Ints, counts_of, pick, spread

ON_SIDE = 1e-9
"""A corner this near a side (mm) lies on it."""

FAR = 1e30
"""So far along a side nothing lies; cheaper to add than to choose by."""

NEVER = 1e-20
"""A side that runs level with another is taken to come nearer by this little: it crosses far beyond its ends, yet not
as far as ``FAR``."""


@dataclass(frozen=True, slots=True)
class Outlines:
    """Convex polygons, anticlockwise: ``start``, ``run`` and outward unit ``normal`` (k, 2, m) of their sides, filled
    up with sides of no length at the end; ``sides`` (m,) how many there are; ``box`` (4, m) low and high corner."""

    start: Floats
    run: Floats
    normal: Floats
    sides: Ints
    box: Floats

    @classmethod
    def of(cls, points: Floats, ptr: Ints) -> Outlines:
        """From corners (n, 2) in order, polygon i having ptr[i]:ptr[i+1]; clockwise ones are turned round."""
        counts = counts_of(ptr)
        most = int(counts.max()) if len(counts) else 1
        k = np.arange(most)[:, None]
        flat = np.ascontiguousarray(points.T) if len(points) else np.zeros((2, 1))
        at = ptr[:-1] + k * (k < counts)
        start = flat.take(at, axis=1).transpose(1, 0, 2)
        rel = start - start[:1]
        if (clockwise := (rel[:-1, 0] * rel[1:, 1] - rel[:-1, 1] * rel[1:, 0]).sum(axis=0) < 0).any():
            at = np.where(clockwise & (k > 0) & (k < counts), ptr[:-1] + counts - k, at)
            start = flat.take(at, axis=1).transpose(1, 0, 2)
        run = np.concatenate([start[1:], start[:1]]) - start
        length = np.sqrt(run[:, 0] ** 2 + run[:, 1] ** 2)
        length[length == 0] = 1.0
        normal = np.stack([run[:, 1] / length, -run[:, 0] / length], axis=1)
        box = np.concatenate([start.min(axis=0), start.max(axis=0)])
        return cls(start, run, normal, counts, box)

    def __len__(self) -> int:
        return len(self.sides)


def shared_areas(outlines: Outlines, i: Ints, j: Ints, chunk: int = 12_000) -> Floats:
    """Area in mm² that outlines i and j share, (k,). Of each so many pairs are looked at together that they have about
    ``chunk`` pairs of sides."""
    out = np.zeros(len(i))
    most = np.maximum(outlines.sides[i], outlines.sides[j])
    order = most.argsort(kind="stable")  # like with like, so that few sides of no length are tried
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
        part[:sides].take(pair, axis=2, mode=TAKE) for part in (outlines.start, outlines.run, outlines.normal)
    )
    start -= start[:1, :, :1]  # so that large coordinates do not cost digits
    x, y, dx, dy = start[:, 0], start[:, 1], run[:, 0], run[:, 1]
    # the sides of each pair's other, against which corners are held, come first: (sides, sides + 1, 2, k)
    nx, ny = normal[:, None, 0, ::-1], normal[:, None, 1, ::-1]
    offset = (normal[:, 0] * x + normal[:, 1] * y)[:, None, ::-1]
    off = nx * np.concatenate([x, x[:1]])  # how far outside a corner lies, the first once more at the end
    off += ny * np.concatenate([y, y[:1]])
    off -= offset
    back = off[:, :-1] - off[:, 1:]
    off = off[:, :-1]
    level = np.abs(back) < ON_SIDE
    if level.any():  # it never crosses: all of it is within or none
        back -= (back + NEVER) * level
        on = level & (np.abs(off) < ON_SIDE)
        off += on
        # a side that runs along one of the other's counts once, for the first of the pair; a side of no length has no
        # normal and bounds nothing
        along = dx[:, 0] * ny[:, :, 0] < dy[:, 0] * nx[:, :, 0]
        off[:, :, 0] -= 2.0 * (on[:, :, 0] & along)
        if int(outlines.sides[pair].min()) < sides:
            off -= 2.0 * (on & ((nx == 0) & (ny == 0)))
    # where it crosses: the end of what is within where it runs outwards, else the beginning
    cross = off / back
    far = FAR * (back > 0)
    end = (cross + far).min(axis=0)
    far -= FAR
    cross += far
    within = np.maximum(np.minimum(end, 1.0) - np.maximum(cross.max(axis=0), 0.0), 0.0)
    return np.asarray((within * (x * dy - y * dx)).sum(axis=(0, 1)) / 2)


def near_pairs(first: Floats, group_a: Ints, second: Floats, group_b: Ints) -> tuple[Ints, Ints]:
    """Pairs of boxes (4, m) of the same group that overlap, by a sweep along whichever axis parts a group best.
    Groups are numbered from 0."""
    if not len(group_a) or not len(group_b):
        return np.zeros(0, np.int64), np.zeros(0, np.int64)
    count = int(max(group_a.max(), group_b.max())) + 1
    reach = np.zeros((2, count))
    low, high = np.full((2, count), np.inf), np.full((2, count), -np.inf)
    for box, group in ((first, group_a), (second, group_b)):
        for along in (0, 1):
            np.minimum.at(low[along], group, box[along])
            np.maximum.at(high[along], group, box[2 + along])
            np.maximum.at(reach[along], group, box[2 + along] - box[along])
    room = np.where(high > low, high - low, 1.0)
    axis = (reach / room).argmin(axis=0)
    g = np.arange(count)
    longest = reach[axis, g]
    wide = room[axis, g] + 2 * longest + 1.0
    offset = wide.cumsum() - wide + longest - low[axis, g]
    m = np.arange(len(group_a))
    begin, end = (first[axis[group_a] + side, m] + offset[group_a] for side in (0, 2))
    start = second[axis[group_b], np.arange(len(group_b))] + offset[group_b]
    order = start.argsort(kind="stable")
    start = start[order]
    lo = np.searchsorted(start, begin - longest[group_a])
    hits = np.searchsorted(start, end) - lo
    i, j = m.repeat(hits), order[spread(lo, hits)]
    a, b = pick(first, i), pick(second, j)
    shared = np.minimum(a[2:], b[2:]) - np.maximum(a[:2], b[:2])
    meet = np.flatnonzero((shared[0] > ON_SIDE) & (shared[1] > ON_SIDE) & (group_a[i] == group_b[j]))
    return i[meet], j[meet]
