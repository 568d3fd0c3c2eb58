"""Wood for a canvas: all of it laid down, its sheets packed so that none lies on another, and lines only at joints."""

from __future__ import annotations

import json
from dataclasses import replace
from typing import Any
from xml.etree import ElementTree

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from laberinto.core.errors import InputError
from laberinto.core.geometry.faces import Side, face_of
from laberinto.core.patterns import FAMILIES, Alternating
from laberinto.core.plan.simulate import Simulation, simulate
from laberinto.core.units import Lengths
from laberinto.core.woods import LIBRARY
from laberinto.core.woods.strips import Strip, rings_for
from laberinto.drawing import atlas, bench, board
from laberinto.drawing.atlas import Atlas, Sheet
from laberinto.drawing.canvas import Canvas
from laberinto.drawing.merge import merged
from laberinto.drawing.seams import seams
from laberinto.drawing.skin import Painted

SVG = "{http://www.w3.org/2000/svg}"


def painting(svg: str, skin: Painted) -> tuple[ElementTree.Element, dict[str, Any]]:
    root = ElementTree.fromstring(svg)
    (mark,) = root.iter(f"{SVG}metadata")
    assert mark.get("data-key") and skin.canvas
    return root, json.loads(skin.canvas.said)


def patches(data: dict[str, Any]) -> list[tuple[int, list[float], list[float]]]:
    """Each with its sheet, its map and its corners."""
    ends = np.cumsum(data["counts"])
    assert ends[-1] == len(data["corners"]) and len(data["maps"]) == 6 * len(data["shown"]) == 6 * len(ends)
    return [
        (sheet, data["maps"][6 * k : 6 * k + 6], data["corners"][ends[k] - data["counts"][k] : ends[k]])
        for k, sheet in enumerate(data["shown"])
    ]


def skin_of(sim: Simulation) -> Painted:
    return Painted(sim, "t", lambda token, finish: f"/{finish}/{token}", canvas=Canvas())


def area(ring: list[float]) -> float:
    x, y = np.array(ring[::2]), np.array(ring[1::2])
    return float(abs(np.sum(x * np.roll(y, -1) - np.roll(x, -1) * y)) / 2)


@pytest.mark.parametrize("family", ["alternating", "chevron", "chaos"])
def test_the_patches_cover_the_face_and_its_edge(family: str) -> None:
    sim = simulate(FAMILIES[family]().plan("Laid"))
    piece = sim.board.pieces[0]
    skin = skin_of(sim)
    root, data = painting(board.board(piece, skin, Lengths(), label="x"), skin)
    covered = sum(area(corners) * abs(a * d - b * c) for _, (a, b, c, d, _e, _f), corners in patches(data))
    width, length, thick = sim.board.size
    assert covered == pytest.approx(width * (length + thick), rel=2e-3)
    ranges = [[*map(int, g.get("data-laid", "").split())] for g in root.iter(f"{SVG}g") if g.get("class") == "laid"]
    assert [r[0] for r in ranges] == [0, *(r[1] for r in ranges[:-1])] and ranges[-1][1] == len(data["shown"])
    assert all(0 <= sheet < len(data["sheets"]) for sheet in data["shown"])


def test_each_row_on_the_bench_takes_its_own_wood_along() -> None:
    sim = simulate(Alternating(strips=6, slices=5).plan("Rows"))
    skin = skin_of(sim)
    root, data = painting(bench.stage(sim, sim["rows"], skin, Lengths()), skin)
    rows = [g for g in root.iter(f"{SVG}g") if g.get("class") == "laid-row"]
    laid = [next(g for g in row.iter(f"{SVG}g") if g.get("class") == "laid").get("data-laid", "") for row in rows]
    assert len(rows) == 5 and len(set(laid)) == 5 and sum(last - first for _, first, last in data["lines"]) == 30


