"""Dimension lines as a shop drawing has them: extension lines, a slash at either end, the figure on the line."""

from __future__ import annotations

from .svg import num, straight, tag, text

INK = "#49525c"

Line = tuple[tuple[float, float], tuple[float, float]]


def across(x0: float, x1: float, y: float, words: str, size: float, *, reach: float = 0.0, strong: bool = False) -> str:
    """A horizontal dimension at height ``y``; ``reach`` is where the extension lines start."""
    gap = size * 0.25 if reach > y else -size * 0.25
    extend = [((x, reach - gap), (x, y - gap)) for x in (x0, x1)] if reach else []
    return _lines(((x0, y), (x1, y)), extend, size) + _figure((x0 + x1) / 2, y, words, size, strong=strong)


def along(x: float, y0: float, y1: float, words: str, size: float, *, reach: float = 0.0, strong: bool = False) -> str:
    """A vertical dimension at ``x``, its figure turned to read from the right-hand side."""
    gap = size * 0.25 if reach > x else -size * 0.25
    extend = [((reach - gap, y), (x - gap, y)) for y in (y0, y1)] if reach else []
    middle = (y0 + y1) / 2
    turned = tag(
        "g", _figure(0.0, 0.0, words, size, strong=strong), transform=f"translate({num(x)} {num(middle)}) rotate(-90)"
    )
    return _lines(((x, y0), (x, y1)), extend, size) + turned


def _lines(line: Line, extend: list[Line], size: float) -> str:
    """The line with a slash at either end, and the extension lines."""
    tick = size * 0.32
    slashes = [((x - tick, y + tick), (x + tick, y - tick)) for x, y in line]
    out = straight(line, *slashes, class_="dim-line", stroke=INK, stroke_width=size * 0.075)
    if extend:
        out += straight(*extend, class_="dim-ext", stroke=INK, stroke_opacity=0.45, stroke_width=size * 0.05)
    return out


def _figure(x: float, y: float, words: str, size: float, *, strong: bool) -> str:
    """The figure, if any, on a patch of paper that interrupts the line."""
    if not words:
        return ""
    width = size * (0.6 * len(words) + 0.7)
    paper = tag(
        "rect", x=x - width / 2, y=y - size * 0.62, width=width, height=size * 1.24, class_="dim-paper", fill="#fff"
    )
    weight = "600" if strong else "400"
    return paper + text(x, y + size * 0.36, words, size, class_="dim-text", fill=INK, font_weight=weight)


def note(x: float, y: float, words: str, size: float) -> str:
    """A few words beside a drawing, starting at (x, y)."""
    return text(x, y, words, size, class_="dim-text", fill=INK, anchor="start")
