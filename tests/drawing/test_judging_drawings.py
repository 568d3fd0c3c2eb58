"""What is laid over a judged face, the chart of further passes, and the grid of a picture: drawn where it belongs."""

from __future__ import annotations

import re
import xml.etree.ElementTree as ET
from itertools import pairwise

import pytest

from laberinto.core.judging.scores import SCORES, Scored
from laberinto.core.patterns.picture import SAIL, Pictured
from laberinto.core.picture import panels
from laberinto.core.plan.simulate import Simulation
from laberinto.drawing import chart
from laberinto.drawing.picture import grid, panel, rows_words
from laberinto.drawing.scores import COPY, LIT, judged
from laberinto.drawing.skin import Flat
from tests.core.judging.test_scores import CHECKER, face

SVG = "{http://www.w3.org/2000/svg}"


@pytest.fixture(scope="module")
def checker() -> Simulation:
    return face(*CHECKER)


def drawn(sim: Simulation, key: str | None) -> ET.Element:
    on = Scored(sim)
    return ET.fromstring(judged(on, SCORES[key](on) if key else None, Flat(sim), label="The face"))


def test_a_bare_face_is_all_wood_and_nothing_is_lit(checker: Simulation) -> None:
    root = drawn(checker, None)
    assert sum(path.get("d", "").count("M") for path in root.iter(f"{SVG}path")) == 16
    assert not [e for e in root.iter() if e.get("stroke") in (LIT, COPY)]


def test_the_repeat_is_outlined_twice_and_numbered(checker: Simulation) -> None:
    """Squares of 20 on a face of 80: both outlines are as large as each other, less the hair that keeps them apart."""
    root = drawn(checker, "repetition")
    boxes = [e for e in root.iter(f"{SVG}rect") if e.get("stroke") in (LIT, COPY)]
    assert [box.get("stroke") for box in boxes] == [LIT, COPY]
    inset = 80 * 0.024 * 0.12
    sizes = [
        (float(b.get("width", 0)) + 2 * inset * k, float(b.get("height", 0)) + 2 * inset * k)
        for k, b in enumerate(boxes, 1)
    ]
    assert sizes[0] == pytest.approx(sizes[1], abs=0.05)
    assert [t.text for t in root.iter(f"{SVG}text")] == ["1", "2"]


def test_lit_joints_lie_where_a_wood_meets_itself() -> None:
    """Ash 20, ash 20, elm 30 in three rows of 20: three upright joints at 20 and all of those at 20 and 40 from the far
    edge."""
    root = drawn(face("as-cut", 3, ("ash", 20), ("ash", 20), ("elm", 30)), "same-wood")
    lit = next(e for e in root.iter(f"{SVG}path") if e.get("stroke") == LIT)
    strokes = [tuple(map(float, re.findall(r"[\d.]+", part))) for part in lit.get("d", "").split("M")[1:]]
    upright = {round(x0) for x0, _, x1, _ in strokes if abs(x0 - x1) < 1e-6}
    level = {round(y0) for x0, y0, x1, _ in strokes if abs(x0 - x1) > 1e-6}
    assert upright == {20} and level == {20, 40}
    assert sum(abs(x0 - x1) + abs(y0 - y1) for x0, y0, x1, y1 in strokes) == pytest.approx(60 + 140)


def test_a_patch_is_one_outline_round_all_its_blocks() -> None:
    root = drawn(face("as-cut", 3, ("ash", 20), ("ash", 20), ("elm", 30)), "patch")
    outline = next(e for e in root.iter(f"{SVG}path") if e.get("stroke") == LIT).get("d", "")
    corners = {(round(float(x)), round(float(y))) for x, y in re.findall(r"([\d.]+) ([\d.]+)", outline)}
    assert outline.count("M") == 1 and {(0, 0), (40, 0), (40, 60), (0, 60)} <= corners


def test_the_chart_puts_shares_at_their_height_and_marks_the_best() -> None:
    """Over a height of 260 from 18: 0 % at 278, 50 % at 148, 100 % at 18; four points 640 / 3 apart from 46."""
    root = ET.fromstring(
        chart.outlook([0.5, 0.6, 0.7, 0.7], [1, 0.8, 0.5, 0.25], [0.5, 0.48, 0.35, 0.18], 1, label="x")
    )
    dots = [(float(e.get("cx", 0)), float(e.get("cy", 0)), e.get("fill")) for e in root.iter(f"{SVG}circle")]
    assert len(dots) == 12
    gain = [(x, y) for x, y, ink in dots if ink == chart.GAIN]
    assert gain[0] == pytest.approx((46, 148)) and gain[-1] == pytest.approx((686, 96))
    loss = [y for _, y, ink in dots if ink == chart.LOSS]
    assert loss == pytest.approx([18, 70, 148, 213])
    dashed = next(e for e in root.iter(f"{SVG}path") if e.get("stroke-dasharray") == "5 4")
    assert dashed.get("d", "").startswith("M259.33 18")
    words = {t.text: float(t.get("y", 0)) for t in root.iter(f"{SVG}text") if t.get("text-anchor") == "start"}
    heights = sorted(words.values())
    assert set(words) == {"disorder", "face left", "worth"} and min(b - a for a, b in pairwise(heights)) >= 15


def test_the_grid_has_a_cell_for_every_letter_where_it_lies() -> None:
    picture = Pictured().picture
    root = ET.fromstring(
        grid(picture, dict.fromkeys(picture.woods, "/x.webp"), marked={(0, 0), (5, 3)}, label="The face")
    )
    cells = [e for e in root.iter(f"{SVG}rect") if e.get("class") == "cell"]
    assert len(cells) == 120 and len([g for g in root.iter(f"{SVG}g") if g.get("role") == "row"]) == 10
    sail = next(e for e in cells if e.get("id") == "cell-5-3")
    assert (sail.get("x"), sail.get("y"), sail.get("fill")) == ("72", "120", "url(#wood-B)")
    assert sail.get("aria-label") == "Row 6, column 4: B, Plum"
    assert len([e for e in root.iter(f"{SVG}circle") if e.get("class") == "changed-ring"]) == 2
    assert "".join(re.findall(r"wood-([A-C])", " ".join(e.get("fill", "") for e in cells))) == "".join(SAIL)


def test_a_panels_strips_stand_side_by_side_to_the_pictures_scale() -> None:
    picture = Pictured().picture
    one = panels(picture)[1]
    root = ET.fromstring(panel(one, dict.fromkeys(picture.woods, "/x.webp"), "e", 288))
    strips = [(float(e.get("x", 0)), float(e.get("width", 0))) for e in root.iter(f"{SVG}rect")]
    assert strips == [(0, 120), (120, 24), (144, 144)] and root.get("viewBox") == "0 0 288 24"
    assert root.get("aria-label") == "sycamore 120, plum 24, sycamore 144"
    assert rows_words([(0, False), (4, True)]) == "1, 5 flipped"
