"""Slabs: all parallel planes of one sawing, or of one planing, through all cells in a single pass.

Every corner gets a code by its height: 2 s inside slab s, 2 j + 1 on boundary j, so that codes rise with height.
From codes alone follows which slabs a cell, a face or an edge reaches. An edge from a low to a high code is cut
into its pieces, each new point computed once and used on both sides. A face that reaches to both sides of a
boundary has one way in and one way out of it, and the two points are an edge of the cap that closes either slab.
A face with any other number is a contradiction and raises GeometryError.
"""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from ..errors import GeometryError, TooManyCellsError
from .cells import (
    GLUED,
    MOST_CELLS,
    ON_PLANE,
    Bools,
    Cells,
    Floats,
    Ints,
    dot,
    edge_volumes,
    gaps,
    join,
    pick,
    spread,
    starts,
)
from .pack import packed
from .prisms import Prisms

COPLANAR = 1e-5
"""Faces nearer than this to a boundary (mm) and level with it lie in it, as far as glue is concerned."""

BATCH = 2000
"""So many cells are made at a time: few enough that what is worked on stays in the processor's cache."""


@dataclass(frozen=True, slots=True)
class Slabs:
    """Cells between parallel planes: ``slab`` (n,) is i where a cell lies between boundary i − 1 and boundary i, so 0
    is below the first and len(boundaries) above the last. ``lost`` is the volume in each slab that was not
    kept, mm³."""

    cells: Cells
    slab: Ints
    lost: Floats

    def of(self, number: int) -> Cells:
        """The cells of one slab."""
        return self.cells.take(self.slab == number)


def slabs(cells: Cells, normal: Floats, boundaries: Floats, keep: Ints | None = None) -> Slabs:
    """Cut by all planes normal · x = boundary at once; ``boundaries`` rise, in mm.

    Only the slabs in ``keep`` are built, or all; the volume of the others is worked out all the same. Raises
    TooManyCellsError before it makes too many.
    """
    count = len(boundaries) + 1
    if not len(cells):
        return Slabs(cells, np.zeros(0, np.int64), np.zeros(count))
    local = np.einsum("cij,i->jc", cells.rot, normal)
    cells = cells.laid_bare(_in_planes(cells, local, cells.move @ normal, boundaries))
    counts = gaps(cells.vptr)
    height = dot(np.repeat(local, counts, axis=1), cells.verts) + np.repeat(cells.move @ normal, counts)
    code = np.searchsorted(boundaries, height - ON_PLANE) + np.searchsorted(boundaries, height + ON_PLANE)
    low, high = _slab_range(code, cells.vptr[:-1])
    if (made := int((high - low + 1).sum())) > MOST_CELLS:
        raise TooManyCellsError(f"This would cut the wood into {made:,} cells; one build holds {MOST_CELLS:,}.")
    wanted = np.ones(count, bool)
    if keep is not None:
        wanted[:] = False
        wanted[keep] = True
    whole = low == high
    lost = np.zeros(count)
    parts, numbers = [cells.take(whole & wanted[low])], [low[whole & wanted[low]]]
    if not wanted.all() and bool((gone := whole & ~wanted[low]).any()):
        lost += np.bincount(low[gone], cells.take(gone).volumes(), minlength=count)
    index = np.flatnonzero(~whole)
    for which in _batches(index, (high - low)[index] + 1):
        mine = spread(cells.vptr[which], counts[which])
        part = cells.take(which)
        fits, prisms = Prisms.of(part, local[:, which], height[mine])
        if prisms is not None:
            done = _of_prisms(prisms, boundaries, low[which[fits]], high[which[fits]], wanted)
            parts.append(done.cells)
            numbers.append(done.slab)
            lost += done.lost
        if not fits.all():
            which, mine = which[~fits], mine[np.repeat(~fits, gaps(part.vptr))]
            done = _Slicing(
                part.take(~fits), local[:, which], boundaries, height[mine], code[mine], low[which], high[which]
            ).slices(wanted)  # fmt: skip
            parts.append(done.cells)
            numbers.append(done.slab)
            lost += done.lost
    return Slabs(join(parts), np.concatenate(numbers), lost)


