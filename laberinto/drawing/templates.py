"""Templates as drawings: small on a screen, and true to size on sheets of paper with marks to join them by."""

from __future__ import annotations

import numpy as np

from laberinto.core.templates import Line, Template, Tile, tiles
from laberinto.core.templates.tiling import OVERLAP

from .svg import document, lines, num, path, tag, text

INK = "#1a2026"

LOOKS: dict[Line, tuple[str, float, str]] = {
    Line.CUT: (INK, 0.5, ""),
    Line.MADE: ("#b3461e", 0.3, ""),
    Line.BIT: (INK, 0.25, "5 1.2 1 1.2"),
    Line.BOARD: ("#49525c", 0.25, "2.4 1.6"),
}
"""Colour, width and dashes (mm) of each line; on a printer without colours the dashes and widths tell."""

LETTERS = 4.2
"""Height of words on a template, mm."""

ARM = 4.0
"""Half a registration cross, mm."""

MARGIN = 3.0
"""Round the lines of a template on its sheets, mm."""


def drawn(template: Template, *, width: float = 1.0) -> str:
    """Its lines in mm, right and down from the upper left corner of its box; ``width`` scales the strokes."""
    left, _, _, high = template.frame
    out = []
    for line in (Line.BOARD, Line.BIT, Line.MADE, Line.CUT):
        ink, thick, dashes = LOOKS[line]
        d = ""
        for stroke in template.strokes:
            if stroke.line is line:
                points = np.round((stroke.points - [left, high]) * [1.0, -1.0], 3) + 0.0
                d += path(points) if stroke.closed else lines(tuple((x, y) for x, y in points.tolist()))
        if d:
            more = {"stroke_dasharray": " ".join(num(float(part) * width) for part in dashes.split())} if dashes else {}
            out.append(
                tag("path", d=d, fill="none", stroke=ink, stroke_width=thick * width, class_=f"line-{line}", **more)
            )
    size = LETTERS * max(width, 1.0)
    out += [
        text(label.at[0] - left, high - label.at[1] + size / 3, label.words, size, fill=INK)
        for label in template.labels
    ]
    return "".join(out)


def shown(template: Template) -> str:
    """The whole of it for a screen."""
    wide, high = _size(template)
    edge = max(wide, high) * 0.03
    return document(
        drawn(template, width=max(wide, high) / 160), wide + 2 * edge, high + 2 * edge, label=template.title,
        left=-edge, top=-edge, class_="template",
    )  # fmt: skip


def sheets(template: Template, room: tuple[float, float], factor: float) -> list[tuple[Tile, str]]:
    """Its sheets, each ``room`` mm of paper with a part of it enlarged by ``factor``, and crosses where neighbours
    overlap."""
    inner, every = drawn(template), laid(template, room, factor)
    crosses = _crosses(every, factor)
    return [
        (
            tile,
            tag(
                "svg", inner + crosses + _seams(tile, every, factor), xmlns="http://www.w3.org/2000/svg",
                width=f"{num(room[0])}mm", height=f"{num(room[1])}mm", font_family="Atkinson Mono",
                viewBox=f"{tile.left - MARGIN:.6f} {tile.top - MARGIN:.6f} {tile.width:.6f} {tile.height:.6f}",
            ),
        )
        for tile in every
    ]  # fmt: skip


def laid(template: Template, room: tuple[float, float], factor: float) -> list[Tile]:
    """Which part of it each of its sheets shows."""
    wide, high = _size(template)
    return tiles(wide + 2 * MARGIN, high + 2 * MARGIN, room, factor)


def _size(template: Template) -> tuple[float, float]:
    left, low, right, high = template.frame
    return right - left, high - low


