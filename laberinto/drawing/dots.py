"""Readings as dots on a line, about what was planned."""

from __future__ import annotations

from collections import Counter

from laberinto.core.asbuilt.learned import Learned

from .svg import document, tag

WIDE, HIGH = 240.0, 44.0
STEP = 0.1
"""Readings this near each other (mm) stand on top of each other."""


def dots(one: Learned, reach: float) -> str:
    """One dot a reading, ``reach`` mm to either side, the median as a stroke."""
    middle, scale, base = WIDE / 2, (WIDE / 2 - 10) / reach, HIGH - 10
    at = Counter(round(off / STEP) for off in one.offs)
    inner = tag("line", x1=8, x2=WIDE - 8, y1=base, y2=base, class_="dots-line")
    inner += tag("line", x1=middle, x2=middle, y1=4, y2=HIGH - 4, class_="dots-plan")
    for place, count in at.items():
        x = middle + place * STEP * scale
        for k in range(min(count, 4)):
            inner += tag("circle", cx=x, cy=base - 6 - 7.0 * k, r=3, class_="dots-dot")
    x = middle + one.median * scale
    inner += tag("line", x1=x, x2=x, y1=base - 4, y2=base + 8, class_="dots-median")
    return document(inner, WIDE, HIGH, label=f"{len(one.offs)} readings of the {one.what}", class_="dots")