def _in_planes(cells: Cells, local: Floats, shift: Floats, boundaries: Floats) -> Ints:
    """Glued faces that lie in a boundary, so that the cut may part them from what they are glued to. ``local`` (3, n)
    is the normal in each strip's frame, ``shift`` (n,) how far along it that frame lies."""
    glued = np.flatnonzero(cells.faces[GLUED])
    cell = cells.cell_of_face()[glued]
    facing = dot(pick(cells.faces, glued)[:3], pick(local, cell))
    level = np.abs(facing) > 1 - 1e-9
    glued, height = glued[level], (facing[level] * cells.faces[3, glued[level]] + shift[cell[level]])
    near = np.searchsorted(boundaries, height - COPLANAR) != np.searchsorted(boundaries, height + COPLANAR)
    return np.asarray(glued[near])


def _batches(index: Ints, made: Ints) -> list[Ints]:
    """Cells in runs that make about ``BATCH`` cells each."""
    ends = np.cumsum(made)
    cuts = np.searchsorted(ends, np.arange(BATCH, int(ends[-1]) if len(ends) else 0, BATCH))
    return [run for run in np.split(index, cuts) if len(run)]


def _of_prisms(prisms: Prisms, boundaries: Floats, low: Ints, high: Ints, wanted: Bools) -> Slabs:
    """Prisms from slab ``low`` to slab ``high`` (n,)."""
    source, slab = _instances(low, high)
    edge = np.concatenate([[-np.inf], boundaries, [np.inf]])
    volume = prisms.volumes(source, edge[slab], edge[slab + 1])
    lost = _lost(slab, volume, wanted)
    built = wanted[slab]
    source, slab, volume = source[built], slab[built], volume[built]
    return Slabs(prisms.sliced(source, edge[slab], edge[slab + 1], volume), slab, lost)


def _lost(slab: Ints, volume: Floats, wanted: Bools) -> Floats:
    """Volume in each slab that is not wanted."""
    away = ~wanted[slab]
    return np.asarray(np.bincount(slab[away], volume[away], minlength=len(wanted)), float)


def _instances(low: Ints, high: Ints) -> tuple[Ints, Ints]:
    """Cell and slab of everything that is cut: one entry for each slab of each cell."""
    count = high - low + 1
    return np.repeat(np.arange(len(low)), count), spread(low, count)


