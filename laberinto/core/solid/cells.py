"""Cells: many convex solids at once, as a structure of arrays.

A cell is one wood from one strip. Its vertices, face planes and edges stay in the *strip's own*
coordinates (x across the width, y along the fibres, z through the thickness) for as long as it lives;
where it lies at the bench is a rotation R and a translation t, world = R @ local + t. So moving a piece
touches R and t alone, and R and t are also the frame of its grain.

No face loops are stored. Edges are enough: each knows its two ends and the faces on its left and right
(seen from outside), which yields volumes, areas and, when a face goes out, its corners in order.
"""

from __future__ import annotations

import math
import os
from collections.abc import Sequence
from dataclasses import dataclass, field
from functools import lru_cache
from typing import Any, Literal, TypeVar

import numpy as np
from numpy.typing import NDArray

from ..wanted import go_on
from .memo import Memo

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
Bools = NDArray[np.bool_]
Number = TypeVar("Number", np.float64, np.int64)

ON_PLANE = 4e-8
"""A vertex this near a plane (mm) lies on it. No real dimension comes within it."""

LEVEL = 1 - 1e-9
"""A face whose normal leans no more than this (cosine) lies level with a plane."""

GLUED = 4
"""The row of ``Cells.faces`` that says which are known to be glued. With the planes, so that whatever picks, joins or
splits faces takes it along: nothing can forget it, and picking is one step (8.2 µs for a board of 168 cells, 10.0 with
an array of its own)."""

ALL = slice(None)


@dataclass(slots=True)
class Where:
    """What was worked out of where cells lie; see the methods of ``Cells`` that give it. A turn or a cut leaves it
    behind, a move takes it along."""

    world: Floats | None = None
    planes: tuple[Floats, Floats] | None = None
    bounds: tuple[Floats, Floats] | None = None
    box: tuple[Floats, Floats] | None = None


MOST_CELLS = 40_000
"""No set of pieces is cut into more cells than this, so that memory stays bounded."""


def cross(a: Floats, b: Floats) -> Floats:
    """Cross products of (3, n) columns; np.cross spends most of its time on moving axes."""
    out = np.empty(np.broadcast_shapes(a.shape, b.shape))
    for k, (i, j) in enumerate(((1, 2), (2, 0), (0, 1))):
        np.multiply(a[i], b[j], out=out[k])
        out[k] -= a[j] * b[i]
    return out


def counts_of(ptr: Ints) -> Ints:
    """How many entries each cell has in CSR order; np.diff takes ten times as long for short pointers."""
    return ptr[1:] - ptr[:-1]


def dot(a: Floats, b: Floats) -> Floats:
    """Dot products of (k, n) columns, (n,)."""
    return np.asarray(np.einsum("ij,ij->j", a, b))


TAKE: Literal["clip", "raise"] = "raise" if os.environ.get("LABERINTO_CHECKS_INDICES") else "clip"
"""How numpy takes by index. Looking at every index first takes 1.6 to 2.4 times as long from 300 to 60,000 columns, so
only the tests do: a wrong index fails there, and would be silent here."""


def pick(a: NDArray[Number], index: Ints) -> NDArray[Number]:
    """Columns of a (k, n) array; ``a[:, index]`` takes four to five times as long."""
    return a.take(index, axis=1, mode=TAKE)


