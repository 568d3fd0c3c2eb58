"""Polygons of cells: the corners of chosen faces in order, and their middles."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Any

import numpy as np
import shapely

from ..errors import GeometryError
from ..solid import Cells, Floats, Ints, counts_of, cross, dot, indptr_of, pick


def corners(cells: Cells, faces: Ints) -> tuple[Ints, Ints]:
    """Vertices of the chosen faces, anticlockwise seen from outside: (k,) indices and (m+1,) pointer."""
    nf = cells.faces.shape[1]
    # every edge starts one corner of its left face and, walked backwards, one of its right face
    face = np.concatenate([cells.edges[2], cells.edges[3]])
    start = np.concatenate([cells.edges[0], cells.edges[1]])
    rank = np.full(nf, -1, np.int64)
    rank[faces] = np.arange(len(faces))
    owner = rank[face]
    mine = np.flatnonzero(owner >= 0)
    owner, start = owner[mine], start[mine]
    points = pick(cells.verts, start)
    counts = np.bincount(owner, minlength=len(faces))
    centre = np.array([np.bincount(owner, along, minlength=len(faces)) for along in points]) / np.maximum(counts, 1)
    normal = pick(cells.faces, faces)[:3]
    # any direction not along the normal gives a basis of the face's plane
    helper = np.zeros_like(normal)
    helper[np.argmin(np.abs(normal), axis=0), np.arange(len(faces))] = 1.0
    u = cross(normal, helper)
    v = cross(normal, u)
    offset = points - pick(centre, owner)
    angle = np.arctan2(dot(offset, pick(v, owner)), dot(offset, pick(u, owner)))
    order = np.argsort(10.0 * owner + angle)  # one key sorts by face and then by angle
    return start[order], indptr_of(counts)


def areas(cells: Cells, vertex: Ints, ptr: Ints) -> Floats:
    """Area of faces given by their corners as ``corners`` returns them, mm², (m,)."""
    if len(ptr) < 2:
        return np.zeros(0)
    points = pick(cells.verts, vertex)
    points = points - np.repeat(pick(points, ptr[:-1]), counts_of(ptr), axis=1)
    nxt = np.arange(len(vertex)) + 1
    nxt[ptr[1:] - 1] = ptr[:-1]
    twice = np.add.reduceat(cross(points, pick(points, nxt)), ptr[:-1], axis=1)
    return np.asarray(np.sqrt(dot(twice, twice)) / 2)


GRIDS = (1e-7, 1e-6, 1e-5)
"""Corners are taken to the first of these grids (mm) on which sides that run hairs apart can be told apart."""


def area(corners: Floats) -> float:
    """Area of one polygon (k, 2) by the shoelace formula, mm²; positive where its corners run anticlockwise."""
    after = np.roll(corners, -1, axis=0)
    return float((corners[:, 0] * after[:, 1] - corners[:, 1] * after[:, 0]).sum() / 2)


def overlaid(operation: Callable[..., Any], *shapes: Any) -> Any:
    """What a shapely overlay such as ``union_all`` makes of shapes. Sides that all but coincide can make it contradict
    itself; on a grid it cannot, which takes longer. Raises GeometryError where no grid helps."""
    try:
        return operation(*shapes)
    except shapely.GEOSException as error:
        failed = error
    for grid in GRIDS:
        try:  # a hair wider, so that what coincides crosses
            wider = (shapely.buffer(shapely.set_precision(shape, grid), grid, join_style="mitre") for shape in shapes)
            return operation(*wider, grid_size=grid)
        except shapely.GEOSException as error:
            failed = error
    raise GeometryError("Shapes that all but coincide could not be laid over each other.") from failed


CLOSE = 1e-5
"""Gaps up to twice this (mm) between polygons that are joined are closed."""


def closed_union(polygons: Any) -> Any:
    """The union of shapely polygons that touch to within rounding, without the hairlines rounding would leave. Of a
    table of polygons (m, n), with None where a row has fewer, the union of each row, (m,)."""
    with np.errstate(all="ignore"):  # corners nearer to each other than rounding
        wider = shapely.buffer(polygons, CLOSE, join_style="mitre")
        if np.ndim(polygons) < 2:
            return shapely.buffer(overlaid(shapely.union_all, wider), -CLOSE, join_style="mitre")
        return shapely.buffer(united(wider), -CLOSE, join_style="mitre")


def united(table: Any) -> Any:
    """The union of each row of a table of shapely polygons (m, n), with None where a row has fewer, (m,)."""
    try:
        return shapely.union_all(table, axis=1)
    except shapely.GEOSException:  # one of them; each by itself, which finds a way
        return np.array([overlaid(shapely.union_all, row) for row in table], object)


def by_group(union: Callable[[Any], Any], polygons: Any, members: Sequence[Ints]) -> Any:
    """What ``united`` or ``closed_union`` makes of several groups of polygons (m,), given by which belong to each;
    (groups,). Groups of about one size go together, since one by one most of the time is not spent on the shapes."""
    out = np.empty(len(members), object)
    sizes = np.array([len(mine) for mine in members], np.int64)
    bucket = np.ceil(np.log2(np.maximum(sizes, 1))).astype(np.int64)
    for size in np.unique(bucket).tolist():
        those = np.flatnonzero(bucket == size)
        table = np.full((len(those), 1 << size), None, object)
        for row, k in zip(table, those.tolist(), strict=True):
            row[: sizes[k]] = polygons[members[k]]
        out[those] = union(table)
    return out


def middles(cells: Cells) -> Floats:
    """Mean of each face's corners in strip coordinates, (nf, 3); worked out once."""
    return cells.memo.once(_middles, cells)


def _middles(cells: Cells) -> Floats:
    nf = cells.faces.shape[1]
    face = np.concatenate([cells.edges[2], cells.edges[3]])
    start = np.concatenate([cells.edges[0], cells.edges[1]])
    sums = np.stack([np.bincount(face, cells.verts[k, start], minlength=nf) for k in range(3)], axis=1)
    return np.asarray(sums / np.bincount(face, minlength=nf)[:, None])
