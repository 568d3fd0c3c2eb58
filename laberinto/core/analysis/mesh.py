"""Meshes of cells: triangles for other programs, with where in its strip every corner lies."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import manifold3d
import numpy as np

from ..errors import GeometryError
from ..plan.simulate import Simulation
from ..solid import Cells, Floats, Ints, pick

_NEAR = 1e-5
"""Corners nearer to each other than this (mm) are one corner of a closed surface."""

_FLAT = 1e-3
"""A skin may be so much simpler (mm) than the cells it is of: less than a file of single precision holds of a board."""

_GRID = 1e-4
"""Corners of a skin lie on a grid of this (mm), so that a file of single precision keeps them apart or makes them one,
never something between."""

_GROWTH = 5e-6
"""Cells are joined with their faces so much farther out (mm): what two of them share was worked out by each, and
rounding would leave walls of no thickness between them. A hundred times less than any file of a mesh can hold."""


_APART = 1e-3
"""Blocks of one wood are smaller by this from end to end (mm): where two meet in an edge alone, a file that knows
corners by their place would have four walls at it, which is no surface."""


@dataclass(frozen=True, slots=True)
class Mesh:
    """Triangles with corners anticlockwise seen from outside.

    ========= ======= ==========================================================================
    vertices  (n, 3)  world coordinates, mm
    triangles (m, 3)  indices of corners
    local     (n, 3)  the same corners in their strip's own coordinates, mm
    strip     (n,)    number of the strip
    same      (n,)    index of the corner that stands for all those at the same point, for a closed surface
    ========= ======= ==========================================================================
    """

    vertices: Floats
    triangles: Ints
    local: Floats
    strip: Ints
    same: Ints

    @property
    def closed(self) -> Ints:
        """Triangles (m, 3) that share corners wherever surfaces meet, whatever strip they are of."""
        return self.same[self.triangles]

    def volume(self) -> float:
        """Volume inside, mm³, by the divergence theorem."""
        a, b, c = (self.vertices[self.triangles[:, k]] - self.vertices[:1] for k in range(3))
        return float((np.cross(a, b) * c).sum() / 6)


def mesh_of(cells: Cells) -> Mesh:
    """Every cell as a closed surface of its own: each face a fan about its first corner."""
    faces = cells.faces.shape[1]
    v0, v1, left, right = cells.edges
    apex = np.zeros(faces, np.int64)
    apex[right], apex[left] = v1, v0
    tri = np.concatenate([apex[left], apex[right], v0, v1, v1, v0]).reshape(3, -1)
    real = np.flatnonzero((tri[0] != tri[1]) & (tri[0] != tri[2]))
    count = cells.verts.shape[1]
    strip = cells.strip[cells.cell_of_vertex()]
    return Mesh(cells.world(), pick(tri, real).T, cells.verts.T, strip, np.arange(count))


def skin(cells: Cells) -> tuple[Floats, Ints]:
    """The outside of cells grown together, as few triangles as it takes: corners (n, 3) and triangles (m, 3), one
    closed surface whatever woods and strips it is of. Raises GeometryError where it does not close."""
    return _on_grid(_united(cells, _grown(cells)).as_original().simplify(_FLAT))


def _as_is(body: manifold3d.Manifold) -> tuple[Floats, Ints]:
    """Its corners and triangles."""
    out = body.to_mesh64()
    return np.asarray(out.vert_properties)[:, :3], np.asarray(out.tri_verts, np.int64)


def _on_grid(body: manifold3d.Manifold) -> tuple[Floats, Ints]:
    """Its corners on the grid, and its triangles but for those that the grid closes up or lays one upon the other."""
    there, of = _as_is(body)
    corners, which = np.unique(np.round(there / _GRID) * _GRID + 0.0, axis=0, return_inverse=True)
    triangles: Ints = which.ravel()[of]
    triangles = triangles[~(triangles == np.roll(triangles, 1, axis=1)).any(axis=1)]
    # two of the same corners that look opposite ways have nothing between them
    _, which = np.unique(np.sort(triangles, axis=1), axis=0, return_inverse=True)
    first = np.take_along_axis(triangles, (triangles.argmin(axis=1)[:, None] + [1, 2]) % 3, axis=1)
    facing = np.bincount(which.ravel(), np.where(first[:, 0] < first[:, 1], 1, -1))
    return corners, triangles[facing[which.ravel()] != 0]


def skins_by_wood(sim: Simulation, cells: Cells) -> Mapping[str, tuple[Floats, Ints]]:
    """As ``skin``, for each wood by itself: its blocks, each a closed surface ``_APART`` from the next."""
    out = {}
    for wood, mine in _of_woods(sim, cells).items():
        bodies, blocks = list[tuple[Floats, Ints]](), mine.blocks()
        for block in np.unique(blocks).tolist():
            one = mine.take(np.flatnonzero(blocks == block))
            body = _united(one, _grown(one)).as_original()
            low, high = np.array(body.bounding_box()).reshape(2, 3)
            middle, size = (low + high) / 2, np.maximum(high - low, 1.0)
            apart = body.translate(-middle).scale(1 - _APART / size).translate(middle)
            # only where tools left facets are there triangles that single precision would close up
            bodies.append(_on_grid(apart.simplify(_FLAT)) if len(one) > 1 else _as_is(apart))
        first = np.cumsum([0] + [len(corners) for corners, _ in bodies])
        triangles = [triangles + at for (_, triangles), at in zip(bodies, first, strict=False)]
        out[wood] = np.concatenate([corners for corners, _ in bodies]), np.concatenate(triangles)
    return out


def solid_mesh(cells: Cells) -> Mesh:
    """The cells grown together: one closed surface without walls between cells that touch. Corners keep their strip;
    where strips meet there is one for each. Raises GeometryError where the surface does not close."""
    # only the number of its frame rides along with a corner: it is the same all over a cell, so nothing blurs it
    key = np.column_stack([cells.strip, np.round(cells.rot.reshape(-1, 9), 9), np.round(cells.move, 6)])
    _, example, frame = np.unique(key, axis=0, return_index=True, return_inverse=True)
    out = _united(cells, np.column_stack([_grown(cells), frame.ravel()[cells.cell_of_vertex()]])).to_mesh64()
    rows = np.asarray(out.vert_properties)
    same = np.arange(len(rows))
    same[np.asarray(out.merge_from_vert, np.int64)] = np.asarray(out.merge_to_vert, np.int64)
    triangles = np.asarray(out.tri_verts, np.int64)
    owner = example[_frames(rows[:, 3], triangles)]  # a cell that has the frame
    local = np.einsum("vji,vj->vi", cells.rot[owner], rows[:, :3] - cells.move[owner])
    return Mesh(rows[:, :3], triangles, local, cells.strip[owner], same)


def _united(cells: Cells, properties: Floats) -> manifold3d.Manifold:
    """One body of all cells; ``properties`` are the corners, (n, 3) and more that rides along."""
    loose = mesh_of(cells)
    cell = cells.cell_of_vertex()[loose.triangles[:, 0]]
    order = cell.argsort(kind="stable")
    triangles = loose.triangles[order]
    bounds = np.searchsorted(cell[order], np.arange(len(cells) + 1))
    solids = []
    for i in range(len(cells)):
        first, last = cells.vptr[i], cells.vptr[i + 1]
        part = manifold3d.Mesh64(
            properties[first:last], (triangles[bounds[i] : bounds[i + 1]] - first).astype(np.uint64), tolerance=_NEAR
        )
        solids.append(manifold3d.Manifold(part))
    whole = manifold3d.Manifold.batch_boolean(solids, manifold3d.OpType.Add)
    if whole.status() != manifold3d.Error.NoError:
        raise GeometryError(f"The mesh does not close: {whole.status().name}.")
    return whole


def _frames(numbers: Floats, triangles: Ints) -> Ints:
    """Whole numbers of frames; a corner that lost its own, where surfaces meet at a hair's breadth, has that of another
    corner of its triangle."""
    numbers = numbers.copy()
    for step in (1, 2):
        lost = ~np.isfinite(numbers)
        if lost.any():
            beside = np.roll(triangles, -step, axis=1).ravel()
            mine = triangles.ravel()
            found = lost[mine] & np.isfinite(numbers[beside])
            numbers[mine[found]] = numbers[beside[found]]
    return np.round(np.nan_to_num(numbers)).astype(np.int64)


def _grown(cells: Cells) -> Floats:
    """The corners (n, 3) of cells whose faces all lie ``_GROWTH`` farther out: where n · d = growth for the faces that
    meet there, in the sense of least squares where these are more than three."""
    faces = cells.faces.shape[1]
    corner = np.concatenate([cells.edges[end] for end in (0, 0, 1, 1)])
    face = np.concatenate([cells.edges[side] for side in (2, 3, 2, 3)])
    pairs = np.unique(corner * faces + face)
    corner, face = pairs // faces, pairs % faces
    normals = cells.world_planes()[0][face]
    count = cells.verts.shape[1]
    lean = np.zeros((count, 3, 3))
    np.add.at(lean, corner, normals[:, :, None] * normals[:, None, :])
    pull = np.zeros((count, 3))
    np.add.at(pull, corner, normals)
    return np.asarray(cells.world() + _GROWTH * np.linalg.solve(lean, pull[:, :, None])[:, :, 0])


def loose_by_wood(sim: Simulation, cells: Cells) -> Mapping[str, Mesh]:
    """The surfaces of all cells of each wood, each cell closed by itself, by the wood's key."""
    return {wood: mesh_of(mine) for wood, mine in _of_woods(sim, cells).items()}


def meshes_by_wood(sim: Simulation, cells: Cells) -> Mapping[str, Mesh]:
    """A closed surface for each wood in the cells, by the wood's key."""
    return {wood: solid_mesh(mine) for wood, mine in _of_woods(sim, cells).items()}


def _of_woods(sim: Simulation, cells: Cells) -> Mapping[str, Cells]:
    """The cells of each wood, by its key."""
    woods = np.array([strip.wood for strip in sim.strips])[cells.strip]
    return {str(wood): cells.take(np.flatnonzero(woods == wood)) for wood in dict.fromkeys(woods)}
