"""The small section of wood at each knot of the thread."""

from __future__ import annotations

from laberinto.core.faces import Side, face_of
from laberinto.core.simulate import Simulation, StageResult
from laberinto.core.stages import Crosscut

from .faces import apart, corner, shift, wood
from .skin import Flat
from .svg import document

WINDOW = 124.0
"""Millimetres of wood a knot shows at most, so that single cells can still be told apart."""


def knot(sim: Simulation, result: StageResult, finish: str) -> str:
    """A square picture of the wood as it is after this stage."""
    skin = Flat(sim, finish)
    cells = result.pieces.cells
    upright = cells.on_end
    loose = len(result.pieces) > 1
    span = WINDOW if loose else min(WINDOW, max(result.size[0], 60.0))
    if loose:
        inner = _loose(result, skin, span)
    elif upright:
        inner = wood(face_of(corner(result.pieces[0], Side.TOP, span), Side.TOP), skin, seam=0.6)
    else:
        face = face_of(corner(result.pieces[0], Side.FRONT, span), Side.FRONT)
        inner = wood(face, skin, shift(0, (span - float(face.size[1])) / 2), seam=0.6)
    return document(inner, span, span, label="", class_="knot-wood", aria_hidden="true")


def _loose(result: StageResult, skin: Flat, span: float) -> str:
    """Loose pieces beside or above each other, as many as the picture holds."""
    lying = not result.pieces.cells.on_end
    across = lying and not isinstance(result.stage, Crosscut)
    side, axis = (Side.FRONT, 0) if across else (Side.TOP, 1)
    face = face_of(corner(apart(result.pieces.cells, axis, span * 0.05), side, span), side)
    middle = (span - float(face.size[1])) / 2 if across else 0.0
    return wood(face, skin, shift(0, middle), seam=0.6)
