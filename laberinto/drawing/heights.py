"""A face that is not flat yet, seen from above: how high each corner and the middle stand, and where to shim."""

from __future__ import annotations

from collections.abc import Callable

from laberinto.core.finish.heights import CORNERS, FLAT, Heights

from .svg import blend, document, tag, text

WIDE, HIGH, ROOM = 150.0, 104.0, 30.0
LOW_INK, HIGH_INK, NEUTRAL = "#1c6aa8", "#b3261e", "#e9e2d4"

AT = {"far left": (0.0, 0.0), "far right": (1.0, 0.0), "near left": (0.0, 1.0), "near right": (1.0, 1.0)}


def heights(one: Heights, show: Callable[[float], str], *, label: str) -> str:
    """Red is high, blue is low, each against the mean; a wedge stands where a shim goes."""
    mean, reach = sum(one.all) / len(one.all), max(one.apart / 2, FLAT)
    inner = tag("rect", x=ROOM, y=ROOM, width=WIDE, height=HIGH, fill=NEUTRAL, stroke="#8a7f6c", stroke_width=1, rx=3)
    where, each = one.shims
    shimmed = where.split(" and ") if abs(one.twist) >= FLAT else []
    spots = [(name, AT[name], height) for name, height in zip(CORNERS, one.corners, strict=True)]
    if one.middle is not None:
        spots.append(("middle", (0.5, 0.5), one.middle))
    for name, (across, down), height in spots:
        x, y = ROOM + across * WIDE, ROOM + down * HIGH
        share = max(-1.0, min(1.0, (height - mean) / reach))
        ink = blend(NEUTRAL, HIGH_INK if share > 0 else LOW_INK, abs(share))
        inner += tag("circle", cx=x, cy=y, r=11, fill=ink, stroke="#4a4334", stroke_width=1)
        above = down < 0.5 or name == "middle"
        inner += text(x, y - 16 if above else y + 26, show(height), 13, class_="height-number")
        if name in shimmed:
            inner += tag("path", d=f"M{x - 15:g} {y + 9:g}h30v6z", fill="#4a4334")
            inner += tag("title", f"shim {show(each)} here")
    return document(inner, WIDE + 2 * ROOM, HIGH + 2 * ROOM, label=label, class_="heights")