@dataclass(frozen=True, slots=True)
class Cells:
    """``n`` convex cells with ``nv`` vertices, ``nf`` faces and ``ne`` edges in all.

    ======== ======== ============================================================
    verts    (3, nv)  vertices, strip coordinates, mm
    faces    (5, nf)  outward unit normal and offset h (normal · x = h), strip coordinates; last, 1 for a face known
                      to be glued all over to others of its piece, else 0
    edges    (4, ne)  first vertex, second vertex, left face, right face
    vptr     (n+1,)   vertices of cell i are vptr[i]:vptr[i+1]; fptr and eptr likewise
    rot      (n,3,3)  strip → world rotation
    move     (n, 3)   strip → world translation, mm
    strip    (n,)     number of the strip the cell was cut from
    piece    (n,)     number of the piece the cell belongs to, counting from 0
    known    (n,)     volume in mm³ where it was asked for before, else NaN; moves do not change it
    ======== ======== ============================================================
    """

    verts: Floats
    faces: Floats
    edges: Ints
    vptr: Ints
    fptr: Ints
    eptr: Ints
    rot: Floats
    move: Floats
    strip: Ints
    piece: Ints
    known: Floats
    where: Where = field(default_factory=Where, init=False, repr=False, compare=False)
    memo: Memo = field(default_factory=Memo, init=False, repr=False, compare=False)
    """What was worked out once from these cells where they lie, in these pieces."""

    def __post_init__(self) -> None:
        go_on()  # whatever is done to wood ends in new cells

    def __len__(self) -> int:
        return len(self.strip)

    @property
    def most_bytes(self) -> int:
        """What the arrays take, with all that may be remembered of where the cells lie."""
        arrays = (self.verts, self.faces, self.edges, self.rot, self.move, self.known)
        nv, nf, ne = self.verts.shape[1], self.faces.shape[1], self.edges.shape[1]
        held = sum(int(array.nbytes) for array in arrays)
        return held + 8 * int(4 * nv + 8 * nf + ne + 12 * len(self))

    @property
    def pieces(self) -> int:
        """How many pieces the cells belong to."""
        return int(self.piece.max()) + 1 if len(self) else 0

    @property
    def on_end(self) -> bool:
        """Whether any fibres (a strip's y) point more up than along the bench: end grain shows on top."""
        return bool((np.abs(self.rot[:, 2, 1]) > 0.7071).any())

    def cell_of_vertex(self) -> Ints:
        """The cell of each corner, (nv,)."""
        return self.memo.once(_owners, self.vptr, key="vertex")

    def cell_of_face(self) -> Ints:
        """The cell of each face, (nf,)."""
        return self.memo.once(_owners, self.fptr, key="face")

    def cell_of_edge(self) -> Ints:
        """The cell of each edge, (ne,)."""
        return self.memo.once(_owners, self.eptr, key="edge")

    def world(self) -> Floats:
        """All vertices where they lie at the bench, (nv, 3); each coordinate lies side by side in memory."""
        if self.where.world is None:
            counts = counts_of(self.vptr)
            self.where.world = (self._turn(self.verts, counts) + self.move.T.repeat(counts, axis=1)).T
        return self.where.world

    def _turn(self, vectors: Floats, counts: Ints) -> Floats:
        """Vectors (3, k), of each cell so many as it counts, turned as the cell is."""
        rows = np.ascontiguousarray(self.rot.transpose(1, 2, 0))  # so that what is multiplied lies side by side
        return np.asarray(np.einsum("ijv,jv->iv", rows.repeat(counts, axis=2), vectors))

    def world_planes(self) -> tuple[Floats, Floats]:
        """Outward normals (nf, 3) and offsets (nf,) of all faces in world coordinates."""
        if self.where.planes is None:
            counts = counts_of(self.fptr)
            normals = self._turn(self.faces[:3], counts)
            self.where.planes = normals.T, self.faces[3] + dot(normals, self.move.T.repeat(counts, axis=1))
        return self.where.planes

    def sealed(self, faces: Ints) -> Cells:
        """The chosen faces known to be glued all over. A cut leaves what it does not lay open glued, so that later
        joints and trims need not look at these again."""
        return self._marked(faces, 1.0)

    def laid_bare(self, faces: Ints | slice = ALL) -> Cells:
        """The chosen faces, or all, no longer known to be glued."""
        if not self.faces[GLUED, faces].any():
            return self
        return self._marked(faces, 0.0)

    def _marked(self, faces: Ints | slice, value: float) -> Cells:
        marked = self.faces.copy()
        marked[GLUED, faces] = value
        return self._where_they_lie(self.replace(faces=marked))

    def _where_they_lie(self, other: Cells) -> Cells:
        """The other, which has the same corners and planes, with what is known of these."""
        here, there = self.where, other.where
        there.world, there.planes, there.bounds, there.box = here.world, here.planes, here.bounds, here.box
        return other

    def cell_bounds(self) -> tuple[Floats, Floats]:
        """Lowest and highest corner of the box round each cell, world, (n, 3) each."""
        if not len(self):
            return np.zeros((0, 3)), np.zeros((0, 3))
        if self.where.bounds is None:
            points, start = self.world().T, self.vptr[:-1]
            lows, highs = (reach.reduceat(points, start, axis=1) for reach in (np.minimum, np.maximum))
            self.where.bounds = lows.T, highs.T
        return self.where.bounds

    def take(self, which: Ints | Bools) -> Cells:
        """The chosen cells, in the order given; pieces keep their numbers."""
        index: Ints = np.flatnonzero(which) if which.dtype == np.bool_ else which.astype(np.int64)
        if not len(index):
            return empty()
        if len(index) == len(self) and bool((index == np.arange(len(self))).all()):
            return self
        (vi, vptr, vshift), (fi, fptr, fshift), (ei, eptr, _) = (
            _gather(ptr, index) for ptr in (self.vptr, self.fptr, self.eptr)
        )
        edges, counts = pick(self.edges, ei), counts_of(eptr)
        edges[:2] += vshift.repeat(counts)
        edges[2:] += fshift.repeat(counts)
        out = Cells(
            pick(self.verts, vi), pick(self.faces, fi), edges,
            vptr, fptr, eptr, self.rot[index], self.move[index], self.strip[index], self.piece[index],
            self.known[index],
        )  # fmt: skip
        if self.where.world is not None:
            out.where.world = pick(self.where.world.T, vi).T
        return out

    def of_piece(self, number: int) -> Cells:
        """The cells of one piece, renumbered to piece 0."""
        if number == 0 and self.pieces == 1:
            return self
        part = self.take(self.piece == number)
        return part.replace(piece=np.zeros(len(part), np.int64))

    def as_piece(self, number: int) -> Cells:
        """All cells as one piece with this number."""
        return self.regrouped(np.full(len(self), number, np.int64))

    def regrouped(self, piece: Ints) -> Cells:
        """The cells where they lie, of other pieces (n,)."""
        return self._where_they_lie(self.replace(piece=piece))

    def renumbered(self, by: int) -> Cells:
        """Pieces numbered ``by`` higher."""
        return self.regrouped(self.piece + by)

    def turned(self, matrix: Floats) -> Cells:
        """All cells turned about the world's origin by a (3, 3) rotation."""
        return self.replace(rot=matrix @ self.rot, move=self.move @ matrix.T)

    def replace(
        self, *, verts: Floats | None = None, faces: Floats | None = None, edges: Ints | None = None,
        rot: Floats | None = None, move: Floats | None = None, piece: Ints | None = None, known: Floats | None = None,
    ) -> Cells:  # fmt: skip
        """The same cells with other arrays; dataclasses.replace takes several times as long."""
        return Cells(
            self.verts if verts is None else verts, self.faces if faces is None else faces,
            self.edges if edges is None else edges, self.vptr, self.fptr, self.eptr,
            self.rot if rot is None else rot, self.move if move is None else move,
            self.strip, self.piece if piece is None else piece, self.known if known is None else known,
        )  # fmt: skip

    def moved(self, by: Floats | Sequence[float]) -> Cells:
        """All cells moved by a (3,) vector, or each by its row of (n, 3)."""
        shift = np.broadcast_to(np.asarray(by, float), self.move.shape)
        if not shift.any():
            return self
        out = self.replace(move=self.move + shift)
        # what is known of where they lay moves along; turning it out anew costs more
        here, there = self.where, out.where
        if here.world is not None:
            there.world = (here.world.T + shift.T.repeat(counts_of(self.vptr), axis=1)).T
        if here.planes is not None:
            normals, offsets = here.planes
            there.planes = normals, offsets + dot(normals.T, shift.T.repeat(counts_of(self.fptr), axis=1))
        if here.bounds is not None:
            low, high = here.bounds
            there.bounds = low + shift, high + shift
        if here.box is not None and np.ndim(by) == 1:
            low, high = here.box
            there.box = low + shift[0], high + shift[0]
        return out

    def bounds(self) -> tuple[Floats, Floats]:
        """Lowest and highest corner of the box round all cells, world, each (3,)."""
        if self.where.box is None:
            points = self.world()
            self.where.box = points.min(axis=0), points.max(axis=0)
        return self.where.box

    def size(self) -> Floats:
        """Extent in x, y and z, (3,) mm."""
        low, high = self.bounds()
        return high - low

    def piece_bounds(self) -> tuple[Floats, Floats]:
        """Lowest and highest corner of the box round each piece, (pieces, 3) each."""
        if not len(self):
            return self.cell_bounds()
        if self.pieces == 1:
            low, high = self.bounds()
            return low[None], high[None]
        return self.memo.once(_piece_bounds, self)

    def piece_sizes(self) -> Floats:
        """Extent of each piece in x, y and z, (pieces, 3) mm."""
        low, high = self.piece_bounds()
        return np.asarray(high - low)

    def settled(self) -> Cells:
        """Each piece moved so that the box round it starts at the origin."""
        return self.at_origin() if self.pieces == 1 else self.moved(-self.piece_bounds()[0][self.piece])

    def turned_each(self, matrices: Floats) -> Cells:
        """Each piece turned about the origin by its row of (pieces, 3, 3) rotations."""
        mine = matrices[self.piece]
        return self.replace(rot=mine @ self.rot, move=np.einsum("cij,cj->ci", mine, self.move))

    def at_origin(self) -> Cells:
        """Moved so that the box round all cells starts at the origin."""
        return self.moved(-self.bounds()[0])

    def blocks(self) -> Ints:
        """Which block of wood each cell belongs to, (n,), counted from 0: cells of one strip and piece that lie alike
        are one block, in however many cells a tool has left it."""
        return self.memo.once(_blocks, self)

    def volumes(self) -> Floats:
        """Volume of each cell in mm³, (n,); worked out once."""
        missing = np.isnan(self.known)
        count = int(missing.sum())
        if count:
            most = 2 * count > len(self)  # picking them out costs as much as working out the rest too
            part = self if most else self.take(missing)
            volumes = edge_volumes(
                part.verts, part.faces, part.edges, part.cell_of_vertex(), part.cell_of_face(), part.cell_of_edge(),
                len(part),
            )  # fmt: skip
            self.known[missing] = volumes[missing] if most else volumes
        return self.known

    def volume(self) -> float:
        """Volume of all cells together, mm³."""
        return float(self.volumes().sum())


