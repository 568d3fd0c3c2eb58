"""The baseline: the chaos board cut with one manifold3d object per cell, the way one would write it first.

The same plan, the same cuts, moves, joint areas, face, volumes and mesh. Cells whose box a plane misses are not cut.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

import numpy as np
import shapely
from manifold3d import Manifold

from laberinto.core.geometry.rotations import turn_named
from laberinto.core.plan.model import Plan
from laberinto.core.stages import Arrange, Crosscut, Flatten, Glue, Mill, Rip, Stage, Trim

Piece = list[Manifold]
HAIR = 1e-6
"""A corner this near (mm) a plane lies in it."""


@dataclass
class Yield:
    """What the baseline has after a stage: pieces, dust in mm³ and joint area in mm² so far, and after a glue-up the
    height of its thinnest piece."""

    pieces: list[Piece]
    dust: float = 0.0
    joints: float = 0.0
    thinnest: float = 0.0


def run(
    plan: Plan, cuts: dict[str, tuple[float, float]], stages: Sequence[Stage] | None = None, start: Yield | None = None
) -> Yield:
    """Act out a chaos plan, or some of its ``stages`` from where ``start`` left off. ``cuts`` says from where to where
    along the length a flush trim goes."""
    state = start or Yield([])
    for stage in plan.stages if stages is None else stages:
        state = _KINDS[type(stage)](stage, state, cuts)
    return state


def finish(board: Yield) -> tuple[float, int, int]:
    """Volume, polygons on top and triangles of a finished board."""
    (piece,) = board.pieces
    top = _box(piece)[5]
    polygons = sum(_outline(cell, 2, top) is not None for cell in piece)
    triangles = sum(len(cell.to_mesh64().tri_verts) for cell in piece)
    return sum(cell.volume() for cell in piece), polygons, triangles


def _mill(stage: Stage, state: Yield, _: object) -> Yield:
    assert isinstance(stage, Mill)
    return Yield([[Manifold.cube((spec.width, stage.length, stage.thickness))] for spec in stage.laid_out()])


def _glue(stage: Stage, state: Yield, _: object) -> Yield:
    assert isinstance(stage, Glue)
    axis = stage.across.axis
    order = [n - 1 for n in stage.order] or list(range(len(state.pieces)))
    laid: list[Piece] = []
    at = 0.0
    for position, number in enumerate(order, 1):
        piece = state.pieces[number]
        if position in stage.turned:
            piece = _settled(_turned(piece, turn_named(stage.turned[position]).matrix))
        low, high = np.split(np.array(_box(piece)), 2)
        move = -low
        move[axis] += at if axis == 0 else at - (high - low)[axis]
        at += float((high - low)[axis]) * (1 if axis == 0 else -1)
        laid.append([cell.translate(move) for cell in piece])
    area = sum(_joint(one, other, axis) for one, other in pairwise(laid))
    thinnest = min(_box(piece)[5] for piece in laid)
    return Yield([_settled([cell for piece in laid for cell in piece])], state.dust, state.joints + area, thinnest)


def _joint(one: Piece, other: Piece, axis: int) -> float:
    """Area over which two neighbours touch: the outlines their cells have in the joint, cell against cell."""
    way = 1 if axis == 0 else -1
    at = _box(one)[3 + axis] if way > 0 else _box(one)[axis]
    sides = [[o for o in (_outline(cell, axis, at) for cell in piece) if o is not None] for piece in (one, other)]
    area = 0.0
    for a, first in sides[0]:
        for b, second in sides[1]:
            if a[0] < b[2] and b[0] < a[2] and a[1] < b[3] and b[1] < a[3]:
                area += first.intersection(second).area
    return area


def _outline(cell: Manifold, axis: int, at: float) -> tuple[tuple[float, ...], shapely.Polygon] | None:
    """The polygon a convex cell has in a plane square to an axis, with its box; None where it has none."""
    box = cell.bounding_box()
    if abs(box[axis] - at) > HAIR and abs(box[3 + axis] - at) > HAIR:
        return None
    vertices = np.asarray(cell.to_mesh64().vert_properties)[:, :3]
    flat = np.delete(vertices[np.abs(vertices[:, axis] - at) < HAIR], axis, axis=1)
    outline = shapely.convex_hull(shapely.multipoints(flat))
    return (outline.bounds, outline) if outline.area > 0 else None


def _flatten(stage: Stage, state: Yield, _: object) -> Yield:
    assert isinstance(stage, Flatten) and stage.each_face is not None
    (piece,) = state.pieces
    low, high = _box(piece)[2], _box(piece)[5]
    if stage.level:
        high = state.thinnest
    return _between(state, piece, 2, low + stage.each_face, high - stage.each_face)


def _trim(stage: Stage, state: Yield, cuts: dict[str, tuple[float, float]]) -> Yield:
    assert isinstance(stage, Trim)
    for axis in (0, 1):
        (piece,) = state.pieces
        box = _box(piece)
        low, high = (box[axis], box[3 + axis]) if not stage.flush or axis == 0 else cuts[stage.id]
        state = _between(state, piece, axis, low + stage.edge, high - stage.edge)
    return state


def _between(state: Yield, piece: Piece, axis: int, low: float, high: float) -> Yield:
    """Keep what lies between two heights along an axis."""
    normal = np.eye(3)[axis]
    kept: Piece = []
    dust = 0.0
    for cell in piece:
        box = cell.bounding_box()
        inner = cell
        if box[axis] < low:
            inner, below = inner.split_by_plane(normal, low)
            dust += below.volume()
        if box[3 + axis] > high:
            above, inner = inner.split_by_plane(normal, high)
            dust += above.volume()
        if not inner.is_empty():
            kept.append(inner)
    return Yield([_settled(kept)], state.dust + dust, state.joints)


def _rip(stage: Stage, state: Yield, _: object) -> Yield:
    assert isinstance(stage, Rip)
    (piece,) = state.pieces
    theta = math.radians(stage.skew)
    normal = np.array([math.cos(theta), math.sin(theta), 0.0])
    begin = _box(piece)[4] * math.sin(theta)
    back = np.array([[math.cos(theta), math.sin(theta), 0], [-math.sin(theta), math.cos(theta), 0], [0, 0, 1]])
    strips, dust = _sliced(piece, normal, begin, stage.widths, stage.kerf)
    return Yield([_settled(_turned(strip, back)) for strip in strips], state.dust + dust, state.joints)


def _crosscut(stage: Stage, state: Yield, _: object) -> Yield:
    assert isinstance(stage, Crosscut)
    (piece,) = state.pieces
    slices, dust = _sliced(piece, np.array([0.0, 1.0, 0.0]), stage.squaring, [stage.slice] * stage.count, stage.kerf)
    return Yield([_settled(one) for one in slices], state.dust + dust, state.joints)


def _sliced(
    piece: Piece, normal: np.ndarray, begin: float, widths: Sequence[float], kerf: float
) -> tuple[list[Piece], float]:
    """Slices one after the other along a normal, a kerf between them; every cut leaves slice, kerf and rest."""
    ends = begin + np.cumsum(np.array(widths) + kerf)
    bounds = np.stack([np.concatenate([[begin], ends[:-1]]), ends - kerf], axis=1)
    out: list[Piece] = [[] for _ in widths]
    dust = 0.0
    for cell in piece:
        corners = np.array(cell.bounding_box()).reshape(2, 3)
        reach = np.array([[x, y, z] for x in corners[:, 0] for y in corners[:, 1] for z in corners[:, 2]]) @ normal
        rest = cell
        for k in range(int(np.searchsorted(bounds[:, 1], reach.min())), len(widths)):
            if bounds[k, 0] >= reach.max():
                break
            rest, kerf_part = rest.split_by_plane(normal, bounds[k, 0])
            dust += kerf_part.volume()
            rest, part = rest.split_by_plane(normal, bounds[k, 1])
            if not part.is_empty():
                out[k].append(part)
            if rest.is_empty():
                break
        dust += rest.volume()
    return out, dust


def _arrange(stage: Stage, state: Yield, _: object) -> Yield:
    assert isinstance(stage, Arrange)
    rows = stage.rows(len(state.pieces))
    return Yield([_settled(_turned(state.pieces[n - 1], lie.turn.matrix)) for n, lie in rows], state.dust, state.joints)


def _turned(piece: Piece, matrix: np.ndarray) -> Piece:
    return [cell.transform(np.column_stack([matrix, np.zeros(3)])) for cell in piece]


def _box(piece: Piece) -> tuple[float, ...]:
    boxes = np.array([cell.bounding_box() for cell in piece])
    return (*boxes[:, :3].min(axis=0), *boxes[:, 3:].max(axis=0))


def _settled(piece: Piece) -> Piece:
    low = np.array(_box(piece)[:3])
    return [cell.translate(-low) for cell in piece]


_KINDS = {
    Mill: _mill, Glue: _glue, Flatten: _flatten, Rip: _rip, Trim: _trim, Crosscut: _crosscut, Arrange: _arrange,
}  # fmt: skip
