"""Slicing: cells of any shape cut into slabs by all boundaries at once.

Every corner has a code by its height: 2 s inside slab s, 2 j + 1 on boundary j, so that codes rise with height.
From codes alone follows which slabs a cell, a face or an edge reaches. An edge from a low to a high code is cut
into its pieces, each new point computed once and used on both sides. A face that reaches to both sides of a
boundary has one way in and one way out of it, and the two points are an edge of the cap that closes either slab.
A face with any other number is a contradiction and raises GeometryError. Of dust only the volume is worked out.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..errors import GeometryError
from .cells import GLUED, Bools, Cells, Floats, Ints, counts_of, edge_volumes, indptr_of, pick, spread, swept
from .pack import packed


def instances(low: Ints, high: Ints) -> tuple[Ints, Ints]:
    """Cell and slab of everything that is cut: one entry for each slab of each cell."""
    count = high - low + 1
    return np.repeat(np.arange(len(low)), count), spread(low, count)


def lost_in(slab: Ints, volume: Floats, wanted: Bools) -> Floats:
    """Volume in each slab that is not wanted."""
    away = ~wanted[slab]
    return np.asarray(np.bincount(slab[away], volume[away], minlength=len(wanted)), float)


@dataclass(frozen=True, slots=True)
class Slicing:
    """Cells that really are cut, every edge running upwards. ``local`` (3, n) is the planes' normal in each strip's
    frame; ``flat`` (3, nv) where the corners lie along two directions in the planes and, last, along the normal, as
    right-handed axes; ``code`` (nv,) belongs to the corners; ``low`` and ``high`` (n,) are the first and last slab of
    each cell, and ``slots`` (n+1,) where each cell's slabs are among those of all."""

    cells: Cells
    local: Floats
    boundaries: Floats
    flat: Floats
    code: Ints
    low: Ints
    high: Ints
    slots: Ints

    @classmethod
    def of(
        cls, cells: Cells, local: Floats, boundaries: Floats, flat: Floats, code: Ints, low: Ints, high: Ints
    ) -> Slicing:
        """Cells whose edges may run any way."""
        edges = cells.edges
        falling = np.flatnonzero(code[edges[0]] > code[edges[1]])
        edges = edges.copy()
        edges[:, falling] = pick(edges[[1, 0, 3, 2]], falling)  # walked the other way, left is right
        return cls(cells.replace(edges=edges), local, boundaries, flat, code, low, high, indptr_of(high - low + 1))

    @property
    def slot_of_slab(self) -> Ints:
        """To be added to the number of a slab to find it among those of all, by cell, (n,)."""
        return self.slots[:-1] - self.low

    def slices(self, wanted: Bools) -> tuple[Cells, Ints, Floats]:
        """One cell for each wanted slab of each cell, the slab of each, and the volume in every other slab, mm³."""
        cells = self.cells
        source, slab = instances(self.low, self.high)
        made = _Points.along(self)
        caps = self._caps(made)
        idle = ~wanted[slab] & self._clear(source, slab)
        lost = np.zeros(len(wanted))
        if idle.any():
            lost += np.bincount(slab[idle], self._between(idle, made, caps), minlength=len(wanted))
        kept = np.flatnonzero(~idle)
        number = np.full(len(slab), -1)  # the cell that will be made there, if one will
        number[kept] = np.arange(len(kept))
        source, slab = source[kept], slab[kept]
        # every cell has room for all corners of the one it was cut from, and for its faces and two caps
        nv, nf = counts_of(cells.vptr)[source], counts_of(cells.fptr)[source] + 2
        vbase, fbase = indptr_of(nv), indptr_of(nf)
        edges, owner = self._edges(number, vbase, fbase, made, caps)
        verts = np.concatenate(
            [pick(cells.verts, spread(cells.vptr[source], nv)), made.of(cells, cells.verts).repeat(2, axis=1)], axis=1
        )
        faces = self._faces(source, slab, fbase)
        every = np.arange(len(source))
        owner_v, owner_f = np.concatenate([every.repeat(nv), number[made.owner]]), every.repeat(nf)
        volume = edge_volumes(verts, faces, edges, owner_v, owner_f, owner, len(source))
        built = wanted[slab]
        if not built.all():
            rank, mine = built.cumsum() - 1, np.flatnonzero(built[owner])
            lost += lost_in(slab, volume, wanted)
            source, slab, volume = source[built], slab[built], volume[built]
            edges, owner, owner_v, owner_f = pick(edges, mine), rank[owner[mine]], rank[owner_v], rank[owner_f]
        out = packed(cells, source, verts, faces, edges, owner_v, owner_f, owner)
        return out.replace(known=volume), slab, lost

    def _clear(self, source: Ints, slab: Ints) -> Bools:
        """Which slabs of which cells lie between two boundaries with no corner within or on either."""
        cell = self.cells.cell_of_vertex()
        clear = (slab > self.low[source]) & (slab < self.high[source])
        low, high, slot = self.low[cell], self.high[cell], self.slot_of_slab[cell]
        for at in (self.code >> 1, (self.code + 1) >> 1):  # a corner on a boundary belongs to both its neighbours
            clear[slot + np.clip(at, low, high)] = False
        return clear

    def _between(self, chosen: Bools, made: _Points, caps: _Caps) -> Floats:
        """Volumes of the ``chosen`` clear slabs of cells, mm³, in order. The corners of their lower cap run straight to
        those of the upper; the next entry of ``caps`` is the same face at the next boundary."""
        cells = self.cells
        rank = chosen.cumsum() - 1
        cell = cells.cell_of_face()[caps.face]
        at = self.slot_of_slab[cell] + caps.boundary + 1
        mine = np.flatnonzero(chosen[at])
        owner, cell = rank[at[mine]], cell[mine]
        spots = np.concatenate([self.flat[:2], made.of(cells, self.flat[:2])], axis=1)
        origin = pick(spots, cells.vptr[cell])
        p, q = pick(spots, caps.begin[mine]) - origin, pick(spots, caps.end[mine]) - origin
        d, e = pick(spots, caps.begin[mine + 1]) - origin - p, pick(spots, caps.end[mine + 1]) - origin - q
        depth = np.diff(self.boundaries)[caps.boundary[mine]]
        return np.abs(np.bincount(owner, depth * swept(p, q, d, e), minlength=int(rank[-1]) + 1))

    def _faces(self, source: Ints, slab: Ints, fbase: Ints) -> Floats:
        """Faces of every instance, the lower and the upper cap behind its own."""
        cells = self.cells
        lower, upper = fbase[1:] - 2, fbase[1:] - 1
        count = lower - fbase[:-1]
        faces = np.empty((5, int(fbase[-1])))
        faces[:, spread(fbase[:-1], count)] = pick(cells.faces, spread(cells.fptr[source], count))
        shift = (cells.move @ self._world())[source]
        edge = np.concatenate([[np.nan], self.boundaries, [np.nan]])
        normal = pick(self.local, source)
        faces[:3, lower], faces[3, lower] = -normal, shift - edge[slab]
        faces[:3, upper], faces[3, upper] = normal, edge[slab + 1] - shift
        faces[GLUED, lower] = faces[GLUED, upper] = 0.0
        return faces

    def _world(self) -> Floats:
        """The planes' normal in world coordinates."""
        return np.asarray(self.cells.rot[0] @ self.local[:, 0])

    def _edges(self, number: Ints, vbase: Ints, fbase: Ints, made: _Points, caps: _Caps) -> tuple[Ints, Ints]:
        """Edges (4, k) of all that is made and whose each is: pieces of edges, edges in a boundary, cap edges.
        Behind the old corners, every crossing is there twice: as the end of what is below and of what is above."""
        cells = self.cells
        cell_e = cells.cell_of_edge()
        # where old corners and faces are among those of the cell made of theirs
        v = cells.edges[:2] - cells.vptr[cell_e]
        f = cells.edges[2:] - cells.fptr[cell_e]
        parts = [
            self._pieces(number, v, f, vbase, fbase, made),
            *(self._rims(up, number, v, f, vbase, fbase, caps) for up in (0, 1)),
            *(self._cap_edges(up, number, vbase, fbase, caps) for up in (0, 1)),
        ]
        return np.concatenate([edges for edges, _ in parts], axis=1), np.concatenate([owner for _, owner in parts])

    def _pieces(self, number: Ints, v: Ints, f: Ints, vbase: Ints, fbase: Ints, made: _Points) -> tuple[Ints, Ints]:
        """Edges that do not lie in a boundary, one piece a slab."""
        c0, c1 = self.code[self.cells.edges[:2]]
        run = np.flatnonzero((c0 != c1) | ((c0 & 1) == 0))
        begin = (c0[run] + 1) >> 1
        count = (c1[run] >> 1) - begin + 1
        inst = number[spread(self.slot_of_slab[self.cells.cell_of_edge()[run]] + begin, count)]
        ptr = indptr_of(count)
        crossing = 2 * spread(made.start[run], count) + vbase[-1]  # the one at the upper end
        first, last = ptr[:-1], ptr[1:] - 1
        out = np.stack([crossing - 1, crossing, *(fbase[inst] + side[run].repeat(count) for side in f)])
        out[0, first] = vbase[inst[first]] + v[0, run]
        out[1, last] = vbase[inst[last]] + v[1, run]
        return _made(out, inst)

    def _rims(
        self, up: int, number: Ints, v: Ints, f: Ints, vbase: Ints, fbase: Ints, caps: _Caps
    ) -> tuple[Ints, Ints]:
        """Edges in a boundary go to both neighbours; there the face that does not reach this side becomes the cap."""
        v0, v1, left, _ = self.cells.edges
        c0 = self.code[v0]
        rim = np.flatnonzero((c0 == self.code[v1]) & ((c0 & 1) == 1))
        j, cell = c0[rim] >> 1, self.cells.cell_of_edge()[rim]
        there = np.flatnonzero((j + up >= self.low[cell]) & (j + up <= self.high[cell]))
        e, cell, j = rim[there], cell[there], j[there]
        inst = number[self.slot_of_slab[cell] + j + up]
        cap = fbase[inst + 1] - (2 if up else 1)
        capped = (self.low[cell] <= j) & (j < self.high[cell])
        reaches = (caps.high[left[e]] > 2 * j + 1) if up else (caps.low[left[e]] < 2 * j + 1)
        sides = [
            np.where(~capped | own, fbase[inst] + face[e], cap) for own, face in ((reaches, f[0]), (~reaches, f[1]))
        ]
        return _made(np.stack([*(vbase[inst] + end[e] for end in v), *sides]), inst)

    def _cap_edges(self, up: int, number: Ints, vbase: Ints, fbase: Ints, caps: _Caps) -> tuple[Ints, Ints]:
        """Edges of the caps below, or those above that they lie on."""
        cells, corners = self.cells, len(self.code)
        cell = cells.cell_of_face()[caps.face]
        inst = number[self.slot_of_slab[cell] + caps.boundary + up]
        ends = []
        for x in (caps.begin, caps.end):
            end = 2 * (x - corners) + (vbase[-1] + up)
            old = np.flatnonzero(x < corners)
            end[old] = vbase[inst[old]] + x[old] - cells.vptr[cell[old]]
            ends.append(end)
        cap, face = fbase[inst + 1] - (2 if up else 1), fbase[inst] + caps.face - cells.fptr[cell]
        return _made(np.stack([*ends, cap, face] if up else [*ends, face, cap]), inst)

    def _face_codes(self) -> tuple[Ints, Ints]:
        """Lowest and highest code of each face's corners."""
        nf = self.cells.faces.shape[1]
        v0, v1, *faces = self.cells.edges
        c0, c1 = self.code[v0], self.code[v1]
        low, high = np.full(nf, 2 * len(self.boundaries)), np.zeros(nf, np.int64)
        for face in faces:
            np.minimum.at(low, face, c0)
            np.maximum.at(high, face, c1)
        return low, high

    def _caps(self, made: _Points) -> _Caps:
        """Every edge of every cap."""
        code = self.code
        face_low, face_high = self._face_codes()
        v0, v1, left, right = self.cells.edges
        c0, c1 = code[v0], code[v1]
        touching = np.flatnonzero((c0 != c1) & ((c1 & 1) == 1))
        e = np.concatenate([made.edge, touching])
        j = np.concatenate([made.boundary, c1[touching] >> 1])
        point = np.concatenate([len(code) + np.arange(len(made.edge)), v1[touching]])
        first = (face_low + 1) >> 1  # the lowest boundary that a face reaches to both sides of
        count = np.maximum((face_high >> 1) - first, 0)
        base = indptr_of(count)
        shift = base[:-1] - first
        level = 2 * j + 1
        found = []
        for side in (left, right):  # a face comes up along the edges it is left of, and goes down along the others
            face = side[e]
            live = np.flatnonzero((face_low[face] < level) & (face_high[face] > level))
            ends = np.full(int(base[-1]), -1)
            ends[shift[face[live]] + j[live]] = point[live]
            if len(live) != len(ends) or bool((ends < 0).any()):
                raise GeometryError("A face met a cut in other than two points.")
            found.append(ends)
        return _Caps(np.arange(len(count)).repeat(count), spread(first, count), found[0], found[1], face_low, face_high)


