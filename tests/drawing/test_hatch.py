"""Black and white: every wood of a sheet has a hatch of its own and a letter, and nothing is named that is not drawn."""

from __future__ import annotations

import re

import pytest
import shapely

from laberinto.core.geometry.faces import Side, face_of
from laberinto.core.patterns import FAMILIES, Alternating
from laberinto.core.plan.simulate import Simulation, simulate
from laberinto.core.shop import Shop
from laberinto.core.stages import Groove
from laberinto.core.steps import steps
from laberinto.core.units import Lengths
from laberinto.core.woods import LIBRARY
from laberinto.drawing.board import board
from laberinto.drawing.hatch import HATCHES, Hatched, inked, legend, order, palette
from laberinto.drawing.maps import MAPS
from laberinto.drawing.skin import Flat

MM = Lengths()


def grooved() -> Simulation:
    plan = Alternating(strips=6, slices=6).plan("Grooved")
    groove = Groove(id="gr", source=plan.stages[-1].id)
    return simulate(plan.model_copy(update={"stages": (*plan.stages, groove)}))


@pytest.mark.parametrize("family", sorted(FAMILIES))
def test_no_two_woods_look_alike_without_colour(family: str) -> None:
    """The lightest is left plain; each other names a hatch that is in the drawing, in ink or chalk as its wood is light
    or dark. The legend says which letter is which, and every map of the steps keeps to it."""
    sim = simulate(FAMILIES[family]().plan("Print"))
    places = order(sim)
    assert sorted(places.values()) == list(range(len(places))) and len(places) <= len(HATCHES)
    told = legend(sim)
    assert [name for _, name, _ in told] == [LIBRARY[key].name for key in palette(sim).values()]
    assert len({letter for letter, _, _ in told}) == len(told)
    drawings = [board(sim.board.pieces[0], Hatched(sim), MM, label="face")]
    drawings += [MAPS[s.map](sim, s, MM, Hatched(sim)) for s in steps(sim, MM, Shop()) if s.map in MAPS]
    for drawing in drawings:
        found = inked(drawing, sim)
        used, there = set(re.findall(r"url\(#(hatch\d+)\)", found)), set(re.findall(r'id="(hatch\d+)"', found))
        assert used <= there and len(used) <= len(places) - 1
    assert f'fill="{sim.woods[next(iter(places))].colour("oiled")}"' in drawings[0]


def rings(d: str) -> shapely.Geometry:
    whole = shapely.Polygon()
    for ring in d.removeprefix("M").split("M"):
        corners = [tuple(map(float, at.split())) for at in ring.removesuffix("Z").split("L")]
        whole = whole.symmetric_difference(shapely.Polygon(corners))
    return whole


def test_a_hatch_covers_its_wood_and_no_more() -> None:
    sim = grooved()
    face = face_of(sim.board.pieces[0], Side.TOP)
    drawn = Hatched(sim).laid(face, None, 0.3, 0.0)
    assert drawn is not None
    areas = face.areas()
    for wood, at in order(sim).items():
        if at:
            (d,) = re.findall(rf'<path d="([^"]+)" fill="url\(#hatch{at}\)"', drawn)
            mine = sum(a for a, s in zip(areas, face.strip, strict=True) if sim.strips[int(s)].wood == wood)
            assert rings(d).area == pytest.approx(mine, rel=1e-3)


def test_a_carved_face_prints_with_few_points() -> None:
    """Facets of a groove are one block each on paper; that a printed page is drawn in a moment hangs on it."""
    sim = grooved()
    plain, printed = (board(sim.board.pieces[0], skin, MM, label="f") for skin in (Flat(sim), Hatched(sim)))
    assert printed.count("L") * 4 < plain.count("L")


def test_a_hatch_is_as_large_on_a_long_panel_as_on_a_face() -> None:
    sim = grooved()
    scales = []
    for side in (100.0, 700.0):
        drawing = f'<svg viewBox="0 0 {side} {side / 4}"><path fill="url(#hatch1)"/></svg>'
        scale = re.search(r'id="hatch1"[^>]*scale\(([\d.e-]+)\)', inked(drawing, sim))
        assert scale is not None
        scales.append(float(scale[1]) / side)
    assert scales[0] == pytest.approx(scales[1], rel=0.1)
