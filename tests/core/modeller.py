"""An independent solid modeller to hold the engine against: manifold3d, one body a cell."""

from __future__ import annotations

from collections.abc import Sequence

import manifold3d
import numpy as np

from laberinto.core.solid import Cells, Floats


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
        total += _beneath(*np.asarray(mesh.vert_properties)[:, :3][np.asarray(mesh.tri_verts)].transpose(1, 0, 2))
    return total


def moments_of(cells: Cells) -> Floats:
    """The same of cells as they are: each face as triangles from one of its corners to its edges. A modeller's hull
    leaves out corners nearer each other than its own tolerance, some 1e-3 mm³ where a cell is as thin as a hair."""
    corners, (start, end, left, right) = cells.world(), cells.edges
    apex = np.zeros(cells.faces.shape[1], np.int64)
    apex[left] = apex[right] = start
    one = _beneath(corners[apex[left]], corners[start], corners[end])
    return one + _beneath(corners[apex[right]], corners[end], corners[start])


def _beneath(a: Floats, b: Floats, c: Floats) -> Floats:
    """Sums over the tetrahedra between the origin and each triangle, corners (n, 3) (Eberly, "Polyhedral Mass
    Properties", 2002)."""
    volume = np.linalg.det(np.stack([a, b, c], axis=1)) / 6
    corners = a + b + c
    first = volume[:, None] * corners / 4
    second = (
        volume[:, None, None]
        / 20
        * (corners[:, :, None] * corners[:, None, :] + sum(p[:, :, None] * p[:, None, :] for p in (a, b, c)))
    )
    return np.concatenate([[volume.sum()], first.sum(axis=0), second.sum(axis=0)[np.triu_indices(3)]])


def body(cells: Cells) -> manifold3d.Manifold:
    """All cells as one body: the hull of each, added."""
    return manifold3d.Manifold.batch_boolean(hulls(cells), manifold3d.OpType.Add)


def overlap_volume(one: Cells, other: Cells) -> float:
    """What two sets of cells share, mm³."""
    return float((body(one) ^ body(other)).volume())
