"""Splitting cells by a plane: what every saw, planer and chamfer comes down to.

All cells are split in one batch. A vertex is below, on or above the plane, three ways and with a
tolerance no real dimension meets. Cells wholly on one side are passed on untouched; for the rest every
edge that crosses yields one new vertex, used by both sides. A face the plane runs through has one way
in and one way out, and the two points are an edge of the new cap. A face with any other number is a
contradiction and raises GeometryError.

Where only what lies below is wanted, as with chamfers, planes that take nothing from each other cut a cell together,
and of the chips the volume alone is worked out.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

import numpy as np

from ..errors import GeometryError
from .cells import ON_PLANE, Bools, Cells, Floats, Ints, cross, dot, edge_volumes, join, pick
from .pack import packed


@dataclass(frozen=True, slots=True)
class Plane:
    """The plane normal · x = offset in world coordinates; ``normal`` is a unit (3,) vector."""

    normal: Floats
    offset: float

    @classmethod
    def of(cls, normal: tuple[float, float, float], offset: float) -> Plane:
        """A plane by any non-zero normal; ``offset`` is measured along the unit normal, mm."""
        vector = np.asarray(normal, float)
        length = float(np.linalg.norm(vector))
        if not length > 0:
            raise GeometryError("A cut needs a direction; its normal has no length.")
        return cls(vector / length, offset)

    @classmethod
    def across(cls, axis: int, at: float) -> Plane:
        """The plane square to a world axis (0 x, 1 y, 2 z) at a distance in mm."""
        normal = np.zeros(3)
        normal[axis] = 1.0
        return cls(normal, at)


def split(cells: Cells, plane: Plane) -> tuple[Cells, Cells]:
    """Cells below (normal · x ≤ offset) and above the plane. Volumes add up; pieces keep their numbers."""
    cells = cells.laid_bare()
    if not len(cells):
        return cells, cells
    normal, offset = np.tile(plane.normal, (len(cells), 1)), np.full(len(cells), plane.offset)
    cell_v = cells.cell_of_vertex()
    normals, offsets = _carried(cells, normal, offset)
    distance = dot(pick(normals, cell_v), cells.verts) - offsets[cell_v]
    low, high = (reach.reduceat(distance, cells.vptr[:-1]) for reach in (np.minimum, np.maximum))
    crossed = (low < -ON_PLANE) & (high > ON_PLANE)
    below, above = cells.take((high <= ON_PLANE) & ~crossed), cells.take((high > ON_PLANE) & ~crossed)
    if not crossed.any():
        return below, above
    some = cells.take(crossed)
    cut = _Cut.of(some, normal[crossed], offset[crossed], distance[crossed[cell_v]])
    return join([below, _packed(some, [cut], -1)]), join([above, _packed(some, [cut], 1)])


def shave(cells: Cells, *groups: Sequence[Plane]) -> tuple[Cells, float]:
    """What lies below every plane, and the volume of all the chips, mm³. What planes of one group cut off must not
    meet what those of another do, as the chamfers of a face do not meet those of the underside.

    Each round cuts every cell by that plane of each group which it still reaches farthest beyond, so that planes which
    meet few cells in common cost few rounds, and many that meet the same cells are mostly past once they are due.
    """
    planes = [plane for group in groups for plane in group]
    if not planes or not len(cells):
        return cells, 0.0
    normals, offsets = np.stack([p.normal for p in planes]), np.array([p.offset for p in planes])
    cells = cells.laid_bare()  # also cells that are not cut lose what is taken beside them
    beyond, past = _beyond(cells, normals, offsets)
    done, gone = [], cells.take(past).volume() if past.any() else 0.0
    cells, beyond = cells.take(~past), beyond.compress(~past, axis=0)
    ends = np.cumsum([0] + [len(group) for group in groups]).tolist()
    queues = [_queued(beyond[:, a:b], a) for a, b in pairwise(ends)]
    while len(cells):
        waiting: Bools = np.any([(queue >= 0).any(axis=1) for queue in queues], axis=0)
        done.append(cells.take(~waiting))
        if not waiting.any():
            break
        cells, queues = cells.take(waiting), [queue.compress(waiting, axis=0) for queue in queues]
        cuts: list[_Cut] = []
        lost = np.zeros(len(cells), bool)
        for at, queue in enumerate(queues):
            if queue.size:
                plane, distance, queues[at] = _farthest(cells, queue, normals, offsets)
                lost |= np.minimum.reduceat(distance, cells.vptr[:-1]) > -ON_PLANE
                cuts.append(_Cut.of(cells, normals[plane], offsets[plane], distance))
        gone += sum(cut.chips() for cut in cuts)
        cells, queues = _packed(cells, cuts, -1).take(~lost), [queue.compress(~lost, axis=0) for queue in queues]
    return join(done), gone


def _farthest(cells: Cells, queue: Ints, normals: Floats, offsets: Floats) -> tuple[Ints, Floats, Ints]:
    """Which plane of its row of ``queue`` (n, most) each cell reaches farthest beyond, (n,); how far beyond it the
    cell's corners lie, (nv,), or −∞ where the cell reaches beyond none; and the queue without these and without all
    that are past."""
    cell, numbers = cells.cell_of_vertex(), np.arange(len(cells))
    height = np.einsum("kiv,iv->kv", normals[queue].transpose(1, 2, 0).take(cell, axis=2), cells.world().T)
    height -= offsets[queue].T.take(cell, axis=1)
    high = np.maximum.reduceat(height, cells.vptr[:-1], axis=1).T
    reached = (queue >= 0) & (high > ON_PLANE)
    farthest = np.where(reached, high, -np.inf).argmax(axis=1)
    distance = height[farthest[cell], np.arange(len(cell))]
    distance[~reached[numbers, farthest][cell]] = -np.inf
    plane = queue[numbers, farthest]
    reached[numbers, farthest] = False
    return plane, distance, np.where(reached, queue, -1)


def _beyond(cells: Cells, normals: Floats, offsets: Floats, chunk: int = 64) -> tuple[Bools, Bools]:
    """Which cells reach beyond which planes, (n, planes), and which lie beyond one altogether, (n,); a few planes at a
    time so that memory stays small."""
    out, past = np.zeros((len(cells), len(offsets)), bool), np.zeros(len(cells), bool)
    lowest, highest = cells.cell_bounds()
    reach = (highest - lowest) / 2 @ np.abs(normals.T) + (highest + lowest) / 2 @ normals.T
    near = np.flatnonzero((reach > offsets).any(axis=1))  # most cells of a board lie away from its edges
    if not len(near):
        return out, past
    cells = cells.take(near)
    points = cells.world().T
    for at in range(0, len(offsets), chunk):
        some = slice(at, at + chunk)
        height = normals[some] @ points - offsets[some, None]
        low, high = (reach.reduceat(height, cells.vptr[:-1], axis=1) for reach in (np.minimum, np.maximum))
        out[near, some] = (high > ON_PLANE).T
        past[near] |= (low > -ON_PLANE).any(axis=0)
    return out, past


def _queued(beyond: Bools, first: int) -> Ints:
    """The numbers of the planes that each cell reaches beyond, the first being ``first``, filled up with -1,
    (n, most)."""
    most = int(beyond.sum(axis=1).max(initial=0))
    order = np.argsort(~beyond, axis=1, kind="stable")[:, :most]
    return np.where(np.take_along_axis(beyond, order, axis=1), order + first, -1)


def halves(cells: Cells, normal: Floats, offset: Floats, distance: Floats) -> Cells:
    """Cells that all reach to both sides of a world plane of their own, normals (n, 3) and offsets (n,), first all that
    lies below and then all that lies above; ``distance`` (nv,) is how far beyond it each corner lies. As one set, since
    with few cells and many cuts sorting them into two takes longest. Raises GeometryError."""
    cut = _Cut.of(cells, normal, offset, distance)
    low, high = _loose(cells, [cut], -1), _loose(cells, [cut], 1)
    n, (nv, nf) = len(cells), (part.shape[1] for part in low[:2])
    ends, sides = high[2][:2] + nv, high[2][2:] + nf
    sort = np.arange(n)
    return packed(
        cells, np.concatenate([sort, sort]), np.concatenate([low[0], high[0]], axis=1),
        np.concatenate([low[1], high[1]], axis=1), np.concatenate([low[2], np.concatenate([ends, sides])], axis=1),
        np.concatenate([low[3], high[3] + n]), np.concatenate([low[4], high[4] + n]),
        np.concatenate([low[5], high[5] + n]),
        np.concatenate([_allowed(low[0], [cut], -1), _allowed(high[0], [cut], 1)]),
    )  # fmt: skip


def _carried(cells: Cells, normal: Floats, offset: Floats) -> tuple[Floats, Floats]:
    """Planes (n, 3) and (n,) in each strip's own frame, (3, n) and (n,)."""
    return (
        np.asarray(np.einsum("cij,ci->jc", cells.rot, normal)),
        np.asarray(offset - np.einsum("ci,ci->c", cells.move, normal)),
    )


