"""Splitting cells by a plane: what every saw, planer and chamfer comes down to.

All cells are split in one batch. A vertex is below, on or above the plane, three ways and with a
tolerance no real dimension meets. Cells wholly on one side are passed on untouched; for the rest every
edge that crosses yields one new vertex, used by both sides. A face the plane runs through has one way
in and one way out, and the two points are an edge of the new cap. A face with any other number is a
contradiction and raises GeometryError.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ..errors import GeometryError
from .cells import ON_PLANE, Cells, Floats, Ints, cross, dot, join, pick
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
    normals, offsets = np.tile(plane.normal, (len(cells), 1)), np.full(len(cells), plane.offset)
    below, above = split_each(cells, normals, offsets)
    return below[0], above[0]


def shave(cells: Cells, planes: Sequence[Plane]) -> tuple[Cells, Cells]:
    """What lies below every plane, and all the chips. Each round cuts every cell by the first plane it still
    reaches beyond, so that planes which meet few cells in common cost few batches."""
    normals, offsets = np.stack([p.normal for p in planes]), np.array([p.offset for p in planes])
    cells = cells.laid_bare()
    done: list[Cells] = []
    chips: list[Cells] = []
    while len(cells):
        reach = np.maximum.reduceat(cells.world() @ normals.T, cells.vptr[:-1], axis=0) - offsets
        beyond = reach > ON_PLANE
        inside = ~beyond.any(axis=1)
        done.append(cells.take(inside))
        cells, first = cells.take(~inside), beyond[~inside].argmax(axis=1)
        (cells, _), (chip, _) = split_each(cells, normals[first], offsets[first])
        chips.append(chip)
    return join(done), join(chips)


def split_each(cells: Cells, normal: Floats, offset: Floats) -> tuple[tuple[Cells, Ints], tuple[Cells, Ints]]:
    """Split each cell by its own plane, normals (n, 3) and offsets (n,); both halves with the index of the cell
    each came from."""
    index = np.arange(len(cells))
    if not len(cells):
        return (cells, index), (cells, index)
    normals = np.einsum("cij,ci->jc", cells.rot, normal)  # the plane in each strip's own frame
    offsets = offset - np.einsum("ci,ci->c", cells.move, normal)
    cell_v = cells.cell_of_vertex()
    distance = dot(pick(normals, cell_v), cells.verts) - offsets[cell_v]
    side = np.where(distance > ON_PLANE, 1, np.where(distance < -ON_PLANE, -1, 0))
    low = np.minimum.reduceat(side, cells.vptr[:-1])
    high = np.maximum.reduceat(side, cells.vptr[:-1])
    crossed = (low < 0) & (high > 0)
    whole_below, whole_above = (high <= 0) & ~crossed, (high > 0) & ~crossed
    below, above = cells.take(whole_below), cells.take(whole_above)
    if not crossed.any():
        return (below, index[whole_below]), (above, index[whole_above])
    parts = cells.take(crossed)
    on_parts = crossed[cell_v]
    cut_below, cut_above = _split_crossed(
        parts, normals[:, crossed], offsets[crossed], distance[on_parts], side[on_parts]
    )
    return (
        (join([below, cut_below]), np.concatenate([index[whole_below], index[crossed]])),
        (join([above, cut_above]), np.concatenate([index[whole_above], index[crossed]])),
    )


def _split_crossed(cells: Cells, normals: Floats, offsets: Floats, distance: Floats, side: Ints) -> tuple[Cells, Cells]:
    """Both halves of cells that the plane really crosses. ``normals`` (3, n), ``offsets`` (n,) per cell."""
    nv, nf = cells.verts.shape[1], cells.faces.shape[1]
    cell_e, cell_f = cells.cell_of_edge(), cells.cell_of_face()
    v0, v1, left, right = cells.edges
    s0, s1 = side[v0], side[v1]

    crossing = np.flatnonzero(s0 * s1 < 0)
    d0, d1 = distance[v0[crossing]], distance[v1[crossing]]
    share = d0 / (d0 - d1)
    start = pick(cells.verts, v0[crossing])
    points = start + share * (pick(cells.verts, v1[crossing]) - start)
    verts = np.concatenate([cells.verts, points], axis=1)
    new_v = nv + np.arange(len(crossing))
    cell_v = np.concatenate([cells.cell_of_vertex(), cell_e[crossing]])
    side_v = np.concatenate([side, np.zeros(len(crossing), np.int64)])

    # faces that reach to both sides get a cap edge
    face_low, face_high = np.zeros(nf, np.int64), np.zeros(nf, np.int64)
    for face in (left, right):
        np.minimum.at(face_low, face, np.minimum(s0, s1))
        np.maximum.at(face_high, face, np.maximum(s0, s1))
    through = (face_low < 0) & (face_high > 0)
    touching = np.flatnonzero(((s0 == 0) & (s1 < 0)) | ((s1 == 0) & (s0 < 0)))
    touch_v = np.where(s0[touching] == 0, v0[touching], v1[touching])
    event_face = np.concatenate([left[crossing], right[crossing], left[touching], right[touching]])
    event_v = np.concatenate([new_v, new_v, touch_v, touch_v])
    live = through[event_face]
    event_face, event_v = event_face[live], event_v[live]
    order = event_face.argsort(kind="stable")
    event_face, event_v = event_face[order], event_v[order]
    if len(event_face) != 2 * int(through.sum()) or not bool((event_face[::2] == event_face[1::2]).all()):
        raise GeometryError("A face met the cut in other than two points.")
    cap_face = event_face[::2]
    p, q = event_v[::2], event_v[1::2]
    # ccw on the face's lower part, seen from outside: the edge has its interior on the left
    face_normal, cut_normal = pick(cells.faces, cap_face)[:3], pick(normals, cell_f[cap_face])
    wrong = dot(pick(verts, q) - pick(verts, p), cross(cut_normal, face_normal)) > 0
    p, q = np.where(wrong, q, p), np.where(wrong, p, q)

    both_on = (s0 == 0) & (s1 == 0)
    halves = []
    for sign in (-1, 1):
        cap = nf + np.arange(len(cells))
        caps_ = -sign * np.concatenate([normals, offsets[None, :], np.zeros((1, len(cells)))])
        faces = np.concatenate([cells.faces, caps_], axis=1)
        inside = ((s0 * sign >= 0) & (s1 * sign >= 0)) & ~both_on
        ends = np.stack([v0, v1])
        ends[0, crossing] = np.where(s0[crossing] == sign, v0[crossing], new_v)
        ends[1, crossing] = np.where(s1[crossing] == sign, v1[crossing], new_v)
        inside[crossing] = True
        kept = np.concatenate([ends.compress(inside, axis=1), np.stack([left[inside], right[inside]])])
        rim = np.flatnonzero(both_on)  # an edge in the plane keeps its face on this side; the other is the cap
        left_here = (face_high if sign > 0 else -face_low)[left[rim]] > 0
        rims = np.stack([
            v0[rim], v1[rim],
            np.where(left_here, left[rim], cap[cell_e[rim]]), np.where(left_here, cap[cell_e[rim]], right[rim]),
        ])  # fmt: skip
        caps = np.stack(
            [p, q, cap_face, cap[cell_f[cap_face]]] if sign < 0 else [p, q, cap[cell_f[cap_face]], cap_face]
        )
        edges = np.concatenate([kept, rims, caps], axis=1)
        edge_cell = np.concatenate([cell_e[inside], cell_e[rim], cell_f[cap_face]])
        owner_f = np.concatenate([cell_f, np.arange(len(cells))])
        half = packed(cells, np.arange(len(cells)), verts, faces, edges, cell_v, owner_f, edge_cell, side_v * sign >= 0)
        halves.append(half)
    return halves[0], halves[1]
