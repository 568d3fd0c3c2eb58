"""Pictures: well-formed, true to the simulation, and wood that keeps to its strip."""

from xml.etree import ElementTree

import numpy as np
import pytest

from laberinto.core.analysis.figures import rows
from laberinto.core.errors import InputError
from laberinto.core.geometry import cutters
from laberinto.core.geometry.faces import SECTIONS, Side, face_of
from laberinto.core.judging.scores.seams import Seams, seams_of
from laberinto.core.patterns import FAMILIES, Alternating
from laberinto.core.plan.simulate import Simulation, simulate
from laberinto.core.solid import Tool, boxes, carve
from laberinto.core.units import Lengths
from laberinto.core.woods import LIBRARY
from laberinto.core.woods.strips import Rings, rings_for
from laberinto.drawing import bench, board, knots
from laberinto.drawing.faces import wood
from laberinto.drawing.merge import merged
from laberinto.drawing.seams import seams
from laberinto.drawing.skin import RUN, Flat, Painted, Ringed
from laberinto.drawing.texture import Patch, paint

SVG = "{http://www.w3.org/2000/svg}"


@pytest.fixture(scope="module")
def sim() -> Simulation:
    return simulate(Alternating(strips=6, slices=5).plan("Drawn & <quoted>"))


def painted(sim: Simulation) -> Painted:
    return Painted(sim, "t", lambda token, finish: f"/{finish}/{token}")


def test_every_stage_draws_and_every_fill_is_defined(sim: Simulation) -> None:
    for result in sim.results:
        root = ElementTree.fromstring(bench.stage(sim, result, painted(sim), Lengths()))
        defined = {element.get("id") for element in root.iter(f"{SVG}pattern")}
        used = {fill[5:-1] for element in root.iter() if (fill := element.get("fill", "")).startswith("url(#")}
        assert used and used <= defined
        assert knots.knot(sim, result, "raw").getbbox(), result.stage.id


@pytest.mark.parametrize("family", ["chaos", "chevron", "hollowed", "round"])
def test_wood_is_painted_where_it_is_seen(family: str) -> None:
    """No polygon reaches beyond its bitmap; of a side at most a run more is painted at either end of what is seen."""
    sim = simulate(FAMILIES[family]().plan("Sides"))
    for result in sim.results:
        for side in Side:
            face = face_of(result.pieces[0], side)
            skin = painted(sim)
            names = np.array(skin.names(face))
            for name, sheet in skin.sheets.items():
                shown = face.take(np.flatnonzero(names == name))
                local, begin = shown.local, np.array([sheet.left, sheet.top])
                low, high = (
                    local.min(axis=0) - begin,
                    local.max(axis=0) - begin - (sheet.patch.width, sheet.patch.height),
                )
                assert (low > -1e-3).all() and (high < 1e-3).all(), (result.stage.id, side, name)
                if SECTIONS[shown.section[0]] != "end":
                    assert low[1] < RUN and high[1] > -RUN


def test_the_face_shows_its_size_and_every_row(sim: Simulation) -> None:
    drawn = board.board(sim.board.pieces[0], painted(sim), Lengths(), label=sim.plan.name, rows=rows(sim))
    root = ElementTree.fromstring(drawn)
    assert root.get("aria-label") == "Drawn & <quoted>"
    words = [element.text for element in root.iter(f"{SVG}text")]
    # 6 × 30 − 6 wide, 5 × 30 − 6 long, 38 thick
    assert {"174", "144", "38"} <= set(words)
    assert [e.get("data-row") for e in root.iter(f"{SVG}g") if e.get("class") == "laid-row"] == [
        "0",
        "1",
        "2",
        "3",
        "4",
    ]


def test_a_thumbnail_defines_its_rings(sim: Simulation) -> None:
    face = face_of(sim.board.pieces[0], Side.TOP)
    root = ElementTree.fromstring(board.thumbnail(face, Ringed(sim, "b1"), label="x"))
    assert len(list(root.iter(f"{SVG}radialGradient"))) == 6
    flat = ElementTree.fromstring(board.thumbnail(face, Flat(sim), label="x"))
    colours = {element.get("fill") for element in flat.iter(f"{SVG}path")}
    assert {sim.woods["beech"].oiled, sim.woods["plum"].oiled} <= colours


