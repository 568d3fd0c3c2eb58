"""A hatch over the part of a face that differs from another face."""

from __future__ import annotations

import numpy as np
import shapely

from laberinto.core.analysis.unlike import Unlike

from .svg import path, tag

INK, HALO = "#0b6bd0", "#fff"
"""Dark in light, so that one of them is seen on any wood."""

PITCH = 5.0
"""From one line of the hatch to the next, mm."""


def unlike(found: Unlike, size: tuple[float, float]) -> str:
    """Over a face of this size in mm; nothing where nothing differs."""
    rings = [
        shapely.get_coordinates(ring)[:-1]
        for part in shapely.get_parts(found.area)
        for ring in (part.exterior, *part.interiors)
    ]
    if not rings:
        return ""
    d = "".join(path(np.asarray(ring)) for ring in rings)
    stroke = f"M0 0V{PITCH:g}"
    hatch = tag(
        "pattern",
        tag("path", d=stroke, stroke=HALO, stroke_width=2.6) + tag("path", d=stroke, stroke=INK, stroke_width=1.3),
        id="unlike", width=PITCH, height=PITCH, patternUnits="userSpaceOnUse", patternTransform="rotate(45)",
    )  # fmt: skip
    inner = tag("path", d=d, fill="url(#unlike)", fill_rule="evenodd", opacity=0.7)
    for ink, width in ((HALO, 3.5), (INK, 1.8)):
        inner += tag("path", d=d, fill="none", stroke=ink, stroke_width=width, vector_effect="non-scaling-stroke")
    return tag(
        "g", tag("defs", hatch) + inner, class_="unlike", transform=f"translate({size[0] / 2:.3f} {size[1] / 2:.3f})"
    )
