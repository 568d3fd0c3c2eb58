"""A small drawing for each word of the trade, on a field of 96 × 64.

Each is a line of shapes: ``end`` and ``long`` are wood seen across and along its fibres, ``dark`` another wood,
``gone`` what turns to dust, ``cut`` a saw cut, ``go`` an arrow, ``glue`` a joint with glue, ``dry`` one without,
``tool`` what holds or guides, ``line`` a plain line, ``arc`` part of a circle, ``poly`` a piece with free corners."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from itertools import pairwise

from .svg import document, num, tag

WIDE, HIGH = 96.0, 64.0

DRAWN: dict[str, str] = {
    "end-grain": "end 12 14 24 36; end 36 14 24 36; end 60 14 24 36",
    "edge-grain": "long 12 14 72 9; long 12 23 72 9; long 12 32 72 9; long 12 41 72 9",
    "long-grain": "long 10 18 76 28",
    "quarter-sawn": "upright 20 22 56 20",
    "heartwood": "dark 34 18 28 28; end 14 18 20 28; end 62 18 20 28",
    "sapwood": "dark 14 18 46 28; end 60 18 22 28",
    "stave": "poly 8 44 22 34 36 29 48 28 60 29 74 34 88 44 88 54 74 45 60 41 48 40 36 41 22 45 8 54; "
    "line 4 56 92 56",
    "wane": "poly 12 18 62 18 84 46 12 46; dry 62 18 84 46",
    "heart": "arc 48 32 26; arc 48 32 18; arc 48 32 10; dot 48 32 2.5",
    "movement": "end 26 18 44 28; go 24 32 8 32; go 72 32 88 32",
    "strip": "long 8 26 80 12",
    "panel": "long 10 14 76 12; dark 10 26 76 12; long 10 38 76 12",
    "slice": "long 10 14 50 12; dark 10 26 50 12; long 10 38 50 12; long 70 14 14 12; dark 70 26 14 12; "
    "long 70 38 14 12; cut 65 8 65 56",
    "row": "end 10 24 19 16; dark 29 24 19 16; end 48 24 19 16; dark 67 24 19 16",
    "face": "end 14 12 34 26; dark 48 12 34 26; tool 14 38 68 10; line 14 38 82 38",
    "offcut": "long 10 22 54 20; gone 72 22 14 20; cut 68 14 68 50",
    "reference-face": "long 12 20 72 22; tool 12 42 72 4; go 48 58 48 48",
    "mortar": "end 10 14 22 36; dark 32 14 4 36; end 36 14 24 36; dark 60 14 4 36; end 64 14 22 36",
    "border": "dark 16 8 64 48; end 26 16 44 32; line 26 16 16 8; line 70 48 80 56",
    "inlay": "end 12 14 72 36; dark 28 14 7 36; dark 61 14 7 36",
    "kerf": "long 10 20 34 24; long 52 20 34 24; gone 44 20 8 24; line 44 12 44 52; line 52 12 52 52",
    "rip": "long 8 14 80 36; cut 4 32 92 32; go 20 56 60 56",
    "crosscut": "long 8 18 80 28; cut 52 8 52 56",
    "re-saw": "poly 10 44 74 44 86 34 22 34; long 10 44 64 10; cut 4 49 80 49",
    "bevel": "long 10 20 76 24; cut 40 10 60 54; line 48 10 48 20",
    "mitre": "poly 10 20 46 20 46 44 22 44; polydark 50 20 86 20 74 44 50 44; cut 6 12 26 52; cut 90 12 70 52",
    "skew": "long 10 16 76 32; cut 34 8 54 56",
    "squaring-cut": "long 16 18 70 28; gone 10 18 6 28; cut 16 10 16 54",
    "sled": "tool 10 40 76 8; tool 10 12 76 6; long 22 18 48 14; cut 48 8 48 56",
    "stop-block": "long 14 24 58 16; tool 72 18 10 26; go 92 31 83 31; cut 30 14 30 52",
    "trim": "end 22 16 52 32; gone 18 12 60 4; gone 18 48 60 4; cut 14 16 82 16; cut 14 48 82 48",
    "tear-out": "long 10 20 70 24; poly 80 20 86 24 80 30 88 34 80 38 84 42 80 44; cut 80 10 80 54",
    "snipe": "poly 8 24 16 22 80 22 88 24 88 44 8 44; line 8 18 20 18; line 76 18 88 18",
    "glue-up": "long 26 12 44 12; dark 26 24 44 12; long 26 36 44 12; glue 26 24 70 24; glue 26 36 70 36; "
    "go 48 2 48 11; go 48 62 48 49",
    "joint": "end 20 16 28 32; dark 48 16 28 32; glue 48 12 48 52",
    "dry-fit": "end 14 18 20 28; dark 38 18 20 28; end 62 18 20 28; go 8 32 13 32; go 90 32 83 32",
    "dry-joint": "end 14 16 34 32; dark 48 16 34 32; dry 48 10 48 54",
    "caul": "tool 8 14 80 8; end 14 22 24 20; dark 38 22 24 20; end 62 22 20 20; tool 8 42 80 8",
    "open-time": "arc 48 34 22; line 48 34 48 18; line 48 34 60 40",
    "squeeze-out": "end 16 26 32 26; dark 48 26 32 26; arc 48 24 3; glue 48 26 48 52",
    "cure": "end 24 28 24 24; dark 48 28 24 24; glue 48 28 48 52; arc 74 16 10; line 74 16 74 9; line 74 16 79 18",
    "spline": "end 16 14 32 36; end 48 14 32 36; dark 34 29 28 6; glue 48 14 48 50",
    "flatten": "poly 10 30 24 24 40 30 58 23 86 29 86 50 10 50; cut 4 30 92 30",
    "drum-sander": "arc 48 22 14; long 8 37 80 10; go 20 56 60 56",
    "chamfer": "poly 12 24 72 24 84 34 84 50 12 50",
    "round-over": "poly 12 24 68 24 77 27 82 32 84 40 84 50 12 50",
    "juice-groove": "end 12 10 72 44; frame 22 18 52 28",
    "well": "end 12 10 72 44; frame 22 18 52 28; tool 24 20 20 12",
    "cove": "poly 12 18 84 18 84 30 78 33 75 38 74 46 12 46",
    "rabbet": "poly 12 18 84 18 84 32 72 32 72 46 12 46",
    "hollow": "poly 8 22 20 26 34 31 48 33 62 31 76 26 88 22 88 48 8 48",
    "chord": "arc 48 32 26; line 26 18 70 18; line 22 32 74 32; line 26 46 70 46",
    "grit": "dot 20 32 5; dot 36 32 4; dot 50 32 3; dot 62 32 2; dot 72 32 1.4; dot 80 32 1",
    "raise-the-grain": "long 10 34 76 16; line 20 34 24 24; line 36 34 40 22; line 52 34 56 24; line 68 34 72 22",
    "drip-dry": "end 16 18 64 14; poly 28 46 34 32 40 46; poly 56 46 62 32 68 46; dot 48 40 2; dot 48 50 2",
    "wax-paste": "tool 30 30 36 20; line 28 30 68 30; arc 48 24 8",
}  # fmt: skip
"""By the word's key."""

