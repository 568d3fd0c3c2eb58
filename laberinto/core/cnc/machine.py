"""A simulated router: takes commands one by one, carves a height map, and stops where a real one would break things."""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field
from enum import StrEnum
from typing import NamedTuple

import numpy as np
import shapely

from ..solid import Floats
from .gcode import Command
from .moves import Move
from .surface import HeightMap, Map
from .tools import Tool, ToolKind

CHORD, SHORT, LONG = 0.01, 0.2, 30.0
"""An arc is gone along in chords that lie so near to it; what slopes under a tip that is flat with round corners in
steps of ``SHORT``, all else in pieces of ``LONG`` at most, mm."""

TOUCH = 0.02
"""Wood that stands no farther (mm) above a rapid tool than this is rounding."""


Place = tuple[float, float, float]
"""x, y and z, mm."""


class Why(StrEnum):
    """Why the machine stops."""

    RAPID = "rapid"
    CLAMP = "clamp"
    HOLDER = "holder"
    TRAVEL = "travel"
    SPOILBOARD = "spoilboard"
    SPINDLE = "spindle"
    TOOL = "tool"

    @property
    def words(self) -> str:
        return {
            "rapid": "a rapid move runs through wood", "clamp": "the tool or its holder runs into a clamp",
            "holder": "the holder runs into wood: the tool is too short for this depth",
            "travel": "this is outside the machine’s travel", "spoilboard": "this is below the spoilboard’s allowance",
            "spindle": "it would cut with the spindle off", "tool": "there is no such tool in the table",
        }[self.value]  # fmt: skip


class StoppedError(Exception):
    """The machine stopped, at a line of the program, before the move was made."""

    def __init__(self, line: int, why: Why, more: str = "") -> None:
        super().__init__(f"Line {line}: {why.words}{f' ({more})' if more else ''}.")
        self.line, self.why = line, why


@dataclass(frozen=True, slots=True)
class Clamp:
    """What holds the board down: a box over it, mm; ``height`` is over the finished face."""

    left: float
    low: float
    right: float
    high: float
    height: float


@dataclass(frozen=True, slots=True)
class Bed:
    """The machine: how far it travels in x, y and z (mm, from and to, over the zero of the board), how deep it may go
    below the board, how it accelerates (mm/s²) and how fast it moves through the air (mm/min)."""

    x: tuple[float, float] = (-100.0, 700.0)
    y: tuple[float, float] = (-100.0, 700.0)
    z: tuple[float, float] = (-80.0, 80.0)
    below: float = 1.0
    acceleration: float = 400.0
    rapid: float = 5000.0


class _Near(NamedTuple):
    """A window of the map: how far its points lie ``along`` a line that is ``far`` long, and ``beside`` it, mm."""

    window: Map
    along: Floats
    beside: Floats
    far: float

    def out(self) -> Floats:
        """How far each point lies from the line, mm."""
        past = self.along - self._within(self.along)
        return np.asarray(np.sqrt(past * past + self.beside * self.beside))

    def depth(self, tool: Tool, begin: float, end: float) -> Floats | float:
        """How low the tip comes at each point where it goes evenly from one height to another, mm."""
        if begin == end or not self.far:
            return min(begin, end)
        at = self.along
        if tool.kind is ToolKind.FLAT:  # it is over a point for a chord's length: at one end of that it is lowest
            chord = np.sqrt(np.maximum(tool.radius**2 - self.beside * self.beside, 0.0))
            at = at + chord if end < begin else at - chord
        return begin + (end - begin) / self.far * self._within(at)

    def _within(self, along: Floats) -> Floats:
        return np.minimum(np.maximum(along, 0.0), self.far)


