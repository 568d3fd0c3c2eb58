"""The map of a face's heights."""

from __future__ import annotations

import re

from laberinto.core.finish.heights import Heights
from laberinto.drawing.bars import Group, bars
from laberinto.drawing.heights import NEUTRAL, heights

SHOW = "{:g}".format


def test_each_corner_stands_where_it_is_and_shims_go_under_the_low_ones() -> None:
    """41, 40 / 40, 41 is twisted by 2: 1 under far right and near left. High is red, low is blue, the mean neither."""
    svg = heights(Heights((41, 40, 40, 41), 40.5), SHOW, label="x")
    spots = re.findall(r'<circle cx="([\d.]+)" cy="([\d.]+)" r="11" fill="(#\w+)"', svg)
    assert [(float(x) < 100, float(y) < 100) for x, y, _ in spots[:4]] == [
        (True, True), (False, True), (True, False), (False, False),
    ]  # fmt: skip
    inks = [ink for *_, ink in spots]
    assert inks[0] == inks[3] != inks[1] == inks[2] and inks[4] == NEUTRAL
    red, blue = (int(inks[0][k : k + 2], 16) for k in (1, 5))
    assert red > blue and svg.count("shim 1 here") == 2
    assert "shim" not in heights(Heights((40, 40, 40, 40)), SHOW, label="x")


def test_bars_are_as_high_as_their_values_and_lead_where_they_say() -> None:
    """4 is twice as high as 2, what is not known has no bar, and long names stand on two lines."""
    groups = [Group("hairline gap", (2.0, 4.0), "?a", "a"), Group("a long void", (None, 3.0), "", "b"),
              *(Group("another name", (1.0, 1.0), "?c", "c") for _ in range(4))]  # fmt: skip
    svg = bars(groups, label="x")
    tall = [float(h) for h in re.findall(r'height="([\d.]+)" fill="#', svg)]
    assert len(tall) == 11 and abs(tall[1] - 2 * tall[0]) < 0.02
    assert svg.count('href="?a"') == 1 and svg.count("<a ") == 5
    assert len(set(re.findall(r'<text x="[\d.]+" y="([\d.]+)"[^>]*>[a-z]', svg))) == 2
