"""A face as SVG: each polygon in its strip's own coordinates, carried by its map."""

from __future__ import annotations

import numpy as np

from laberinto.core.faces import Face

from .skin import Skin, shade
from .svg import Floats, matrix, path, tag

SEAM = "#1a120a"


def wood(face: Face, skin: Skin, place: Floats | None = None, *, seam: float = 0.25, dim: float = 0.0) -> str:
    """All polygons of a face. ``place`` (2, 3) carries the picture further; ``dim`` darkens it (0 to 1).

    ``seam`` is the width in mm of the line drawn round each cell, 0 for none.
    """
    fills = skin.fills(face)
    local_is_world = all(not fill.startswith("url") for fill in fills)
    parts: list[str] = []
    shades: list[str] = []
    for i, fill in enumerate(fills):
        corners = slice(face.ptr[i], face.ptr[i + 1])
        if local_is_world:
            points = face.points[corners]
            parts.append(tag("path", d=path(_moved(points, place)), fill=fill))
        else:
            map_ = face.maps[i] if place is None else _compose(place, face.maps[i])
            parts.append(tag("path", d=path(face.local[corners]), transform=matrix(map_), fill=fill))
        if face.tilt[i] < 0.999:
            ink, opacity = shade(face.lean[i])
            shades.append(
                tag("path", d=path(_moved(face.points[corners], place)), fill=ink, fill_opacity=round(opacity, 3))
            )
        if dim:
            shades.append(tag("path", d=path(_moved(face.points[corners], place)), fill="#000", fill_opacity=dim))
    line: dict[str, str | float] = {"stroke": SEAM, "stroke_opacity": 0.38, "stroke_width": seam}
    return tag("g", "".join(parts), class_="wood", **(line if seam else {})) + (
        tag("g", "".join(shades)) if shades else ""
    )


def _moved(points: Floats, place: Floats | None) -> Floats:
    return points if place is None else points @ place[:, :2].T + place[:, 2]


def _compose(outer: Floats, inner: Floats) -> Floats:
    """The affine map that does ``inner`` and then ``outer``, each (2, 3)."""
    linear = outer[:, :2] @ inner[:, :2]
    return np.column_stack([linear, outer[:, :2] @ inner[:, 2] + outer[:, 2]])


def shift(x: float, y: float) -> Floats:
    """The (2, 3) map that moves by (x, y) mm."""
    return np.array([[1.0, 0.0, x], [0.0, 1.0, y]])


def window(face: Face, width: float, height: float) -> Face:
    """Only the polygons that reach into the picture's first ``width`` × ``height`` mm; for small pictures."""
    keep = [
        i
        for i in range(len(face))
        if bool((face.points[face.ptr[i] : face.ptr[i + 1]].min(axis=0) < (width, height)).all())
    ]
    corner = np.concatenate([np.arange(face.ptr[i], face.ptr[i + 1]) for i in keep])
    counts = np.array([face.ptr[i + 1] - face.ptr[i] for i in keep])
    return Face(
        face.side, face.points[corner], face.local[corner], np.concatenate([[0], np.cumsum(counts)]), face.strip[keep],
        face.cell[keep], face.section[keep], face.depth[keep], face.tilt[keep], face.lean[keep], face.maps[keep],
        np.minimum(face.size, (width, height)),
    )  # fmt: skip
