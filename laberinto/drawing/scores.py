"""A face with what a score found laid over it: joints lit, a patch outlined, the repeating stretch outlined twice."""

from __future__ import annotations

import numpy as np
import shapely

from laberinto.core.geometry.polygons import closed_union
from laberinto.core.judging.scores import Score, Scored

from .faces import wood
from .skin import Skin
from .svg import document, lines, num, tag, text

LIT = "#e0352b"
COPY = "#1769b5"


def judged(on: Scored, score: Score | None, skin: Skin, *, label: str) -> str:
    """The face that is scored, bare or with one score's places lit."""
    width, length = (float(v) for v in on.face.size)
    size = max(width, length) * 0.024
    inner = tag("g", wood(on.face, skin), class_="face")
    if score is not None:
        inner += _lit(on, score, size, width, length)
    pad = size * 0.6
    return document(
        tag("defs", skin.defs()) + inner, width + 2 * pad, length + 2 * pad, label=label, left=-pad, top=-pad,
        class_="drawing judged",
    )  # fmt: skip


def _lit(on: Scored, score: Score, size: float, width: float, length: float) -> str:
    shown = score.shown
    veil = tag("rect", width=width, height=length, fill="#fff", fill_opacity=0.42)
    out = veil if len(shown.lines) or shown.polygons or shown.boxes else ""
    if shown.polygons:
        rings = [shapely.Polygon(on.face.points[on.face.ptr[i] : on.face.ptr[i + 1]]) for i in shown.polygons]
        outline = closed_union(np.array(rings, object))
        d = "".join(
            "M" + "L".join(f"{num(x)} {num(y)}" for x, y in ring.coords) + "Z"
            for part in shapely.get_parts(outline)
            for ring in (part.exterior, *part.interiors)
        )
        out += tag("path", d=d, fill=LIT, fill_opacity=0.28, fill_rule="evenodd", stroke=LIT, stroke_width=size * 0.16)
    if len(shown.lines):
        d = lines(*[tuple(map(tuple, stroke)) for stroke in np.round(shown.lines, 2).tolist()])
        out += tag("path", d=d, fill="none", stroke="#fff", stroke_width=size * 0.3, stroke_linecap="round")
        out += tag("path", d=d, fill="none", stroke=LIT, stroke_width=size * 0.18, stroke_linecap="round")
    for number, ((x, y, w, h), ink) in enumerate(zip(shown.boxes, (LIT, COPY), strict=False), 1):
        inset = size * 0.12 * number
        out += tag(
            "rect", x=x + inset, y=y + inset, width=max(w - 2 * inset, 0.0), height=max(h - 2 * inset, 0.0),
            fill="none", stroke=ink, stroke_width=size * 0.22,
        )  # fmt: skip
        corner = (x + size * 1.05, y + size * 1.2) if number == 1 else (x + w - size * 1.05, y + h - size * 0.8)
        out += tag("circle", cx=corner[0], cy=corner[1], r=size * 0.8, fill=ink)
        out += text(corner[0], corner[1] + size * 0.34, str(number), size, fill="#fff")
    return out
