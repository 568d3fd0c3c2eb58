"""What can be seen of a piece from one side: hidden surfaces are taken away exactly.

Of all faces that look towards the eye those glued to other wood over their whole area are dropped first; what
is left lies open. Each is then clipped by every nearer one that covers part of it. Solids are closed, so
whatever hides part of a face has a face of its own in front of it there.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np
import shapely

from ..solid import Cells, Floats, Ints, counts_of, indptr_of, pick
from .contact import covered
from .overlap import Outlines, near_pairs, shared_areas
from .polygons import areas, by_group, corners, overlaid, united

TOWARDS = 1e-6
"""Faces less turned to the eye than this are edges only (cosine)."""

NEARER = 1e-5
"""A face this much nearer (mm) hides what lies behind it."""

LEAST_SEEN = 1e-4
"""Parts of a face smaller than this (mm²) are not shown."""

SUPPORT = 1e-4
"""A face this near (mm) the outermost plane lies in it."""


@dataclass(frozen=True, slots=True)
class Seen:
    """Faces of which something is seen, farthest first; a face seen in several parts is there once for each.

    ``faces`` (m,) indices; ``points`` (k, 2) corners in the picture, right and down, and ``ptr`` (m+1,).
    """

    faces: Ints
    points: Floats
    ptr: Ints


def seen(cells: Cells, frame: Floats, bare: Ints | None = None) -> Seen:
    """What is seen along the frame's third row; ``frame`` (3, 3) has the picture's right, down and towards the eye
    as rows. Pieces do not hide one another. ``bare`` are the faces that look to the eye and are not glued to other
    wood all over, where they are known, in rising order."""
    normals, offsets = cells.world_planes()
    facing = normals @ frame[2]
    candidates = np.flatnonzero(facing > TOWARDS) if bare is None else bare
    piece = cells.piece[cells.cell_of_face()[candidates]]
    low, high = cells.piece_bounds()
    outermost = np.maximum(low * frame[2], high * frame[2]).sum(axis=1)  # the frame looks along an axis
    flush = (facing[candidates] > 1 - 1e-9) & (offsets[candidates] > outermost[piece] - SUPPORT)
    front = candidates[flush]
    vertex, ptr = corners(cells, front)
    if flush.all() or _covers(cells, front, areas(cells, vertex, ptr), frame, high - low):
        return Seen(front, _pictured(cells, vertex, frame), ptr)
    bulging = _round(cells, candidates, facing[candidates], frame)
    if bulging is not None:
        return bulging
    behind = np.flatnonzero(~flush)
    open_ = behind
    if bare is None:
        open_ = behind[~_glued(cells, candidates[behind], np.flatnonzero(facing < -TOWARDS))]
    keep = np.sort(np.concatenate([np.flatnonzero(flush), open_]))
    candidates, piece, flush = candidates[keep], piece[keep], flush[keep]
    vertex, ptr = corners(cells, candidates)
    flat = _pictured(cells, vertex, frame)
    if flush.all():
        return Seen(candidates, flat, ptr)
    return _clipped(candidates, piece, flush, flat, ptr, normals[candidates] @ frame.T, offsets[candidates])


WAYS = np.array([(x, y, z) for x in (-1, 0, 1) for y in (-1, 0, 1) for z in (-1, 0, 1) if x or y or z], float)
"""Ways in which a piece may reach farthest: along its axes and halfway between them."""


def _round(cells: Cells, candidates: Ints, facing: Floats, frame: Floats) -> Seen | None:
    """What is seen of one piece where all of that bulges outwards, as most boards do with their edges eased: the faces
    that lie in planes beyond which there is no wood. None where they do not fill its shadow."""
    if cells.pieces != 1:
        return None
    points = cells.world()
    # a line through all corners has the hull of the corners, and is one shape to make instead of hundreds
    shadow = float(shapely.area(shapely.convex_hull(shapely.linestrings(points @ frame[:2].T))))
    normals, offsets = cells.world_planes()
    normal, offset = normals[candidates], offsets[candidates]
    farthest = points[(points @ WAYS.T).argmax(axis=0)]
    outer = np.flatnonzero((normal @ farthest.T).max(axis=1) < offset + SUPPORT)
    planes = np.round(np.column_stack([normal[outer], offset[outer]]), 6)
    _, first, plane = np.unique(planes, axis=0, return_index=True, return_inverse=True)
    reach = (points @ normal[outer[first]].T).max(axis=0)
    outer = outer[(reach < offset[outer[first]] + SUPPORT)[plane.ravel()]]
    faces = candidates[outer]
    vertex, ptr = corners(cells, faces)
    if abs(float((areas(cells, vertex, ptr) * facing[outer]).sum()) - shadow) > LEAST_SEEN:
        return None
    return Seen(faces, _pictured(cells, vertex, frame), ptr)


def _pictured(cells: Cells, vertex: Ints, frame: Floats) -> Floats:
    """Where corners are in the picture, (k, 2)."""
    return np.asarray((frame[:2] @ pick(cells.world().T, vertex)).T)


def _covers(cells: Cells, flush: Ints, there: Floats, frame: Floats, extent: Floats) -> bool:
    """Whether the ``flush`` faces in the outermost plane, with areas ``there``, fill the box round every piece,
    (pieces, 3), so that nothing behind them is seen."""
    size = np.abs(extent @ frame[:2].T)
    if np.abs(np.abs(frame).max(axis=1) - 1).max() > 1e-9:
        return False  # the box is not square to the view
    piece = cells.piece[cells.cell_of_face()[flush]]
    filled = np.bincount(piece, there, minlength=len(size))
    return bool((filled > size.prod(axis=1) - LEAST_SEEN).all())


def _glued(cells: Cells, faces: Ints, away: Ints) -> Any:
    """Which faces are glued to wood of their own piece over their whole area."""
    cell = cells.cell_of_face()
    glued, _ = covered(cells, faces, away, cells.piece[cell[faces]], cells.piece[cell[away]])
    return glued > areas(cells, *corners(cells, faces)) - LEAST_SEEN


def _clipped(faces: Ints, piece: Ints, flush: Any, flat: Floats, ptr: Ints, normal: Floats, offset: Floats) -> Seen:
    """Every face less what hides it. ``normal`` (m, 3) in the picture's frame, ``offset`` (m,) along it."""
    polygons: Any = shapely.polygons(
        shapely.linearrings(flat, indices=np.repeat(np.arange(len(faces)), counts_of(ptr)))
    )
    hidden = np.flatnonzero(~flush)
    outlines = Outlines.of(flat, ptr)
    i, j = near_pairs(outlines.box[:, hidden], piece[hidden], outlines.box, piece)
    i = hidden[i]
    common = shared_areas(outlines, i, j)
    big = (i != j) & (common > LEAST_SEEN)
    i, j, common = i[big], j[big], common[big]

    def depth(face: Ints, at: Floats) -> Floats:
        return np.asarray((offset[face] - (normal[face, :2] * at).sum(axis=1)) / normal[face, 2])

    # most of what is hidden lies behind one face alone; that is plain from areas, and what it hides the other hides too
    middle = np.add.reduceat(flat, ptr[:-1], axis=0) / counts_of(ptr)[:, None]
    alone = common > shapely.area(polygons)[i] - LEAST_SEEN
    alone[alone] = depth(j[alone], middle[i[alone]]) > depth(i[alone], middle[i[alone]]) + NEARER
    gone = np.zeros(len(faces), bool)
    gone[i[alone]] = True
    open_ = ~gone[i] & ~gone[j]
    i, j = i[open_], j[open_]

    shared: Any = overlaid(shapely.intersection, polygons[i], polygons[j])
    at = shapely.get_coordinates(shapely.centroid(shared))
    nearer = depth(j, at) > depth(i, at) + NEARER
    i, shared = i[nearer], shared[nearer]
    order = i.argsort(kind="stable")
    i, shared = i[order], shared[order]
    distance = depth(np.arange(len(faces)), middle)
    clipped = dict(zip(*_less(polygons, i, shared), strict=True))
    out_face: list[int] = []
    rings: list[Floats] = []
    seen_ = distance.argsort(kind="stable")
    for face in seen_[~gone[seen_]].tolist():
        parts = clipped.get(face)
        for ring in [flat[ptr[face] : ptr[face + 1]]] if parts is None else parts:
            out_face.append(face)
            rings.append(ring)
    counts = np.array([len(ring) for ring in rings], np.int64)
    points = np.concatenate(rings) if rings else np.zeros((0, 2))
    return Seen(faces[np.array(out_face, np.int64)], points, indptr_of(counts))