def edge_volumes(
    verts: Floats, faces: Floats, edges: Ints, owner_v: Ints, owner_f: Ints, owner_e: Ints, n: int
) -> Floats:
    """Volumes in mm³, (n,), of solids given by their edges in any order; owners say whose each corner, face and edge
    is.

    V = Σ over edges of (v0 × v1) · (h_L n_L − h_R n_R) / 6, by the divergence theorem, with a corner of the solid
    itself as origin so that large coordinates do not cost digits.
    """
    corner = np.zeros(n, np.int64)
    corner[owner_e] = edges[0]
    origin = pick(verts, corner)
    rel = verts - pick(origin, owner_v)
    reach = (faces[3] - dot(faces[:3], pick(origin, owner_f))) * faces[:3]
    parts = dot(cross(pick(rel, edges[0]), pick(rel, edges[1])), pick(reach, edges[2]) - pick(reach, edges[3]))
    return np.asarray(np.bincount(owner_e, parts, minlength=n) / 6.0)


def axes(normal: Floats) -> Floats:
    """Right-handed axes, (3, 3) by rows, the last of them the unit ``normal`` (3,)."""
    x, y, z = normal.tolist()
    # square to the normal and to whichever axis lies least along it
    a, b, c = min((abs(x), (0.0, -z, y)), (abs(y), (z, 0.0, -x)), (abs(z), (-y, x, 0.0)))[1]
    length = math.sqrt(a * a + b * b + c * c)
    a, b, c = a / length, b / length, c / length
    return np.array([[b * z - c * y, c * x - a * z, a * y - b * x], [a, b, c], [x, y, z]])


