"""Woods told apart without colour: a hatch for each, the same in every drawing of a sheet, and the palette's letter."""

from __future__ import annotations

import re
from collections.abc import Iterable, Mapping
from dataclasses import dataclass

import numpy as np
import shapely

from laberinto.core.analysis.blocks import blocks_by_wood
from laberinto.core.edits.woods import letters
from laberinto.core.geometry.faces import Face
from laberinto.core.geometry.polygons import closed_union
from laberinto.core.plan.simulate import Simulation
from laberinto.core.woods.tones import lightness

from .light import veils
from .seams import SEAM
from .skin import Flat
from .svg import Floats, document, moved, num, path, tag

CELL = 10.0
"""Side of a hatch's square."""

HATCHES: tuple[tuple[str, str], ...] = (
    ("", ""),
    ("rising", "M0 10L10 0M-1 1L1 -1M9 11L11 9"),
    ("falling", "M0 0L10 10M-1 9L1 11M9 -1L11 1"),
    ("level", "M0 2.5H10M0 7.5H10"),
    ("upright", "M2.5 0V10M7.5 0V10"),
    ("crossed", "M0 10L10 0M0 0L10 10M-1 1L1 -1M9 11L11 9M-1 9L1 11M9 -1L11 1"),
    ("squared", "M0 5H10M5 0V10"),
    ("dashed", "M1 2.5H5M6 7.5H10"),
    ("dotted", "M2 2.5H3M7 7.5H8"),
)
"""Name and strokes in a square; the lightest wood has none. With more woods than these they begin anew, in half the
size."""

STROKE = 0.9
"""Of a hatch, in its square."""

DARK, INK, CHALK = 52.0, "#1a2026", "#ffffff"
"""A wood less light than this (L*) is hatched in chalk."""

PER_SIDE = 46.0
"""So many squares are as long as a drawing's longer side: on paper they come out some 3 mm large."""

LIGHT, FINE = 0.08, 0.08
"""Steps of opacity on paper, and how far (mm) an outline of light may be simplified."""

_BOX = re.compile(r'viewBox="(\S+) (\S+) (\S+) (\S+)"')


def order(sim: Simulation) -> dict[str, int]:
    """Which hatch each wood has: the lightest none, then one after the other."""
    woods = sorted(sim.plan.strip_woods, key=lambda key: (-lightness(sim.woods[key].colour("oiled")), key))
    return {key: at for at, key in enumerate(woods)}


def _ink(sim: Simulation, wood: str) -> str:
    return CHALK if lightness(sim.woods[wood].colour("oiled")) < DARK else INK


@dataclass
class Hatched(Flat):
    """Whole blocks in their wood's colour, its hatch over it, and what light does in coarse steps: few points, so that
    it prints quickly. Where a drawing is done, ``inked`` puts the hatches in at its size."""

    def laid(self, face: Face, place: Floats | None, seam: float, dim: float) -> str | None:
        places, parts = order(self.sim), []
        ink, wide = (SEAM, seam) if seam else ("none", 0.0)
        for wood, polygons in blocks_by_wood(self.sim, face).items():
            d = _outlines(polygons, place)
            colour = self.sim.woods[wood].colour(self.finish)
            parts.append(tag("path", d=d, fill=colour, fill_rule="evenodd", stroke=ink, stroke_width=wide))
            if HATCHES[places[wood] % len(HATCHES)][1]:
                parts.append(tag("path", d=d, fill=f"url(#hatch{places[wood]})", fill_rule="evenodd"))
        parts += [
            tag(
                "path", d=_outlines(shapely.get_parts(area), place), fill=ink, fill_opacity=opacity, fill_rule="evenodd"
            )
            for (ink, opacity), area in _light(face).items()
        ]
        if dim:
            parts.append(tag("path", d=_outlines([_whole(face)], place), fill="#000", fill_opacity=dim))
        return tag("g", "".join(parts), class_="wood")


def _outlines(polygons: Iterable[shapely.Polygon], place: Floats | None) -> str:
    return "".join(
        path(np.round(moved(shapely.get_coordinates(ring)[:-1], place), 2) + 0.0)
        for polygon in polygons
        for ring in (polygon.exterior, *polygon.interiors)
    )


def _light(face: Face) -> dict[tuple[str, float], shapely.Geometry]:
    """Where it is lighter or darker by how much, in steps of ``LIGHT``."""
    rings: dict[tuple[str, float], list[shapely.Polygon]] = {}
    for at, ink, opacity in veils(face):
        if (step := round(opacity / LIGHT)) > 0:
            corners = face.points[face.ptr[at] : face.ptr[at + 1]]
            rings.setdefault((ink, round(step * LIGHT, 3)), []).append(shapely.Polygon(corners))
    return {key: closed_union(np.array(some, object)).simplify(FINE) for key, some in rings.items()}


def _whole(face: Face) -> shapely.Polygon:
    wide, high = (float(v) for v in face.size)
    return shapely.box(0.0, 0.0, wide, high)


def inked(drawing: str, sim: Simulation) -> str:
    """A drawing made with ``Hatched`` with the hatches it names, as large as suits each of the pictures in it."""
    out, last = [], 0
    for box in _BOX.finditer(drawing):
        end = drawing.index(">", box.end()) + 1
        side = max(float(box[3]), float(box[4]))
        out += [drawing[last:end], tag("defs", patterns(sim, side / PER_SIDE))]
        last = end
    return "".join([*out, drawing[last:]])


def patterns(sim: Simulation, cell: float) -> str:
    """The hatches of a plan's woods, with squares of ``cell`` mm."""
    return "".join(_pattern(sim, wood, at, cell) for wood, at in order(sim).items() if HATCHES[at % len(HATCHES)][1])


def _pattern(sim: Simulation, wood: str, at: int, cell: float) -> str:
    scale = cell / CELL / (1 + at // len(HATCHES))
    stroke = tag(
        "path", d=HATCHES[at % len(HATCHES)][1], fill="none", stroke=_ink(sim, wood), stroke_width=STROKE
    )  # fmt: skip
    return tag(
        "pattern", stroke, id=f"hatch{at}", width=CELL, height=CELL, patternUnits="userSpaceOnUse",
        patternTransform=f"scale({num(scale * 100)[:8]}e-2)" if scale < 0.1 else f"scale({num(scale)})",
    )  # fmt: skip


def legend(sim: Simulation) -> list[tuple[str, str, str]]:
    """Letter, name and swatch of each wood, by letter."""
    places = order(sim)
    return [
        (letter, sim.woods[key].name, _swatch(sim, key, places[key]))
        for letter, key in palette(sim).items() if key in places
    ]  # fmt: skip


def palette(sim: Simulation) -> Mapping[str, str]:
    """The letters of a plan's woods."""
    return letters(sim.plan)


def _swatch(sim: Simulation, wood: str, at: int) -> str:
    square = tag("rect", width=24, height=16, fill=sim.woods[wood].colour("oiled"), stroke=INK, stroke_width=0.6)
    over, defs = "", ""
    if HATCHES[at % len(HATCHES)][1]:
        over = tag("rect", width=24, height=16, fill=f"url(#hatch{at})")
        defs = tag("defs", _pattern(sim, wood, at, 8.0))
    return document(defs + square + over, 24, 16, label=sim.woods[wood].name, class_="hatch-swatch")
