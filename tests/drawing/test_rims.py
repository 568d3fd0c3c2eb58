"""Rims: a floor has a shadow along the walls that are turned from the light, a bright line along the others, and neither
where the wood only slopes."""

from __future__ import annotations

import pytest
import shapely

from laberinto.core.geometry.faces import Face, Side, face_of
from laberinto.core.patterns import FAMILIES, Alternating
from laberinto.core.plan.simulate import Simulation, simulate
from laberinto.core.stages import Groove, Well
from laberinto.core.units import Lengths
from laberinto.drawing import board
from laberinto.drawing.merge import merged
from laberinto.drawing.rims import Rim, rims
from laberinto.drawing.skin import Flat


def welled(depth: float) -> Simulation:
    """A board with a well of 40 × 20 mm in its middle."""
    plan = Alternating(strips=6, slices=5).plan("Welled")
    last = plan.stages[-1].id
    well = Well(id="well", source=last, place="middle", width=40, length=20, radius=1, depth=depth)
    return simulate(plan.model_copy(update={"stages": (*plan.stages, well)}))


def top(sim: Simulation) -> Face:
    return merged(face_of(sim.board.pieces[0], Side.TOP))


def bands(found: list[Rim], ink: str) -> shapely.MultiPolygon:
    return shapely.MultiPolygon([shapely.Polygon(ring) for rim in found if rim.ink == ink for ring in rim.rings])


def test_a_well_has_a_shadow_above_and_to_the_left_and_light_below_and_to_the_right() -> None:
    """The light carries the edge of a wall 9 mm high by 0.3 × 9 = 2.7 mm from the upper left, (0.45, 0.75) to (1.389,
    2.315): of 40 × 20 that leaves 40 × 2.315 + 20 × 1.389 − 1.389 × 2.315 = 117.2 mm² in the shade. The bright line is
    carried by 0.7, (0.360, 0.600): 40 × 0.600 + 20 × 0.360 − 0.216 = 31.0."""
    found = rims(top(welled(9)))
    assert {rim.ink for rim in found} == {"#000", "#fff"}
    dark, lit = bands(found, "#000"), bands(found, "#fff")
    assert dark.area == pytest.approx(117.2, rel=0.02) and lit.area == pytest.approx(31.0, rel=0.02)
    assert dark.centroid.x < lit.centroid.x and dark.centroid.y < lit.centroid.y


def test_a_slope_and_a_scratch_have_none() -> None:
    assert rims(top(welled(1.4))) == []
    assert rims(top(simulate(FAMILIES["hollowed"]().plan("Hollow")))) == []
    plan = Alternating(strips=6, slices=5).plan("Grooved")
    groove = Groove(id="groove", source=plan.stages[-1].id)
    assert rims(top(simulate(plan.model_copy(update={"stages": (*plan.stages, groove)})))) == []


def test_they_are_on_the_picture() -> None:
    for depth, drawn in ((9, 1), (1, 0)):
        sim = welled(depth)
        assert board.board(sim.board.pieces[0], Flat(sim), Lengths(), label="face").count('class="rims"') == drawn