def turn(a: Floats, b: Floats) -> Floats:
    """Cross products of (2, n) columns, (n,)."""
    return np.asarray(a[0] * b[1] - a[1] * b[0])


def swept(p: Floats, q: Floats, d: Floats, e: Floats) -> Floats:
    """What sides from ``p`` to ``q`` (2, k) that move evenly by ``d`` and ``e`` add to the mean area of the sections
    they pass through, (k,): ½ (p + t d) × (q + t e) integrated over t from 0 to 1. Sides that run anticlockwise
    add up to a positive area."""
    return (turn(p, q) + (turn(p, e) + turn(d, q)) / 2 + turn(d, e) / 3) / 2


def indptr_of(counts: Ints) -> Ints:
    """CSR pointer of runs with these lengths, (n+1,)."""
    out = np.zeros(len(counts) + 1, np.int64)
    counts.cumsum(out=out[1:])
    return out


def spread(start: Ints, counts: Ints) -> Ints:
    """All positions start, start + 1, … of runs with these starts and lengths, one run behind the other."""
    ptr = indptr_of(counts)
    return np.asarray(np.arange(ptr[-1]) + (start - ptr[:-1]).repeat(counts))


def _gather(ptr: Ints, index: Ints) -> tuple[Ints, Ints, Ints]:
    """Positions of the entries of the chosen cells in CSR order, their new pointer, and by how much each cell's entries
    move."""
    first = ptr[index]
    counts = ptr[index + 1] - first
    new = indptr_of(counts)
    shift = new[:-1] - first
    return np.arange(new[-1]) - shift.repeat(counts), new, shift


