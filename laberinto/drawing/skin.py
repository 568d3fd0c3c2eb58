"""How wood is filled in a drawing: painted from its own rings, with faint rings, or flat."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Protocol

import numpy as np

from laberinto.core.geometry.faces import SECTIONS, Face
from laberinto.core.plan.simulate import Simulation
from laberinto.core.woods import Wood
from laberinto.core.woods.strips import Rings, Strip

from .atlas import Atlas, Sheet
from .canvas import Canvas
from .svg import Floats, blend, document, tag

DEPTH_STEP, FACET_STEP = 0.5, 6.0
"""Sections of a strip nearer to each other than this (mm) share a bitmap."""

END = SECTIONS.index("end")

RING_WIDTH, RING_INK = 0.8, 0.13
"""A faint ring: how far it fades on either side, mm, and how dark it is in the middle (0 to 1)."""

RUN = 50.0
"""The sides of a strip are painted where they are seen, in whole runs of so many mm along the fibres, so that most
edits need no new bitmap. A row shows 40 mm of a strip that is as long as the panel was."""

EASED = 0.9
"""A face less square on than this (cosine) is an eased edge, on which a small picture has no room for rings."""


class Skin(Protocol):
    """Gives each polygon of a face its fill, and collects the definitions those fills need."""

    def laid(self, face: Face, place: Floats | None, seam: float, dim: float) -> str | None:
        """A face whose neighbours are merged, drawn by the skin itself; None where it only gives ``fills``."""

    def fills(self, face: Face) -> list[str]: ...

    def defs(self) -> str: ...


class _Vector:
    """A skin that needs no bitmaps."""

    def laid(self, face: Face, place: Floats | None, seam: float, dim: float) -> str | None:
        return None


@dataclass
class Flat(_Vector):
    """One colour a wood; for small pictures and documents."""

    sim: Simulation
    finish: str = "oiled"

    def fills(self, face: Face) -> list[str]:
        return [self.sim.woods[self.sim.strips[int(s)].wood].colour(self.finish) for s in face.strip]

    def defs(self) -> str:
        return ""


@dataclass
class Ringed(_Vector):
    """One colour a wood with faint rings about the strip's own heart; vector, for thumbnails."""

    sim: Simulation
    prefix: str
    finish: str = "oiled"
    _gradients: dict[str, str] = field(default_factory=dict)

    def fills(self, face: Face) -> list[str]:
        out = []
        for number, section, tilt in zip(face.strip, face.section, face.tilt, strict=True):
            strip = self.sim.strips[int(number)]
            if section != END or tilt < EASED:
                out.append(self.sim.woods[strip.wood].colour(self.finish))
                continue
            name = f"{self.prefix}r{strip.number}"
            if name not in self._gradients:
                self._gradients[name] = _rings(name, self.sim.woods[strip.wood], strip.rings, self.finish)
            out.append(f"url(#{name})")
        return out

    def defs(self) -> str:
        return "".join(self._gradients.values())


def _rings(name: str, wood: Wood, rings: Rings, finish: str) -> str:
    """A gradient that runs from ring to ring and over again: a line halfway, which fades on either side of it."""
    hx, hz = rings.heart
    step = max(rings.spacing * 1.5, 3.2)
    ground = wood.colour(finish)
    line = blend(ground, "#000000" if wood.tone != "dark" else "#ffffff", RING_INK)
    half = RING_WIDTH / step
    stops = ((0.5 - half, ground), (0.5, line), (0.5 + half, ground))
    return tag(
        "radialGradient", "".join(tag("stop", offset=round(at, 3), stop_color=colour) for at, colour in stops),
        id=name, gradientUnits="userSpaceOnUse", cx=hx, cy=hz, r=step, spreadMethod="repeat",
    )  # fmt: skip


def sample(name: str, wood: Wood, rings: Rings, side: float, finish: str) -> str:
    """A square of end grain as ``Ringed`` fills it, ``side`` mm; a page has one of each ``name``."""
    square = tag("rect", width=side, height=side, fill=f"url(#{name})")
    return document(tag("defs", _rings(name, wood, rings, finish)) + square, side, side, label=wood.name)


