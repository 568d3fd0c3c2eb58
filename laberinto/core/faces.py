"""Faces: what the eye sees of a piece from one side, as exact polygons.

Each polygon knows its strip and the affine map that carries the strip's own coordinates onto the
picture, so that rings drawn in the strip's frame mirror, meet and stretch as they do at the bench.
"""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from .sight import looks_out
from .solid import Cells, Floats, Ints, cross

SUPPORT = 1e-4
"""A face this near (mm) the outermost plane lies in it."""


STEEP = 0.7071
"""A face looks towards a side rather than past it where its normal leans less than 45° from it (cosine)."""


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
    """The polygons of one side of a piece; picture coordinates in mm, right and down from its corner.

    ======= ========= =================================================================
    points  (k, 2)    corners of all polygons
    local   (k, 2)    the same corners in the strip's own coordinates of the section
    ptr     (m+1,)    polygon i has corners ptr[i]:ptr[i+1]
    strip   (m,)      strip number
    cell    (m,)      index of the cell
    section (m,)      index into SECTIONS
    depth   (m,)      where in the strip the section lies along its third axis, mm
    tilt    (m,)      cosine between the face and the line of sight, 1 for square on
    lean    (m, 2)    the rest of the face's normal, picture right and down; (0, 0) for square on
    maps    (m, 2, 3) strip section coordinates → picture: p = A @ q + b
    size    (2,)      width and height of the picture in mm
    ======= ========= =================================================================
    """

    side: Side
    points: Floats
    local: Floats
    ptr: Ints
    strip: Ints
    cell: Ints
    section: Ints
    depth: Floats
    tilt: Floats
    lean: Floats
    maps: Floats
    size: Floats

    def __len__(self) -> int:
        return len(self.strip)

    def areas(self) -> Floats:
        """Area of each polygon in the picture, mm², (m,)."""
        nxt = np.arange(len(self.points)) + 1
        nxt[self.ptr[1:] - 1] = self.ptr[:-1]
        a, b = self.points, self.points[nxt]
        cross = a[:, 0] * b[:, 1] - a[:, 1] * b[:, 0]
        return np.abs(np.add.reduceat(cross, self.ptr[:-1])) / 2 if len(self) else np.zeros(0)


def corners(cells: Cells, faces: Ints) -> tuple[Ints, Ints]:
    """Vertices of the chosen faces, anticlockwise seen from outside: (k,) indices and (m+1,) pointer."""
    nf = cells.faces.shape[1]
    wanted = np.zeros(nf, bool)
    wanted[faces] = True
    # every edge starts one corner of its left face and, walked backwards, one of its right face
    face = np.concatenate([cells.edges[2], cells.edges[3]])
    start = np.concatenate([cells.edges[0], cells.edges[1]])
    mine = wanted[face]
    face, start = face[mine], start[mine]
    rank = np.full(nf, -1, np.int64)
    rank[faces] = np.arange(len(faces))
    owner = rank[face]
    points = cells.verts[:, start]
    counts = np.bincount(owner, minlength=len(faces))
    centre = np.stack([np.bincount(owner, points[k], minlength=len(faces)) for k in range(3)]) / np.maximum(counts, 1)
    normal = cells.faces[:3, faces]
    # any direction not along the normal gives a basis of the face's plane
    helper = np.zeros_like(normal)
    helper[np.argmin(np.abs(normal), axis=0), np.arange(len(faces))] = 1.0
    u = cross(normal, helper)
    v = cross(normal, u)
    offset = points - centre[:, owner]
    angle = np.arctan2((offset * v[:, owner]).sum(axis=0), (offset * u[:, owner]).sum(axis=0))
    order = np.lexsort((angle, owner))
    return start[order], np.concatenate([[0], np.cumsum(counts)])


def face_of(cells: Cells, side: Side) -> Face:
    """The faces of each piece that look out towards ``side``, in one picture, the farthest first.

    Whole faces are shown where their middle sees out; of a stepped piece the nearer faces come later, so
    that drawn in order they cover what lies behind.
    """
    return _project(cells, *_looking_out(cells, side), side)