@lru_cache(maxsize=1)
def empty() -> Cells:
    """No cells at all."""
    zero = np.zeros(1, np.int64)
    none = np.zeros(0, np.int64)
    return Cells(
        np.zeros((3, 0)), np.zeros((5, 0)), np.zeros((4, 0), np.int64), zero, zero, zero,
        np.zeros((0, 3, 3)), np.zeros((0, 3)), none, none, np.zeros(0),
    )  # fmt: skip


@dataclass(frozen=True, slots=True)
class _Run:
    """The corners, faces or edges that a set of several gets from one of them: their positions there, or None for all;
    from where to where they lie now; how many each cell has, and by how much they moved."""

    source: Ints | None
    start: int
    end: int
    counts: Ints
    shift: Ints

    @classmethod
    def of(cls, ptr: Ints, which: Ints | None, start: int) -> _Run:
        """Of the cells with these positions, or all, laid out from ``start`` on."""
        if which is None:
            return cls(None, start, start + int(ptr[-1]), counts_of(ptr), np.full(len(ptr) - 1, start))
        source, new, shift = _gather(ptr, which)
        return cls(source, start, start + int(new[-1]), counts_of(new), shift + start)

    def copy(self, array: NDArray[Number], out: NDArray[Number]) -> None:
        """Columns of one set's array (k, n) to where they lie now."""
        if self.source is None:
            out[:, self.start : self.end] = array
            return
        for row, to in zip(array, out, strict=True):
            row.take(self.source, out=to[self.start : self.end], mode=TAKE)


def join(parts: Sequence[Cells]) -> Cells:
    """All cells of several sets as one set; pieces keep their numbers."""
    return gathered([(part, None) for part in parts])


def gathered(parts: Sequence[tuple[Cells, Ints | None]]) -> Cells:
    """The cells with these positions, or all, of several sets as one set; pieces keep their numbers. Each is copied
    once, which for a large board is half the work of choosing first and joining then."""
    parts = [(cells, which) for cells, which in parts if (len(cells) if which is None else len(which))]
    if len(parts) < 2:
        cells, which = parts[0] if parts else (empty(), None)
        return cells if which is None else cells.take(which)

    def laid_out(name: str) -> list[_Run]:
        runs: list[_Run] = []
        for cells, which in parts:
            runs.append(_Run.of(getattr(cells, name), which, runs[-1].end if runs else 0))
        return runs

    def copied(arrays: Sequence[NDArray[Number]], runs: Sequence[_Run]) -> NDArray[Number]:
        out = np.empty((len(arrays[0]), runs[-1].end), arrays[0].dtype)
        for array, run in zip(arrays, runs, strict=True):
            run.copy(array, out)
        return out

    def each(name: str) -> NDArray[Any]:
        arrays = [(getattr(cells, name), which) for cells, which in parts]
        return np.concatenate([array if which is None else array[which] for array, which in arrays])

    every = [cells for cells, _ in parts]
    vruns, fruns, eruns = (laid_out(name) for name in ("vptr", "fptr", "eptr"))
    edges = copied([cells.edges for cells in every], eruns)
    for v, f, e in zip(vruns, fruns, eruns, strict=True):
        edges[:2, e.start : e.end] += v.shift.repeat(e.counts)
        edges[2:, e.start : e.end] += f.shift.repeat(e.counts)
    vptr, fptr, eptr = (indptr_of(np.concatenate([run.counts for run in runs])) for runs in (vruns, fruns, eruns))
    out = Cells(
        copied([cells.verts for cells in every], vruns), copied([cells.faces for cells in every], fruns), edges,
        vptr, fptr, eptr,
        each("rot"), each("move"), each("strip"), each("piece"), each("known"),
    )  # fmt: skip
    if max(every, key=len).where.world is not None:
        out.where.world = copied([cells.world().T for cells in every], vruns).T
    return out


