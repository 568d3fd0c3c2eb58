"""Outlines as other programs read them: DXF by its own library, SVG by its numbers, in mm."""

from __future__ import annotations

import io
import re

import ezdxf
import numpy as np
import pytest
import shapely
from ezdxf import units
from ezdxf.document import Drawing

from laberinto.core.geometry.faces import Side, face_of
from laberinto.core.patterns import FAMILIES
from laberinto.core.plan.simulate import Simulation, simulate
from laberinto.core.shop import Shop
from laberinto.core.stages import Groove, Hollow, Well
from laberinto.core.templates import Line, templates
from laberinto.core.timber import Lot
from laberinto.core.timber.cutting.model import Piece, PlankCut, Rest, Section, Stock
from laberinto.core.units import Lengths
from laberinto.drawing.templates import sized
from laberinto.files.dxf import cut_plan_dxf, face_dxf, templates_dxf
from laberinto.files.face import face_svg


def opened(data: bytes) -> Drawing:
    """The file as its library reads it; nothing in it may want mending."""
    drawing = ezdxf.read(io.StringIO(data.decode()))
    assert not drawing.audit().errors and drawing.units == units.MM
    return drawing


def area(drawing: Drawing, layer: str) -> float:
    """What closed lines of a layer enclose, mm²; one within another is a hole."""
    rings = [
        shapely.Polygon([(x, y) for x, y, *_ in line.get_points()])
        for line in drawing.modelspace().query(f'LWPOLYLINE[layer=="{layer}"]')
        if line.closed
    ]
    whole = shapely.Polygon()
    for ring in rings:
        whole = whole.symmetric_difference(ring)
    return float(whole.area)


def seen(sim: Simulation) -> dict[str, float]:
    """mm² of the finished face by wood, added up from what the eye sees."""
    face = face_of(sim.whole(), Side.TOP)
    out: dict[str, float] = {}
    for strip, size in zip(face.strip.tolist(), face.areas().tolist(), strict=True):
        out[sim.strips[strip].wood] = out.get(sim.strips[strip].wood, 0.0) + size
    return out


@pytest.fixture(scope="module", params=["alternating", "chaos", "tumbling", "round", "hollowed"])
def sim(request: pytest.FixtureRequest) -> Simulation:
    plan = FAMILIES[request.param]().plan("Out")
    last = plan.stages[-1].id
    if request.param == "alternating":  # lines round coves and grooves are none of the wood's
        more = (Groove(id="gr", source=last), Well(id="we", source="gr"), Hollow(id="ho", source="we", depth=6))
        plan = plan.model_copy(update={"stages": (*plan.stages, *more)})
    return simulate(plan)


def test_a_face_is_closed_lines_on_a_layer_of_each_wood(sim: Simulation) -> None:
    drawing = opened(face_dxf(sim))
    for wood, size in seen(sim).items():
        assert area(drawing, sim.woods[wood].name) == pytest.approx(size, rel=1e-5)
    blocks = len(np.unique(face_of(sim.whole(), Side.TOP).block))
    assert len(drawing.modelspace()) <= blocks * 1.2 + 4  # no line but where wood meets wood, or ends


@pytest.mark.parametrize("laser", [False, True])
def test_a_face_as_svg_is_true_to_size(sim: Simulation, laser: bool) -> None:
    text = face_svg(sim, laser=laser)
    wide, high = (float(v) for v in re.findall(r'(?:width|height)="([\d.]+)mm"', text))
    assert (wide, high) == pytest.approx(tuple(face_of(sim.whole(), Side.TOP).size), abs=1e-3)
    assert re.search(rf'viewBox="0 0 {wide:.4f} {high:.4f}"', text)  # one unit is one mm
    for wood, size in seen(sim).items():
        group = re.search(rf'<g id="{wood}">.*?</g>', text)
        assert group is not None
        (d,) = re.findall(r' d="([^"]+)"', group[0])
        whole = shapely.Polygon()
        for ring in d.removeprefix("M").split("M"):
            whole = whole.symmetric_difference(
                shapely.Polygon([tuple(map(float, at.split())) for at in ring.removesuffix("Z").split("L")])
            )
        assert whole.area == pytest.approx(size, rel=1e-4)
        assert ('fill="none"' in group[0]) == laser


def test_templates_keep_their_size_in_files() -> None:
    plan = FAMILIES["alternating"]().plan("Out")
    more = (Groove(id="gr", source=plan.stages[-1].id), Well(id="we", source="gr"))
    found = templates(
        simulate(plan.model_copy(update={"stages": (*plan.stages, *more)})), Shop(), Lengths()
    )  # fmt: skip
    drawing = opened(templates_dxf(found))
    for line in Line:
        rings = [s for one in found for s in one.strokes if s.line is line and s.closed]
        each = [shapely.Polygon(s.points).area for s in rings]
        read = [
            shapely.Polygon([(x, y) for x, y, *_ in poly.get_points()]).area
            for poly in drawing.modelspace().query(f'LWPOLYLINE[layer=="template-{line.value}"]')
            if poly.closed
        ]
        assert sorted(read) == pytest.approx(sorted(each), rel=1e-9)
    for one in found:
        assert f'width="{one.size[0]:.4f}mm"' in sized(one) and 'fill="none"' in sized(one)


def test_a_cut_plan_has_its_planks_strips_and_rests() -> None:
    lot = Lot(wood="beech", length=1000, width=200, thickness=50)
    pieces = (Piece(0, 20, 4, 300, 50), Piece(0, 20, 57, 300, 50))
    plank = PlankCut(Stock(lot, 7), (Section(20, 300, 4, 192, pieces),), (Rest(323, 4, 600, 192),))
    drawing = opened(cut_plan_dxf([plank, plank]))
    assert area(drawing, "planks") == pytest.approx(2 * 1000 * 200)
    assert area(drawing, "strips") == pytest.approx(2 * 2 * 300 * 50)
    assert area(drawing, "rests") == pytest.approx(2 * 600 * 192)