strips = st.builds(
    lambda number, width, thick: Strip(
        number, number, "oak", width, thick, 500.0, rings_for(LIBRARY["oak"], number, width, thick)
    ),
    st.integers(1, 60), st.floats(3, 120), st.floats(8, 60),
)  # fmt: skip


@given(st.lists(strips, min_size=1, max_size=40), st.floats(1, 6))
def test_no_sheet_lies_on_another_and_an_address_says_it_all(several: list[Strip], ppm: float) -> None:
    made = Atlas.of(Sheet.of(strip, "end", 0.0, (0.0, 0.0), round(ppm, 2), "") for strip in several)
    taken = np.zeros((made.height, made.width), int)
    for place in made.places:
        spot = taken[place.y : place.y + place.height, place.x : place.x + place.width]
        assert spot.shape == (place.height, place.width)
        spot += 1
    assert taken.max() == 1
    again = atlas.read(made.token)
    assert again.places == made.places and [s.rings for s in again.sheets] == [s.rings for s in made.sheets]


def test_a_strip_made_wider_keeps_its_look() -> None:
    """From 31 to 34 mm the same bitmap serves, its middle in the strip's middle."""

    def end(width: float) -> Sheet:
        strip = Strip(0, 3, "oak", width, 40.0, 500.0, rings_for(LIBRARY["oak"], 3, width, 40.0))
        return Sheet.of(strip, "end", 0.0, (0.0, 0.0), 2.5, "")

    narrow, wide = end(31.0), end(34.0)
    assert Atlas.of([narrow]).token == Atlas.of([wide]).token
    assert narrow.left + narrow.patch.width / 2 == 15.5 and wide.left + wide.patch.width / 2 == 17


@given(st.text(max_size=60) | st.binary(max_size=60).map(lambda b: b.hex()))
def test_what_is_no_token_is_refused_in_words(token: str) -> None:
    with pytest.raises(InputError):
        atlas.jpeg(token, "oiled")


def test_an_atlas_that_would_take_long_is_refused() -> None:
    strip = Strip(0, 3, "oak", 4000.0, 4000.0, 500.0, rings_for(LIBRARY["oak"], 3, 40, 40))
    many = Atlas.of([Sheet.of(strip, "end", 0.0, (0.0, 0.0), 2.5, "")] * 40_000)
    with pytest.raises(InputError):
        atlas.jpeg(many.token, "oiled", 2)


def test_a_hollow_has_lines_where_blocks_meet_and_nowhere_else() -> None:
    """Each block that is seen has one outline, however many planes the knife left of it; a block's outline holds all of
    its planes."""
    sim = simulate(FAMILIES["hollowed"]().plan("Hollow"))
    face = merged(face_of(sim.board.pieces[0], Side.TOP))
    found = seams(face)
    assert found is not None
    assert len(found) == len(set(face.block.tolist())) < len(face) / 2
    assert sum(area(ring.ravel().tolist()) for _, ring in found) == pytest.approx(float(face.areas().sum()), rel=0.02)


def test_a_flat_face_needs_no_other_outlines() -> None:
    sim = simulate(Alternating(strips=6, slices=5).plan("Flat"))
    assert seams(merged(face_of(sim["trimmed"].pieces[0], Side.TOP))) is None


def test_a_block_seen_as_a_splinter_without_width_is_drawn_too() -> None:
    """All its polygons on one line, as rounding may leave them: it has no outline, the others keep theirs."""
    sim = simulate(Alternating(strips=4, slices=4).plan("Splinter"))
    face = merged(face_of(sim.board.pieces[0], Side.TOP))
    blocks, count = np.unique(face.block, return_counts=True)
    assert len(blocks) == 16
    mine = np.repeat(face.block == blocks[count > 1][0], np.diff(face.ptr))
    flat = replace(face, points=np.where(mine[:, None], face.points * (1.0, 0.0), face.points))
    outlines = seams(flat)
    assert outlines is not None and len([ring for _, ring in outlines if len(ring) > 2]) >= 15
