"""Moves of a machine, and contours of lines and arcs that they follow. Lengths in mm, feeds in mm/min.

x runs to the right and y away from you from the near left corner of the board, z up from its finished face.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass, field
from typing import NamedTuple

import shapely

Point = tuple[float, float]


class Move(NamedTuple):
    """To a point; ``rapid``, or at ``feed`` in a line, or round ``centre`` clockwise or not."""

    x: float
    y: float
    z: float
    feed: float = 0.0
    centre: Point | None = None
    clockwise: bool = False

    @property
    def rapid(self) -> bool:
        """Whether it goes through the air as fast as it can."""
        return self.feed == 0.0


@dataclass(frozen=True, slots=True)
class Segment:
    """A line, or an arc about ``centre``."""

    start: Point
    end: Point
    centre: Point | None = None
    clockwise: bool = False

    @property
    def length(self) -> float:
        """Along it, mm."""
        return math.dist(self.start, self.end) if self.centre is None else abs(self._turn()) * self._radius()

    def _radius(self) -> float:
        assert self.centre is not None
        return math.dist(self.start, self.centre)

    def _turn(self) -> float:
        """The angle it sweeps, positive anticlockwise; a full circle where it ends where it begins."""
        assert self.centre is not None
        (cx, cy), (sx, sy), (ex, ey) = self.centre, self.start, self.end
        turn = math.atan2(ey - cy, ex - cx) - math.atan2(sy - cy, sx - cx)
        if self.clockwise:
            return turn - 2 * math.pi if turn >= -1e-9 else turn
        return turn + 2 * math.pi if turn <= 1e-9 else turn

    def at(self, along: float) -> Point:
        """The point so far along it, mm."""
        share = along / self.length if self.length else 0.0
        if self.centre is None:
            (sx, sy), (ex, ey) = self.start, self.end
            return sx + share * (ex - sx), sy + share * (ey - sy)
        cx, cy = self.centre
        angle = math.atan2(self.start[1] - cy, self.start[0] - cx) + share * self._turn()
        return cx + self._radius() * math.cos(angle), cy + self._radius() * math.sin(angle)

    def part(self, first: float, last: float) -> Segment:
        """From one place along it to another, mm."""
        return Segment(self.at(first), self.at(last), self.centre, self.clockwise)

    def reversed(self) -> Segment:
        """The other way."""
        return Segment(self.end, self.start, self.centre, not self.clockwise)


Contour = tuple[Segment, ...]
"""Segments one after the other; closed where the last ends where the first begins."""


def polyline(points: Sequence[Point], *, closed: bool) -> Contour:
    """Lines through points."""
    every = [*points, points[0]] if closed else list(points)
    return tuple(Segment(a, b) for a, b in itertools.pairwise(every) if math.dist(a, b) > 1e-6)


def circle(x: float, y: float, radius: float) -> Contour:
    """Anticlockwise from its rightmost point, in two halves."""
    right, left = (x + radius, y), (x - radius, y)
    return Segment(right, left, (x, y)), Segment(left, right, (x, y))


def rounded(low: Point, high: Point, radius: float) -> Contour:
    """A rectangle with arcs at its corners, anticlockwise from its lower edge's left end; 0 leaves them square."""
    (x0, y0), (x1, y1) = low, high
    r = min(radius, (x1 - x0) / 2, (y1 - y0) / 2)
    if r <= 1e-6:
        return polyline([(x0, y0), (x1, y0), (x1, y1), (x0, y1)], closed=True)
    corners: list[tuple[Point, Point, Point]] = [
        ((x1 - r, y0), (x1, y0 + r), (x1 - r, y0 + r)), ((x1, y1 - r), (x1 - r, y1), (x1 - r, y1 - r)),
        ((x0 + r, y1), (x0, y1 - r), (x0 + r, y1 - r)), ((x0, y0 + r), (x0 + r, y0), (x0 + r, y0 + r)),
    ]  # fmt: skip
    out, at = [], (x0 + r, y0)
    for begin, end, centre in corners:
        out += [Segment(at, begin), Segment(begin, end, centre)]
        at = end
    return tuple(segment for segment in out if segment.length > 1e-6)


def turned_back(contour: Contour) -> Contour:
    """The same the other way round."""
    return tuple(segment.reversed() for segment in reversed(contour))


def length(contour: Contour) -> float:
    """Along all of it, mm."""
    return sum(segment.length for segment in contour)


def rings(shape: shapely.Geometry) -> Iterator[Contour]:
    """The outlines of a shape, anticlockwise, and of its holes."""
    for part in shapely.get_parts(shape):
        if part.geom_type == "Polygon" and not part.is_empty:
            sound = shapely.geometry.polygon.orient(part)
            for ring in (sound.exterior, *sound.interiors):
                yield polyline([(float(x), float(y)) for x, y in list(ring.coords)[:-1]], closed=True)


@dataclass
class Path:
    """Moves as they are put together, from wherever the tool stands: high above."""

    clear: float
    feed: float
    plunge: float
    moves: list[Move] = field(default_factory=list)

    @property
    def here(self) -> Move | None:
        """Where the last move ended."""
        return self.moves[-1] if self.moves else None

    def over(self, x: float, y: float) -> None:
        """Up, and through the air to above a point."""
        if (last := self.here) is not None and last.z < self.clear - 1e-9:
            self.moves.append(Move(last.x, last.y, self.clear))
        self.moves.append(Move(x, y, self.clear))

    def down(self, z: float) -> None:
        """Straight down, slowly."""
        last = self.here
        assert last is not None
        self.moves.append(Move(last.x, last.y, z, self.plunge))

    def line(self, x: float, y: float, z: float) -> None:
        """In a line at the feed."""
        self.moves.append(Move(x, y, z, self.feed))

    def follow(self, contour: Iterable[Segment], first: float, last: float) -> None:
        """Along a contour, from one height to another evenly."""
        segments = tuple(contour)
        whole, gone = length(segments), 0.0
        for segment in segments:
            gone += segment.length
            z = first + (last - first) * (gone / whole if whole else 1.0)
            self.moves.append(Move(*segment.end, z, self.feed, segment.centre, segment.clockwise))

    def up(self) -> None:
        """Out of the wood."""
        last = self.here
        if last is not None and last.z < self.clear:
            self.moves.append(Move(last.x, last.y, self.clear))
