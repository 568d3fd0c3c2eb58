"""An independent solid modeller to hold the engine against: manifold3d, one body a cell."""

from __future__ import annotations

from collections.abc import Sequence

import manifold3d
import numpy as np

from laberinto.core.solid import Cells, Floats, Ints, cross, dot


def hulls(cells: Cells) -> list[manifold3d.Manifold]:
    """Each cell as a body of its own."""
    world = cells.world()
    return [manifold3d.Manifold.hull_points(world[a:b]) for a, b in zip(cells.vptr[:-1], cells.vptr[1:], strict=True)]


def moments(bodies: Sequence[manifold3d.Manifold]) -> Floats:
    """Volume, and its first and second moments about the origin, of bodies that share no room: (10,), in mm³, mm⁴ and
    mm⁵. What agrees in all of them fills the same room, but for what is told apart by higher moments alone."""
    total = np.zeros(10)
    for body_ in bodies:
        mesh = body_.to_mesh64()
        corners = np.asarray(mesh.vert_properties)[:, :3][np.asarray(mesh.tri_verts)].transpose(1, 2, 0)
        total += _beneath(*corners).sum(axis=1)
    return total


def moments_of(cells: Cells, owner: Ints) -> Floats:
    """The same of cells as they are, (owners, 10), of those together that ``owner`` (n,) gives the same number: each
    face as triangles from one of its corners to its edges. A modeller's hull leaves out corners nearer each other than
    its own tolerance, some 1e-3 mm³ where a cell is as thin as a hair."""
    corners, (start, end, left, right) = cells.world().T, cells.edges
    apex = np.zeros(cells.faces.shape[1], np.int64)
    apex[left] = apex[right] = start
    each = _beneath(corners[:, apex[left]], corners[:, start], corners[:, end])
    each += _beneath(corners[:, apex[right]], corners[:, end], corners[:, start])
    whose = owner[cells.cell_of_edge()]
    return np.stack([np.bincount(whose, one) for one in each], axis=1)


def _beneath(a: Floats, b: Floats, c: Floats) -> Floats:
    """Moments (10, n) of the tetrahedra between the origin and each triangle, corners (3, n) (Eberly, "Polyhedral Mass
    Properties", 2002)."""
    volume = dot(a, cross(b, c)) / 6
    corners = a + b + c
    rows, columns = np.triu_indices(3)
    second = corners[rows] * corners[columns] + sum(p[rows] * p[columns] for p in (a, b, c))
    return np.concatenate([volume[None], volume * corners / 4, volume * second / 20])


def body(cells: Cells) -> manifold3d.Manifold:
    """All cells as one body: the hull of each, added."""
    return manifold3d.Manifold.batch_boolean(hulls(cells), manifold3d.OpType.Add)


def overlap_volume(one: Cells, other: Cells) -> float:
    """What two sets of cells share, mm³."""
    return float((body(one) ^ body(other)).volume())