@dataclass(frozen=True, slots=True)
class _Cut:
    """Where a plane of its own meets each cell: ``plane`` (5, n) as cells write their faces, ``side`` (nv,) of each
    corner, -1 below, 0 on it, 1 above. The edges ``crossing`` (k,) get new corners ``points`` (3, k), numbered behind
    the old ones. ``cap`` (3, c) is each cut face and the corners its cap edge runs between, anticlockwise on the
    face's lower part, seen from outside. ``rims`` (3, r) are the edges in the plane, and how far below and above it
    their left face reaches."""

    cells: Cells
    plane: Floats
    side: Ints
    crossing: Ints
    points: Floats
    cap: Ints
    rims: Ints

    @classmethod
    def of(cls, cells: Cells, normal: Floats, offset: Floats, distance: Floats) -> _Cut:
        """From world planes (n, 3) and (n,), and how far beyond its cell's plane each corner lies, (nv,). Raises
        GeometryError where a face meets its plane in other than two points."""
        side = (distance > ON_PLANE).astype(np.int64) - (distance < -ON_PLANE)
        normals, offsets = _carried(cells, normal, offset)
        plane = np.concatenate([normals, offsets[None], np.zeros((1, len(cells)))])
        v0, v1, left, right = cells.edges
        s0, s1 = side[v0], side[v1]
        crossing = np.flatnonzero(s0 * s1 < 0)
        d0, d1 = distance[v0[crossing]], distance[v1[crossing]]
        start = pick(cells.verts, v0[crossing])
        points = start + d0 / (d0 - d1) * (pick(cells.verts, v1[crossing]) - start)
        new = cells.verts.shape[1] + np.arange(len(crossing))

        # faces that reach to both sides get a cap edge
        low, high = np.zeros((2, cells.faces.shape[1]), np.int64)
        for face in (left, right):
            np.minimum.at(low, face, np.minimum(s0, s1))
            np.maximum.at(high, face, np.maximum(s0, s1))
        through = (low < 0) & (high > 0)
        touching = np.flatnonzero(((s0 == 0) & (s1 < 0)) | ((s1 == 0) & (s0 < 0)))
        touch = np.where(s0[touching] == 0, v0[touching], v1[touching])
        face = np.concatenate([left[crossing], right[crossing], left[touching], right[touching]])
        corner = np.concatenate([new, new, touch, touch])
        live = np.flatnonzero(through[face])
        live = live[face[live].argsort(kind="stable")]
        face, corner = face[live], corner[live]
        if len(face) != 2 * int(through.sum()) or not bool((face[::2] == face[1::2]).all()):
            raise GeometryError("A face met the cut in other than two points.")
        face, p, q = face[::2], corner[::2], corner[1::2]
        where = np.concatenate([cells.verts, points], axis=1)
        across = cross(pick(normals, cells.cell_of_face()[face]), pick(cells.faces, face)[:3])
        wrong = dot(pick(where, q) - pick(where, p), across) > 0
        cap = np.stack([face, np.where(wrong, q, p), np.where(wrong, p, q)])
        rim = np.flatnonzero((s0 == 0) & (s1 == 0))
        return cls(cells, plane, side, crossing, points, cap, np.stack([rim, low[left[rim]], high[left[rim]]]))

    def closing(self, sign: int, cap: Ints, made: int) -> tuple[Ints, Ints]:
        """Edges (4, k) round the cap that closes the lower (-1) or the upper (1) half, and the cell of each; ``cap``
        (n,) is its face by cell. Other cuts have ``made`` so many new corners before this one."""
        cells = self.cells
        cell_f, (rim, low, high) = cells.cell_of_face(), self.rims
        v0, v1, left, right = pick(cells.edges, rim)
        cell = cells.cell_of_edge()[rim]
        # an edge in the plane keeps its face on this side; the other is the cap
        here = (high > 0) if sign > 0 else (low < 0)
        face, (p, q) = self.cap[0], self.cap[1:] + made * (self.cap[1:] >= len(self.side))
        mine = cap[cell_f[face]]
        edges = np.stack([
            np.concatenate([v0, p]), np.concatenate([v1, q]),
            np.concatenate([np.where(here, left, cap[cell]), face if sign < 0 else mine]),
            np.concatenate([np.where(here, cap[cell], right), mine if sign < 0 else face]),
        ])  # fmt: skip
        return edges, np.concatenate([cell, cell_f[face]])

    def chips(self) -> float:
        """Volume above the planes, mm³."""
        return float(edge_volumes(*_loose(self.cells, [self], 1), len(self.cells)).sum())


