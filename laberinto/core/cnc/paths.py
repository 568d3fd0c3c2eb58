"""Paths along contours: grooves, outlines with tabs, pockets, notches, channels, chamfers and round-overs."""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterator
from dataclasses import replace

import numpy as np
import shapely

from ..geometry.outlines import rounded_rectangle
from ..solid import Floats
from ..stages import Ease, Groove, Inlay, Notch, Shape, Well
from ..stages.ease import Edge
from ..stages.groove import Bit, Corners
from ..stages.groove import Path as Run
from ..stages.shape import Outline
from .gcode import Cut
from .job import THROUGH, Job, depths
from .moves import Contour, Path, Point, Segment, circle, length, polyline, rings, rounded
from .tools import Tool, ToolKind, fitting

SMOOTH = 32
"""Segments of a quarter circle where shapely rounds a corner."""


def laps(job: Job, path: Path, contour: Contour, bottom: float, bite: float, *, from_: float = 0.0) -> None:
    """Down along a closed contour without plunging: round and round, each lap a pass deeper, and once more level."""
    path.over(*contour[0].start)
    path.down(from_)
    last = from_
    for z in depths(from_, bottom, bite):
        path.follow(contour, last, z)
        last = z
    path.follow(contour, bottom, bottom)


def groove(job: Job) -> list[Cut]:
    """With the very bit of the plan: its profile is the groove's."""
    stage = job.stage
    assert isinstance(stage, Groove)
    if stage.bit is Bit.VEE:
        tool = next((t for t in job.tools if t.kind is ToolKind.VEE and abs(t.angle - stage.angle) < 0.01), None)
        tool = tool or fitting((), ToolKind.VEE)
    else:
        tool = fitting(job.tools, ToolKind.BALL, exactly=stage.width)
    path, bite = job.path(tool), job.goes(tool).depth
    if stage.path is Run.RUNS:
        for run in stage.runs:
            line = polyline(job.points(np.array(run) + job.low[:2]), closed=False)
            path.over(*line[0].start)
            path.down(0.0)
            last = 0.0
            for z in depths(0.0, -stage.depth, bite):
                path.follow(line, last, z)
                line, last = tuple(s.reversed() for s in reversed(line)), z
            path.follow(line, last, last)
            path.up()
    else:
        laps(job, path, job.way_round(_ring(job, stage), outside=False), -stage.depth, bite)
    return [job.cut(f"Groove, {stage.depth:g} mm deep", tool, path)]


def _ring(job: Job, stage: Groove) -> Contour:
    wide, long = (float(v) for v in job.size[:2])
    if stage.path is Run.CIRCLE:
        return circle(wide / 2, long / 2, min(wide, long) / 2 - stage.inset)
    radius = 0.0 if stage.corners is Corners.INSIDE else stage.bend(job.low, job.high)
    return rounded((stage.inset, stage.inset), (wide - stage.inset, long - stage.inset), radius)


def pocket(job: Job, ring: Floats, bottom: float, title: str, most: float) -> Cut:
    """All within an outline, ring by ring from the inside out, pass by pass; ``most`` is the widest tool that its
    corners allow."""
    tool = fitting(job.tools, ToolKind.FLAT, most=most)
    path, bite = job.path(tool), job.goes(tool).depth
    shape, step = shapely.Polygon(ring), tool.diameter * job.setting.overlap
    inner: list[Contour] = []
    inset = tool.radius
    while not (within := shape.buffer(-inset, join_style="mitre", quad_segs=SMOOTH)).is_empty:
        inner += list(rings(within))
        inset += step
    if not inner:
        raise ValueError(f"{title.lower()} is too narrow for the {tool.name}")
    last = 0.0
    for z in depths(0.0, bottom, bite):
        for number, contour in enumerate(reversed(inner)):
            way = job.way_round(contour, outside=False)
            if number == 0:
                path.over(*way[0].start)
                path.down(last)
                path.follow(way, last, z)
            else:
                path.line(*way[0].start, z)
            path.follow(way, z, z)
        last = z
    return job.cut(title, tool, path)


def well(job: Job) -> list[Cut]:
    """A pocket with a flat floor."""
    stage = job.stage
    assert isinstance(stage, Well)
    ring = np.array(job.points(stage.outline(job.low, job.high)))
    return [pocket(job, ring, -stage.depth, f"Well, {stage.depth:g} mm deep", 2 * stage.radius)]


def notch(job: Job) -> list[Cut]:
    """Through the board at its edges, from beyond the edge."""
    stage = job.stage
    assert isinstance(stage, Notch)
    out = []
    for side in stage.sides.each:
        axis, run = side.axis, 1 - side.axis
        near, far = np.zeros(2), np.zeros(2)
        middle = float(job.size[run]) / 2 + stage.shift
        near[run], far[run] = middle - stage.width / 2, middle + stage.width / 2
        edge = float(job.size[axis]) if side.outwards > 0 else 0.0
        beyond = stage.radius + 15.0
        inner, outer = edge - side.outwards * stage.depth, edge + side.outwards * beyond
        near[axis], far[axis] = min(inner, outer), max(inner, outer)
        ring = rounded_rectangle(near, far, min(stage.radius, stage.width / 2, stage.depth))
        points = np.array([(job.x(float(x)), float(y)) for x, y in ring])
        bottom = -job.table - THROUGH
        out.append(pocket(job, points, bottom, f"Notch, {side.value} edge", max(2 * stage.radius, 3.0)))
    return out