def _crosses(every: list[Tile], factor: float) -> str:
    """In the middle of each overlap, at the same places of the drawing on both sheets."""
    middle, strokes = OVERLAP / factor / 2, []
    for tile in every:
        x, y = tile.left - MARGIN, tile.top - MARGIN
        spots = []
        if tile.column:
            spots += [(x + middle, y + tile.height * share) for share in (0.2, 0.8)]
        if tile.row:
            spots += [(x + tile.width * share, y + middle) for share in (0.2, 0.8)]
        for a, b in spots:
            strokes += [((a - ARM, b), (a + ARM, b)), ((a, b - ARM), (a, b + ARM))]
    if not strokes:
        return ""
    return tag("path", d=lines(*strokes), fill="none", stroke=INK, stroke_width=0.2, class_="cross")


def _seams(tile: Tile, every: list[Tile], factor: float) -> str:
    """A thin line along which a sheet is cut where the next one begins."""
    middle, (x, y) = OVERLAP / factor / 2, (tile.left - MARGIN, tile.top - MARGIN)
    strokes = []
    if tile.column < max(one.column for one in every):
        at = x + tile.width - middle
        strokes.append(((at, y), (at, y + tile.height)))
    if tile.row < max(one.row for one in every):
        at = y + tile.height - middle
        strokes.append(((x, at), (x + tile.width, at)))
    if not strokes:
        return ""
    return tag("path", d=lines(*strokes), fill="none", stroke="#9aa3ab", stroke_width=0.15, stroke_dasharray="1 3")


def ruler(factor: float) -> str:
    """100 mm with a line every 10, and 4 in with a line every quarter, for a printer that needs ``factor``."""
    parts = []
    for y, length, step, name in ((0.0, 100.0, 10.0, "100 mm"), (9.0, 101.6, 6.35, "4 in")):
        count = round(length / step)
        strokes = [((0.0, y), (length, y))]
        for k in range(count + 1):
            long = 4.5 if k in (0, count) else 3.0 if not k % (5 if step == 10 else 4) else 2.0
            strokes.append(((k * step, y), (k * step, y - long)))
        parts.append(tag("path", d=lines(*strokes), fill="none", stroke=INK, stroke_width=0.25, class_="ruler"))
        parts.append(text(length + 3, y, name, 3.6, anchor="start", fill=INK))
    wide, high = 122.0, 16.0
    return tag(
        "svg", "".join(parts), xmlns="http://www.w3.org/2000/svg", width=f"{num(wide * factor)}mm",
        height=f"{num(high * factor)}mm", viewBox=f"-1 -5 {num(wide)} {num(high)}", font_family="Atkinson Mono",
    )  # fmt: skip


def legend(line: Line) -> str:
    """A short piece of a line, for the list of what lines mean."""
    ink, thick, dashes = LOOKS[line]
    more = {"stroke_dasharray": dashes} if dashes else {}
    return document(
        tag("path", d="M0 2H16", fill="none", stroke=ink, stroke_width=thick * 2, **more), 16, 4, label=line.label,
        class_="template-legend",
    )  # fmt: skip


def sized(template: Template, stroke: float = 0.1) -> str:
    """An SVG file true to size: a group for each kind of line, hairlines, no fills."""
    left, low, right, high = template.box
    groups = []
    for line in Line:
        d = "".join(
            path(np.round((s.points - [left, high]) * [1.0, -1.0], 4) + 0.0) if s.closed
            else lines(tuple((x, y) for x, y in ((s.points - [left, high]) * [1.0, -1.0]).tolist()))
            for s in template.strokes if s.line is line
        )  # fmt: skip
        if d:
            shape = tag("path", d=d)
            groups.append(tag("g", shape, id=str(line), fill="none", stroke=LOOKS[line][0], stroke_width=stroke))
    wide, tall = right - left, high - low
    return tag(
        "svg", "".join(groups), xmlns="http://www.w3.org/2000/svg", width=f"{wide:.4f}mm", height=f"{tall:.4f}mm",
        viewBox=f"0 0 {wide:.4f} {max(tall, 0.1):.4f}",
    )  # fmt: skip