def _owners(ptr: Ints) -> Ints:
    return np.arange(len(ptr) - 1).repeat(counts_of(ptr))


def _piece_bounds(cells: Cells) -> tuple[Floats, Floats]:
    low, high = cells.cell_bounds()
    order = cells.piece.argsort(kind="stable")
    start = np.searchsorted(cells.piece[order], np.arange(cells.pieces))
    return np.minimum.reduceat(low[order], start, axis=0), np.maximum.reduceat(high[order], start, axis=0)


_MIXED: Ints = np.random.default_rng(14).integers(1 << 62, size=14) * 2 + 1
"""Odd numbers that mix what a block is told by into one."""


def _blocks(cells: Cells) -> Ints:
    told = np.column_stack([cells.move * 1e4, cells.rot.reshape(-1, 9) * 1e6])
    frames = np.column_stack([cells.piece, cells.strip, np.rint(told).astype(np.int64)])
    # one number a row, since rows take ten times as long to tell apart; it wraps round
    _, first, block = np.unique(frames @ _MIXED, return_index=True, return_inverse=True)
    rank = np.empty(len(first), np.int64)
    rank[first.argsort()] = np.arange(len(first))
    return np.asarray(rank[block])


# The box every milled strip starts as: corner i has bit 0 for x, bit 1 for y, bit 2 for z; faces are
# -x +x -y +y -z +z; each edge has its left and right face as seen from outside.
_BOX_EDGES = np.array(
    [
        (0, 1, 2, 4), (1, 3, 1, 4), (3, 2, 3, 4), (2, 0, 0, 4),
        (4, 5, 5, 2), (5, 7, 5, 1), (7, 6, 5, 3), (6, 4, 5, 0),
        (0, 4, 0, 2), (1, 5, 2, 1), (3, 7, 1, 3), (2, 6, 3, 0),
    ],
    dtype=np.int64,
).T  # fmt: skip


def boxes(sizes: Floats, strips: Ints) -> Cells:
    """One box a strip, each its own piece with a corner at the origin.

    ``sizes`` is (n, 3) width, length, thickness in mm; ``strips`` (n,) the strips' numbers.
    """
    n = len(sizes)
    corner = np.array([[(i >> axis) & 1 for i in range(8)] for axis in range(3)], float)
    verts = (corner[:, None, :] * sizes.T[:, :, None]).reshape(3, 8 * n)
    normals = np.array([[-1, 1, 0, 0, 0, 0], [0, 0, -1, 1, 0, 0], [0, 0, 0, 0, -1, 1]], float)
    offsets = np.zeros((n, 6))
    offsets[:, 1::2] = sizes
    faces = np.concatenate([np.tile(normals, n), offsets.reshape(1, 6 * n), np.zeros((1, 6 * n))])
    step = np.array([8, 8, 6, 6])[:, None, None] * np.arange(n)[None, :, None]
    edges: Ints = (_BOX_EDGES[:, None, :] + step).reshape(4, 12 * n)
    return Cells(
        verts, faces, edges, 8 * np.arange(n + 1), 6 * np.arange(n + 1), 12 * np.arange(n + 1),
        np.tile(np.eye(3), (n, 1, 1)), np.zeros((n, 3)), np.asarray(strips, np.int64), np.arange(n), np.full(n, np.nan),
    )  # fmt: skip
