"""A mark in true size."""

from __future__ import annotations

import re
from pathlib import Path

import pytest

from laberinto.drawing.engraving import SMALLER, engraving

FONT = (
    Path(__file__).parents[2] / "laberinto/web/static/vendor/fonts/atkinson-hyperlegible-next-700.woff2"
).read_bytes()


def heights(svg: str) -> list[float]:
    """How far each closed outline reaches from top to bottom, read from its absolute commands."""
    found = []
    for outline in re.search(r' d="([^"]+)"', svg)[1].split("M")[1:]:  # type: ignore[index]
        ys, y = [], 0.0
        for kind, args in re.findall(r"([A-Z]?)([^A-Z]*)", "M" + outline):
            numbers = [float(n) for n in re.findall(r"-?\d*\.?\d+", args)]
            if kind == "V":
                ys += numbers
            elif kind and kind != "H":
                ys += numbers[1::2]
        found.append(max(ys) - min(ys) + y)
    return found


@pytest.mark.parametrize("capital", [6.0, 12.5])
def test_capitals_are_as_high_as_asked_for_and_nothing_but_outlines_is_in_it(capital: float) -> None:
    svg = engraving(["H"], FONT, capital)
    assert heights(svg) == [pytest.approx(capital, abs=0.02)]
    assert "<text" not in svg and "font" not in svg
    width, height = (float(v) for v in re.search(r'width="([\d.]+)mm" height="([\d.]+)mm"', svg).groups())  # type: ignore[union-attr]
    assert height == pytest.approx(1.6 * capital, abs=0.05)  # a margin of 0.3 on each side
    assert float(re.search(r'viewBox="\S+ \S+ (\S+)', svg)[1]) == width  # type: ignore[index]


def test_later_lines_are_smaller_and_empty_ones_take_no_room() -> None:
    two = engraving(["H", "", "H"], FONT, 10)
    assert heights(two) == [pytest.approx(10, abs=0.02), pytest.approx(10 * SMALLER, abs=0.02)]
    assert two == engraving(["H", "H"], FONT, 10)
    assert "path" in engraving(["Nº 7 漢"], FONT, 10)