def inlay(job: Job) -> list[Cut]:
    """Channels from beyond one edge to beyond the other; the strips are planed to them."""
    stage = job.stage
    assert isinstance(stage, Inlay)
    across = 1 - stage.along.axis
    run, out = float(job.size[1 - across]), []
    for number, (at, wide) in enumerate(zip(stage.at, job.widths, strict=False), 1):
        box = np.array(
            [[at - wide / 2, -15], [at + wide / 2, -15], [at + wide / 2, run + 15], [at - wide / 2, run + 15]]
        )
        ring = box if across == 0 else box[:, ::-1]
        out.append(pocket(job, ring, -stage.depth, f"Channel {number}", wide))
    return out


def outline(job: Job) -> list[Cut]:
    """Outside the outline, right through, with tabs that hold it to the last."""
    stage = job.stage
    assert isinstance(stage, Shape)
    tool = fitting(job.tools, ToolKind.FLAT, most=12.0)
    path, bite = job.path(tool), job.goes(tool).depth
    contour = job.way_round(_around(job, stage, tool.radius), outside=True)
    bottom, keeps = -job.table - THROUGH, -job.table + job.setting.tab_height
    tabs: dict[Point, None] = {}
    laps(job, path, contour, max(keeps, bottom), bite, from_=job.top)
    for z in depths(keeps, bottom, bite):
        for part, held in _between_tabs(contour, job.setting.tabs, job.setting.tab_length + tool.diameter):
            height = keeps if held else z
            if held:
                tabs[part[0].at(length(part) / 2) if len(part) == 1 else part[0].end] = None
            if abs(path.moves[-1].z - height) > 1e-9:
                path.down(height)
            path.follow(part, height, height)
    cut = job.cut(f"Outline, {job.setting.tabs} tabs {job.setting.tab_height:g} mm high", tool, path)
    return [replace(cut, tabs=tuple(tabs))]


def _around(job: Job, stage: Shape, beside: float) -> Contour:
    """The outline and ``beside`` mm farther out, anticlockwise; arcs stay arcs where they are arcs."""
    wide, long = (float(v) for v in job.size[:2])
    if stage.outline is Outline.CIRCLE:
        return circle(wide / 2, long / 2, (stage.diameter or min(wide, long)) / 2 + beside)
    if stage.outline is Outline.ROUNDED:
        radius = min(stage.radius, min(wide, long) / 2)
        return rounded((-beside, -beside), (wide + beside, long + beside), radius + beside)
    ring = shapely.Polygon(job.points(stage.corners(job.low, job.high)))
    return next(rings(ring.buffer(beside, quad_segs=SMOOTH)))


def _between_tabs(contour: Contour, count: int, wide: float) -> Iterator[tuple[tuple[Segment, ...], bool]]:
    """A contour in parts, each with whether a tab stays there; tabs lie evenly, the first half a share along."""
    whole = length(contour)
    if count < 1 or count * wide >= whole:
        yield contour, False
        return
    cuts = sorted(
        {0.0, whole} | {whole * (k + 0.5) / count + half * wide / 2 for k in range(count) for half in (-1, 1)}
    )
    for number, (first, last) in enumerate(itertools.pairwise(cuts)):
        yield _part(contour, first, last), number % 2 == 1


def _part(contour: Contour, first: float, last: float) -> tuple[Segment, ...]:
    out, gone = [], 0.0
    for segment in contour:
        begin, end = max(first - gone, 0.0), min(last - gone, segment.length)
        if end > begin + 1e-9:
            out.append(segment.part(begin, end))
        gone += segment.length
    return tuple(out)


def ease(job: Job) -> list[Cut]:
    """The upper edge: a chamfer with a V, a round-over in passes of a ball."""
    stage = job.stage
    assert isinstance(stage, Ease)
    if not stage.top:
        return []
    if stage.form is Edge.CHAMFER:
        right = [tool for tool in job.tools if tool.kind is ToolKind.VEE and abs(tool.angle - 90) < 0.01]
        tool = fitting(right, ToolKind.VEE)
        below = min(1.0, tool.radius - stage.size)
        if below <= 0:
            raise ValueError(f"a chamfer of {stage.size:g} mm is wider than the {tool.name}")
        path = job.path(tool)
        contour = job.way_round(_edge(job, below), outside=True)
        for z in depths(0.0, -stage.size - below, job.goes(tool).depth):
            path.over(*contour[0].start)
            path.down(z)
            path.follow(contour, z, z)
        return [job.cut(f"Chamfer, {stage.size:g} mm", tool, path)]
    tool = fitting(job.tools, ToolKind.BALL)
    path, turns = job.path(tool), _turns(stage.size, tool, job.setting.ridge)
    for angle in turns:
        reach = (stage.size + tool.radius) * math.sin(angle) - stage.size
        z = (stage.size + tool.radius) * math.cos(angle) - stage.size - tool.radius
        contour = job.way_round(_edge(job, reach), outside=True)
        path.over(*contour[0].start)
        path.down(z)
        path.follow(contour, z, z)
    return [job.cut(f"Round-over, {stage.size:g} mm in {len(turns)} passes", tool, path)]


def _turns(size: float, tool: Tool, ridge: float) -> list[float]:
    """Angles from level to plumb at which a ball touches a round-over, so near that no higher ridge stays between:
    two touches an angle β apart leave (R + r)(1 − cos β/2) at most."""
    step = 2 * math.acos(max(1 - ridge / (size + tool.radius), 0.0))
    count = max(math.ceil(math.pi / 2 / step), 2)
    return [math.pi / 2 * k / count for k in range(count + 1)]


def _edge(job: Job, beside: float) -> Contour:
    """Along the board's edge, so far outside it (inside below 0), anticlockwise."""
    ring = shapely.Polygon(job.points(job.outline)) if len(job.outline) else None
    if ring is None:
        wide, long = (float(v) for v in job.size[:2])
        return rounded((-beside, -beside), (wide + beside, long + beside), max(beside, 0.0))
    return next(rings(ring.buffer(beside, quad_segs=SMOOTH)))