def _made(edges: Ints, owner: Ints) -> tuple[Ints, Ints]:
    """Those of the edges (4, k) that belong to a cell that is made, and the number of that cell."""
    kept = np.flatnonzero(owner >= 0)
    return (edges, owner) if len(kept) == len(owner) else (pick(edges, kept), owner[kept])


@dataclass(frozen=True, slots=True)
class _Caps:
    """Where faces reach to both sides of boundaries: ``face`` and ``boundary`` (k,), rising, and the points where they
    meet. Walked anticlockwise, the part of a face below comes up to the boundary at ``begin`` and leaves it at ``end``
    (k,): a corner, or the number of corners and a crossing. ``low`` and ``high`` (nf,) are the faces' own codes."""

    face: Ints
    boundary: Ints
    begin: Ints
    end: Ints
    low: Ints
    high: Ints


@dataclass(frozen=True, slots=True)
class _Points:
    """Where edges cross boundaries: ``edge`` and ``boundary`` (k,), ``start`` (ne,) the first crossing of each edge,
    ``share`` (k,) how far along its edge it lies. Every crossing is a corner of two slabs of its cell, below and above:
    ``owner`` (2 k,)."""

    edge: Ints
    boundary: Ints
    start: Ints
    share: Floats
    owner: Ints

    @classmethod
    def along(cls, cut: Slicing) -> _Points:
        """All crossings."""
        cells = cut.cells
        v0, v1 = cells.edges[:2]
        begin = (cut.code[v0] + 1) >> 1
        count = np.maximum((cut.code[v1] >> 1) - begin, 0)
        edge, boundary = np.arange(len(v0)).repeat(count), spread(begin, count)
        height = cut.flat[2]
        low = height[v0[edge]]
        share = (cut.boundaries[boundary] - low) / (height[v1[edge]] - low)
        below = cut.slot_of_slab[cells.cell_of_edge()[edge]] + boundary
        owner = below.repeat(2)
        owner[1::2] += 1
        return cls(edge, boundary, indptr_of(count)[:-1], share, owner)

    def of(self, cells: Cells, corners: Floats) -> Floats:
        """Where the crossings are in the coordinates of the ``corners`` (m, nv), (m, k)."""
        a, b = (pick(corners, end[self.edge]) for end in cells.edges[:2])
        return np.asarray(a + self.share * (b - a))