def _less(polygons: Any, face: Ints, shared: Any) -> tuple[list[int], list[list[Floats]]]:
    """The faces that are hidden in part or whole, and the rings that are left of each; ``face`` is sorted."""
    if not len(face):
        return [], []
    starts = np.flatnonzero(np.concatenate([[True], np.diff(face) != 0]))
    which = face[starts].tolist()
    covers = by_group(united, shared, np.split(np.arange(len(face)), starts[1:]))
    return which, _rings(overlaid(shapely.difference, polygons[which], covers))


def _rings(shapes: Any) -> list[list[Floats]]:
    """Outlines of the convex parts of each shape (m,); what bulges inwards or has holes is cut into triangles."""
    parts, shape = shapely.get_parts(shapes, return_index=True)
    large = (shapely.get_type_id(parts) == shapely.GeometryType.POLYGON) & (shapely.area(parts) > LEAST_SEEN)
    parts, shape = parts[large], shape[large]
    bulge = shapely.area(shapely.convex_hull(parts)) - shapely.area(parts)
    convex = (shapely.get_num_interior_rings(parts) == 0) & (bulge < LEAST_SEEN)
    cut = np.flatnonzero(~convex)
    triangles, of = shapely.get_parts(shapely.constrained_delaunay_triangles(parts[cut]), return_index=True)
    some = shapely.area(triangles) > LEAST_SEEN  # those along a straight edge may have no area at all
    every = np.concatenate([parts[convex], triangles[some]])
    part = np.concatenate([np.flatnonzero(convex), cut[of[some]]])
    order = part.argsort(kind="stable")
    points, ring = shapely.get_coordinates(shapely.get_exterior_ring(every[order]), return_index=True)
    out: list[list[Floats]] = [[] for _ in shapes]
    outlines = np.split(points, np.flatnonzero(np.diff(ring)) + 1) if len(order) else []
    for at, outline in zip(shape[part[order]].tolist(), outlines, strict=True):
        out[at].append(outline[:-1])
    return out
