"""Cutters: the bodies that bits, gouges and drills sweep through wood, as convex tools.

Curves are faceted with their corners on the true curve, so that widths, depths and diameters are exact and no
facet lies farther than ``FACET`` from it.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from ..solid import Fan, Floats, Tool

FACET = 0.05
"""Farthest that a facet may lie from the curve it stands for, mm."""

CLEAR = 5.0
"""How far (mm) tools reach out beyond the wood."""

SMOOTH = math.radians(20)
"""Where a path bends by less, its runs are mitred; where it bends more, the turning bit rounds the corner."""


def facets(radius: float) -> int:
    """How many facets a full circle takes, a multiple of four, so that it measures true along both axes."""
    step = 2 * math.acos(max(1 - FACET / radius, 0.0)) if radius > FACET else math.pi / 2
    return 4 * math.ceil(math.pi / 2 / step)


def circle(radius: float, x: float = 0.0, y: float = 0.0) -> Floats:
    """Corners (n, 2) of a circle, anticlockwise from its rightmost point."""
    angle = np.arange(facets(radius)) * (2 * math.pi / facets(radius))
    return np.stack([x + radius * np.cos(angle), y + radius * np.sin(angle)], axis=1)


def sides(corners: Floats) -> tuple[Floats, Floats]:
    """Outward unit normals (m, 2) and offsets (m,) of a convex polygon's sides, corners anticlockwise."""
    run = np.roll(corners, -1, axis=0) - corners
    normal = np.stack([run[:, 1], -run[:, 0]], axis=1) / np.linalg.norm(run, axis=1, keepdims=True)
    return normal, (normal * corners).sum(axis=1)


def _seen(start: Floats, end: Floats) -> tuple[Floats, Floats]:
    """Between which angles runs from ``start`` to ``end`` (n, 2), anticlockwise, are seen from the origin, radians."""
    low = np.arctan2(start[:, 1], start[:, 0])
    return low, np.asarray(low + (np.arctan2(end[:, 1], end[:, 0]) - low) % (2 * math.pi))


@dataclass(frozen=True, slots=True)
class Section:
    """A convex polygon to be swept, with what is known of its sides: see ``of``. They are seen from its ``middle`` (2,)
    between the angles ``low`` and ``high`` (m,)."""

    corners: Floats
    normals: Floats
    offsets: Floats
    middle: Floats
    low: Floats
    high: Floats

    @classmethod
    def of(cls, corners: Floats) -> Section:
        """From its corners (m, 2), anticlockwise."""
        middle = np.asarray(corners.mean(axis=0))
        return cls(corners, *sides(corners), middle, *_seen(corners - middle, np.roll(corners, -1, axis=0) - middle))

    def endless(self, base: Floats, origin: Floats) -> Tool:
        """Swept without end along ``base[2]``. ``base`` has the polygon's two axes and the sweep as rows, all unit and
        square to each other; ``origin`` (3,) is where (0, 0) lies."""
        normals = self.normals @ base[:2]
        fan = Fan(origin + self.middle @ base[:2], base[0], base[1], self.low, self.high)
        return Tool(normals, self.offsets + normals @ origin, (fan,))

    def between(self, base: Floats, origin: Floats, ends: Floats, through: Floats) -> Tool:
        """The same between two planes with the outward normals ``ends`` (2, 3) through these points (2, 3)."""
        swept = self.endless(base, origin)
        offsets, lines = (ends * through).sum(axis=1), origin + self.corners @ base[:2]
        along = (offsets - lines @ ends.T) / (ends @ base[2])
        corners = (lines[:, None] + along[:, :, None] * base[2]).reshape(-1, 3)
        return Tool(
            np.concatenate([swept.normals, ends]), np.concatenate([swept.offsets, offsets]), swept.fans, corners
        )


def upright(corners: Floats, low: float, high: float) -> Tool:
    """A convex outline (m, 2) in x and y, from one height to another."""
    ends = np.array([[0.0, 0.0, -1.0], [0.0, 0.0, 1.0]])
    return Section.of(corners).between(np.eye(3), np.zeros(3), ends, np.array([[0.0, 0.0, low], [0.0, 0.0, high]]))


def box(low: Floats, high: Floats) -> Tool:
    """A box by its lowest and highest corners."""
    corners = np.where(np.indices((2, 2, 2)).reshape(3, 8).T, high, low)
    return Tool(np.concatenate([-np.eye(3), np.eye(3)]), np.concatenate([-low, high]), corners=corners)


