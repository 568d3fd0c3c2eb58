"""The board as a shop drawing: its face, its front edge beneath, and dimensions in the maker's units."""

from __future__ import annotations

from collections.abc import Sequence

from laberinto.core.analysis.figures import Row
from laberinto.core.geometry.faces import Face, Side, face_of
from laberinto.core.solid import Cells
from laberinto.core.units import Lengths

from . import dims
from .faces import shift, wood
from .skin import Skin
from .svg import document, straight, tag, text


def board(
    piece: Cells,
    skin: Skin,
    lengths: Lengths,
    *,
    label: str,
    side: Side = Side.TOP,
    rows: Sequence[Row] = (),
) -> str:
    """A face with its edge and dimensions. ``rows`` numbers the rows and makes each one selectable."""
    face = face_of(piece, side)
    width, length = (float(v) for v in face.size)
    thickness = float(piece.size()[2])
    size = 0.025 * max(length + thickness, width * 0.8)
    gap = size * 1.6
    inner = tag("g", wood(face, skin), class_="face")
    if _fills(face, SHARP):
        inner += tag(
            "rect", width=width, height=length, fill="none", stroke="#000", stroke_opacity=0.5, stroke_width=0.4
        )
    inner += _rows(rows, width, size)
    inner += dims.across(0, width, -size * 1.9, lengths.show(width, unit=False), size, reach=-0.01, strong=True)
    inner += dims.along(width + size * 2.1, 0, length, lengths.show(length, unit=False), size, reach=width, strong=True)
    bottom = length + gap + thickness
    front = face_of(piece, Side.FRONT if side is Side.TOP else Side.BACK)
    inner += tag("g", wood(front, skin, shift(0, length + gap)), class_="edge")
    inner += dims.along(
        width + size * 2.1, length + gap, bottom, lengths.show(thickness, unit=False), size, reach=width, strong=True
    )
    longest = max((len(row.slice) for row in rows), default=0)
    left, top = size * (2.1 + 0.58 * longest if rows else 0.8), size * 3.0
    return document(
        tag("defs", skin.defs()) + inner, left + width + size * 3.2, top + bottom + size * 0.8, label=label,
        left=-left, top=-top, class_="drawing",
    )  # fmt: skip


def _rows(rows: Sequence[Row], width: float, size: float) -> str:
    """Row numbers beside the face and a frame round each row that shows when it is chosen."""
    out = []
    for index, row in enumerate(rows):
        height = row.end - row.start
        if height <= 0:
            continue
        middle = (row.start + row.end) / 2
        number = text(
            -size * max(1.1, 0.5 + 0.29 * len(row.slice)), middle + size * 0.32, str(row.slice),
            min(size * 0.92, height * 0.7), class_="row-number", fill=dims.INK,
        )  # fmt: skip
        frame = tag(
            "rect", x=0.0, y=row.start, width=width, height=height,
            class_="row-frame", fill="transparent", stroke="none", stroke_width=size * 0.16,
        )  # fmt: skip
        turned = "" if row.lie.value == "as-cut" else mark_turned(-size * (1.5 + 0.58 * len(row.slice)), middle, size)
        out.append(tag("g", number + turned + frame, class_="laid-row", data_row=str(index)))
    return "".join(out)


def mark_turned(x: float, y: float, size: float) -> str:
    """A small double arrow beside a row that is turned."""
    s, t = size * 0.28, size * 0.11
    return straight(
        ((x - s, y), (x + s, y)),
        ((x - t, y - t * 1.5), (x - s, y), (x - t, y + t * 1.5)),
        ((x + t, y - t * 1.5), (x + s, y), (x + t, y + t * 1.5)),
        class_="row-turned", stroke=dims.INK, stroke_width=size * 0.09,
    )  # fmt: skip


SQUARE = 0.98
"""A face that fills this share of the rectangle round it is one, but for rounded corners."""

SHARP = 0.9998
"""A face that fills this share of it has corners, too."""


def _fills(face: Face, share: float) -> bool:
    """Whether a face fills this share of the rectangle round it."""
    return float(face.areas().sum()) > share * float(face.size[0]) * float(face.size[1])


def thumbnail(face: Face, skin: Skin, *, label: str, within: tuple[float, float] | None = None, over: str = "") -> str:
    """The bare face, for lists of boards. ``within`` (mm) leaves room round it, so that several are to one scale;
    ``over`` is drawn over it."""
    width, length = (float(v) for v in face.size)
    inner = wood(face, skin, seam=0.3) + over
    wide, long = within or (width, length)
    square = within is None and _fills(face, SQUARE)
    return document(
        tag("defs", skin.defs()) + inner, wide, long, label=label, left=(width - wide) / 2, top=(length - long) / 2,
        class_="thumb square" if square else "thumb",  # the shadow of a plain rectangle costs next to nothing
    )  # fmt: skip