def test_a_thumbnail_says_whether_it_is_a_rectangle(sim: Simulation) -> None:
    """A disc fills π / 4 of the square round it, and casts another shadow."""
    disc = simulate(FAMILIES["round"].of().plan("Disc"))
    for made, words in ((sim, "thumb square"), (disc, "thumb")):
        face = face_of(made.board.pieces[0], Side.TOP)
        assert ElementTree.fromstring(board.thumbnail(face, Flat(made), label="x")).get("class") == words


def end(width: float = 12.0, ppm: float = 5.0, left: float = 0.0) -> Patch:
    return Patch("end", 0.0, left, 0.0, width, 12.0, ppm)


@pytest.mark.parametrize("key", ["beech", "oak", "black-walnut", "yew"])
def test_wood_keeps_its_colour_on_the_whole(key: str) -> None:
    wood = LIBRARY[key]
    for finish in ("raw", "oiled"):
        mean = paint(wood, rings_for(wood, 1, 12, 12), end(), finish).reshape(-1, 3).mean(axis=0)
        wanted = np.array([int(wood.colour(finish)[i : i + 2], 16) for i in (1, 3, 5)])
        assert np.abs(mean - wanted).max() < 40


def test_the_same_strip_looks_the_same_and_another_does_not() -> None:
    wood = LIBRARY["oak"]
    one, again = (paint(wood, rings_for(wood, 1, 12, 12), end(), "raw") for _ in range(2))
    other = paint(wood, rings_for(wood, 2, 12, 12), end(), "raw")
    assert (one == again).all()
    assert np.abs(one.astype(int) - other).mean() > 5


def test_rings_lie_round_the_heart() -> None:
    """Along a circle about the heart the wood is evener than across the circles."""
    wood = LIBRARY["yew"]
    rings = rings_for(wood, 1, 12, 12).model_copy(update={"heart": (6.0, -60.0), "spacing": 2.0})
    grey = paint(wood, rings, end(), "raw").mean(axis=2)
    along_rings, across_rings = grey.mean(axis=1).std(), grey.mean(axis=0).std()
    assert along_rings > 2 * across_rings  # the heart lies far above, so rings run from left to right


def test_pores_are_as_large_however_near_one_looks() -> None:
    """A wood with large pores in its early wood: what they darken of the same 6 × 6 mm is the same share at 10 and at 40
    pixels a mm, give or take a level of 255. Cut off square at a distance from their middles they would darken less
    the nearer one looks."""
    wood = LIBRARY["ash"]
    rings = rings_for(wood, 1, 12, 12)
    far, near = (paint(wood, rings, Patch("end", 0.0, 0.0, 0.0, 6.0, 6.0, ppm), "raw").mean() for ppm in (10, 40))
    assert abs(far - near) < 1.0


def test_what_is_alike_on_a_small_picture_is_one_element(sim: Simulation) -> None:
    """Chamfered all round: four ways to lean make four shades, whatever the number of cells along the edges; the fifth
    is the line of all joints."""
    eased = simulate(Alternating(strips=10, slices=12).plan("Many"))
    face = face_of(eased.board.pieces[0], Side.TOP)
    root = ElementTree.fromstring(board.thumbnail(face, Ringed(eased, "m"), label="x"))
    groups = {group.get("class"): group for group in root.iter(f"{SVG}g")}
    assert [part.get("class") for part in groups["shades"]] == [None] * 4 + ["joints"]
    assert len(groups["facets"]) == 2  # of two woods
    assert len(groups["wood"]) == 120
    flat = ElementTree.fromstring(board.thumbnail(face, Flat(eased), label="x"))
    assert len(next(g for g in flat.iter(f"{SVG}g") if g.get("class") == "wood")) == 2


