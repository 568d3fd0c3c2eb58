"""Meshes as files: STL for slicers and CNC, 3MF and GLB with a part for each wood. Lengths in mm, in GLB metres.

What writes them takes a while to load, so it is loaded when a file is wanted.
"""

from __future__ import annotations

import zipfile
from pathlib import Path
from typing import TYPE_CHECKING

import numpy as np

from laberinto.core.analysis.mesh import Mesh, loose_by_wood, meshes_by_wood, skin, skins_by_wood
from laberinto.core.plan.simulate import Simulation
from laberinto.core.solid import Cells, Floats, Ints

if TYPE_CHECKING:
    from trimesh import Trimesh


def write_stl(cells: Cells, path: Path) -> None:
    """All cells as one closed solid, binary STL."""
    path.write_bytes(_stl(*skin(cells)))


def write_stl_by_wood(sim: Simulation, cells: Cells, path: Path) -> None:
    """A zip with a closed STL for each wood; all of them lie where they lie in the board."""
    with zipfile.ZipFile(path, "w", zipfile.ZIP_DEFLATED) as archive:
        for wood, surface in skins_by_wood(sim, cells).items():
            archive.writestr(f"{wood}.stl", _stl(*surface))


def _stl(corners: Floats, triangles: Ints) -> bytes:
    from trimesh import Trimesh
    from trimesh.exchange.stl import export_stl

    return bytes(export_stl(Trimesh(corners, triangles, process=False)))


def write_3mf(sim: Simulation, cells: Cells, path: Path) -> None:
    """An object for each wood, closed, in mm as the file says itself."""
    from trimesh import Scene, Trimesh
    from trimesh.exchange.threemf import export_3MF

    scene = Scene()
    for wood, (corners, triangles) in skins_by_wood(sim, cells).items():
        part = Trimesh(corners, triangles, process=False)
        scene.add_geometry(part, node_name=wood, geom_name=sim.woods[wood].name)
    path.write_bytes(export_3MF(scene))  # type: ignore[no-untyped-call]


def write_glb(sim: Simulation, cells: Cells, path: Path) -> None:
    """As ``glb``, with one closed surface for each wood."""
    path.write_bytes(glb(sim, cells))


def glb(sim: Simulation, cells: Cells, *, closed: bool = True) -> bytes:
    """A part for each wood, in its colour. Every corner carries where it lies in its strip (``_LOCAL``, mm) and the
    strip's number (``_STRIP``), so that a shader can draw rings and fibres. Y is up, as the format wants it. Not
    ``closed`` keeps every cell's own surface, walls inside and all: quicker to make, and it looks the same from
    outside."""
    from trimesh import Scene
    from trimesh.exchange.gltf import export_glb

    scene = Scene()
    for wood, mesh in (meshes_by_wood(sim, cells) if closed else loose_by_wood(sim, cells)).items():
        scene.add_geometry(_part(sim, wood, mesh), node_name=wood, geom_name=wood)
    return bytes(export_glb(scene))  # type: ignore[no-untyped-call]


def _part(sim: Simulation, wood: str, mesh: Mesh) -> Trimesh:
    from trimesh import Trimesh
    from trimesh.visual import TextureVisuals
    from trimesh.visual.material import PBRMaterial

    metres = mesh.vertices[:, [0, 2, 1]] * np.array([1e-3, 1e-3, -1e-3])
    colour = [int(sim.woods[wood].colour("oiled")[k : k + 2], 16) for k in (1, 3, 5)]
    material = PBRMaterial(  # type: ignore[no-untyped-call]
        name=wood, baseColorFactor=[*colour, 255], roughnessFactor=0.7
    )
    return Trimesh(
        metres, mesh.triangles, process=False,
        vertex_attributes={"_LOCAL": mesh.local.astype(np.float32), "_STRIP": mesh.strip.astype(np.float32)},
        visual=TextureVisuals(material=material),  # type: ignore[no-untyped-call]
    )  # fmt: skip
