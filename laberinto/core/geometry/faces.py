"""Faces: what the eye sees of a piece from one side, as exact polygons.

Each polygon knows its strip and the affine map that carries the strip's own coordinates onto the
picture, so that rings drawn in the strip's frame mirror, meet and stretch as they do at the bench.
"""

from __future__ import annotations

from dataclasses import dataclass, field
from enum import StrEnum
from typing import Any

import numpy as np
import shapely

from ..solid import Cells, Floats, Ints, Memo, Plane, counts_of, indptr_of, pick, split
from .polygons import corners
from .visibility import Seen, seen


class Side(StrEnum):
    """The six sides of a piece; front is the long edge nearest to you."""

    TOP = "top"
    BOTTOM = "bottom"
    FRONT = "front"
    BACK = "back"
    LEFT = "left"
    RIGHT = "right"

    @property
    def frame(self) -> Floats:
        """Rows: picture right, picture down, and towards the eye, as world vectors (3, 3)."""
        return _FRAMES[self]


_X, _Y, _Z = np.eye(3)
_FRAMES: dict[Side, Floats] = {
    Side.TOP: np.stack([_X, -_Y, _Z]),
    Side.BOTTOM: np.stack([-_X, -_Y, -_Z]),
    Side.FRONT: np.stack([_X, -_Z, -_Y]),
    Side.BACK: np.stack([-_X, -_Z, _Y]),
    Side.LEFT: np.stack([-_Y, -_Z, -_X]),
    Side.RIGHT: np.stack([_Y, -_Z, _X]),
}

SECTIONS = ("side", "end", "flat")
"""Which plane of the strip a face shows, by the strip axis it is square to: x, y (end grain) or z."""

_ACROSS = np.array([[2, 1], [0, 2], [0, 1]])
"""The two strip axes drawn for each section: side (z, y), end (x, z), flat (x, y)."""


@dataclass(frozen=True, slots=True)
class Face:
    """The polygons of one view of a piece; picture coordinates in mm, right and down from its corner.

    ======= ========= =================================================================
    points  (k, 2)    corners of all polygons
    local   (k, 2)    the same corners in the strip's own coordinates of the section
    ptr     (m+1,)    polygon i has corners ptr[i]:ptr[i+1]
    strip   (m,)      strip number
    cell    (m,)      index of the cell
    block   (m,)      which block of wood it belongs to, as ``Cells.blocks`` counts them
    section (m,)      index into SECTIONS
    depth   (m,)      where in the strip the section lies along its third axis, mm
    tilt    (m,)      cosine between the face and the line of sight, 1 for square on
    lean    (m, 2)    the rest of the face's normal, picture right and down; (0, 0) for square on
    recess  (m,)      how far its middle lies behind the foremost point of its piece, mm
    maps    (m, 2, 3) strip section coordinates → picture: p = A @ q + b
    size    (2,)      width and height of the picture in mm
    ======= ========= =================================================================
    """

    points: Floats
    local: Floats
    ptr: Ints
    strip: Ints
    cell: Ints
    block: Ints
    section: Ints
    depth: Floats
    tilt: Floats
    lean: Floats
    recess: Floats
    maps: Floats
    size: Floats
    memo: Memo = field(default_factory=Memo, init=False, repr=False, compare=False)
    """What was worked out once from this face."""

    def __len__(self) -> int:
        return len(self.strip)

    def take(self, index: Ints) -> Face:
        """Only the polygons with these indices, in their order."""
        lengths = counts_of(self.ptr)[index]
        ptr = indptr_of(lengths)
        corner = np.repeat(self.ptr[:-1][index] - ptr[:-1], lengths) + np.arange(ptr[-1])
        return Face(
            self.points[corner], self.local[corner], ptr, self.strip[index], self.cell[index], self.block[index],
            self.section[index], self.depth[index], self.tilt[index], self.lean[index],
            self.recess[index], self.maps[index], self.size,
        )  # fmt: skip

    def following(self) -> Ints:
        """For each corner the one that comes after it round its polygon, (k,)."""
        after = np.arange(len(self.points)) + 1
        after[self.ptr[1:] - 1] = self.ptr[:-1]
        return after

    def owners(self) -> Ints:
        """The polygon of each corner, (k,)."""
        return np.repeat(np.arange(len(self)), counts_of(self.ptr))

    def polygons(self) -> Any:
        """The polygons as shapely knows them, an array of objects (m,)."""
        return np.asarray(shapely.polygons(shapely.linearrings(self.points, indices=self.owners())), object)

    def areas(self) -> Floats:
        """Area of each polygon in the picture, mm², (m,)."""
        a, b = self.points, self.points[self.following()]
        cross = a[:, 0] * b[:, 1] - a[:, 1] * b[:, 0]
        return np.abs(np.add.reduceat(cross, self.ptr[:-1])) / 2 if len(self) else np.zeros(0)


