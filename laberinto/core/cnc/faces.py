"""Paths over a face: flattening in rows, and hollows row by row."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from ..stages import Flatten, Hollow
from ..stages.hollow import Form
from .gcode import Cut
from .job import Job, depths
from .moves import Path, circle
from .tools import ToolKind, fitting

RINGS = 8
"""Along the rim of a dish."""

LEAST_STEP = 0.4
"""Rows of a hollow lie no nearer, mm."""


def flatten(job: Job) -> list[Cut]:
    """Rows along the longer side, there and back, from beyond the wood to beyond it, pass by pass: from the highest
    spot there is down to the finished face."""
    assert isinstance(job.stage, Flatten)
    tool = fitting(job.tools, ToolKind.FLAT)
    path, step = job.path(tool), tool.diameter * 0.6
    first = job.highest
    wide, long = (float(v) for v in job.size[:2])
    along_y = long >= wide
    short, run, beyond = min(wide, long), max(wide, long), tool.radius + 2.0
    count = max(math.ceil((short - step) / step) + 1, 1)
    rows = np.linspace(step / 2, short - step / 2, count) if count > 1 else np.array([short / 2])
    bite = min(job.goes(tool).depth, 1.5)
    for z in depths(first, 0.0, bite):
        ends = (-beyond, run + beyond)
        for number, row in enumerate(rows.tolist()):
            begin, end = ends if number % 2 == 0 else ends[::-1]
            a, b = ((row, begin), (row, end)) if along_y else ((begin, row), (end, row))
            if number == 0:
                path.over(*a)
                path.down(z)
            else:
                path.line(a[0], a[1], z)
            path.line(b[0], b[1], z)
    return [job.cut(f"Flatten the face, {first:g} mm off in {len(depths(first, 0.0, bite))} passes", tool, path)]


def hollow(job: Job) -> list[Cut]:
    """A ball goes over it row by row, its middle on a surface that lies its radius within the hollow's; deep hollows in
    layers first."""
    stage = job.stage
    assert isinstance(stage, Hollow)
    tool = fitting(job.tools, ToolKind.BALL)
    r, ball = stage.radius, tool.radius
    if ball >= r:
        raise ValueError(f"a hollow of radius {r:g} is too sharp for the {tool.name}")
    wide, long = (float(v) for v in job.size[:2])
    cx, cy = job.x(wide / 2 + stage.offset[0]), long / 2 + stage.offset[1]
    axis = r - stage.depth  # how far the middle of the sphere or cylinder lies over the face
    # rows as far apart as the ridge between two touches of the ball allows
    step = max(2 * math.sqrt(max(2 * ball * job.setting.ridge - job.setting.ridge**2, 0.0)), LEAST_STEP)
    path, how = job.path(tool), job.goes(tool)
    for layer in depths(0.0, -stage.depth, how.depth):
        rough = layer > -stage.depth + 1e-9
        dish = _Dish(stage, (cx, cy), r - ball, axis, ball, layer)
        _rows(path, dish, (wide, long), step * (3 if rough else 1))
    if stage.form is Form.SPHERE:
        _rim(path, dish, step)
    return [job.cut(f"Hollow, {stage.depth:g} mm deep", tool, path)]


@dataclass(frozen=True, slots=True)
class _Dish:
    """A layer of a hollow: where its middle lies, how far the ball's middle stays from it (``inner``), how high it lies
    over the face (``axis``), the ball's radius, and how deep the layer goes, mm."""

    stage: Hollow
    middle: tuple[float, float]
    inner: float
    axis: float
    ball: float
    layer: float

    def tip(self, x: float, y: float) -> float:
        """How deep the ball's tip may go beside the middle."""
        form = self.stage.form
        away = x * x + y * y if form is Form.SPHERE else x * x if form is Form.CYLINDER_ALONG else y * y
        return min(max(self.axis - math.sqrt(max(self.inner**2 - away, 0.0)) - self.ball, self.layer), 0.0)

    def ys(self, half: float) -> list[float]:
        """Where along a row the ball is told to go: a line between two lies within a hundredth of the surface."""
        if self.stage.form is Form.CYLINDER_ALONG:
            return [-half, half]
        count = max(math.ceil(2 * half / math.sqrt(8 * self.inner * 0.01)), 1)
        return [float(y) for y in np.linspace(-half, half, count + 1)]


def _rows(path: Path, dish: _Dish, size: tuple[float, float], step: float) -> None:
    """Row by row, there and back."""
    cx, cy = dish.middle
    # the tip is at most as high as the face where its middle is ``axis − ball`` below the sphere's
    reach = math.sqrt(max(dish.inner**2 - (dish.axis - dish.ball) ** 2, 0.0))
    past = dish.ball + 1
    across, along = {
        Form.SPHERE: (reach, reach), Form.CYLINDER_ALONG: (reach, size[1] / 2 + past),
        Form.CYLINDER_ACROSS: (size[0] / 2 + past, reach),
    }[dish.stage.form]  # fmt: skip
    count = max(math.ceil(2 * across / step), 2)
    for number, x in enumerate(np.linspace(-across, across, count + 1).tolist()):
        half = along if dish.stage.form is not Form.SPHERE else math.sqrt(max(reach**2 - x * x, 0.0))
        ys = dish.ys(half)
        for at, y in enumerate(ys if number % 2 == 0 else ys[::-1]):
            if number == at == 0:
                path.over(cx + x, cy + y)
                path.down(dish.tip(x, y))
            else:
                path.line(cx + x, cy + y, dish.tip(x, y))


def _rim(path: Path, dish: _Dish, step: float) -> None:
    """Rings along the edge of a dish, where rows end too far from each other: the ball touches the rim in the first."""
    cx, cy = dish.middle
    r = dish.inner + dish.ball
    edge = math.acos(min(dish.axis / r, 1.0))
    for number in range(RINGS):
        angle = edge - number * step / r
        if angle <= step / r:
            return
        ring = circle(cx, cy, dish.inner * math.sin(angle))
        z = dish.axis - dish.inner * math.cos(angle) - dish.ball
        if number == 0:
            path.over(*ring[0].start)
            path.down(z)
        else:
            path.line(*ring[0].start, z)
        path.follow(ring, z, z)
