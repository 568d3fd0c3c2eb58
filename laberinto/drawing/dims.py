"""Dimension lines as a shop drawing has them: extension lines, a slash at either end, the figure on the line."""

from __future__ import annotations

from .svg import num, tag, text

INK = "#49525c"


def across(x0: float, x1: float, y: float, words: str, size: float, *, reach: float = 0.0, strong: bool = False) -> str:
    """A horizontal dimension at height ``y``; ``reach`` is where the extension lines start."""
    tick = size * 0.32
    lines = f"M{num(x0)} {num(y)}H{num(x1)}" + "".join(
        f"M{num(x - tick)} {num(y + tick)}L{num(x + tick)} {num(y - tick)}" for x in (x0, x1)
    )
    gap = size * 0.25 if reach > y else -size * 0.25
    extend = "".join(f"M{num(x)} {num(reach - gap)}V{num(y - gap)}" for x in (x0, x1)) if reach else ""
    return _lines(lines, extend, size) + _figure((x0 + x1) / 2, y, words, size, strong=strong)


def along(x: float, y0: float, y1: float, words: str, size: float, *, reach: float = 0.0, strong: bool = False) -> str:
    """A vertical dimension at ``x``, its figure turned to read from the right-hand side."""
    tick = size * 0.32
    lines = f"M{num(x)} {num(y0)}V{num(y1)}" + "".join(
        f"M{num(x - tick)} {num(y + tick)}L{num(x + tick)} {num(y - tick)}" for y in (y0, y1)
    )
    gap = size * 0.25 if reach > x else -size * 0.25
    extend = "".join(f"M{num(reach - gap)} {num(y)}H{num(x - gap)}" for y in (y0, y1)) if reach else ""
    middle = (y0 + y1) / 2
    turned = tag(
        "g", _figure(0.0, 0.0, words, size, strong=strong), transform=f"translate({num(x)} {num(middle)}) rotate(-90)"
    )
    return _lines(lines, extend, size) + turned


def _lines(lines: str, extend: str, size: float) -> str:
    out = tag("path", d=lines, class_="dim-line", fill="none", stroke=INK, stroke_width=size * 0.075)
    if extend:
        out += tag(
            "path", d=extend, class_="dim-ext", fill="none", stroke=INK, stroke_opacity=0.45, stroke_width=size * 0.05
        )
    return out


def _figure(x: float, y: float, words: str, size: float, *, strong: bool) -> str:
    """The figure, on a patch of paper that interrupts the line."""
    width = size * (0.6 * len(words) + 0.7)
    paper = tag(
        "rect", x=x - width / 2, y=y - size * 0.62, width=width, height=size * 1.24, class_="dim-paper", fill="#fff"
    )
    weight = "600" if strong else "400"
    return paper + text(x, y + size * 0.36, words, size, class_="dim-text", fill=INK, font_weight=weight)


def note(x: float, y: float, words: str, size: float) -> str:
    """A few words beside a drawing, starting at (x, y)."""
    return text(x, y, words, size, class_="dim-text", fill=INK, anchor="start")
