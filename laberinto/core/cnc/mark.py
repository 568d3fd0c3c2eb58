"""The maker's mark in the middle of a face: single lines, cut by a V bit."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np
import shapely

from ..errors import InputError
from ..solid import Floats
from .gcode import Cut
from .job import Job
from .lettering import Stroke, strokes
from .moves import polyline
from .surface import HeightMap
from .tools import Tool, ToolKind, fitting

DEPTH = 0.8
"""Of a line, mm."""


@dataclass(frozen=True, slots=True)
class Mark:
    """Lines as they lie on the machine (mm), and the bit that cuts them."""

    lines: tuple[Stroke, ...]
    tool: Tool

    @classmethod
    def of(cls, job: Job) -> Mark:
        """The text of a job. Raises InputError where it has a sign that cannot be engraved, or is wider than the board,
        and ToolError where there is no V bit."""
        drawn, wide = strokes(job.text, job.capital)
        if wide > float(job.size[0]):
            raise InputError(
                "The mark is {wide} wide, and the board {board}. Take fewer letters, or lower capitals in the shop.",
                "text", wide=wide, board=float(job.size[0]),
            )  # fmt: skip
        left, low = float(job.size[0]) / 2 - wide / 2, float(job.size[1]) / 2 - job.capital / 2
        placed = tuple([(left + x, low + y) for x, y in stroke] for stroke in drawn)
        return cls(placed, fitting(job.tools, ToolKind.VEE))

    def cut(self, job: Job) -> Cut:
        """The bit along its lines."""
        path = job.path(self.tool)
        for stroke in self.lines:
            line = polyline(stroke, closed=False)
            path.over(*line[0].start)
            path.down(-DEPTH)
            path.follow(line, -DEPTH, -DEPTH)
        return job.cut(f"Mark: {job.text}", self.tool, path)

    def moved(self, by: Floats) -> Mark:
        """The same elsewhere on the board."""
        dx, dy = (float(v) for v in by)
        return replace(self, lines=tuple([(x + dx, y + dy) for x, y in stroke] for stroke in self.lines))

    def let_into(self, planned: HeightMap) -> None:
        """Take the V along each line off a map: as deep in its middle as the bit goes, and less by what the bit's edge
        rises towards its sides."""
        lines = shapely.MultiLineString(self.lines)
        half = DEPTH * self.tool.radius / float(self.tool.rise(np.array([self.tool.radius]))[0])
        (left, low, right, high), step = lines.buffer(half).bounds, planned.step
        rows, columns = planned.z.shape
        first, last = max(int((left - planned.left) / step), 0), min(int((right - planned.left) / step) + 1, columns)
        near, far = max(int((low - planned.low) / step), 0), min(int((high - planned.low) / step) + 1, rows)
        xs = planned.left + (np.arange(first, last) + 0.5) * step
        ys = planned.low + (np.arange(near, far) + 0.5) * step
        away = shapely.distance(lines, shapely.points(*np.meshgrid(xs, ys)))
        z = self.tool.rise(np.asarray(away)) - DEPTH
        here = planned.z[near:far, first:last]
        here[z < 0] = np.minimum(here[z < 0], z[z < 0])
