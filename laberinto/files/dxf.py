"""DXF in mm: a face with a layer for each wood, templates with a layer for each kind of line, cut plans."""

from __future__ import annotations

import io
from collections.abc import Iterable, Sequence

import numpy as np
import shapely

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
    sheet = _Sheet()
    face = face_of(sim.whole(), Side.TOP)
    high = float(face.size[1])
    for wood, polygons in blocks_by_wood(sim, face).items():
        layer = sheet.drawing.layers.add(_layer(sim.woods[wood].name))
        red, green, blue = (int(sim.woods[wood].colour("oiled")[k : k + 2], 16) for k in (1, 3, 5))
        layer.rgb = red, green, blue
        for polygon in polygons:
            for ring in (polygon.exterior, *polygon.interiors):
                points = shapely.get_coordinates(ring)[:-1]
                sheet.outline(points * [1.0, -1.0] + [0.0, high], layer.dxf.name)
    return sheet.written()


def templates_dxf(templates: Iterable[Template]) -> bytes:
    """Templates beside each other, each with its name under it."""
    sheet = _Sheet()
    for line in Line:
        sheet.drawing.layers.add(f"template-{line.value}", color=_COLOURS[line])
    sheet.drawing.layers.add("words", color=8)
    x = 0.0
    for template in templates:
        left, low, right, _ = template.box
        move = np.array([x - left, -low])
        for stroke in template.strokes:
            layer = f"template-{stroke.line.value}"
            if stroke.closed:
                sheet.outline(stroke.points + move, layer)
            else:
                sheet.space.add_lwpolyline((stroke.points + move).tolist(), dxfattribs={"layer": layer})
        sheet.words(template.title, (x, -2 * LETTERS))
        for label in template.labels:
            sheet.words(label.words, tuple(np.asarray(label.at) + move))
        x += right - left + APART
    return sheet.written()


def cut_plan_dxf(planks: Sequence[PlankCut]) -> bytes:
    """Planks one above the other: outline, sections, strips, and what goes back to the store."""
    sheet = _Sheet()
    for name, colour in (("planks", 7), ("sections", 8), ("strips", 1), ("rests", 3), ("words", 8)):
        sheet.drawing.layers.add(name, color=colour)
    y = 0.0
    for plank in planks:
        lot = plank.stock.lot
        y -= lot.width + APART
        sheet.outline(_box(0, y, lot.length, lot.width), "planks")
        sheet.words(f"Lot {plank.stock.name}", (0, y - 2 * LETTERS))
        for section in plank.sections:
            sheet.outline(_box(section.x, y + section.y, section.length, section.width), "sections")
            for piece in section.pieces:
                sheet.outline(_box(piece.x, y + piece.y, piece.length, piece.width), "strips")
        for rest in plank.rests:
            sheet.outline(_box(rest.x, y + rest.y, rest.length, rest.width), "rests")
    return sheet.written()


class _Sheet:
    """A drawing in mm. Its closed outlines are written by ourselves: the library takes ten times as long for each, and
    a face has thousands."""

    def __init__(self) -> None:
        from ezdxf import units  # takes a while to load, and only a drawing needs it
        from ezdxf.filemanagement import new

        self.drawing = new("R2010", setup=False)
        self.drawing.units = units.MM
        self.space = self.drawing.modelspace()
        self._outlines: list[str] = []

    def outline(self, points: Floats, layer: str) -> None:
        """A closed polyline through points (n, 2)."""
        at = "".join(f" 10\n{x!r}\n 20\n{y!r}\n" for x, y in points.tolist())
        handle, owner = self.drawing.entitydb.next_handle(), self.space.layout_key
        self._outlines.append(
            f"  0\nLWPOLYLINE\n  5\n{handle}\n330\n{owner}\n100\nAcDbEntity\n  8\n{layer}\n"
            f"100\nAcDbPolyline\n 90\n{len(points)}\n 70\n1\n{at}"
        )

    def words(self, words: str, at: tuple[float, ...]) -> None:
        """A line of words from a point on."""
        self.space.add_text(words, height=LETTERS, dxfattribs={"layer": "words"}).set_placement(at)

    def written(self) -> bytes:
        """The file."""
        out = io.StringIO()
        self.drawing.write(out)
        head, mark, rest = out.getvalue().partition("  2\nENTITIES\n")
        return "".join([head, mark, *self._outlines, rest]).encode("utf-8")


def _layer(name: str) -> str:
    """A name that every program takes for a layer."""
    return "".join(c if c.isalnum() or c in "-_ " else "-" for c in name).strip() or "wood"


def _box(x: float, y: float, wide: float, high: float) -> Floats:
    return np.array([[x, y], [x + wide, y], [x + wide, y + high], [x, y + high]])
