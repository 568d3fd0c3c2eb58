"""Wood as plain data for a canvas, which a browser paints and moves in a fraction of the time SVG with its patterns
takes. Lines, numbers and all one can take hold of stay SVG, above it.

``atlas`` is the address of the bitmap of all wood; a ``sheet`` is [what it shows, colour, x, y, width, height in
the atlas, left, top, width, height in the strip's own coordinates, mm]. Patches are polygons of one sheet each:
``shown`` is the sheet of every patch, ``maps`` six numbers for each, which carry it from the strip's own
coordinates to the drawing, and ``corners`` those of all patches one after another, of which each has as many
numbers as ``counts`` says. A ``veil`` is [patch, colour, opacity]; ``lines`` is a list of [width in mm, first
patch, last patch and one], where the outlines of patches are drawn, or [width in mm, corners]. A ``ground`` is
[patch, corners]: a block of many planes as a whole, in the plain colour of that patch's wood, so that nothing else
shines through between them. Corners run x, y, x, y in mm.
"""

from __future__ import annotations

import hashlib
from dataclasses import dataclass, field
from typing import Any

import numpy as np
from pydantic_core import to_json

from laberinto.core.geometry.faces import Face
from laberinto.core.solid import Ints

from .atlas import Atlas
from .light import veils
from .seams import seams
from .svg import Floats, composed, moved, tag


@dataclass
class Canvas:
    """Collects what is drawn, in order."""

    maps: list[Floats] = field(default_factory=list)
    corners: list[Floats] = field(default_factory=list)
    counts: list[Ints] = field(default_factory=list)
    names: list[str] = field(default_factory=list)
    veils: list[list[Any]] = field(default_factory=list)
    lines: list[list[Any]] = field(default_factory=list)
    grounds: list[list[Any]] = field(default_factory=list)
    said: str = "{}"
    """All of it as JSON, once it is ``told``."""

    def lay(self, face: Face, names: list[str], place: Floats | None, seam: float, dim: float) -> str:
        """Lay a face down, its polygons filled with the sheets of these ``names``. Returns the mark that stands for it
        in the SVG: what carries that along carries the wood along."""
        first, line, ground = len(self.names), len(self.lines), len(self.grounds)
        maps = face.maps if place is None else composed(place, face.maps)
        self.maps.append(np.round(maps, 4).transpose(0, 2, 1).reshape(-1) + 0.0)
        self.corners.append(_flat(face.local))
        self.counts.append(2 * np.diff(face.ptr))
        self.names += names
        self.veils += [[first + at, ink, opacity] for at, ink, opacity in veils(face)]
        if dim:
            self.veils += [[first + at, "#000", dim] for at in range(len(face))]
        if seam:
            found = seams(face)
            if found is None:
                self.lines.append([seam, first, len(self.names)])
            else:
                corners, start = _flat(moved(np.concatenate([ring for _, ring in found]), place)).tolist(), 0
                for at, ring in found:
                    end = start + 2 * len(ring)
                    self.grounds.append([first + at, *corners[start:end]])
                    self.lines.append([seam, *corners[start:end]])
                    start = end
        return tag(
            "g",
            class_="laid",
            data_laid=f"{first} {len(self.names)} {line} {len(self.lines)} {ground} {len(self.grounds)}",
        )

    def told(self, order: list[str], href: str, atlas: Atlas) -> str:
        """Say all of it; ``order`` names the sheets of the ``atlas``. Returns the element that names it in the SVG,
        which does not hold it: a browser reads it many times as quickly where it stands by itself."""
        number = {name: at for at, name in enumerate(order)}
        sheets = [
            [sheet.key, sheet.colour, *place, *np.round((sheet.left, sheet.top), 2).tolist(), sheet.patch.width,
             sheet.patch.height]
            for sheet, place in zip(atlas.sheets, atlas.places, strict=True)
        ]  # fmt: skip
        said = {
            "atlas": href, "sheets": sheets,
            "shown": [number[name] for name in self.names],
            **{
                name: np.concatenate(each).tolist()
                for name, each in (("maps", self.maps), ("corners", self.corners), ("counts", self.counts))
            },
            "veils": self.veils, "lines": self.lines, "grounds": self.grounds,
        }  # fmt: skip
        text = to_json(said)  # ten times as quick as the json of the standard library, which counts for such lists
        key = hashlib.blake2b(text, digest_size=9).hexdigest()
        self.said = text.decode().replace("<", "\\u003c").replace("&", "\\u0026")  # as it is in a page, too
        return tag("metadata", class_="painting", data_key=key)


def _flat(points: Floats) -> Floats:
    """Corners (k, 2) as x, y, x, y to a hundredth of a millimetre."""
    return np.asarray(np.round(points, 2).reshape(-1) + 0.0)