Shape = Callable[..., str]


def _wood(x: float, y: float, w: float, h: float, kind: str, *lines: str) -> str:
    return tag("rect", x=x, y=y, width=w, height=h, class_=kind) + "".join(lines)


def _line(x1: float, y1: float, x2: float, y2: float, kind: str = "w-line") -> str:
    return tag("line", x1=x1, y1=y1, x2=x2, y2=y2, class_=kind)


def _end(x: float, y: float, w: float, h: float) -> str:
    """Rings curve across it."""
    rings = [
        f"M{num(x)} {num(y + h * (k + 0.6) / 3)}Q{num(x + w / 2)} {num(y + h * (k - 0.1) / 3)} {num(x + w)} "
        f"{num(y + h * (k + 0.6) / 3)}"
        for k in range(3)
    ]
    return _wood(x, y, w, h, "w-wood", tag("path", d="".join(rings), class_="w-ring"))


def _long(x: float, y: float, w: float, h: float) -> str:
    """Fibres run along it."""
    at = [y + h * share for share in ((0.5,) if h < 12 else (0.3, 0.7))]
    return _wood(x, y, w, h, "w-wood", *(_line(x + 3, level, x + w - 3, level, "w-ring") for level in at))


def _upright(x: float, y: float, w: float, h: float) -> str:
    """Rings stand upright in it."""
    count = int(w // 7)
    return _wood(x, y, w, h, "w-wood", *(_line(x + 7 * k, y, x + 7 * k, y + h, "w-ring") for k in range(1, count + 1)))


def _go(x1: float, y1: float, x2: float, y2: float) -> str:
    """An arrow."""
    length = max(abs(x2 - x1), abs(y2 - y1))
    dx, dy = (x2 - x1) / length, (y2 - y1) / length
    back = [(x2 - 5 * dx + side * 3 * dy, y2 - 5 * dy - side * 3 * dx) for side in (1, -1)]
    tip = " ".join(f"{num(x)},{num(y)}" for x, y in [*back, (x2, y2)])
    return _line(x1, y1, x2, y2, "w-go") + tag("polygon", points=tip, class_="w-tip")


def _poly(*at: float, kind: str = "w-wood") -> str:
    points = " ".join(f"{num(x)},{num(y)}" for x, y in list(pairwise(at))[::2])
    return tag("polygon", points=points, class_=kind)


SHAPES: dict[str, Shape] = {
    "end": _end,
    "long": _long,
    "upright": _upright,
    "dark": lambda *at: _wood(*at, "w-dark"),
    "gone": lambda *at: _wood(*at, "w-gone"),
    "tool": lambda *at: _wood(*at, "w-tool"),
    "frame": lambda x, y, w, h: tag("rect", x=x, y=y, width=w, height=h, rx=4, class_="w-frame"),
    "cut": partial(_line, kind="w-cut"),
    "glue": partial(_line, kind="w-glue"),
    "dry": partial(_line, kind="w-dry"),
    "line": _line,
    "go": _go,
    "arc": lambda x, y, r: tag("circle", cx=x, cy=y, r=r, class_="w-arc"),
    "dot": lambda x, y, r: tag("circle", cx=x, cy=y, r=r, class_="w-tip"),
    "poly": _poly,
    "polydark": lambda *at: _poly(*at, kind="w-dark"),
}


def drawing(key: str) -> str:
    """The drawing of a word; empty where there is none."""
    said = DRAWN.get(key)
    if said is None:
        return ""
    shapes = [(name, [float(v) for v in numbers]) for name, *numbers in map(str.split, said.split(";"))]
    return document("".join(SHAPES[name](*at) for name, at in shapes), WIDE, HIGH, label=key, class_="word-drawing")