@dataclass
class Machine:
    """A board on the bed. ``wood`` is carved as commands come; the spoilboard begins ``thickness`` mm below zero."""

    wood: HeightMap
    tools: Mapping[int, Tool]
    thickness: float
    clamps: tuple[Clamp, ...] = ()
    bed: Bed = field(default_factory=Bed)
    at: Place = (0.0, 0.0, 60.0)
    tool: Tool | None = None
    spindle: int = 0
    seconds: float = 0.0
    done: bool = False
    _top: float = field(init=False)
    _speed: float = 0.0
    _way: Place = (0.0, 0.0, 0.0)

    def __post_init__(self) -> None:
        self._top = float(self.wood.z.max())

    def take(self, command: Command) -> None:
        """Do one command. Raises StoppedError before anything is touched that must not be."""
        if command.tool is not None:
            self.tool = self.tools.get(command.tool)
            if self.tool is None:
                raise StoppedError(command.line, Why.TOOL, f"T{command.tool}")
        if command.spindle is not None:
            self.spindle = command.spindle
        if command.move is not None:
            self._go(command.line, command.move)
        self.done = self.done or command.end

    def run(self, commands: Iterable[Command]) -> None:
        """All of them."""
        for command in commands:
            self.take(command)

    def _go(self, line: int, move: Move) -> None:
        bed = self.bed
        for axis, value, (low, high) in (("X", move.x, bed.x), ("Y", move.y, bed.y), ("Z", move.z, bed.z)):
            if not low - 1e-6 <= value <= high + 1e-6:
                raise StoppedError(line, Why.TRAVEL, f"{axis}{value:g}, it goes from {low:g} to {high:g}")
        if move.z < -self.thickness - self.bed.below - 1e-6:
            raise StoppedError(line, Why.SPOILBOARD, f"Z{move.z:g}")
        if not move.rapid and self.spindle == 0:
            raise StoppedError(line, Why.SPINDLE)
        if self.tool is None and move.z < self._top:
            raise StoppedError(line, Why.TOOL, "none is in the spindle")
        legs = list(self._legs(move))
        start = self.at
        for end in legs:
            self._leg(line, start, end, rapid=move.rapid)
            start = end
        self._time(move, legs)
        self.at = (move.x, move.y, move.z)

    def _legs(self, move: Move) -> Iterable[Place]:
        """The ends of the straight pieces that a move is made of."""
        x, y, z = self.at
        if move.centre is None:
            yield move.x, move.y, move.z
            return
        cx, cy = move.centre
        radius = math.dist((x, y), move.centre)
        begin = math.atan2(y - cy, x - cx)
        turn = math.atan2(move.y - cy, move.x - cx) - begin
        if move.clockwise:
            turn -= 2 * math.pi if turn >= -1e-9 else 0.0
        else:
            turn += 2 * math.pi if turn <= 1e-9 else 0.0
        count = max(math.ceil(abs(turn) / (2 * math.acos(max(1 - CHORD / max(radius, CHORD), 0.0)) + 1e-9)), 2)
        for k in range(1, count):
            angle = begin + turn * k / count
            yield cx + radius * math.cos(angle), cy + radius * math.sin(angle), z + (move.z - z) * k / count
        yield move.x, move.y, move.z

    def _leg(self, line: int, start: Place, end: Place, *, rapid: bool) -> None:
        tool = self.tool
        low = min(start[2], end[2])
        if tool is None:
            return
        self._clear_of_clamps(line, start, end, tool, low)
        if low + 1e-9 >= self._top:
            return
        far, fall = math.dist(start[:2], end[:2]), abs(end[2] - start[2])
        slopes = tool.kind is ToolKind.BOWL and fall * (tool.radius - tool.corner) > CHORD * max(far, 1e-9)
        count = max(math.ceil(far / (SHORT if slopes else LONG)), 1)
        a, b = np.array(start), np.array(end)
        for k in range(count):
            self._sweep(line, a + (b - a) * k / count, a + (b - a) * (k + 1) / count, tool, rapid)

    def _sweep(self, line: int, a: Floats, b: Floats, tool: Tool, rapid: bool) -> None:
        lowest = min(a[2], b[2])
        near = self._near(a, b, tool.radius)
        if near is not None:
            out = near.out()
            edge = (near.depth(tool, a[2], b[2]) + tool.rise(out)).astype(np.float32)
            edge[out > tool.radius] = np.inf
            if rapid and (near.window > edge + TOUCH).any():
                raise StoppedError(line, Why.RAPID)
        if lowest + tool.reach < self._top:
            held = self._near(a, b, tool.holder / 2)
            if held is not None and (held.window[held.out() <= tool.holder / 2] > lowest + tool.reach + TOUCH).any():
                raise StoppedError(line, Why.HOLDER)
        if near is not None and not rapid:
            np.minimum(near.window, edge, out=near.window)

    def _near(self, a: Floats, b: Floats, radius: float) -> _Near | None:
        """The part of the map within a radius of a line; None beside the map."""
        wood = self.wood
        step, (rows, columns) = wood.step, wood.z.shape
        left = max(int((min(a[0], b[0]) - radius - wood.left) / step), 0)
        right = min(int((max(a[0], b[0]) + radius - wood.left) / step) + 1, columns)
        low = max(int((min(a[1], b[1]) - radius - wood.low) / step), 0)
        high = min(int((max(a[1], b[1]) + radius - wood.low) / step) + 1, rows)
        if left >= right or low >= high:
            return None
        x = (wood.left + (np.arange(left, right) + 0.5) * step - a[0])[None, :]
        y = (wood.low + (np.arange(low, high) + 0.5) * step - a[1])[:, None]
        far = math.hypot(b[0] - a[0], b[1] - a[1])
        window = wood.z[low:high, left:right]
        if far < 1e-9:  # straight up or down
            along, beside = np.broadcast_arrays(x, y)
            return _Near(window, along, beside, 0.0)
        dx, dy = (b[0] - a[0]) / far, (b[1] - a[1]) / far
        return _Near(window, x * dx + y * dy, x * dy - y * dx, far)

    def _clear_of_clamps(self, line: int, start: Place, end: Place, tool: Tool, low: float) -> None:
        for clamp in self.clamps:
            for radius, lowest in ((tool.radius, low), (tool.holder / 2, low + tool.reach)):
                if lowest < clamp.height and _distance(start, end, clamp) < radius:
                    raise StoppedError(line, Why.CLAMP, f"at {clamp.left:g} × {clamp.low:g}")

    def _time(self, move: Move, legs: list[Place]) -> None:
        """How long it takes: it speeds up and slows down evenly, at a corner to what the turn allows."""
        feed = (self.bed.rapid if move.rapid else min(move.feed, self.bed.rapid)) / 60
        at = self.at
        for leg in legs:
            far = math.dist(at, leg)
            if far < 1e-9:
                continue
            way = ((leg[0] - at[0]) / far, (leg[1] - at[1]) / far, (leg[2] - at[2]) / far)
            straight = max(sum(p * q for p, q in zip(way, self._way, strict=True)), 0.0)
            begin = min(self._speed, feed) * straight
            self.seconds += _lasts(far, begin, feed, self.bed.acceleration)
            self._speed = min(feed, math.sqrt(begin * begin + 2 * self.bed.acceleration * far))
            self._way, at = way, leg


def _lasts(far: float, begin: float, feed: float, acceleration: float) -> float:
    """Seconds over a distance that begins at one speed and is gone at the feed as soon as it is reached."""
    speeding = (feed * feed - begin * begin) / (2 * acceleration)
    if speeding >= far:
        return (math.sqrt(begin * begin + 2 * acceleration * far) - begin) / acceleration
    return (feed - begin) / acceleration + (far - speeding) / feed


def _distance(a: Place, b: Place, clamp: Clamp) -> float:
    """From a line seen from above to a clamp, mm."""
    line = shapely.LineString([a[:2], b[:2]]) if math.dist(a[:2], b[:2]) > 1e-9 else shapely.Point(a[:2])
    return float(line.distance(shapely.box(clamp.left, clamp.low, clamp.right, clamp.high)))