def face_of(cells: Cells, side: Side | Floats) -> Face:
    """What is seen of each piece from ``side`` (or along any frame (3, 3) like ``Side.frame``), in one picture, the
    farthest first. Hidden parts are clipped away, so the polygons cover the piece's shadow exactly once."""
    if isinstance(side, Side):
        return cells.memo.once(_seen_from, cells, side.frame, key=side)
    return _seen_from(cells, side)


def _seen_from(cells: Cells, frame: Floats) -> Face:
    return _project(cells, seen(cells, frame), frame)


def section_of(cells: Cells, plane: Plane, right: Floats | None = None) -> Face:
    """The wood where a plane runs through it, seen from where its normal points to. ``right`` (3,) is the picture's
    right; without it the picture is upright. Raises ValueError where ``right`` runs along the normal, or the plane
    misses the wood."""
    towards = plane.normal
    if right is None:
        right = np.cross([0.0, 0.0, 1.0], towards) if abs(towards[2]) < 1 - 1e-9 else np.array([1.0, 0.0, 0.0])
    right = right - (right @ towards) * towards
    if not (length := float(np.linalg.norm(right))) > 1e-9:
        raise ValueError("the picture's right runs along the plane's normal")
    right = right / length
    below, _ = split(cells, plane)
    normals, offsets = below.world_planes()
    cut = np.flatnonzero((normals @ towards > 1 - 1e-9) & (np.abs(offsets - plane.offset) < 1e-6))
    if not len(cut):
        raise ValueError("the plane misses the wood")
    frame = np.stack([right, np.cross(right, towards), towards])
    vertex, ptr = corners(below, cut)
    return _project(below, Seen(cut, below.world()[vertex] @ frame[:2].T, ptr), frame)


def _project(cells: Cells, shown: Seen, frame: Floats) -> Face:
    """Note each polygon's map from its strip, and its corners in the strip's own coordinates."""
    faces = shown.faces
    cell = cells.cell_of_face()[faces]
    all_flat = frame[:2] @ cells.world().T
    low, high = all_flat.min(axis=1), all_flat.max(axis=1)
    planes = pick(cells.faces, faces)
    normal, h = planes[:3], planes[3]
    section = np.argmax(np.abs(normal), axis=0)
    m = np.arange(len(faces))
    a, b = _ACROSS[section].T
    n_d = normal[section, m]
    view = frame[:2] @ cells.rot[cell]  # picture = view @ local + base
    base = cells.move[cell] @ frame[:2].T - low
    # on the face's plane the third coordinate follows from the two that are drawn
    third = view[m, :, section]
    linear = np.stack(
        [
            view[m, :, a] - third * (normal[a, m] / n_d)[:, None],
            view[m, :, b] - third * (normal[b, m] / n_d)[:, None],
        ],
        axis=2,
    )
    away = base + third * (h / n_d)[:, None]
    points = shown.points - low
    owner = m.repeat(counts_of(shown.ptr))
    maps = np.concatenate([linear, away[:, :, None]], axis=2)
    local = carried_back(points, maps, shown.ptr)
    along = (h[owner] - (normal[a[owner], owner] * local[:, 0] + normal[b[owner], owner] * local[:, 1])) / n_d[owner]
    depth = np.add.reduceat(along, shown.ptr[:-1]) / np.diff(shown.ptr) if len(faces) else np.zeros(0)
    towards = cells.world_planes()[0][faces] @ frame.T
    return Face(
        points, local, shown.ptr, cells.strip[cell], cell, cells.blocks()[cell], section, depth,
        towards[:, 2], towards[:, :2], _recess(cells, shown, frame, cell),
        maps, high - low,
    )  # fmt: skip


def carried_back(points: Floats, maps: Floats, ptr: Ints) -> Floats:
    """Corners (k, 2) of polygons carried from the picture back into their strips, by the inverse of each one's map."""
    owner = np.repeat(np.arange(len(maps)), counts_of(ptr))
    (a, b, x), (c, d, y) = maps[owner].transpose(1, 2, 0)
    right, down = points[:, 0] - x, points[:, 1] - y
    det = a * d - b * c
    return np.stack([(d * right - b * down) / det, (a * down - c * right) / det], axis=1)


def _recess(cells: Cells, shown: Seen, frame: Floats, cell: Ints) -> Floats:
    """How far each polygon lies behind the foremost point of its piece, mm."""
    if not len(shown.faces):
        return np.zeros(0)
    normals, offsets = cells.world_planes()
    low, high = cells.piece_bounds()
    foremost = np.maximum(low * frame[2], high * frame[2]).sum(axis=1)[cells.piece[cell]]
    middle = np.add.reduceat(shown.points, shown.ptr[:-1], axis=0) / np.diff(shown.ptr)[:, None]
    leaning = normals[shown.faces] @ frame.T
    depth = (offsets[shown.faces] - (leaning[:, :2] * middle).sum(axis=1)) / leaning[:, 2]
    return np.asarray(np.maximum(foremost - depth, 0.0))
