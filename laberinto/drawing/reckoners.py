"""A sketch for each reckoner, drawn from the numbers that are typed: what is what, to a scale of its own."""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import Any

from laberinto.core.extensions import Registry
from laberinto.core.reckoners import Reckoner

from .dims import INK
from .svg import document, num, tag, text

W, H = 320.0, 180.0
WOOD, MARK = "#d9b98a", "#1769b5"


def _line(d: str, *, ink: str = INK, width: float = 1.6, dash: str = "none", fill: str = "none") -> str:
    return tag("path", d=d, fill=fill, stroke=ink, stroke_width=width, stroke_linejoin="round", stroke_dasharray=dash)


def _say(x: float, y: float, words: str, ink: str = INK) -> str:
    return text(x, y, words, 12.5, fill=ink)


def _five_cuts(r: Any) -> str:
    lean = max(-14.0, min(14.0, (r.front - r.back) * 20))
    strip = f"M120 30L140 30L{num(140 + lean)} 150L120 150Z"
    return (
        _line("M40 30H110V150H40Z", fill=WOOD) + _line(strip, fill=WOOD) + _say(160, 26, "back")
        + _say(160, 166, "front")
        + _line("M200 150H300", ink=MARK, width=4) + _line(f"M300 150L200 {num(150 - lean)}", ink=MARK, dash="5 4")
        + _say(250, 172, "fence", MARK)
    )  # fmt: skip


def _arc(r: Any) -> str:
    radius = r.chord**2 / (8 * r.rise) + r.rise / 2
    s = 240 / r.chord
    rise = min(r.rise * s, 120.0)
    return (
        _line(f"M40 140A{num(radius * s)} {num(radius * s)} 0 0 1 280 140", width=3)
        + _line("M40 140H280", dash="5 4") + _line(f"M160 140V{num(140 - rise)}", ink=MARK)
        + _say(160, 160, "c") + _say(172, 140 - rise / 2 + 4, "h", MARK)
    )  # fmt: skip


def _stave(r: Any) -> str:
    bend = min(40.0, 220 * r.length / (8 * r.radius) * 2.2)
    top, thick = 60.0, 46.0
    return (
        _line(
            f"M50 {num(top + bend)}Q160 {num(top - bend)} 270 {num(top + bend)}V{num(top + bend + thick)}"
            f"Q160 {num(top - bend + thick)} 50 {num(top + bend + thick)}Z", fill=WOOD,
        )
        + _line(f"M50 {num(top + bend)}H270", ink=MARK, dash="5 4")
        + _line(f"M50 {num(top - bend / 2 + thick + bend / 2)}H270", ink=MARK, dash="5 4") + _say(160, 172, "ℓ")
    )  # fmt: skip


def _skew(r: Any) -> str:
    lean = min(90.0, 100 * math.tan(math.radians(r.angle)))
    return (
        _line("M40 40H280V140H40Z", fill=WOOD)
        + "".join(
            _line(f"M{num(60 + k * 50 + lean / 2)} 40L{num(60 + k * 50 - lean / 2)} 140", ink=MARK) for k in range(5)
        )
        + _say(160, 164, "width × tan θ is lost at each end")
    )  # fmt: skip


def _mitre(r: Any) -> str:
    points = [
        (160 + 78 * math.cos(k * math.tau / r.sides), 90 - 78 * math.sin(k * math.tau / r.sides))
        for k in range(r.sides)
    ]
    inner = [(160 + (x - 160) * 0.68, 90 + (y - 90) * 0.68) for x, y in points]

    def ring(corners: list[tuple[float, float]]) -> str:
        return "M" + "L".join(f"{num(x)} {num(y)}" for x, y in corners) + "Z"

    cuts = "".join(f"M{num(a)} {num(b)}L{num(c)} {num(d)}" for (a, b), (c, d) in zip(points, inner, strict=True))
    return _line(ring(points) + ring(inner), fill=WOOD) + _line(cuts, ink=MARK)


def _turntable(r: Any) -> str:
    share = max(0.1, min(0.95, r.bearing / r.radius))
    return (
        _line("M40 70H280V96H40Z", fill=WOOD)
        + _line(f"M{num(160 - 120 * share)} 100H{num(160 + 120 * share)}", width=6)
        + _line("M280 24V64M272 52L280 66L288 52", ink=MARK, width=2.4) + _say(160, 126, "bearing")
        + _say(262, 20, "press", MARK)
    )  # fmt: skip


def _groove(r: Any) -> str:
    s = min(220 / r.width, 140 / r.length)
    w, h, i = r.width * s, r.length * s, r.inset * s
    x, y = 160 - w / 2, 90 - h / 2
    inner = f"M{num(x + i)} {num(y + i)}h{num(w - 2 * i)}v{num(h - 2 * i)}h{num(2 * i - w)}Z"
    return _line(f"M{num(x)} {num(y)}h{num(w)}v{num(h)}h{num(-w)}Z", fill=WOOD) + _line(
        inner, ink=MARK, width=max(r.bit * s, 2.0)
    )


def _volume(r: Any) -> str:
    boards = min(r.count, 6)
    rows = "".join(_line(f"M50 {num(140 - k * 20)}h190l30 -14v-14h-190l-30 14Z", fill=WOOD) for k in range(boards))
    return rows + _say(150, 168, f"{r.count} boards")


def _batch(r: Any) -> str:
    return (
        "".join(_line(f"M{num(30 + k * 22)} 70h16v40h-16Z", fill=WOOD) for k in range(min(r.pieces, 12)))
        + _line("M30 134H290M282 128L292 134L282 140", ink=MARK) + _say(160, 160, "time", MARK)
    )  # fmt: skip


def _wax(r: Any) -> str:
    wax = 200 / (r.parts + 1)
    return (
        _line(f"M60 50h{num(200 - wax)}v60h{num(wax - 200)}Z", fill=WOOD)
        + _line(f"M{num(260 - wax)} 50h{num(wax)}v60h{num(-wax)}Z", fill=MARK)
        + _say(60 + (200 - wax) / 2, 132, "oil") + _say(260 - wax / 2, 132, "wax", MARK)
    )  # fmt: skip


def _glue(r: Any) -> str:
    count = min(r.joints + 1, 10)
    step = 240 / count
    return (
        "".join(_line(f"M{num(40 + k * step)} 40h{num(step - 3)}v90h{num(3 - step)}Z", fill=WOOD) for k in range(count))
        + "".join(_line(f"M{num(38.5 + k * step)} 40v90", ink=MARK, width=3) for k in range(1, count))
        + _say(160, 154, "every joint")
    )  # fmt: skip


SKETCHES: Registry[Callable[[Any], str]] = Registry(
    "sketches",
    {
        "five-cuts": _five_cuts, "arc": _arc, "stave": _stave, "skew": _skew, "mitre": _mitre, "turntable": _turntable,
        "groove": _groove, "volume": _volume, "batch": _batch, "wax": _wax, "glue": _glue,
    },
)  # fmt: skip
"""A drawing for every reckoner, by its key; those of other packages may do without."""


def sketch(reckoner: Reckoner) -> str:
    """The sketch of a reckoner with its numbers, empty where there is none."""
    draw = SKETCHES.get(reckoner.key)
    return document(draw(reckoner), W, H, label=reckoner.title, class_="sketch") if draw else ""