def revolved(profile: Floats, axis: Floats, centre: Floats, around: int) -> Tool:
    """A convex profile turned about an axis (3,) through ``centre``: points (m, 2) are (distance from the axis,
    height along it), from the lower end on the axis outwards and up."""
    helper = np.eye(3)[int(np.argmin(np.abs(axis)))]
    u = np.cross(axis, helper)
    u /= np.linalg.norm(u)
    step = 2 * math.pi / around
    # a facet between two meridians lies nearer to the axis than its corners do
    flat = profile * np.array([math.cos(step / 2), 1.0])
    run = np.diff(flat, axis=0)
    some = np.linalg.norm(run, axis=1) > 1e-12
    run, start, end = run[some], flat[:-1][some], flat[1:][some]
    normal = np.stack([run[:, 1], -run[:, 0]], axis=1) / np.linalg.norm(run, axis=1, keepdims=True)
    offset = (normal * start).sum(axis=1)
    meridian = np.arange(around)
    begin: Floats = np.linspace(0, 2 * math.pi, around, endpoint=False)

    def turned(angle: Floats) -> Floats:
        return np.asarray(np.cos(angle)[:, None] * u + np.sin(angle)[:, None] * np.cross(axis, u))

    out = turned(begin + step / 2)
    world = (normal[:, None, :1] * out[None] + normal[:, None, 1:] * axis).reshape(-1, 3)
    middle = np.array([0.0, (profile[0, 1] + profile[-1, 1]) / 2])
    inside, rows = centre + middle[1] * axis, len(run)
    low, high = (np.repeat(angle, around) for angle in _seen(start - middle, end - middle))
    fans = (
        Fan(inside, u, np.cross(axis, u), np.tile(begin, rows), np.tile(begin + step, rows)),
        Fan(inside, np.tile(out, (rows, 1)), axis, low, high, np.tile(meridian, rows)),
    )
    corners = (profile[:, None, :1] * turned(begin)[None] + profile[:, None, 1:] * axis).reshape(-1, 3) + centre
    return Tool(world, np.repeat(offset, around) + world @ centre, fans, corners)


def cap(radius: float, depth: float, rise: Floats, rim: Floats) -> Tool:
    """The lower part of a sphere that reaches ``depth`` below ``rim``, the point above its lowest: planes that touch
    it, spread evenly, none farther than ``FACET`` from it."""
    step = math.sqrt(2) * math.acos(radius / (radius + FACET))
    end = math.acos(max((radius - depth - CLEAR) / radius, 0.0))
    helper = np.eye(3)[int(np.argmin(np.abs(rise)))]
    u = np.cross(rise, helper)
    normals = [-rise[None]]
    for k in range(1, math.ceil(end / step) + 1):
        lean = k * step
        angle = np.arange(n := max(math.ceil(2 * math.pi * math.sin(lean) / step), 6)) * (2 * math.pi / n)
        out = np.cos(angle)[:, None] * u + np.sin(angle)[:, None] * np.cross(rise, u)
        normals.append(math.sin(lean) * out - math.cos(lean) * rise)
    every = np.concatenate(normals)
    return Tool(every, radius + every @ (rim + (radius - depth) * rise))


def round_profile(radius: float, depth: float) -> Floats:
    """Section of a round-nose bit, anticlockwise: (across, above the surface). Straight walls above its middle."""
    n = facets(radius)
    angle = math.pi + np.arange(n // 2 + 1) * (2 * math.pi / n)
    arc = np.stack([radius * np.cos(angle), radius - depth + radius * np.sin(angle)], axis=1)
    arc[[0, -1], 0] = -radius, radius
    top = max(CLEAR, radius - depth + CLEAR)
    return np.concatenate([arc, [[radius, top], [-radius, top]]])


def vee_profile(angle: float, depth: float) -> Floats:
    """Section of a vee bit with this angle between its flanks, degrees."""
    half = (depth + CLEAR) * math.tan(math.radians(angle) / 2)
    return np.array([[0.0, -depth], [half, CLEAR], [-half, CLEAR]])


def run_along(path: Floats, profile: Floats, surface: float, up: float, closed: bool = False) -> list[Tool]:
    """A bit drawn along a path (n, 2) with its profile upright on the surface at this height. ``up`` is 1 where the
    surface is a top, −1 where it is an underside. Ends and sharp corners are round, as the turning bit leaves them."""
    points = np.concatenate([path, np.full((len(path), 1), surface)], axis=1)
    ends = np.roll(points, -1, axis=0) if closed else points[1:]
    starts = points if closed else points[:-1]
    way = (ends - starts) / np.linalg.norm(ends - starts, axis=1, keepdims=True)
    rise, section = np.array([0.0, 0.0, up]), Section.of(profile)
    tools: list[Tool] = []
    for i, along in enumerate(way):
        base = np.stack([np.cross(along, rise), rise, along])
        before = way[i - 1] if closed or i else None
        after = way[(i + 1) % len(way)] if closed or i + 1 < len(way) else None
        normals = np.stack([-_mitre(before, along), _mitre(after, along)])
        tools.append(section.between(base, starts[i], normals, np.stack([starts[i], ends[i]])))
    half = _right_half(profile)
    around = facets(float(profile[:, 0].max()))
    for i, point in enumerate(points):
        inner = closed or 0 < i < len(points) - 1
        if inner and _bend(way[i - 1], way[i % len(way)]) < SMOOTH:
            continue
        tools.append(revolved(half, rise, point, around))
    return tools


def _right_half(profile: Floats) -> Floats:
    """The part of a symmetric profile right of its axis, from the lowest point upwards."""
    lowest = int(np.argmin(profile[:, 1]))
    turned = np.roll(profile, -lowest, axis=0)
    half = turned[turned[:, 0] > -1e-9]
    half[0, 0] = 0.0
    return np.asarray(half)


def _mitre(other: Floats | None, along: Floats) -> Floats:
    """Normal of the plane that ends a run where another joins it: halving a gentle bend, else square."""
    if other is None or _bend(other, along) >= SMOOTH:
        return along
    middle = other + along
    return np.asarray(middle / np.linalg.norm(middle))


def _bend(one: Floats, other: Floats) -> float:
    return math.acos(max(-1.0, min(1.0, float(one @ other))))
