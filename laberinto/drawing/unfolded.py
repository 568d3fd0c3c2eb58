"""A board with its four edges folded out round its face, and the board seen from a corner."""

from __future__ import annotations

import math

import numpy as np

from laberinto.core.geometry.faces import Side, face_of
from laberinto.core.solid import Cells
from laberinto.core.units import Lengths

from . import dims
from .faces import wood
from .skin import Skin
from .svg import Floats, document, tag, text

GAP = 6.0
"""Between the face and an edge that is folded out, mm."""


def edges(piece: Cells, skin: Skin, lengths: Lengths, *, label: str) -> str:
    """The face with each edge beside it as if it were folded down: where an edge meets the face, they agree."""
    face = face_of(piece, Side.TOP)
    width, length = (float(v) for v in face.size)
    thick = float(face_of(piece, Side.FRONT).size[1])
    places: dict[Side, Floats] = {
        Side.FRONT: np.array([[1.0, 0, 0], [0, 1.0, length + GAP]]),
        Side.BACK: np.array([[-1.0, 0, width], [0, -1.0, -GAP]]),
        Side.LEFT: np.array([[0, -1.0, -GAP], [1.0, 0, 0]]),
        Side.RIGHT: np.array([[0, 1.0, width + GAP], [-1.0, 0, length]]),
    }
    inner = tag("g", wood(face, skin), class_="face")
    for side, place in places.items():
        inner += tag("g", wood(face_of(piece, side), skin, place), class_="edge")
    size = 0.026 * (length + 2 * thick)
    out = thick + GAP
    for x, y, words in (
        (width / 2, -out - size * 0.6, "far edge"), (width / 2, length + out + size * 1.2, "near edge"),
    ):  # fmt: skip
        inner += text(x, y, words, size * 0.9, class_="dim-text dim-stop", fill=dims.INK)
    for x, words, anchor in (
        (-out - size * 0.6, "left edge", "end"),
        (width + out + size * 0.6, "right edge", "start"),
    ):
        inner += text(x, length / 2, words, size * 0.9, anchor=anchor, class_="dim-text dim-stop", fill=dims.INK)
    # the figure stands beside its line, which is too short to hold it
    x, low = width + out + size * 1.2, length + GAP
    inner += dims.along(x, low, low + thick, "", size, reach=width) + text(
        x + size * 0.7, low + thick / 2 + size * 0.36, lengths.show(thick), size, anchor="start",
        class_="dim-text dim-stop", fill=dims.INK, font_weight="600",
    )  # fmt: skip
    margin = out + size * 6.6  # room for “right edge”
    return document(
        tag("defs", skin.defs()) + inner, width + 2 * margin, length + 2 * out + size * 4, label=label,
        left=-margin, top=-out - size * 2, class_="drawing",
    )  # fmt: skip


def _frame(turn: float, lift: float) -> Floats:
    """Picture right, down and towards the eye, for an eye ``turn`` degrees round and ``lift`` degrees up."""
    a, b = math.radians(turn), math.radians(lift)
    right = np.array([math.cos(a), math.sin(a), 0.0])
    towards = np.array([math.sin(a) * math.cos(b), -math.cos(a) * math.cos(b), math.sin(b)])
    return np.stack([right, np.cross(right, towards), towards])


def corner(piece: Cells, skin: Skin, *, label: str, turn: float = 35.0, lift: float = 38.0) -> str:
    """The piece as it is seen from above one corner, in parallel projection."""
    face = face_of(piece, _frame(turn, lift))
    width, height = (float(v) for v in face.size)
    margin = 0.04 * width
    return document(
        wood(face, skin, seam=0.15) + tag("defs", skin.defs()), width + 2 * margin, height + 2 * margin,
        label=label, left=-margin, top=-margin, class_="drawing",
    )  # fmt: skip
