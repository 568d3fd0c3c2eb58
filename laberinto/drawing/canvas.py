"""A face as plain data for a canvas, where it has too many cells to repaint as SVG at every zoom.

``sheets`` are bitmaps with their size in mm and how far from the strip's end they begin; a ``patch`` is [sheet, map of
six numbers, corners in the strip's own coordinates]; a ``veil`` is [colour, opacity, corners on the face]. Corners run
x, y, x, y in mm.
"""

from __future__ import annotations

from typing import Any

import numpy as np

from laberinto.core.faces import Face

from .faces import GLOOM, GLOOM_DEPTH, LEANS
from .merge import merged
from .skin import Painted, shade

MOST_SVG = 420
"""A face of more polygons than this is painted on a canvas."""


def painting(face: Face, skin: Painted) -> dict[str, Any]:
    """All that a canvas needs to paint a face."""
    face = merged(face)
    names = skin.names(face)
    order = {name: number for number, name in enumerate(dict.fromkeys(names))}
    local, points = np.round(face.local, 2) + 0.0, np.round(face.points, 2) + 0.0
    maps = np.round(face.maps, 4) + 0.0
    glooms = GLOOM * (1 - np.exp(-face.recess / GLOOM_DEPTH))
    patches: list[list[Any]] = []
    veils: list[list[Any]] = []
    for i, name in enumerate(names):
        corners = slice(face.ptr[i], face.ptr[i + 1])
        (a, c, e), (b, d, f) = maps[i].tolist()
        patches.append([order[name], [a, b, c, d, e, f], local[corners].ravel().tolist()])
        if face.tilt[i] < LEANS:
            ink, opacity = shade(face.lean[i])
            veils.append([ink, round(opacity, 3), points[corners].ravel().tolist()])
        elif glooms[i] > 0.01:
            veils.append(["#000", round(float(glooms[i]), 3), points[corners].ravel().tolist()])
    return {
        "size": [round(float(v), 3) for v in face.size],
        "sheets": [list(skin.sheets[name]) for name in order],
        "patches": patches,
        "veils": veils,
    }