@dataclass
class Painted:
    """Sheets of each strip's wood, placed in the strip's own coordinates; all of them are one bitmap, of which
    ``address`` gives the address. ``ppm`` is the resolution of end grain in pixels a mm; sides need half of it."""

    sim: Simulation
    prefix: str
    address: Callable[[str, str], str]
    finish: str = "oiled"
    ppm: float = 2.5
    canvas: Canvas | None = None
    sheets: dict[str, Sheet] = field(default_factory=dict)
    """By the name of its pattern."""
    _packed: tuple[int, str, Atlas] = (0, "", Atlas((), (), 0, 0))
    """How many sheets were packed last, and what ``atlas`` said of them."""

    def fills(self, face: Face) -> list[str]:
        return [f"url(#{name})" for name in self.names(face)]

    def laid(self, face: Face, place: Floats | None, seam: float, dim: float) -> str | None:
        return self.canvas.lay(face, self.names(face), place, seam, dim) if self.canvas is not None else None

    def names(self, face: Face) -> list[str]:
        """The name of each polygon's bitmap."""
        # facets of a curve differ in depth by hairs; they share a bitmap
        steps = np.where(face.tilt < 0.9999, FACET_STEP, DEPTH_STEP)
        depths = np.where(face.section == END, 0.0, np.round(face.depth / steps) * steps)
        keys = list(zip(face.strip.tolist(), face.section.tolist(), depths.tolist(), strict=True))
        seen = self._seen(face, keys)
        known: dict[tuple[int, int, float], str] = {}  # most polygons show what another one shows
        out = []
        for key in keys:
            if key not in known:
                known[key] = self._pattern(self.sim.strips[key[0]], SECTIONS[key[1]], key[2], seen.get(key))
            out.append(known[key])
        return out

    def _seen(
        self, face: Face, keys: list[tuple[int, int, float]]
    ) -> dict[tuple[int, int, float], tuple[float, float]]:
        """From where to where along the fibres each side is seen, in whole runs."""
        sides = np.flatnonzero(face.section != END)
        if not len(sides):
            return {}
        along = face.local[:, 1]
        first = np.minimum.reduceat(along, face.ptr[:-1])[sides]
        last = np.maximum.reduceat(along, face.ptr[:-1])[sides]
        # what ends on the border of a run, but for rounding, needs no other
        lows, highs = np.floor(first / RUN + 1e-6) * RUN, np.ceil(last / RUN - 1e-6) * RUN
        seen: dict[tuple[int, int, float], tuple[float, float]] = {}
        for side, low, high in zip(sides.tolist(), lows.tolist(), highs.tolist(), strict=True):
            known = seen.get(keys[side], (low, high))
            seen[keys[side]] = min(low, known[0]), max(high, known[1])
        return seen

    def _pattern(self, strip: Strip, section: str, depth: float, seen: tuple[float, float] | None) -> str:
        """The end of a strip whole, so that no edit that only cuts needs a new bitmap; of a side what is ``seen``."""
        name, run, ppm = f"{self.prefix}{strip.number}{section[0]}{depth:g}", (0.0, 0.0), self.ppm
        if seen is not None:
            first = max(seen[0], 0.0)
            run = first, max(min(seen[1], strip.length), first + 1.0)
            ppm = min(self.ppm * 0.5, 1500 / (run[1] - run[0]))
            name += f"y{run[0]:g}n{run[1]:g}"
        name = name.replace(".", "_")
        if name not in self.sheets:
            colour = self.sim.woods[strip.wood].colour(self.finish)
            self.sheets[name] = Sheet.of(strip, section, depth, run, round(ppm, 2), colour)
        return name

    def atlas(self) -> tuple[str, Atlas]:
        """All sheets so far as one bitmap: its address, and where each lies in it."""
        count, href, atlas = self._packed
        if count != len(self.sheets):
            atlas = Atlas.of(self.sheets.values())
            href = self.address(atlas.token, self.finish)
            self._packed = len(self.sheets), href, atlas
        return href, atlas

    def defs(self) -> str:
        if not self.sheets:
            return ""
        href, atlas = self.atlas()
        if self.canvas is not None:
            return self.canvas.told(list(self.sheets), href, atlas)
        whole = f"{self.prefix}-atlas"
        out = [tag("image", id=whole, href=href, width=atlas.width, height=atlas.height,
                   preserveAspectRatio="none")]  # fmt: skip
        for name, sheet, place in zip(self.sheets, atlas.sheets, atlas.places, strict=True):
            width, height = sheet.patch.width, sheet.patch.height
            sx, sy = width / place.width, height / place.height
            ground = tag("rect", width=width, height=height, fill=sheet.colour)  # seen until the bitmap is there
            picture = f'<use href="#{whole}" transform="scale({sx:.6g} {sy:.6g}) translate({-place.x} {-place.y})"/>'
            moved = {"patternTransform": f"translate({sheet.left:g} {sheet.top:g})"} if sheet.left or sheet.top else {}
            out.append(
                tag("pattern", ground + picture, id=name, patternUnits="userSpaceOnUse", width=width, height=height,
                    **moved)
            )  # fmt: skip
        return "".join(out)
