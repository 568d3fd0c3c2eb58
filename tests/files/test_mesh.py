"""Meshes as other programs read them: one closed skin, with no wall inside it."""

from __future__ import annotations

import io
import zipfile
from pathlib import Path

import numpy as np
import pytest
import trimesh

from laberinto.core.analysis.mesh import meshes_by_wood
from laberinto.core.cnc.surface import HeightMap
from laberinto.core.geometry.contact import covered
from laberinto.core.geometry.polygons import areas, corners
from laberinto.core.patterns import FAMILIES
from laberinto.core.plan.simulate import Simulation, simulate
from laberinto.core.solid import Cells
from laberinto.core.stages import Groove, Hollow
from laberinto.files.mesh import write_3mf, write_glb, write_stl, write_stl_by_wood
from laberinto.files.relief import relief


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


def carved_board() -> Simulation:
    """Two woods that meet corner to corner, with a groove and a hollow in them."""
    plan = FAMILIES["alternating"](strips=4, slices=4).plan("Parts")
    last = plan.stages[-1].id
    more = (Groove(id="gr", source=last, inset=25), Hollow(id="ho", source="gr", radius=120, depth=4))
    return simulate(plan.model_copy(update={"stages": (*plan.stages, *more)}))


@pytest.fixture(scope="module", params=["carved", "chaos", "diamonds", "tumbling"])
def parts(request: pytest.FixtureRequest) -> Simulation:
    return carved_board() if request.param == "carved" else simulate(FAMILIES[request.param]().plan("Parts"))


def test_each_wood_is_an_stl_of_its_own_in_mm(parts: Simulation, tmp_path: Path) -> None:
    """As another program has it: single precision, corners found again by where they lie. Blocks that meet in an edge
    alone are closed all the same; they are a thousandth of a millimetre smaller, so the volume is to 3 in 10,000."""
    path = tmp_path / "woods.stl.zip"
    write_stl_by_wood(parts, parts.whole(), path)
    volumes = parts.wood_volumes(parts.whole())
    with zipfile.ZipFile(path) as archive:
        assert set(archive.namelist()) == {f"{wood}.stl" for wood in volumes}
        for wood, volume in volumes.items():
            mesh = trimesh.load(io.BytesIO(archive.read(f"{wood}.stl")), file_type="stl")
            assert mesh.is_watertight and mesh.is_winding_consistent
            assert mesh.volume == pytest.approx(volume, rel=3e-4)


def test_a_3mf_has_an_object_for_each_wood_and_says_its_unit(parts: Simulation, tmp_path: Path) -> None:
    path = tmp_path / "board.3mf"
    write_3mf(parts, parts.whole(), path)
    scene = trimesh.load(path)
    assert scene.units == "millimeter"
    for wood, volume in parts.wood_volumes(parts.whole()).items():
        mesh = scene.geometry[parts.woods[wood].name]
        assert mesh.is_watertight and mesh.volume == pytest.approx(volume, rel=3e-4)
    assert scene.extents == pytest.approx(parts.whole().size(), abs=0.01)


def test_a_glb_is_in_metres_with_a_part_for_each_wood(parts: Simulation, tmp_path: Path) -> None:
    path = tmp_path / "board.glb"
    write_glb(parts, parts.whole(), path)
    scene = trimesh.load(path)
    assert set(scene.geometry) == set(parts.wood_volumes(parts.whole()))
    width, length, thickness = parts.whole().size()
    assert scene.extents == pytest.approx([width / 1000, thickness / 1000, length / 1000], abs=1e-5)  # y is up


def test_a_relief_is_the_map_it_was_made_of() -> None:
    """A step of 3 mm across a map of 40 × 20, in metres, y up, the far side at −z."""
    z = np.zeros((100, 200), np.float32)
    z[:, 100:] = -3
    mesh = trimesh.load(io.BytesIO(relief(HeightMap(z, 0.0, 0.0, 0.2, -30.0))), file_type="glb")
    (low, high) = mesh.bounds
    assert (high - low)[1] == pytest.approx(3e-3) and (high - low)[0] == pytest.approx(40e-3, abs=5e-4)
    assert low[2] == pytest.approx(-20e-3, abs=1e-3)