def _looking_out(cells: Cells, side: Side) -> tuple[Ints, Floats]:
    """Faces that look out towards a side, farthest first, and their normals in the side's frame (m, 3)."""
    frame = side.frame
    normals, offsets = cells.world_planes()
    seen = normals @ frame.T
    candidates = np.flatnonzero(seen[:, 2] > 1e-6)
    cell = cells.cell_of_face()[candidates]
    # most of what is seen lies square on in the outermost plane, and needs no looking
    depth = cells.world() @ frame[2]
    outermost = np.full(cells.pieces, -np.inf)
    np.maximum.at(outermost, cells.piece[cells.cell_of_vertex()], depth)
    flush = (seen[candidates, 2] > 1 - 1e-9) & (offsets[candidates] > outermost[cells.piece[cell]] - SUPPORT)
    rest = candidates[~flush]
    vertex, ptr = corners(cells, rest)
    middles = (
        np.add.reduceat(cells.world()[vertex], ptr[:-1], axis=0) / np.diff(ptr)[:, None]
        if len(rest)
        else np.zeros((0, 3))
    )
    out = looks_out(cells, rest, middles, frame)
    faces = np.concatenate([rest[out], candidates[flush]])
    order = np.argsort(np.concatenate([middles[out] @ frame[2], offsets[candidates[flush]]]), kind="stable")
    faces = faces[order]
    return faces, seen[faces]


def _project(cells: Cells, faces: Ints, seen: Floats, side: Side) -> Face:
    """Carry the chosen faces into the picture and note each one's map from its strip."""
    frame = side.frame
    cell = cells.cell_of_face()[faces]
    vertex, ptr = corners(cells, faces)
    local3 = cells.verts[:, vertex]
    world = np.einsum("kij,jk->ki", cells.rot[cell].repeat(np.diff(ptr), axis=0), local3) + cells.move[cell].repeat(
        np.diff(ptr), axis=0
    )
    flat = world @ frame[:2].T
    all_flat = cells.world() @ frame[:2].T
    low, high = all_flat.min(axis=0), all_flat.max(axis=0)

    normal, h = cells.faces[:3, faces], cells.faces[3, faces]
    section = np.argmax(np.abs(normal), axis=0)
    m = np.arange(len(faces))
    a, b = _ACROSS[section].T
    n_d = normal[section, m]
    view = np.einsum("ri,mij->mrj", frame[:2], cells.rot[cell])  # picture = view @ local + base
    base = cells.move[cell] @ frame[:2].T - low
    # on the face's plane the third coordinate follows from the two that are drawn
    third = view[m, :, section]
    maps = np.stack(
        [
            view[m, :, a] - third * (normal[a, m] / n_d)[:, None],
            view[m, :, b] - third * (normal[b, m] / n_d)[:, None],
            base + third * (h / n_d)[:, None],
        ],
        axis=2,
    )
    counts = np.diff(ptr)
    k = np.arange(len(vertex))
    local = np.stack([local3[a.repeat(counts), k], local3[b.repeat(counts), k]], axis=1)
    along = local3[section.repeat(counts), k]
    depth = np.add.reduceat(along, ptr[:-1]) / counts if len(faces) else np.zeros(0)
    return Face(
        side, flat - low, local, ptr, cells.strip[cell], cell, section, depth,
        seen[:, 2], seen[:, :2], maps, high - low,
    )  # fmt: skip


def clean_extent(piece: Cells, axis: int) -> tuple[float, float]:
    """From where to where along ``axis`` the piece is clean: behind every step, slant and ragged end that looks
    out along it, mm. For a piece with flush sides, the box round it; the first may lie beyond the second."""
    near, far = _ALONG[axis]
    limits = []
    for side, pick in ((near, np.max), (far, np.min)):
        vertex = _visible_corners(piece, side)
        limits.append(float(pick(piece.world()[vertex][:, axis])))
    return limits[0], limits[1]


_ALONG = {0: (Side.LEFT, Side.RIGHT), 1: (Side.FRONT, Side.BACK), 2: (Side.BOTTOM, Side.TOP)}


def _visible_corners(piece: Cells, side: Side) -> Ints:
    """Vertices of every face that looks out towards a side rather than past it."""
    faces, seen = _looking_out(piece, side)
    return corners(piece, faces[seen[:, 2] > STEEP])[0]