def _loose(cells: Cells, cuts: Sequence[_Cut], sign: int) -> tuple[Floats, Floats, Ints, Ints, Ints, Ints]:
    """Corners, faces and edges of what lies below all cuts (-1) or above the only one (1), and the cell of each, for
    ``edge_volumes`` and ``packed``; some corners and faces may be of no use any more."""
    n, faces = len(cells), cells.faces.shape[1]
    cell_e = cells.cell_of_edge()
    ends, inside = cells.edges[:2].copy(), np.ones(cells.edges.shape[1], bool)
    edges, owners, made = [], [], 0
    for number, cut in enumerate(cuts):
        s = cut.side[cells.edges[:2]]
        inside &= (s * sign > 0).any(axis=0)
        new = cells.verts.shape[1] + made + np.arange(len(cut.crossing))
        for end in (0, 1):
            off = s[end, cut.crossing] != sign
            ends[end, cut.crossing[off]] = new[off]
        closing, owner = cut.closing(sign, faces + number * n + np.arange(n), made)
        made += len(new)
        edges.append(closing)
        owners.append(owner)
    kept = np.flatnonzero(inside)
    return (
        np.concatenate([cells.verts, *(cut.points for cut in cuts)], axis=1),
        np.concatenate([cells.faces, *(-sign * cut.plane for cut in cuts)], axis=1),
        np.concatenate([np.concatenate([pick(ends, kept), pick(cells.edges, kept)[2:]]), *edges], axis=1),
        np.concatenate([cells.cell_of_vertex(), *(cell_e[cut.crossing] for cut in cuts)]),
        np.concatenate([cells.cell_of_face(), *(np.arange(n) for _ in cuts)]),
        np.concatenate([cell_e[kept], *owners]),
    )


def _packed(cells: Cells, cuts: Sequence[_Cut], sign: int) -> Cells:
    """One half of every cell; a cell that does not reach to it is left without corners."""
    loose = _loose(cells, cuts, sign)
    return packed(cells, np.arange(len(cells)), *loose, _allowed(loose[0], cuts, sign))


def _allowed(verts: Floats, cuts: Sequence[_Cut], sign: int) -> Bools:
    """Which of the corners of ``_loose`` lie on its side of all cuts."""
    allowed = np.ones(verts.shape[1], bool)
    for cut in cuts:
        allowed[: len(cut.side)] &= cut.side * sign >= 0
    return allowed
