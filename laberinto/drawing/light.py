"""How light falls on a face: what leans away from the eye or lies deep is shaded."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from laberinto.core.geometry.faces import Face

from .svg import Floats

LEANS = 0.9999
"""A face less square on than this (cosine) is a facet."""

FROM = np.array([-0.45, -0.75])
"""Where the light comes from, picture right and down: the upper left."""

GLOOM, GLOOM_DEPTH = 0.34, 12.0
"""What lies below the face lies in the shade: opacity far down, and the depth in mm that brings it two thirds there."""

LEAST = 0.03
"""Opacity that nobody sees."""


def shade(lean: Sequence[float] | Floats) -> tuple[str, float]:
    """Colour and opacity laid over a leaning face."""
    light = float(FROM @ np.asarray(lean))
    return ("#fff", 0.34 * light) if light > 0 else ("#000", -0.42 * light)


def veils(face: Face) -> list[tuple[int, str, float]]:
    """What is laid over the polygons of a face: number of the polygon, colour and opacity."""
    glooms = (GLOOM * (1 - np.exp(-face.recess / GLOOM_DEPTH))).tolist()
    out = []
    for at, (leans, gloom) in enumerate(zip((face.tilt < LEANS).tolist(), glooms, strict=True)):
        if leans:
            ink, opacity = shade(face.lean[at])
            out.append((at, ink, round(opacity, 3)))
        if gloom > LEAST:
            out.append((at, "#000", round(gloom, 3)))
    return out