def _slab_range(code: Ints, start: Ints) -> tuple[Ints, Ints]:
    """First and last slab that a run of codes reaches into; what only touches a boundary lies on its other side."""
    lowest, highest = np.minimum.reduceat(code, start), np.maximum.reduceat(code, start)
    low = (lowest + 1) // 2
    return low, np.maximum(low, highest // 2)


@dataclass(frozen=True, slots=True)
class _Slicing:
    """Cells that really are cut. ``local`` (3, n) is the planes' normal in each strip's frame; ``height`` and
    ``code`` (nv,) belong to the vertices; ``low`` and ``high`` (n,) are the first and last slab of each cell."""

    cells: Cells
    local: Floats
    boundaries: Floats
    height: Floats
    code: Ints
    low: Ints
    high: Ints

    def slices(self, wanted: Bools) -> Slabs:
        """One cell for each wanted slab of each cell."""
        cells = self.cells
        source, slab = _instances(self.low, self.high)
        first = starts(self.high - self.low + 1)[:-1]  # instance of each cell in its lowest slab
        # every instance has room for all corners of its cell, and for its faces and two caps
        nv, nf = gaps(cells.vptr), gaps(cells.fptr)
        vbase, fbase = starts(nv[source]), starts(nf[source] + 2)
        made = _Points.along(self, first, int(vbase[-1]))
        edges, owner = self._edges(first, vbase, fbase, made)
        verts = np.concatenate([pick(cells.verts, spread(cells.vptr[source], nv[source])), made.points], axis=1)
        faces = self._faces(source, slab, fbase)
        every = np.arange(len(source))
        owner_v = np.concatenate([every.repeat(nv[source]), made.owner])
        owner_f = every.repeat(nf[source] + 2)
        volume = edge_volumes(verts, faces, edges, owner_v, owner_f, owner, len(source))
        built = wanted[slab]
        rank = np.cumsum(built) - 1
        mine = built[owner]
        edges, owner = edges.compress(mine, axis=1), rank[owner[mine]]
        out = packed(cells, source[built], verts, faces, edges, rank[owner_v], rank[owner_f], owner)
        return Slabs(replace(out, known=volume[built]), slab[built], _lost(slab, volume, wanted))

    def _faces(self, source: Ints, slab: Ints, fbase: Ints) -> Floats:
        """Faces of every instance, the lower and the upper cap behind its own."""
        cells = self.cells
        count = gaps(cells.fptr)[source]
        faces = np.empty((5, int(fbase[-1])))
        faces[:, spread(fbase[:-1], count)] = pick(cells.faces, spread(cells.fptr[source], count))
        lower, upper = fbase[:-1] + count, fbase[:-1] + count + 1
        shift = cells.move[source] @ self._world()
        edge = np.concatenate([[np.nan], self.boundaries, [np.nan]])
        normal = pick(self.local, source)
        faces[:3, lower], faces[3, lower] = -normal, -(edge[slab] - shift)
        faces[:3, upper], faces[3, upper] = normal, edge[slab + 1] - shift
        faces[GLUED, lower] = faces[GLUED, upper] = 0.0
        return faces

    def _world(self) -> Floats:
        """The planes' normal in world coordinates."""
        return np.asarray(self.cells.rot[0] @ self.local[:, 0])

    def _edges(self, first: Ints, vbase: Ints, fbase: Ints, made: _Points) -> tuple[Ints, Ints]:
        """Edges (4, k) of all instances and the instance of each: pieces of edges, edges in a boundary, cap edges."""
        cells, code = self.cells, self.code
        cell_e = cells.cell_of_edge()
        nf = gaps(cells.fptr)
        v0, v1, left, right = cells.edges
        c0, c1 = code[v0], code[v1]

        def vertex(inst: Ints, v: Ints, cell: Ints) -> Ints:
            return np.asarray(vbase[inst] + v - cells.vptr[cell])

        def face(inst: Ints, f: Ints, cell: Ints) -> Ints:
            return np.asarray(fbase[inst] + f - cells.fptr[cell])

        # edges that do not lie in a boundary, one piece a slab
        run = np.flatnonzero((c0 != c1) | (c0 % 2 == 0))
        begin, end = (np.minimum(c0, c1)[run] + 1) // 2, np.maximum(c0, c1)[run] // 2
        pieces = end - begin + 1
        e, at = np.repeat(run, pieces), spread(np.zeros_like(pieces), pieces)
        cell = cell_e[e]
        inst = first[cell] + np.repeat(begin, pieces) + at - self.low[cell]
        rising = c0[e] <= c1[e]
        bottom, top = np.where(rising, v0[e], v1[e]), np.where(rising, v1[e], v0[e])
        crossing = np.repeat(made.start[run], pieces) + at  # the crossing at this piece's upper end
        last = at == np.repeat(pieces, pieces) - 1
        lower = np.where(at == 0, vertex(inst, bottom, cell), made.above(crossing - 1))
        upper = np.where(last, vertex(inst, top, cell), made.below(crossing))
        ends = [np.where(rising, lower, upper), np.where(rising, upper, lower)]
        parts = [np.stack([*ends, face(inst, left[e], cell), face(inst, right[e], cell)])]
        owners = [inst]

        # edges in a boundary go to both neighbours; there the face that does not reach this side becomes the cap
        face_low, face_high = self._face_codes()
        rim = np.flatnonzero((c0 == c1) & (c0 % 2 == 1))
        at_j, cell = c0[rim] // 2, cell_e[rim]
        for up in (0, 1):
            slab = at_j + up
            there = (slab >= self.low[cell]) & (slab <= self.high[cell])
            e, own, j = rim[there], cell[there], at_j[there]
            inst = first[own] + slab[there] - self.low[own]
            capped = (self.low[own] <= j) & (j < self.high[own])
            cap = fbase[inst] + nf[own] + (0 if up else 1)
            reaches = (face_high[left[e]] > 2 * j + 1) if up else (face_low[left[e]] < 2 * j + 1)
            keep_left, keep_right = ~capped | reaches, ~capped | ~reaches
            parts.append(np.stack([
                vertex(inst, v0[e], own), vertex(inst, v1[e], own),
                np.where(keep_left, face(inst, left[e], own), cap),
                np.where(keep_right, face(inst, right[e], own), cap),
            ]))  # fmt: skip
            owners.append(inst)

        # caps
        f, j, a, b = self._cap_events(made, face_low, face_high)
        cell = cells.cell_of_face()[f]
        for up in (0, 1):
            inst = first[cell] + j + up - self.low[cell]
            cap = fbase[inst] + nf[cell] + (0 if up else 1)
            own_face = face(inst, f, cell)
            new = [made.above(x - len(code)) if up else made.below(x - len(code)) for x in (a, b)]
            old = [vertex(inst, np.minimum(x, len(code) - 1), cell) for x in (a, b)]
            p, q = (np.where(x >= len(code), n_, o_) for x, n_, o_ in zip((a, b), new, old, strict=True))
            parts.append(np.stack([p, q, cap, own_face] if up else [p, q, own_face, cap]))
            owners.append(inst)
        return np.concatenate(parts, axis=1), np.concatenate(owners)

    def _face_codes(self) -> tuple[Ints, Ints]:
        """Lowest and highest code of each face's corners."""
        nf = self.cells.faces.shape[1]
        v0, v1, *faces = self.cells.edges
        c0, c1 = self.code[v0], self.code[v1]
        low, high = np.full(nf, 2 * len(self.boundaries)), np.zeros(nf, np.int64)
        for face in faces:
            np.minimum.at(low, face, np.minimum(c0, c1))
            np.maximum.at(high, face, np.maximum(c0, c1))
        return low, high

    def _cap_events(self, made: _Points, face_low: Ints, face_high: Ints) -> tuple[Ints, Ints, Ints, Ints]:
        """Face, boundary and the two points of every cap edge. Points are vertices, or len(code) + a crossing.

        Walked anticlockwise, the part of a face below a boundary comes up to it at the first point and leaves it at
        the second.
        """
        code = self.code
        v0, v1, left, right = self.cells.edges
        c0, c1 = code[v0], code[v1]
        top = np.maximum(c0, c1)
        touching = np.flatnonzero((c0 != c1) & (top % 2 == 1))
        touch_v = np.where(c0[touching] > c1[touching], v0[touching], v1[touching])
        e = np.concatenate([made.edge, touching])
        j = np.concatenate([made.boundary, top[touching] // 2])
        point = np.concatenate([len(code) + np.arange(len(made.edge)), touch_v])
        rising = (c0 < c1)[e]
        first = (face_low + 1) // 2  # the lowest boundary that a face reaches to both sides of
        count = np.maximum(face_high // 2 - first, 0)
        base = starts(count)
        ends = np.full((2, int(base[-1])), -1)
        met = 0
        for face, up in ((left[e], rising), (right[e], ~rising)):  # on its right an edge is walked backwards
            live = (face_low[face] < 2 * j + 1) & (face_high[face] > 2 * j + 1)
            which = np.where(up[live], 0, 1)
            ends[which, (base[face] + j - first[face])[live]] = point[live]
            met += len(which)
        if met != ends.size or bool((ends < 0).any()):
            raise GeometryError("A face met a cut in other than two points.")
        return np.repeat(np.arange(len(count)), count), spread(first, count), ends[0], ends[1]


@dataclass(frozen=True, slots=True)
class _Points:
    """Where edges cross boundaries: ``edge`` and ``boundary`` (k,), ``start`` (ne,) the first crossing of each edge.
    Every crossing is a corner of two instances, below and above: ``points`` (3, 2 k), ``owner`` (2 k,)."""

    edge: Ints
    boundary: Ints
    start: Ints
    points: Floats
    owner: Ints
    base: int

    @classmethod
    def along(cls, cut: _Slicing, first: Ints, base: int) -> _Points:
        """All crossings; ``first`` is the instance of each cell's lowest slab, ``base`` the number of old corners."""
        cells = cut.cells
        v0, v1 = cells.edges[:2]
        c0, c1 = cut.code[v0], cut.code[v1]
        begin, end = (np.minimum(c0, c1) + 1) // 2, np.maximum(c0, c1) // 2
        count = np.maximum(end - begin, 0)
        start = starts(count)[:-1]
        edge, boundary = np.repeat(np.arange(len(v0)), count), spread(begin, count)
        a, b = v0[edge], v1[edge]
        share = (cut.boundaries[boundary] - cut.height[a]) / (cut.height[b] - cut.height[a])
        start_v = pick(cells.verts, a)
        points = start_v + share * (pick(cells.verts, b) - start_v)
        cell = cells.cell_of_edge()[edge]
        below = first[cell] + boundary - cut.low[cell]
        return cls(
            edge, boundary, start, np.repeat(points, 2, axis=1), np.stack([below, below + 1], axis=1).ravel(), base
        )

    def below(self, crossing: Ints) -> Ints:
        """The crossing as a corner of the slab below it."""
        return self.base + 2 * crossing

    def above(self, crossing: Ints) -> Ints:
        return self.base + 2 * crossing + 1
