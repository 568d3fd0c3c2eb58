"""Tools: the convex bodies that are carved out of cells, and how their facets can be told apart in halves.

A curve is many facets. A cell that reaches beyond dozens of them would be split by one after the other; but half of the
facets are all that counts on one side of a plane through the tool's middle, and the other half on the other side. A
``Fan`` says where such planes are.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

import numpy as np

from .cells import ON_PLANE, Bools, Cells, Floats, Ints, counts_of, indptr_of, spread

FAR = 1e9
"""Below a plane so far off (mm) lies everything; infinity would be no number once it is multiplied."""

FULL = 2 * math.pi
NEAR = 1e-9
"""Angles so near each other (radians) are the same."""


@dataclass(frozen=True, slots=True)
class Fan:
    """A tool's first k facets side by side about an axis through ``centre`` (3,) inside the tool: each lies between the
    angles ``low`` and ``high`` (k,), in radians from ``first`` towards ``second``, which are unit and square to each
    other: (3,), or (k, 3) where those of one ``group`` (k,) alone are about the same axis."""

    centre: Floats
    first: Floats
    second: Floats
    low: Floats
    high: Floats
    group: Ints | None = None


@dataclass(frozen=True, slots=True)
class Tool:
    """A convex body in world coordinates: all x with normals @ x ≤ offsets; (k, 3) unit normals, (k,) mm. Where it is
    round, ``fans`` say how its facets lie, the coarser one first. Where ``corners`` (v, 3) are given, it lies between
    them as far as any wood reaches."""

    normals: Floats
    offsets: Floats
    fans: tuple[Fan, ...] = ()
    corners: Floats | None = None


@dataclass(frozen=True, slots=True)
class Half:
    """Planes that halve the facets due, normals (n, 3) and offsets (n,); and which of the facets (n, most) count on
    either side."""

    normals: Floats
    offsets: Floats
    below: Bools
    above: Bools


LEVELS = 2
"""Fans that a tool has at most."""


@dataclass(frozen=True, slots=True)
class Facets:
    """The facets of several tools below each other, and one more that holds everything and goes by the number -1:
    ``start`` is the number of each tool's first. What ``Fan`` knows of each is kept by level."""

    normals: Floats
    offsets: Floats
    start: list[int]
    centre: Floats
    first: Floats
    second: Floats
    low: Floats
    high: Floats
    group: Ints
    corners: list[Floats | None]

    @classmethod
    def of_tools(cls, tools: Sequence[Tool]) -> Facets:
        start = indptr_of(np.array([len(tool.offsets) for tool in tools], np.int64)).tolist()
        count = start[-1] + 1
        centre, first, second = np.zeros((3, LEVELS, count, 3))
        low, high = np.full((2, LEVELS, count), np.nan)
        group = np.zeros((LEVELS, count), np.int64)
        for begin, tool in zip(start, tools, strict=False):
            for level, fan in enumerate(tool.fans):
                mine = level, slice(begin, begin + len(fan.low))
                centre[mine], first[mine], second[mine] = fan.centre, fan.first, fan.second
                low[mine], high[mine], group[mine] = fan.low, fan.high, 0 if fan.group is None else fan.group
        return cls(
            np.concatenate([*(tool.normals for tool in tools), np.zeros((1, 3))]),
            np.append(np.concatenate([[], *(tool.offsets for tool in tools)]), FAR),
            start, centre, first, second, low, high, group, [tool.corners for tool in tools],
        )  # fmt: skip

    @property
    def most(self) -> int:
        """Facets of the tool that has most."""
        return max((after - before for before, after in pairwise(self.start)), default=0)

    def of(self, turn: Ints) -> Ints:
        """The facets of the tools of these numbers (n,), filled up with -1, (n, most)."""
        start = np.array(self.start)
        first, count = start[turn], start[turn + 1] - start[turn]
        number = np.arange(int(count.max(initial=1)))
        return np.where(number < count[:, None], first[:, None] + number, -1)

    def apart(self, cells: Cells, some: Ints, turn: Ints) -> Bools:
        """Which of ``some`` cells (n,) have a face that the tool of its number (n,) lies beyond altogether."""
        out = np.zeros(len(some), bool)
        if not len(some):
            return out
        normals, offsets = cells.world_planes()
        counts = counts_of(cells.fptr)
        for number in np.unique(turn).tolist():
            if (corners := self.corners[number]) is not None:
                mine = np.flatnonzero(turn == number)
                count = counts[some[mine]]
                face = spread(cells.fptr[some[mine]], count)
                beyond = (normals[face] @ corners.T).min(axis=1) >= offsets[face] - ON_PLANE
                out[mine] = np.logical_or.reduceat(beyond, indptr_of(count)[:-1])
        return out

    def within(self, facets: Ints) -> Floats:
        """How far each of ``facets`` (n,) lies from the middle of its tool, 0 for one without a fan."""
        away = self.offsets[facets] - np.einsum("ij,ij->i", self.normals[facets], self.centre[0, facets])
        return np.where(np.isnan(self.low[0, facets]), 0.0, away)

    def halved(self, due: Ints) -> tuple[Bools, Half]:
        """Which rows of facets ``due`` (n, most), filled up with -1, can be halved, (n,), and by what, for these."""
        able = np.zeros(len(due), bool)
        normals, offsets = np.zeros((len(due), 3)), np.zeros(len(due))
        sides = np.ones((2, *due.shape), bool)
        for level in range(LEVELS):
            todo = np.flatnonzero(~able)
            if not len(todo):
                break
            at, beta, parts = self._bordered(due[todo], level)
            fine = (parts.sum(axis=2) < (due[todo] >= 0).sum(axis=1)).all(axis=0)
            todo, at, beta = todo[fine], at[fine], beta[fine]
            able[todo], sides[:, todo] = True, parts[:, fine]
            normals[todo] = (
                self.second[level, at] * np.cos(beta)[:, None] - self.first[level, at] * np.sin(beta)[:, None]
            )
            offsets[todo] = np.einsum("ij,ij->i", normals[todo], self.centre[level, at])
        return able, Half(normals[able], offsets[able], *sides[:, able])

    def _bordered(self, due: Ints, level: int) -> tuple[Ints, Floats, Bools]:
        """The facet nearest to the middle of those due, (n,), the angle at which it begins, and which of the facets lie
        on either side of the plane there, (2, n, most)."""
        low, high, group = self.low[level][due], self.high[level][due], self.group[level][due]
        has = ~np.isnan(low)
        middle = (low + high) / 2
        mean = np.arctan2(np.where(has, np.sin(middle), 0).sum(axis=1), np.where(has, np.cos(middle), 0).sum(axis=1))
        off = np.abs((low - mean[:, None] + math.pi) % FULL - math.pi)
        at = np.where(has, off, np.inf).argmin(axis=1)
        row = np.arange(len(due))
        beta = low[row, at]
        begin = (low - beta[:, None]) % FULL
        begin = np.where(begin > FULL - NEAR, 0.0, begin)
        end = begin + high - low
        alike = (group == group[row, at][:, None]) | ~has
        other = ~has | ~alike.all(axis=1)[:, None]
        real = due >= 0
        above = other | (begin < math.pi - NEAR) | (end > FULL + NEAR)
        below = other | (end > math.pi + NEAR)
        return due[row, at], beta, np.stack([below & real, above & real])
