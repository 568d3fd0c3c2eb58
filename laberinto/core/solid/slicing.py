"""Slicing: cells of any shape cut into slabs by all boundaries at once.

Every corner has a code by its height: 2 s inside slab s, 2 j + 1 on boundary j, so that codes rise with height.
From codes alone follows which slabs a cell, a face or an edge reaches. An edge from a low to a high code is cut
into its pieces, each new point computed once and used on both sides. A face that reaches to both sides of a
boundary has one way in and one way out of it, and the two points are an edge of the cap that closes either slab.
A face with any other number is a contradiction and raises GeometryError. Of dust only the volume is worked out.
"""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from ..errors import GeometryError
from .cells import ALL, GLUED, Bools, Cells, Floats, Ints, edge_volumes, gaps, pick, spread, starts, swept
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
    """Cells that really are cut. ``local`` (3, n) is the planes' normal in each strip's frame; ``flat`` (3, nv) where
    the corners lie along two directions in the planes and, last, along the normal, as right-handed axes; ``code`` (nv,)
    belongs to the corners; ``low`` and ``high`` (n,) are the first and last slab of each cell."""

    cells: Cells
    local: Floats
    boundaries: Floats
    flat: Floats
    code: Ints
    low: Ints
    high: Ints

    def slices(self, wanted: Bools) -> tuple[Cells, Ints, Floats]:
        """One cell for each wanted slab of each cell, the slab of each, and the volume in every other slab, mm³."""
        cells = self.cells
        source, slab = instances(self.low, self.high)
        first = starts(self.high - self.low + 1)[:-1]  # where each cell's lowest slab is among these
        made = _Points.along(self, first)
        caps = self._caps(made)
        idle = ~wanted[slab] & self._clear(source, slab, first)
        lost = np.bincount(slab[idle], self._between(idle, first, made, caps), minlength=len(wanted))
        number = np.where(idle, -1, np.cumsum(~idle) - 1)  # the cell that will be made there, if one will
        source, slab = source[~idle], slab[~idle]
        # every cell has room for all corners of the one it was cut from, and for its faces and two caps
        nv, nf = gaps(cells.vptr), gaps(cells.fptr)
        vbase, fbase = starts(nv[source]), starts(nf[source] + 2)
        edges, owner = self._edges(first, number, vbase, fbase, made, caps)
        verts = np.concatenate(
            [pick(cells.verts, spread(cells.vptr[source], nv[source])), made.of(cells, cells.verts).repeat(2, axis=1)],
            axis=1,
        )
        faces = self._faces(source, slab, fbase)
        every = np.arange(len(source))
        owner_v = np.concatenate([every.repeat(nv[source]), number[made.owner]])
        owner_f = every.repeat(nf[source] + 2)
        volume = edge_volumes(verts, faces, edges, owner_v, owner_f, owner, len(source))
        built = wanted[slab]
        rank = built.cumsum() - 1
        mine = built[owner]
        edges, owner = edges.compress(mine, axis=1), rank[owner[mine]]
        out = packed(cells, source[built], verts, faces, edges, rank[owner_v], rank[owner_f], owner)
        return replace(out, known=volume[built]), slab[built], lost + lost_in(slab, volume, wanted)

    def _clear(self, source: Ints, slab: Ints, first: Ints) -> Bools:
        """Which slabs of which cells lie between two boundaries with no corner within or on either."""
        cell = self.cells.cell_of_vertex()
        clear = (slab > self.low[source]) & (slab < self.high[source])
        for at in (self.code // 2, (self.code + 1) // 2):  # a corner on a boundary belongs to both its neighbours
            there = (at >= self.low[cell]) & (at <= self.high[cell])
            clear[(first[cell] + at - self.low[cell])[there]] = False
        return clear

    def _between(self, chosen: Bools, first: Ints, made: _Points, caps: _Caps) -> Floats:
        """Volumes of the ``chosen`` clear slabs of cells, mm³, in order. The corners of their lower cap run straight to
        those of the upper; the next entry of ``caps`` is the same face at the next boundary."""
        if not chosen.any():
            return np.zeros(0)
        cells = self.cells
        rank = chosen.cumsum() - 1
        cell = cells.cell_of_face()[caps.face]
        at = first[cell] + caps.boundary + 1 - self.low[cell]
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

    def _edges(
        self, first: Ints, number: Ints, vbase: Ints, fbase: Ints, made: _Points, caps: _Caps
    ) -> tuple[Ints, Ints]:
        """Edges (4, k) of all that is made and whose each is: pieces of edges, edges in a boundary, cap edges."""
        cells, code = self.cells, self.code
        cell_e = cells.cell_of_edge()
        nf = gaps(cells.fptr)
        v0, v1, left, right = cells.edges
        c0, c1 = code[v0], code[v1]

        base = int(vbase[-1])  # behind the old corners every crossing is there twice

        def below(crossing: Ints) -> Ints:
            return base + 2 * crossing

        def above(crossing: Ints) -> Ints:
            return base + 2 * crossing + 1

        def vertex(inst: Ints, v: Ints, cell: Ints) -> Ints:
            return np.asarray(vbase[inst] + v - cells.vptr[cell])

        def face(inst: Ints, f: Ints, cell: Ints) -> Ints:
            return np.asarray(fbase[inst] + f - cells.fptr[cell])

        # edges that do not lie in a boundary, one piece a slab
        run = np.flatnonzero((c0 != c1) | (c0 % 2 == 0))
        begin, end = (np.minimum(c0, c1)[run] + 1) // 2, np.maximum(c0, c1)[run] // 2
        pieces = end - begin + 1
        e, at = run.repeat(pieces), spread(np.zeros_like(pieces), pieces)
        cell = cell_e[e]
        inst = number[first[cell] + begin.repeat(pieces) + at - self.low[cell]]
        crossing = made.start[run].repeat(pieces) + at  # the crossing at this piece's upper end
        last = at == pieces.repeat(pieces) - 1
        if (here := inst >= 0).all():
            here = ALL
        e, at, cell, inst, crossing, last = (array[here] for array in (e, at, cell, inst, crossing, last))
        rising = c0[e] <= c1[e]
        bottom, top = np.where(rising, v0[e], v1[e]), np.where(rising, v1[e], v0[e])
        lower = np.where(at == 0, vertex(inst, bottom, cell), above(crossing - 1))
        upper = np.where(last, vertex(inst, top, cell), below(crossing))
        ends = [np.where(rising, lower, upper), np.where(rising, upper, lower)]
        parts = [np.stack([*ends, face(inst, left[e], cell), face(inst, right[e], cell)])]
        owners = [inst]

        # edges in a boundary go to both neighbours; there the face that does not reach this side becomes the cap
        face_low, face_high = caps.low, caps.high
        rim = np.flatnonzero((c0 == c1) & (c0 % 2 == 1))
        at_j, cell = c0[rim] // 2, cell_e[rim]
        for up in (0, 1):
            slab = at_j + up
            there = (slab >= self.low[cell]) & (slab <= self.high[cell])
            e, own, j = rim[there], cell[there], at_j[there]
            inst = number[first[own] + slab[there] - self.low[own]]
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

        corners = len(code)
        for up in (0, 1):
            f, j = caps.face, caps.boundary
            cell = cells.cell_of_face()[f]
            inst = number[first[cell] + j + up - self.low[cell]]
            here = inst >= 0
            f, cell, inst = f[here], cell[here], inst[here]
            ends = []
            for x in (caps.begin[here], caps.end[here]):
                new = above(x - corners) if up else below(x - corners)
                ends.append(np.where(x >= corners, new, vertex(inst, np.minimum(x, corners - 1), cell)))
            cap = fbase[inst] + nf[cell] + (0 if up else 1)
            own_face = face(inst, f, cell)
            parts.append(np.stack([*ends, cap, own_face] if up else [*ends, own_face, cap]))
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

    def _caps(self, made: _Points) -> _Caps:
        """Every edge of every cap."""
        code = self.code
        face_low, face_high = self._face_codes()
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
        return _Caps(
            np.repeat(np.arange(len(count)), count), spread(first, count), ends[0], ends[1], face_low, face_high
        )


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
    ``share`` (k,) how far along its edge it lies. Every crossing is a corner of two slabs of its cell, below and above: ``owner`` (2 k,)."""

    edge: Ints
    boundary: Ints
    start: Ints
    share: Floats
    owner: Ints

    @classmethod
    def along(cls, cut: Slicing, first: Ints) -> _Points:
        """All crossings; ``first`` is where each cell's lowest slab is among all slabs of all cells."""
        cells = cut.cells
        v0, v1 = cells.edges[:2]
        c0, c1 = cut.code[v0], cut.code[v1]
        begin, end = (np.minimum(c0, c1) + 1) // 2, np.maximum(c0, c1) // 2
        count = np.maximum(end - begin, 0)
        start = starts(count)[:-1]
        edge, boundary = np.repeat(np.arange(len(v0)), count), spread(begin, count)
        a, b = v0[edge], v1[edge]
        height = cut.flat[2]
        share = (cut.boundaries[boundary] - height[a]) / (height[b] - height[a])
        cell = cells.cell_of_edge()[edge]
        below = first[cell] + boundary - cut.low[cell]
        return cls(edge, boundary, start, share, np.stack([below, below + 1], axis=1).ravel())

    def of(self, cells: Cells, corners: Floats) -> Floats:
        """Where the crossings are in the coordinates of the ``corners`` (m, nv), (m, k)."""
        a, b = (pick(corners, end[self.edge]) for end in cells.edges[:2])
        return np.asarray(a + self.share * (b - a))
