"""Every reckoner against a sum done on paper."""

from __future__ import annotations

import math
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from laberinto.core.errors import InputError
from laberinto.core.reckoners import RECKONERS
from laberinto.drawing.reckoners import SKETCHES, sketch


def out(key: str, **values: Any) -> dict[str, float | str]:
    return {result.label: result.value for result in RECKONERS[key].of(**values).results()}


def test_worked_on_paper() -> None:
    # five cuts: (12.4 − 12.0) / 4 = 0.1 over 400; at a pivot of 800 the fence moves 0.2
    five = out("five-cuts", front=12.4, back=12.0, length=400, pivot=800)
    assert (five["Off over the strip"], five["Move the fence"]) == pytest.approx((0.1, 0.2))
    assert out("five-cuts", front=12.0, back=12.4, length=400, pivot=800)["Which way"] == "its left end towards you"
    # arc: 240² / 160 + 10 = 370; a half circle of chord 100 and rise 50 has radius 50 and is 50 π long
    assert out("arc", chord=240, rise=20)["Radius"] == pytest.approx(370)
    assert out("arc", chord=100, rise=50) == pytest.approx({"Radius": 50, "Length of the arc": 50 * math.pi})
    # stave: 500 − √(500² − 150²) = 500 − 476.97 = 23.03
    assert out("stave", radius=500, length=300, thickness=30) == pytest.approx(
        {"Lost to flattening": 23.0303, "Flat thickness": 6.9697}, abs=1e-4
    )
    # skew of 60°: twice as wide, a wedge of √3 widths
    assert out("skew", angle=60, width=100) == pytest.approx(
        {"Stretch": 2, "Width along the cut": 200, "Wedge at each end": 100 * math.sqrt(3)}
    )
    # mitre for six: 30°; 0.1° over 50 mm is 0.0873, twelve cuts 1.047
    assert out("mitre", sides=6, cut=50, error=0.1) == pytest.approx(
        {"Mitre": 30, "Gap at a cut": 0.08727, "All round": 1.0472}, abs=1e-4
    )
    # volume: 25.4 × 304.8 × 304.8 is one board foot
    assert out("volume", thickness=25.4, width=304.8, length=304.8, count=3)["Board feet"] == pytest.approx(3)
    # batch: 24 × 6 × 25 s = 60 min from 13:30; across midnight it is the next day
    assert out("batch", pieces=24, passes=6, seconds=25, start="13:30") == {
        "It takes": "1 h 00 min",
        "Done at": "14:30",
    }
    assert out("batch", pieces=24, passes=6, seconds=25, start="23:30")["Done at"] == "00:30 the next day"
    # wax: 200 g of oil at four to one
    assert out("wax", oil=200, parts=4) == {"Wax": 50, "Makes": 250, "As a": "soft paste"}
    # groove: half a circle of 6 is 18 π; path 2 (300 + 400 − 80) = 1240
    groove = out("groove", width=300, length=400, inset=20, bit=12, depth=6)
    assert groove == pytest.approx({"Section": 18 * math.pi, "Path": 1240, "Holds": 18 * math.pi * 1.24})
    # turntable: 4 × 75 / (180 − 75)
    assert out("turntable", weight=4, radius=180, bearing=75)["Tips when pressed with"] == pytest.approx(300 / 105)
    # glue: 9 × 600 × 33 = 178 200 mm², × 250 g/m² of joint
    assert out("glue", joints=9, length=600, height=33, spread=250) == pytest.approx(
        {"Area of the joints": 178200, "Glue": 44.55}
    )


@given(st.floats(-0.004, 0.004), st.floats(200, 500))
def test_five_cuts_on_paper_find_the_fence(lean: float, side: float) -> None:
    """Lines laid on paper as the saw makes them. Edges are directions, radians: the blade points away from you (90°),
    the fence to its left leans towards you by ``lean``; a quarter turn clockwise lays each cut on the fence."""
    edges = [math.pi / 2]  # the blade, as it lies in the panel when the first cut is made
    for _ in range(4):
        # turned so that the last edge lies along the fence, the blade stands this much on from it in the panel
        edges.append(edges[-1] + math.pi / 2 - lean)
    swing = edges[0] + 2 * math.pi - edges[4]  # the fifth edge against the first: they leave a wedge on the strip
    front, back = 12 + side * math.tan(swing), 12.0
    found = out("five-cuts", front=front, back=back, length=side, pivot=600.0)
    assert found["Off over the strip"] == pytest.approx(abs(lean) * side, rel=1e-2, abs=1e-9)
    if abs(lean) > 1e-6:
        assert found["Which way"] == ("its left end away from you" if lean > 0 else "its left end towards you")


@pytest.mark.parametrize(
    ("key", "values", "field", "says"),
    [
        ("arc", {"chord": 100, "rise": 51}, "rise", "Take 50 mm or less"),
        ("stave", {"radius": 100, "length": 199, "thickness": 20}, "length", "Cut pieces shorter than 120 mm"),
        ("stave", {"radius": 60, "length": 130}, "length", "longer than the whole curve"),
        ("batch", {"start": "half past"}, "start", "not a time of day"),
        ("batch", {"start": "25:00"}, "start", "not a time of day"),
        ("groove", {"inset": 160}, "inset", "Take under 150 mm"),
        ("turntable", {"radius": 80, "bearing": 80}, "bearing", "cannot tip"),
        ("mitre", {"sides": 2}, "sides", "at least 3"),
    ],
)
def test_numbers_without_an_answer_are_refused(key: str, values: dict[str, Any], field: str, says: str) -> None:
    with pytest.raises(InputError) as caught:
        out(key, **values)
    assert caught.value.field == field and says in str(caught.value)


@given(st.floats(20, 2000), st.floats(0.01, 0.5))
def test_the_arcs_radius_gives_its_rise_again(chord: float, share: float) -> None:
    """A circle of radius r has over a chord c the rise r − √(r² − c²/4); the stave loses just that."""
    rise = max(chord * share, 0.1)
    r = float(out("arc", chord=chord, rise=rise)["Radius"])
    assert r - math.sqrt(max(r * r - chord**2 / 4, 0)) == pytest.approx(rise, rel=1e-6)


def test_every_reckoner_has_its_sketch_and_its_formula() -> None:
    assert set(SKETCHES) == set(RECKONERS)
    for kind in RECKONERS.values():
        assert "=" in kind.formula and kind.use and "<path" in sketch(kind())
