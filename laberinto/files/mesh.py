"""Meshes as files: STL for slicers and CNC, 3MF and GLB with a part for each wood. Lengths in mm, in GLB metres."""

from __future__ import annotations

import zipfile
from pathlib import Path

import numpy as np
import trimesh
from trimesh.exchange.gltf import export_glb
from trimesh.exchange.stl import export_stl
from trimesh.exchange.threemf import export_3MF

from laberinto.core.analysis.mesh import Mesh, loose_by_wood, meshes_by_wood, skin, skins_by_wood
from laberinto.core.plan.simulate import Simulation
from laberinto.core.solid import Cells


def write_stl(cells: Cells, path: Path) -> None:
    """All cells as one closed solid, binary STL."""
    corners, triangles = skin(cells)
    path.write_bytes(export_stl(trimesh.Trimesh(corners, triangles, process=False)))


def write_stl_by_wood(sim: Simulation, cells: Cells, path: Path) -> None:
    """A zip with a closed STL for each wood; all of them lie where they lie in the board."""
    with zipfile.ZipFile(path, "w", zipfile.ZIP_DEFLATED) as archive:
        for wood, (corners, triangles) in skins_by_wood(sim, cells).items():
            archive.writestr(f"{wood}.stl", export_stl(trimesh.Trimesh(corners, triangles, process=False)))


def write_3mf(sim: Simulation, cells: Cells, path: Path) -> None:
    """An object for each wood, closed, in mm as the file says itself."""
    scene = trimesh.Scene()
    for wood, (corners, triangles) in skins_by_wood(sim, cells).items():
        part = trimesh.Trimesh(corners, triangles, process=False)
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
    scene = trimesh.Scene()
    for wood, mesh in (meshes_by_wood(sim, cells) if closed else loose_by_wood(sim, cells)).items():
        scene.add_geometry(_part(sim, wood, mesh), node_name=wood, geom_name=wood)
    return bytes(export_glb(scene))  # type: ignore[no-untyped-call]


def _part(sim: Simulation, wood: str, mesh: Mesh) -> trimesh.Trimesh:
    metres = mesh.vertices[:, [0, 2, 1]] * np.array([1e-3, 1e-3, -1e-3])
    colour = [int(sim.woods[wood].colour("oiled")[k : k + 2], 16) for k in (1, 3, 5)]
    material = trimesh.visual.material.PBRMaterial(  # type: ignore[no-untyped-call]
        name=wood, baseColorFactor=[*colour, 255], roughnessFactor=0.7
    )
    return trimesh.Trimesh(
        metres, mesh.triangles, process=False,
        vertex_attributes={"_LOCAL": mesh.local.astype(np.float32), "_STRIP": mesh.strip.astype(np.float32)},
        visual=trimesh.visual.TextureVisuals(material=material),  # type: ignore[no-untyped-call]
    )  # fmt: skip
