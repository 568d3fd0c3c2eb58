"""A side of a board with numbered pins where faults are."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from laberinto.core.geometry.faces import Side, face_of
from laberinto.core.solid import Cells

from .faces import wood
from .skin import Skin
from .svg import document, tag, text


@dataclass(frozen=True, slots=True)
class Mark:
    """A pin as it is drawn: what stands on it, where (mm), whether it is mended, and where it leads."""

    label: str
    x: float
    y: float
    mended: bool = False
    to: str = ""


def pinned(piece: Cells, side: Side, skin: Skin, marks: Sequence[Mark], *, label: str) -> str:
    """The side in mm from its corner, so that a press on it tells the spot."""
    face = face_of(piece, side)
    width, height = (float(v) for v in face.size)
    size = max(0.022 * max(width, height * 1.4), 3.0)
    inner = tag("g", wood(face, skin), class_="face")
    for mark in marks:
        kind = f"pin{' pin-mended' if mark.mended else ''}{'' if mark.to else ' pin-new'}"
        drawn = tag("circle", cx=mark.x, cy=mark.y, r=size, class_="pin-head") + text(
            mark.x, mark.y + size * 0.38, mark.label, size * 1.1, class_="pin-number"
        )
        inner += tag("a", drawn, href=mark.to, class_=kind) if mark.to else tag("g", drawn, class_=kind)
    edge = size * 1.3
    return document(
        tag("defs", skin.defs()) + inner, width + 2 * edge, height + 2 * edge, label=label, left=-edge, top=-edge,
        role="group", class_="drawing pinned",
    )  # fmt: skip
