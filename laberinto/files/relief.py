"""A height map as a solid to turn, in glTF: its upper side, y up, metres."""

from __future__ import annotations

import numpy as np

from laberinto.core.cnc.surface import HeightMap

MOST = 170
"""Points along the longer side: enough to see the material come off, few enough to be sent again and again."""


def relief(wood: HeightMap, colour: str = "#c9a36a") -> bytes:
    """The wood as it stands; where none is left it lies at the floor."""
    from trimesh import Scene, Trimesh  # takes a while to load, and only this needs it
    from trimesh.exchange.gltf import export_glb
    from trimesh.visual import TextureVisuals
    from trimesh.visual.material import PBRMaterial

    every = max(int(np.ceil(max(wood.z.shape) / MOST)), 1)
    z = np.maximum(wood.z[::every, ::every], wood.floor).astype(np.float64)
    rows, columns = z.shape
    x, y = np.meshgrid(np.arange(columns) * wood.step * every, np.arange(rows) * wood.step * every)
    corners = np.column_stack([x.ravel(), z.ravel(), -y.ravel()]) * 1e-3
    at = np.arange(rows * columns).reshape(rows, columns)
    a, b, c, d = at[:-1, :-1].ravel(), at[:-1, 1:].ravel(), at[1:, 1:].ravel(), at[1:, :-1].ravel()
    triangles = np.concatenate([np.column_stack([a, b, c]), np.column_stack([a, c, d])])
    shade = [int(colour[k : k + 2], 16) for k in (1, 3, 5)]
    material = PBRMaterial(  # type: ignore[no-untyped-call]
        baseColorFactor=[*shade, 255], roughnessFactor=0.8, metallicFactor=0.0, doubleSided=True
    )
    mesh = Trimesh(
        corners,
        triangles,
        process=False,
        visual=TextureVisuals(material=material),  # type: ignore[no-untyped-call]
    )
    return bytes(export_glb(Scene(mesh)))  # type: ignore[no-untyped-call]
