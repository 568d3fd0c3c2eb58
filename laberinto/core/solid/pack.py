"""Loose corners, faces and edges of many solids sorted into cells: how every cut ends."""

from __future__ import annotations

import numpy as np

from ..errors import GeometryError
from .cells import Bools, Cells, Floats, Ints, indptr_of, pick


def packed(
    cells: Cells, source: Ints, verts: Floats, faces: Floats, edges: Ints, owner_v: Ints, owner_f: Ints, owner_e: Ints,
    allowed: Bools | None = None,
) -> Cells:  # fmt: skip
    """One cell for each of ``source`` (n,), the cell it was cut from. Owners say which of the n a corner, a face or an
    edge belongs to; corners and faces that no edge uses are dropped. Raises GeometryError where an edge uses a corner
    that is not ``allowed``."""
    n = len(source)
    used_v, used_f = np.zeros(verts.shape[1], bool), np.zeros(faces.shape[1], bool)
    used_v[edges[0]] = used_v[edges[1]] = True
    used_f[edges[2]] = used_f[edges[3]] = True
    if allowed is not None and bool((used_v & ~allowed).any()):
        raise GeometryError("A half kept a corner from the other side of the cut.")
    v_order, vptr, v_map = _compact(used_v, owner_v, n)
    f_order, fptr, f_map = _compact(used_f, owner_f, n)
    edges = pick(edges, owner_e.argsort(kind="stable"))
    return Cells(
        pick(verts, v_order), pick(faces, f_order), np.concatenate([v_map[edges[:2]], f_map[edges[2:]]]),
        vptr, fptr, indptr_of(np.bincount(owner_e, minlength=n)),
        cells.rot[source], cells.move[source], cells.strip[source], cells.piece[source], np.full(n, np.nan),
    )  # fmt: skip


def _compact(used: Bools, owner: Ints, n: int) -> tuple[Ints, Ints, Ints]:
    """Order of the used entries by owner, the CSR pointer, and the map from old to new positions."""
    index = np.flatnonzero(used)
    index = index[owner[index].argsort(kind="stable")]
    mapping = np.full(len(used), -1, np.int64)
    mapping[index] = np.arange(len(index))
    return index, indptr_of(np.bincount(owner[index], minlength=n)), mapping
