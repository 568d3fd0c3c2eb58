"""Small helpers to write SVG text."""

from __future__ import annotations

from functools import lru_cache
from html import escape
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]


def num(value: float) -> str:
    """A coordinate to a hundredth, without trailing zeros."""
    return f"{round(value, 2) + 0.0:.7g}"


def attrs(**values: str | float) -> str:
    """Attributes; underscores become hyphens, a trailing one is dropped (``class_``)."""
    return "".join(
        [f' {_written(k)}="{num(v) if isinstance(v, float) else escape(str(v))}"' for k, v in values.items()]
    )


@lru_cache(maxsize=256)
def _written(name: str) -> str:
    return name.rstrip("_").replace("_", "-")


def tag(name: str, inner: str = "", **values: str | float) -> str:
    """One element."""
    return f"<{name}{attrs(**values)}>{inner}</{name}>" if inner else f"<{name}{attrs(**values)}/>"


def text(x: float, y: float, words: str, size: float, *, anchor: str = "middle", **values: str | float) -> str:
    """A line of text, middle-aligned on (x, y) unless ``anchor`` says otherwise."""
    return tag("text", escape(words), x=x, y=y, font_size=size, text_anchor=anchor, **values)


def blend(ground: str, ink: str, share: float) -> str:
    """A colour (#rrggbb) with a share (0 to 1) of another over it."""
    pairs = ((int(ground[i : i + 2], 16), int(ink[i : i + 2], 16)) for i in (1, 3, 5))
    return "#" + "".join(f"{round(below + share * (above - below)):02x}" for below, above in pairs)


def path(points: Floats) -> str:
    """The d of a closed polygon through (k, 2) points that are rounded already."""
    return "M" + "L".join([f"{x:g} {y:g}" for x, y in points.tolist()]) + "Z"


def straight(*strokes: tuple[tuple[float, float], ...], **values: str | float) -> str:
    """Open lines through their points, drawn alike. A browser paints lines of their own with a share of what a path of
    the same strokes takes, of which it does not know how it bends."""
    out = []
    for stroke in strokes:
        for (x1, y1), (x2, y2) in pairwise(stroke):
            out.append(tag("line", x1=float(x1), y1=float(y1), x2=float(x2), y2=float(y2)))
    return tag("g", "".join(out), fill="none", **values)


def lines(*strokes: tuple[tuple[float, float], ...]) -> str:
    """The d of several open lines, each through its points."""
    return "".join("M" + "L".join(f"{num(x)} {num(y)}" for x, y in stroke) for stroke in strokes)


def matrices(maps: Floats) -> list[str]:
    """Affine maps (m, 2, 3) as SVG transforms, to a precision that keeps a pixel on a 5 m board."""
    rounded = (np.round(maps, 5) + 0.0).tolist()
    return [f"matrix({a:.7g} {b:.7g} {c:.7g} {d:.7g} {e:.7g} {f:.7g})" for (a, c, e), (b, d, f) in rounded]


def moved(points: Floats, place: Floats | None) -> Floats:
    """Points (k, 2) carried by a map (2, 3), or as they are."""
    return points if place is None else points @ place[:, :2].T + place[:, 2]


def composed(outer: Floats, inner: Floats) -> Floats:
    """The affine maps that do each of ``inner`` (m, 2, 3) and then ``outer`` (2, 3)."""
    maps = outer[:, :2] @ inner
    maps[:, :, 2] += outer[:, 2]
    return np.asarray(maps)


def document(
    inner: str, width: float, height: float, *, label: str, left: float = 0.0, top: float = 0.0, role: str = "img",
    **values: str | float,
) -> str:  # fmt: skip
    """A whole drawing with a view box in mm and a label that is read out; its ``role`` is "group" where there are links
    in it."""
    box = f"{num(left)} {num(top)} {num(width)} {num(height)}"
    return tag(
        "svg", inner, xmlns="http://www.w3.org/2000/svg", viewBox=box, role=role, aria_label=label,
        font_family="Atkinson Mono, monospace", **values,
    )  # fmt: skip
