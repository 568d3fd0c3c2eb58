"""Meshes as other programs read them: one closed skin, with no wall inside it."""

from __future__ import annotations

from pathlib import Path

import numpy as np
import pytest
import trimesh

from laberinto.core.analysis.mesh import meshes_by_wood
from laberinto.core.geometry.contact import covered
from laberinto.core.geometry.polygons import areas, corners
from laberinto.core.patterns import FAMILIES
from laberinto.core.plan.simulate import simulate
from laberinto.core.solid import Cells
from laberinto.files.mesh import write_stl


def outside(cells: Cells) -> float:
    """What lies open of all faces, mm²: their area less what touches other wood."""
    faces, together = np.arange(cells.faces.shape[1]), np.zeros(cells.faces.shape[1], np.int64)
    bare = cells.laid_bare()
    glued, _ = covered(bare, faces, faces, together, together)
    return float((areas(bare, *corners(bare, faces)) - glued).sum())


@pytest.mark.parametrize("family", sorted(FAMILIES))
def test_a_board_is_one_closed_skin_and_each_of_its_woods_too(family: str, tmp_path: Path) -> None:
    sim = simulate(FAMILIES[family]().plan("Skin"))
    cells = sim.board.pieces.cells
    path = tmp_path / "board.stl"
    write_stl(cells, path)
    skin = trimesh.load(path)  # as another program has it: single precision, corners found again by where they lie
    assert skin.is_watertight and skin.is_winding_consistent
    assert skin.area == pytest.approx(outside(cells), rel=1e-3)
    assert skin.volume == pytest.approx(cells.volume(), rel=1e-6)
    if family in ("alternating", "chaos", "weave"):  # a box with its face and underside eased: no triangle too many
        assert len(skin.faces) == 28
    for mesh in meshes_by_wood(sim, cells).values():
        assert trimesh.Trimesh(mesh.vertices, mesh.closed, process=False).is_watertight
