"""The small section of wood at each knot of the thread, as bitmaps: a page has many, which change with every edit."""

from __future__ import annotations

from collections.abc import Sequence
from io import BytesIO

import numpy as np
from PIL import Image, ImageDraw

from laberinto.core.geometry.faces import Face, Side, face_of
from laberinto.core.plan.simulate import Simulation, StageResult
from laberinto.core.solid import apart
from laberinto.core.stages import Crosscut

from .faces import corner
from .light import veils
from .merge import merged
from .skin import Flat
from .svg import blend

WINDOW = 124.0
"""Millimetres of wood a knot shows at most."""

MOST = 160
"""Where there are more cells than this in the window it shows less, so that single cells can still be told apart."""

SIDE = 112
"""Pixels of a knot either way: twice what it takes on a plain screen."""

FINER = 3
"""Drawn so many times as large and then made smaller, which smooths the edges."""

SEAM, SEAM_INK = 0.5, (26, 18, 10, 110)
"""Line between cells: width in mm, and ink."""


def strand(knots: Sequence[Image.Image]) -> bytes:
    """Knots below each other as one WebP file, so that a browser asks once for all of them."""
    whole = Image.new("RGBA", (SIDE, SIDE * max(len(knots), 1)))
    for at, each in enumerate(knots):
        whole.paste(each, (0, at * SIDE))
    out = BytesIO()
    whole.save(out, "WEBP", quality=90, method=0)
    return out.getvalue()


def knot(sim: Simulation, result: StageResult, finish: str) -> Image.Image:
    """A square picture of the wood as it is after this stage; drawn once for each wood."""
    return result.pieces.cells.memo.once(_drawn, sim, result, finish, key=finish)


def _drawn(sim: Simulation, result: StageResult, finish: str) -> Image.Image:
    cells = result.pieces.cells
    loose = len(result.pieces) > 1
    span = WINDOW if loose else min(WINDOW, max(result.size[0], 60.0))
    down = 0.0
    if loose:
        across = not cells.on_end and not isinstance(result.stage, Crosscut)
        side = Side.FRONT if across else Side.TOP
        face = face_of(corner(apart(cells, 0 if across else 1, span * 0.05), side, span), side)
        down = (span - float(face.size[1])) / 2 if across else 0.0
    elif cells.on_end:
        while span > WINDOW / 4 and len(corner(result.pieces[0], Side.TOP, span)) > MOST:
            span /= 2
        face = face_of(corner(result.pieces[0], Side.TOP, span), Side.TOP)
    else:
        face = face_of(corner(result.pieces[0], Side.FRONT, span), Side.FRONT)
        down = (span - float(face.size[1])) / 2
    return _raster(merged(face), Flat(sim, finish), span, down)


def _raster(face: Face, skin: Flat, span: float, down: float) -> Image.Image:
    """The upper left ``span`` × ``span`` mm of a face that begins ``down`` mm below the picture's top."""
    scale = SIDE * FINER / span
    picture = Image.new("RGBA", (SIDE * FINER, SIDE * FINER))
    draw = ImageDraw.Draw(picture, "RGBA")
    points = (face.points + np.array([0.0, down])) * scale
    fills = skin.fills(face)
    for at, ink, opacity in veils(face):
        fills[at] = blend(fills[at], ink if len(ink) == 7 else "#" + ink[1:] * 2, opacity)
    width = max(round(SEAM * scale), 1)
    for at, fill in enumerate(fills):
        ring = [*map(tuple, points[face.ptr[at] : face.ptr[at + 1]].tolist())]
        draw.polygon(ring, fill=fill)
        draw.line([*ring, ring[0]], fill=SEAM_INK, width=width)
    return picture.resize((SIDE, SIDE), Image.Resampling.BOX)


__all__ = ["MOST", "SIDE", "WINDOW", "knot", "strand"]