def test_a_huge_patch_is_refused() -> None:
    wood = LIBRARY["oak"]
    with pytest.raises(InputError, match="too large"):
        paint(wood, rings_for(wood, 1, 12, 12), end(width=900, ppm=40), "raw")


def test_sapwood_is_paler_at_the_same_place_on_end_and_side() -> None:
    """The heart 40 below the strip, sapwood from 60 mm: on the end it is the upper third, on a side at the same
    height as far as that side is from the heart."""
    wood = LIBRARY["plum"]
    rings = Rings(heart=(15, -40), spacing=2, seed=5, sapwood=60)
    end = paint(wood, rings, Patch("end", 0, 0, 0, 30, 30, 4), "oiled").mean(axis=2)
    flat = paint(wood, rings, Patch("flat", 27, 0, 0, 30, 60, 2), "oiled").mean(axis=2)
    deep = paint(wood, rings, Patch("flat", 8, 0, 0, 30, 60, 2), "oiled").mean(axis=2)
    assert end[-20:, 50:70].mean() > 1.4 * end[:40, 50:70].mean()  # row 0 is the low end
    assert flat.mean() > 1.4 * deep.mean()
    without = rings.model_copy(update={"sapwood": None})
    assert paint(wood, without, Patch("flat", 27, 0, 0, 30, 60, 2), "oiled").mean() < 0.8 * flat.mean()


def test_merging_for_drawing_changes_no_area_and_joins_what_a_groove_left() -> None:
    """A block with a groove through its middle is kept as several cells; its face is drawn in two, left and right."""
    block = boxes(np.array([[60.0, 60.0, 30.0]]), np.array([0]))
    tools = cutters.run_along(np.array([[30.0, -9.0], [30.0, 69.0]]), cutters.round_profile(5, 5), 30.0, 1.0)
    left, _ = carve(block, tools)
    face = face_of(left, Side.TOP)
    drawn = merged(face)
    assert drawn.areas().sum() == pytest.approx(face.areas().sum()) and face.areas().sum() == pytest.approx(3600)
    square = drawn.tilt > 0.9999
    assert sorted(drawn.areas()[square].tolist()) == pytest.approx([25 * 60, 25 * 60], rel=1e-4)
    assert len(drawn) < len(face)
    for i in range(len(drawn)):
        corners = slice(drawn.ptr[i], drawn.ptr[i + 1])
        carried = drawn.local[corners] @ drawn.maps[i][:, :2].T + drawn.maps[i][:, 2]
        assert np.allclose(carried, drawn.points[corners], atol=1e-6)


def test_recessed_wood_is_drawn_darker_and_facets_close_their_gaps(sim: Simulation) -> None:
    block = boxes(np.array([[60.0, 60.0, 30.0]]), np.array([0]))
    pocket = cutters.box(np.array([20.0, 20.0, 20.0]), np.array([40.0, 40.0, 40.0]))
    left, _ = carve(block, [pocket])
    drawn = wood(face_of(left, Side.TOP), Flat(sim))
    # 10 mm down: 0.34 (1 − e^(−10/12)) = 0.192
    assert drawn.count('fill="#000" fill-opacity="0.192"') == 1
    eased, _ = carve(block, [Tool(np.array([[1.0, 0.0, 1.0]]) / 2**0.5 * -1, np.array([-85.0 / 2**0.5]))])
    facets = wood(face_of(eased, Side.TOP), Flat(sim)).split('class="facets"')
    assert len(facets) == 2 and "stroke=" in facets[1].split("</g>")[0]


def test_what_is_kept_with_a_face_is_told_apart_by_what_worked_it_out() -> None:
    """Joints as drawings have them and joints as scores have them."""
    face = face_of(simulate(Alternating().plan("Kept")).board.pieces[0], Side.TOP)
    drawn, scored = seams(face), seams_of(face)
    assert isinstance(drawn, list) and isinstance(scored, Seams)
    assert seams(face) is drawn and seams_of(face) is scored
