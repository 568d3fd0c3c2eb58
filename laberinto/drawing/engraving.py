"""A board's mark to burn, engrave or carve: lines of lettering as outlines in true size, so that no machine needs the
typeface."""

from __future__ import annotations

from collections.abc import Sequence
from functools import lru_cache
from io import BytesIO

from fontTools.pens.boundsPen import BoundsPen
from fontTools.pens.svgPathPen import SVGPathPen
from fontTools.pens.transformPen import TransformPen
from fontTools.ttLib import TTFont

from .svg import num, tag

LEADING = 1.5
"""From one line to the next, in heights of a capital."""

SMALLER = 0.62
"""Lines after the first, to the first."""


@lru_cache(maxsize=4)
def _opened(font: bytes) -> TTFont:
    return TTFont(BytesIO(font))


def engraving(lines: Sequence[str], font: bytes, capital: float) -> str:
    """The lines under one another, centred; the capitals of the first are ``capital`` mm high. An SVG with width and
    height in mm and nothing but outlines in it. Letters that the typeface (WOFF2 or TTF, as bytes) has not are left
    out."""
    face = _opened(font)
    glyphs, names, height = face.getGlyphSet(), face.getBestCmap(), face["OS/2"].sCapHeight
    set_, y, wide, low = [], 0.0, 0.0, 0.0
    for at, words in enumerate(words for words in lines if words.strip()):
        size = capital * (SMALLER if at else 1.0) / height
        y += capital * (LEADING * SMALLER + (1 - SMALLER) * 0.4 if at else 1.0)
        found = [names[ord(letter)] for letter in words if ord(letter) in names]
        width = sum(glyphs[name].width for name in found) * size
        set_.append((found, size, y, width))
        wide = max(wide, width)
    paths = []
    for found, size, baseline, width in set_:
        x = (wide - width) / 2
        for name in found:
            pen, bounds = SVGPathPen(glyphs, ntos=num), BoundsPen(glyphs)
            move = (size, 0, 0, -size, x, baseline)
            glyphs[name].draw(TransformPen(pen, move))
            glyphs[name].draw(TransformPen(bounds, move))
            if bounds.bounds is not None:
                low = max(low, bounds.bounds[3])
            if commands := pen.getCommands():
                paths.append(commands)
            x += glyphs[name].width * size
    edge = capital * 0.3
    box = (-edge, -edge, wide + 2 * edge, low + 2 * edge)
    return tag(
        "svg", tag("path", d="".join(paths), fill="#000"), xmlns="http://www.w3.org/2000/svg",
        width=f"{num(box[2])}mm", height=f"{num(box[3])}mm", viewBox=" ".join(map(num, box)),
    )  # fmt: skip
