"""Paths of a machine over a face, and a map of how what was carved differs from what was planned."""

from __future__ import annotations

import io
from collections.abc import Sequence

import numpy as np
from PIL import Image

from laberinto.core.cnc.gcode import Cut
from laberinto.core.cnc.machine import Clamp
from laberinto.core.cnc.program import Carved
from laberinto.core.geometry.faces import Face
from laberinto.core.solid import Floats

from .faces import wood
from .skin import Skin
from .svg import document, lines, num, tag, text

COLOURS = ("#0b5cad", "#b3261e", "#1b7a4b", "#8a4fbf", "#b06a00", "#00707a")
"""Of the tools, in the order in which they are taken up."""

WITHIN = 0.05
"""A deviation up to this, mm, is as good as planned."""

LEFT, GOUGED, FINE = (28, 106, 168), (179, 38, 30), (233, 226, 212)
"""Wood that is left, wood that is gone, and as planned."""

FAR = 0.5
"""A deviation of this or more, mm, has the full colour."""

MOST_PIXELS = 900
"""Of the longer side of the map."""


def ground(face: Face, skin: Skin) -> str:
    """The wood of the face, and what it is painted with: the same whatever is done to it."""
    inner = tag("g", wood(face, skin, seam=0.3), opacity=0.75)
    return tag("defs", skin.defs()) + inner


def paths(face: Face, ground: str, cuts: Sequence[Cut], clamps: Sequence[Clamp], *, label: str) -> str:
    """The ``ground`` of a face with each tool's way over it, clamps, and where x and y are zero."""
    wide, long = (float(v) for v in face.size)
    inner = ground
    order = list(dict.fromkeys(cut.tool.number for cut in cuts))
    for cut in cuts:
        colour = COLOURS[order.index(cut.tool.number) % len(COLOURS)]
        inner += tag("path", d=_way(cut, long), fill="none", stroke=colour, stroke_width=0.9, class_="tool-way")
        for x, y in cut.tabs:
            half = max(wide, long) * 0.014
            inner += tag("rect", x=x - half, y=long - y - half, width=2 * half, height=2 * half, fill=colour,
                         stroke="#fff", stroke_width=0.6, class_="tab")  # fmt: skip
    for clamp in clamps:
        inner += tag(
            "rect", x=clamp.left, y=long - clamp.high, width=clamp.right - clamp.left, height=clamp.high - clamp.low,
            fill="#1a2026", fill_opacity=0.65, stroke="#fff", stroke_width=0.8, class_="clamp",
        )  # fmt: skip
    size = max(wide, long) * 0.03
    cross = lines(((-size, long), (size, long)), ((0.0, long - size), (0.0, long + size)))
    inner += tag("path", d=cross, stroke="#1a2026", stroke_width=size * 0.12, class_="zero")
    inner += text(size * 1.4, long + size * 1.1, "X0 Y0", size * 0.9, anchor="start", fill="#1a2026")
    edge = max(wide, long) * 0.07
    return document(inner, wide + 2 * edge, long + 2 * edge, label=label, left=-edge,
                    top=-edge, class_="drawing")  # fmt: skip


def _way(cut: Cut, long: float) -> str:
    """What is gone along at the feed, right and down from the far left corner."""
    out, open_ = [], False
    last = None
    for move in cut.moves:
        if move.rapid or last is None:
            open_ = False
        else:
            if not open_:
                out.append(f"M{num(last.x)} {num(long - last.y)}")
                open_ = True
            if move.centre is not None:
                radius = float(np.hypot(move.x - move.centre[0], move.y - move.centre[1]))
                sweep = 1 if move.clockwise else 0
                out.append(f"A{num(radius)} {num(radius)} 0 0 {sweep} {num(move.x)} {num(long - move.y)}")
            else:
                out.append(f"L{num(move.x)} {num(long - move.y)}")
        last = move
    return "".join(out)


def deviation_png(carved: Carved) -> bytes:
    """Sand where it is as planned, blue where wood is left, red where too much went; the far side is at the top."""
    every = max(round(max(carved.wood.z.shape) / MOST_PIXELS), 1)
    off = _most(carved.deviation, every)
    share = np.clip((np.abs(off) - WITHIN) / (FAR - WITHIN), 0.0, 1.0)[..., None]
    share = np.where(np.abs(off)[..., None] > WITHIN, 0.35 + 0.65 * share, 0.0)
    to = np.where((off > 0)[..., None], np.array(LEFT), np.array(GOUGED))
    ground = (
        np.array(FINE)
        * _light(carved.wood.z[::every, ::every].astype(np.float64))[: off.shape[0], : off.shape[1], None]
    )
    pixels = (ground + (to - ground) * share).clip(0, 255).astype(np.uint8)
    out = io.BytesIO()
    Image.fromarray(pixels[::-1]).save(out, "PNG")
    return out.getvalue()


def _most(off: Floats, every: int) -> Floats:
    """The largest deviation of each square of points."""
    rows, columns = (side // every * every for side in off.shape)
    blocks = off[:rows, :columns].reshape(rows // every, every, columns // every, every).transpose(0, 2, 1, 3)
    flat = blocks.reshape(rows // every, columns // every, -1)
    return np.asarray(np.take_along_axis(flat, np.abs(flat).argmax(axis=2)[..., None], axis=2)[..., 0])


def _light(z: Floats) -> Floats:
    """Shade of slopes, lit from the upper left, 0.6 to 1."""
    across, up = np.gradient(z)[::-1]
    return np.asarray(np.clip(0.9 + 0.25 * (up - across) / (1 + np.abs(up) + np.abs(across)), 0.6, 1.0))
