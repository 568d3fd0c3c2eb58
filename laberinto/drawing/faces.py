"""A face as SVG: each polygon in its strip's own coordinates, carried by its map."""

from __future__ import annotations

import numpy as np

from laberinto.core.geometry.faces import Face, Side
from laberinto.core.solid import Cells

from .light import LEANS, veils
from .merge import merged
from .rims import OPACITY, rims
from .seams import SEAM, seams
from .skin import Skin
from .svg import Floats, composed, matrices, moved, path, tag

Style = dict[str, str | float]

FACET_LINE = 0.2
"""Line in mm that closes the gap between two facets."""


def wood(face: Face, skin: Skin, place: Floats | None = None, *, seam: float = 0.25, dim: float = 0.0) -> str:
    """All polygons of a face. ``place`` (2, 3) carries the picture further; ``dim`` darkens it (0 to 1).

    ``seam`` is the width in mm of the line drawn round each cell, 0 for none. Facets of curved and eased edges get a
    line of their own colour instead, which closes the gaps between them. All of one plain colour are one element.
    """
    face = merged(face)
    drawn = skin.laid(face, place, seam, dim)
    if drawn is not None:
        return drawn + _rimmed(face, place)
    fills = skin.fills(face)
    plain = not any(fill.startswith("url") for fill in fills)  # flat colours need no strip coordinates
    points = np.round(moved(face.points, place), 2) + 0.0
    locals_ = np.round(face.local, 2) + 0.0
    transforms = [] if plain else matrices(face.maps if place is None else composed(place, face.maps))
    leaning, ends = (face.tilt < LEANS).tolist(), face.ptr.tolist()
    outlines: dict[bytes, str] = {}  # cells of one strip mostly share one outline
    parts: list[str] = []
    facets: list[str] = []
    same: dict[tuple[bool, str], list[str]] = {}  # facets or not, of one colour
    for i, (fill, leans) in enumerate(zip(fills, leaning, strict=True)):
        corners = slice(ends[i], ends[i + 1])
        if not fill.startswith("url"):
            same.setdefault((leans, fill), []).append(path(points[corners]))
        else:
            into, own = (facets, f' stroke="{fill}"') if leans else (parts, "")
            local = locals_[corners]
            name = local.tobytes()
            if name not in outlines:
                outlines[name] = path(local)
            outline = outlines[name]
            into.append(f'<path d="{outline}" transform="{transforms[i]}" fill="{fill}"{own}/>')
    for (facet, colour), several in same.items():
        own = f' stroke="{colour}"' if facet else ""
        (facets if facet else parts).append(f'<path d="{"".join(several)}" fill="{colour}"{own}/>')
    shades: dict[tuple[str, str], list[str]] = {}
    for at, ink, opacity in [*veils(face), *((i, "#000", dim) for i in range(len(face)) if dim)]:
        shades.setdefault((ink, f"{opacity:.3f}"), []).append(path(points[ends[at] : ends[at + 1]]))
    shaded = [
        f'<path d="{"".join(several)}" fill="{ink}" fill-opacity="{opacity}"/>'
        for (ink, opacity), several in shades.items()
    ]
    line: Style = {"stroke": SEAM, "stroke_opacity": 0.38, "stroke_width": seam}
    joints = seams(face) if seam else None
    if joints is not None:
        line = {"stroke": "none"}
        outlines_ = "".join(path(np.round(moved(ring, place), 2) + 0.0) for _, ring in joints)
        shaded.append(tag("path", d=outlines_, fill="none", stroke=SEAM, stroke_opacity=0.6, stroke_width=seam,
                          class_="joints", shape_rendering="auto"))  # fmt: skip
    return "".join(
        tag("g", "".join(parts_), class_=name, **style)
        for parts_, name, style in (
            (parts, "wood", line if seam else {}),
            (facets, "facets", {"stroke_width": FACET_LINE}),
            (shaded, "shades", {"shape_rendering": "crispEdges"}),
        )
        if parts_
    ) + _rimmed(face, place)


def _rimmed(face: Face, place: Floats | None) -> str:
    """The shadow and the light along walls that stand on a floor of the face."""
    bands = "".join(
        tag("path", d="".join(path(np.round(moved(ring, place), 2) + 0.0) for ring in rim.rings), fill=rim.ink,
            fill_opacity=OPACITY, fill_rule="evenodd")
        for rim in rims(face)
    )  # fmt: skip
    return tag("g", bands, class_="rims") if bands else ""


def shift(x: float, y: float) -> Floats:
    """The (2, 3) map that moves by (x, y) mm."""
    return np.array([[1.0, 0.0, x], [0.0, 1.0, y]])


def corner(piece: Cells, side: Side, span: float) -> Cells:
    """Only the cells that reach into the upper left ``span`` × ``span`` mm of a side's picture."""
    flat = piece.world() @ side.frame[:2].T
    flat -= flat.min(axis=0)
    first = np.minimum.reduceat(flat, piece.vptr[:-1], axis=0)
    return piece.take(np.asarray((first < span).all(axis=1)))
