"""Lists that are set on a drawing: widths of a rip, corners of a section or an outline, runs of a groove, places of
inlaid strips. What the drawing shows, and what a drag, a new point or a point taken out does to the list."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from enum import StrEnum
from itertools import pairwise
from typing import Any

import numpy as np

from ..errors import InputError
from ..geometry.faces import Side, face_of
from ..plan.model import Plan
from ..plan.simulate import Simulation, attempt
from ..solid import Cells
from ..stages import Groove, Inlay, Profile, Resaw, Rip, Sawing, Shape, Stage
from ..stages.inlay import Along
from ..stages.rip import LEAST_SLICE
from ..units import Lengths
from .model import Edit
from .parameters import put

Point = tuple[float, float]

TOGETHER = 0.6
"""A point lies opposite another when it is no further from there than this, mm."""

MOST_SNAPS = 160
"""Lines that a drag holds to, each way; with more of them it would hold everywhere."""

MOST_LINES = 40
"""Lines that a hand can tell apart on a drawing as wide as a column of fields; where there are more, they are typed."""

HELD = 0.06
"""A drag that ends this near a line (mm) was held there."""

INSIDE = 0.2
"""Where along a side a new run begins and ends, as a share."""


class Draws(StrEnum):
    """What a drawing is drawn on with."""

    OUTLINE = "outline"
    RUNS = "runs"
    UPRIGHT = "upright"
    LEVEL = "level"


@dataclass(frozen=True, slots=True)
class Pad:
    """A list as it is drawn on a side of the piece it is for. Points run right and up from the lower left, mm; an
    outline is one closed run, runs are open, lines have a run of two points each."""

    field: str
    draws: Draws
    side: Side
    size: Point
    runs: tuple[tuple[Point, ...], ...]
    snaps: tuple[tuple[float, ...], tuple[float, ...]] = ((), ())


def _box(piece: Cells, side: Side) -> Point:
    width, length, thickness = (float(v) for v in piece.size())
    return (width, length) if side is Side.TOP else (width, thickness)


def _outline(name: str, side: Side, corners: Callable[[Any, Cells], Sequence[Sequence[float]]]) -> Callable[..., Pad]:
    def pad(stage: Stage, piece: Cells) -> Pad:
        found = tuple((float(x), float(y)) for x, y in corners(stage, piece))
        return Pad(name, Draws.OUTLINE, side, _box(piece, side), (found,))

    return pad


def _shape(stage: Shape, piece: Cells) -> Sequence[Sequence[float]]:
    """Its own corners, or those of the board."""
    width, length = _box(piece, Side.TOP)
    return stage.points or ((0, 0), (width, 0), (width, length), (0, length))


def _groove(stage: Groove, piece: Cells) -> Pad:
    return Pad("runs", Draws.RUNS, Side.TOP, _box(piece, Side.TOP), stage.runs)


def widths(stage: Sawing, piece: Cells) -> tuple[float, ...]:
    """What is cut from a piece in turn, mm, whether it was given as a list or as one width."""
    if stage.widths:
        return stage.widths
    _, cuts = stage.layout(piece)
    return tuple(float(b[0] - a[1]) for a, b in pairwise(cuts))


def _sawn(stage: Sawing, piece: Cells) -> Pad:
    """A line where each piece ends."""
    across, at = stage.axis == 0, stage.squaring
    side = Side.TOP if across and piece.on_end else Side.FRONT
    size, runs = _box(piece, side), []
    for width in widths(stage, piece):
        at += width
        runs.append(((at, 0.0), (at, size[1])) if across else ((0.0, at), (size[0], at)))
        at += stage.kerf
    return Pad("widths", Draws.UPRIGHT if across else Draws.LEVEL, side, size, tuple(runs))


def _inlay(stage: Inlay, piece: Cells) -> Pad:
    size, upright = _box(piece, Side.TOP), stage.along is Along.LENGTH
    runs = tuple(((at, 0.0), (at, size[1])) if upright else ((0.0, at), (size[0], at)) for at in stage.at)
    return Pad("at", Draws.UPRIGHT if upright else Draws.LEVEL, Side.TOP, size, runs)


PADS: dict[type[Stage], Callable[..., Pad]] = {
    Profile: _outline("points", Side.FRONT, lambda stage, piece: stage.corners(piece)),
    Shape: _outline("points", Side.TOP, _shape),
    Groove: _groove, Rip: _sawn, Resaw: _sawn, Inlay: _inlay,
}  # fmt: skip
"""The list that is drawn, by stage kind."""


def pad_of(plan: Plan, stage_id: str) -> tuple[Pad, Cells, Simulation] | None:
    """A stage's list as it is drawn on the first piece it takes, with that piece and the build; None where it has none,
    the wood never gets there, or there are more than ``MOST_LINES``."""
    stage = plan.stage(stage_id)
    draw = PADS.get(type(stage))
    if draw is None or stage.source is None:
        return None
    results, _ = attempt(plan)
    sim = Simulation.of(plan.upto(len(results)), results)
    if stage.source.partition(":")[0] not in {result.stage.id for result in results}:
        return None
    piece = sim.taken(stage.source)[0].at_origin()
    pad = draw(stage, piece)
    if pad.draws in (Draws.UPRIGHT, Draws.LEVEL) and len(pad.runs) > MOST_LINES:
        return None
    snaps = _snaps(piece, pad.side)
    return replace(pad, snaps=snaps), piece, sim


def _snaps(piece: Cells, side: Side) -> tuple[tuple[float, ...], tuple[float, ...]]:
    """Where joints, edges and the middle lie, each way."""
    face, size = face_of(piece, side), _box(piece, side)
    found = []
    for axis in (0, 1):
        at = np.unique(np.round(face.points[:, axis], 1))
        at = at if len(at) <= MOST_SNAPS else at[[0, -1]]
        mine = at if axis == 0 else size[1] - at  # pictures run down
        found.append(tuple(np.unique(np.round([*mine, size[axis] / 2], 1)).tolist()))
    return found[0], found[1]


def move(
    plan: Plan, stage_id: str, run: int, index: int, to: Point, lengths: Lengths, *, mirrored: bool = False
) -> Edit:
    """A point dragged to a place; ``mirrored`` takes along the one that lies opposite across the middle."""
    pad, piece = _pad(plan, stage_id)
    to = _to_step(pad, to, lengths)
    if pad.draws in (Draws.UPRIGHT, Draws.LEVEL):
        return _line_moved(plan, stage_id, pad, piece, run, to[pad.draws is Draws.LEVEL], lengths)
    runs = [list(points) for points in pad.runs]
    _there(runs, run, index)
    old = runs[run][index]
    runs[run][index] = to
    if mirrored:
        opposite = (pad.size[0] - old[0], old[1])
        for points in runs:
            for at, point in enumerate(points):
                if point != to and max(abs(point[0] - opposite[0]), abs(point[1] - opposite[1])) < TOGETHER:
                    points[at] = (round(pad.size[0] - to[0], 6), to[1])
    return _put(plan, stage_id, pad, runs, lengths)


def add(plan: Plan, stage_id: str, run: int, index: int, to: Point, lengths: Lengths) -> Edit:
    """A point put in behind another, a line put in, or a new run begun (``run`` beyond the last)."""
    pad, piece = _pad(plan, stage_id)
    to = _to_step(pad, to, lengths)
    if pad.draws in (Draws.UPRIGHT, Draws.LEVEL):
        return _line_added(plan, stage_id, piece, to[pad.draws is Draws.LEVEL], lengths)
    runs = [list(points) for points in pad.runs]
    if run >= len(runs):
        low, high = (lengths.nearest(pad.size[1] * share) for share in (INSIDE, 1 - INSIDE))
        runs.append([(to[0], low), (to[0], high)])
    else:
        _there(runs, run, index)
        runs[run].insert(index + 1, to)
    return _put(plan, stage_id, pad, runs, lengths)


def remove(plan: Plan, stage_id: str, run: int, index: int, lengths: Lengths) -> Edit:
    """A point taken out, with its run where one alone would be left; of a line, the pieces on both sides become one."""
    pad, piece = _pad(plan, stage_id)
    if pad.draws in (Draws.UPRIGHT, Draws.LEVEL):
        return _line_removed(plan, stage_id, pad, piece, run, lengths)
    runs = [list(points) for points in pad.runs]
    _there(runs, run, index)
    del runs[run][index]
    least = 3 if pad.draws is Draws.OUTLINE else 2
    if len(runs[run]) < least:
        if pad.draws is Draws.OUTLINE:
            raise InputError("Three corners at least make an outline; move this one instead.", pad.field)
        if len(runs) == 1:
            raise InputError("One run at least stays; choose another path to take them all out.", pad.field)
        del runs[run]
    return _put(plan, stage_id, pad, runs, lengths)


def _pad(plan: Plan, stage_id: str) -> tuple[Pad, Cells]:
    found = pad_of(plan, stage_id)
    if found is None:
        raise InputError("Nothing can be drawn here until the stages before it can be done.", "insert")
    return found[:2]


def _to_step(pad: Pad, to: Point, lengths: Lengths) -> Point:
    """Where a drag ends: on a line that it holds to, or at the nearest step."""
    x, y = (
        next((at for at in snaps if abs(at - v) < HELD), lengths.nearest(v))
        for v, snaps in zip(to, pad.snaps, strict=True)
    )
    return x, y


def _there(runs: Sequence[Sequence[Any]], run: int, index: int = 0) -> None:
    if not (0 <= run < len(runs) and 0 <= index < len(runs[run])):
        raise InputError("That point is not there any more.", "insert")


def _put(plan: Plan, stage_id: str, pad: Pad, runs: Sequence[Sequence[Point]], lengths: Lengths) -> Edit:
    """The list as it was drawn."""
    points = tuple(tuple(points) for points in runs)
    return put(plan, stage_id, {pad.field: points if pad.draws is Draws.RUNS else points[0]}, lengths)


def _line_moved(plan: Plan, stage_id: str, pad: Pad, piece: Cells, line: int, to: float, lengths: Lengths) -> Edit:
    """A line dragged: what lies on its two sides becomes wider and narrower by as much."""
    stage = plan.stage(stage_id)
    _there(pad.runs, line)
    if isinstance(stage, Inlay):
        return put(plan, stage_id, {"at": tuple(to if k == line else at for k, at in enumerate(stage.at))}, lengths)
    assert isinstance(stage, Sawing)
    parts = list(widths(stage, piece))
    begins = stage.squaring + sum(parts[:line]) + line * stage.kerf
    by = round(to - begins - parts[line], 6)
    parts[line] += by
    if line + 1 < len(parts):
        parts[line + 1] -= by
    return _put_widths(plan, stage_id, parts, lengths)


def _line_added(plan: Plan, stage_id: str, piece: Cells, to: float, lengths: Lengths) -> Edit:
    """A further line: the piece it falls in is cut in two there, or what lies behind the last gives one more."""
    stage = plan.stage(stage_id)
    if isinstance(stage, Inlay):
        return put(plan, stage_id, {"at": tuple(sorted((*stage.at, to)))}, lengths)
    assert isinstance(stage, Sawing)
    parts, begins = list(widths(stage, piece)), stage.squaring
    for at, width in enumerate(parts):
        if to < begins + width:
            parts[at : at + 1] = [to - begins, begins + width - to - stage.kerf]
            break
        begins += width + stage.kerf
    else:
        parts.append(to - begins)
    return _put_widths(plan, stage_id, parts, lengths)


def _line_removed(plan: Plan, stage_id: str, pad: Pad, piece: Cells, line: int, lengths: Lengths) -> Edit:
    stage = plan.stage(stage_id)
    _there(pad.runs, line)
    if isinstance(stage, Inlay):
        if len(stage.at) == 1:
            raise InputError("One strip at least stays; take the stage out instead.", pad.field)
        return put(plan, stage_id, {"at": tuple(at for k, at in enumerate(stage.at) if k != line)}, lengths)
    assert isinstance(stage, Sawing)
    parts = list(widths(stage, piece))
    if len(parts) == 1:
        raise InputError("One piece at least is cut; take the stage out instead.", pad.field)
    if line + 1 < len(parts):
        parts[line : line + 2] = [parts[line] + stage.kerf + parts[line + 1]]
    else:
        parts.pop()
    return _put_widths(plan, stage_id, parts, lengths)


def _put_widths(plan: Plan, stage_id: str, parts: Sequence[float], lengths: Lengths) -> Edit:
    """The widths, where none is less than can be sawn."""
    if min(parts) < LEAST_SLICE:
        raise InputError(
            "There is no room for a cut there: a piece of {left} would be left. Keep {least} or more between cuts.",
            "widths", left=max(min(parts), 0.0), least=LEAST_SLICE,
        )  # fmt: skip
    return put(plan, stage_id, {"widths": tuple(round(part, 6) for part in parts)}, lengths)
