"""Pieces of the store and their cuts, as drawn: what is drawn is what the plan says."""

from __future__ import annotations

import xml.etree.ElementTree as ET

from laberinto.core.timber import Defect, Lot, Need
from laberinto.core.timber.cutting import PlankCut, Saw, Stock, cut
from laberinto.core.units import Lengths
from laberinto.drawing.timber import cutting, letter, piece

SVG = "{http://www.w3.org/2000/svg}"
PLANK = Lot.of(
    wood="beech", count=2, length=1300.0, width=150.0, thickness=52.0,
    defects=(Defect(what="knot", start=620, end=690, low=50, high=95),),
)  # fmt: skip


def address(strip: object, patch: object, finish: str) -> str:
    return "/wood/some.webp"


def test_letters_run_on_behind_z() -> None:
    assert [letter(k) for k in (0, 25, 26, 27, 52)] == ["A", "Z", "AA", "AB", "BA"]


def test_a_lot_is_drawn_to_the_scale_of_the_longest_with_its_faults() -> None:
    root = ET.fromstring(piece(PLANK, 7, Lengths(), address, "oiled", 2600.0))
    assert root.get("viewBox") == "0 0 2600 150"
    fault = next(r for r in root.iter(f"{SVG}rect") if r.get("class") == "fault")
    assert [float(fault.get(k) or 0) for k in ("x", "y", "width", "height")] == [620, 50, 70, 45]
    assert fault.find(f"{SVG}title").text == "knot, 620 mm to 690 mm"  # type: ignore[union-attr]


def test_a_cut_shows_every_strip_where_it_lies_and_every_rest() -> None:
    needs = [Need("beech", 500, 40, 48, 5), Need("beech", 300, 30, 48, 2)]
    plan = cut(needs, [Stock(PLANK, 4, n) for n in (1, 2)], Saw(kerf=3, end=20, edge=4), work=1)
    assert not plan.short
    for plank in plan.planks:
        root = ET.fromstring(cutting(plank, needs, Lengths(), address, "oiled", 1300.0))
        assert boxes(root, "cut-strip") == sorted(strips(plank))
        assert boxes(root, "rest") == sorted((r.x, r.y, r.length, r.width) for r in plank.rests)
        words = [t.text for t in root.iter(f"{SVG}text") if t.get("class") == "cut-letter"]
        assert sorted(words) == sorted(letter(p.need) for s in plank.sections for p in s.pieces)  # type: ignore[type-var]
        assert "Lot 4." in (root.get("aria-label") or "")


def strips(plank: PlankCut) -> list[tuple[float, ...]]:
    return [(p.x, p.y, p.length, p.width) for section in plank.sections for p in section.pieces]


def boxes(root: ET.Element, kind: str) -> list[tuple[float, ...]]:
    found = [r for r in root.iter(f"{SVG}rect") if r.get("class") == kind]
    return sorted(tuple(float(r.get(k) or 0) for k in ("x", "y", "width", "height")) for r in found)
