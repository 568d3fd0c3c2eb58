"""Sketches of the reckoners: drawn for any numbers that make sense, within their paper, and moved by what they show."""

from __future__ import annotations

import math
import re

import pytest
from hypothesis import HealthCheck, assume, given, settings
from hypothesis import strategies as st

from laberinto.core.errors import InputError
from laberinto.core.reckoners import RECKONERS, Reckoner
from laberinto.drawing.reckoners import sketch

from .test_every_drawing import SVG, outline, plain, root_of

ROOM = 3.0
"""Strokes and letters may reach so far over the edge of a sketch that is 320 wide."""


def drawn(reckoner: Reckoner) -> None:
    """The sketch is whole and keeps to its paper."""
    svg = sketch(reckoner)
    assert not re.search(r"\b(?:nan|inf|None)\b", svg)
    root = root_of(svg)
    left, top, width, height = (float(v) for v in root.get("viewBox", "").split())
    for path in plain(root):
        if re.search(r"[a-z]", path.get("d", "")):
            continue  # relative strokes are measured where they begin
        xs, ys = outline(path.get("d", ""))
        if xs:
            assert left - ROOM <= min(xs) and max(xs) <= left + width + ROOM, path.get("d")
            assert top - ROOM <= min(ys) and max(ys) <= top + height + ROOM, path.get("d")
    for word in root.iter(f"{SVG}text"):
        assert left <= float(word.get("x", "0")) <= left + width and top <= float(word.get("y", "0")) <= top + height


@pytest.mark.parametrize("key", RECKONERS)
def test_a_sketch_stands_as_it_opens(key: str) -> None:
    reckoner = RECKONERS[key]()
    drawn(reckoner)
    assert f'aria-label="{reckoner.title}"' in sketch(reckoner)


@pytest.mark.parametrize("key", RECKONERS)
@settings(max_examples=25, suppress_health_check=[HealthCheck.filter_too_much])
@given(data=st.data())
def test_a_sketch_stands_whatever_is_typed(key: str, data: st.DataObject) -> None:
    """Any numbers within their limits, alone or together, that the reckoner has an answer for."""
    kind = RECKONERS[key]
    values = {}
    for spec in kind.specs():
        if spec.kind not in ("length", "number", "count") or not data.draw(st.booleans(), label=spec.name):
            continue
        low, high = spec.least or 0.0, spec.most if spec.most is not None else 1000.0
        number = st.integers(int(low), int(high)) if spec.kind == "count" else st.floats(low, high)
        values[spec.name] = data.draw(number, label=spec.name)
    try:
        reckoner = kind.of(**values)
        results = reckoner.results()
    except InputError:
        assume(False)
    assert results and all(r.label and (isinstance(r.value, str) or math.isfinite(r.value)) for r in results)
    drawn(reckoner)


def test_the_five_cut_strip_is_wide_where_it_was_measured_wide() -> None:
    """Front, nearest to you, is drawn below; the fence's left end goes away from you, upwards."""
    drawn = sketch(RECKONERS["five-cuts"].of(front=12.3, back=12.0))
    strip = re.search(r"M120 30L([\d.]+) 30L([\d.]+) 150L120 150Z", drawn)
    fence = re.search(r"M300 150L200 ([\d.]+)", drawn)
    assert strip and fence and float(strip[2]) > float(strip[1]) and float(fence[1]) < 150
