"""DXF in mm: a face with a layer for each wood, templates with a layer for each kind of line, cut plans."""

from __future__ import annotations

import io
from collections.abc import Iterable, Sequence

import numpy as np
import shapely
from ezdxf import units
from ezdxf.document import Drawing
from ezdxf.filemanagement import new
from ezdxf.layouts.layout import Modelspace

from laberinto.core.analysis.blocks import blocks_by_wood
from laberinto.core.geometry.faces import Side, face_of
from laberinto.core.plan.simulate import Simulation
from laberinto.core.solid import Floats
from laberinto.core.templates import Line, Template
from laberinto.core.timber.cutting.model import PlankCut

APART = 30.0
"""Between drawings that stand beside each other, mm."""

LETTERS = 6.0
"""Height of words, mm."""

_COLOURS = {Line.CUT: 7, Line.MADE: 1, Line.BIT: 5, Line.BOARD: 8}
"""Numbers of the format's own palette."""


def face_dxf(sim: Simulation) -> bytes:
    """The finished face: every block of wood as a closed polyline, its holes too, on the layer of its wood."""
    drawing, space = _new()
    face = face_of(sim.whole(), Side.TOP)
    high = float(face.size[1])
    for wood, polygons in blocks_by_wood(sim, face).items():
        layer = drawing.layers.add(_layer(sim.woods[wood].name))
        red, green, blue = (int(sim.woods[wood].colour("oiled")[k : k + 2], 16) for k in (1, 3, 5))
        layer.rgb = red, green, blue
        for polygon in polygons:
            for ring in (polygon.exterior, *polygon.interiors):
                points = shapely.get_coordinates(ring)[:-1]
                _closed(space, points * [1.0, -1.0] + [0.0, high], layer.dxf.name)
    return _written(drawing)


def templates_dxf(templates: Iterable[Template]) -> bytes:
    """Templates beside each other, each with its name under it."""
    drawing, space = _new()
    for line in Line:
        drawing.layers.add(f"template-{line.value}", color=_COLOURS[line])
    drawing.layers.add("words", color=8)
    x = 0.0
    for template in templates:
        left, low, right, _ = template.box
        move = np.array([x - left, -low])
        for stroke in template.strokes:
            layer = f"template-{stroke.line.value}"
            if stroke.closed:
                _closed(space, stroke.points + move, layer)
            else:
                space.add_lwpolyline((stroke.points + move).tolist(), dxfattribs={"layer": layer})
        _words(space, template.title, (x, -2 * LETTERS))
        for label in template.labels:
            _words(space, label.words, tuple(np.asarray(label.at) + move))
        x += right - left + APART
    return _written(drawing)


def cut_plan_dxf(planks: Sequence[PlankCut]) -> bytes:
    """Planks one above the other: outline, sections, strips, and what goes back to the store."""
    drawing, space = _new()
    for name, colour in (("planks", 7), ("sections", 8), ("strips", 1), ("rests", 3), ("words", 8)):
        drawing.layers.add(name, color=colour)
    y = 0.0
    for plank in planks:
        lot = plank.stock.lot
        y -= lot.width + APART
        _closed(space, _box(0, y, lot.length, lot.width), "planks")
        _words(space, f"Lot {plank.stock.name}", (0, y - 2 * LETTERS))
        for section in plank.sections:
            _closed(space, _box(section.x, y + section.y, section.length, section.width), "sections")
            for piece in section.pieces:
                _closed(space, _box(piece.x, y + piece.y, piece.length, piece.width), "strips")
        for rest in plank.rests:
            _closed(space, _box(rest.x, y + rest.y, rest.length, rest.width), "rests")
    return _written(drawing)


def _new() -> tuple[Drawing, Modelspace]:
    drawing = new("R2010", setup=False)
    drawing.units = units.MM
    return drawing, drawing.modelspace()


def _layer(name: str) -> str:
    """A name that every program takes for a layer."""
    return "".join(c if c.isalnum() or c in "-_ " else "-" for c in name).strip() or "wood"


def _closed(space: Modelspace, points: Floats, layer: str) -> None:
    space.add_lwpolyline(points.tolist(), format="xy", close=True, dxfattribs={"layer": layer})


def _words(space: Modelspace, words: str, at: tuple[float, ...]) -> None:
    space.add_text(words, height=LETTERS, dxfattribs={"layer": "words"}).set_placement(at)


def _box(x: float, y: float, wide: float, high: float) -> Floats:
    return np.array([[x, y], [x + wide, y], [x + wide, y + high], [x, y + high]])


def _written(drawing: Drawing) -> bytes:
    out = io.StringIO()
    drawing.write(out)
    return out.getvalue().encode("utf-8")
