"""How wood is filled in a drawing: painted from its own rings, with faint rings, or flat."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from typing import NamedTuple, Protocol

import numpy as np

from laberinto.core.faces import SECTIONS, Face
from laberinto.core.simulate import Simulation
from laberinto.core.strips import Rings, Strip
from laberinto.core.woods import Wood

from .svg import Floats, blend, document, tag
from .texture import Patch

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

Painter = Callable[[Strip, Patch, str], str]
"""Gives the address of a bitmap of a patch of a strip, raw or oiled."""


class Skin(Protocol):
    """Gives each polygon of a face its fill, and collects the definitions those fills need."""

    def fills(self, face: Face) -> list[str]: ...

    def defs(self) -> str: ...


@dataclass
class Flat:
    """One colour a wood; for small pictures and documents."""

    sim: Simulation
    finish: str = "oiled"

    def fills(self, face: Face) -> list[str]:
        return [self.sim.woods[self.sim.strips[int(s)].wood].colour(self.finish) for s in face.strip]

    def defs(self) -> str:
        return ""


@dataclass
class Ringed:
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


class Sheet(NamedTuple):
    """A bitmap's address, its size in mm, and how far from the strip's end it begins."""

    href: str
    width: float
    height: float
    top: float


@dataclass
class Painted:
    """Bitmaps of each strip, placed in the strip's own coordinates."""

    sim: Simulation
    prefix: str
    painter: Painter
    finish: str = "oiled"
    ppm: float = 5.0
    sheets: dict[str, Sheet] = field(default_factory=dict)
    """By the name of its pattern."""

    def fills(self, face: Face) -> list[str]:
        return [f"url(#{name})" for name in self.names(face)]

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
        width = strip.thickness if section == "side" else strip.width
        if seen is None:
            top, height, ppm = 0.0, strip.thickness, self.ppm
        else:
            top = max(seen[0], 0.0)
            height = max(min(seen[1], strip.length) - top, 1.0)
            ppm = min(self.ppm * 0.5, 1500 / height)
        name = f"{self.prefix}{strip.number}{section[0]}{depth:g}" + (f"y{top:g}n{height:g}" if seen else "")
        name = name.replace(".", "_")
        if name not in self.sheets:
            patch = Patch(section, depth, 0.0, top, width, height, round(ppm, 2))
            self.sheets[name] = Sheet(self.painter(strip, patch, self.finish), width, height, top)
        return name

    def defs(self) -> str:
        return "".join(
            tag(
                "pattern", tag("image", href=href, width=width, height=height, preserveAspectRatio="none"),
                id=name, patternUnits="userSpaceOnUse", width=width, height=height,
                **({"patternTransform": f"translate(0 {top:g})"} if top else {}),
            )
            for name, (href, width, height, top) in self.sheets.items()
        )  # fmt: skip


def shade(lean: Sequence[float] | Floats) -> tuple[str, float]:
    """Colour and opacity laid over a leaning face, lit from the upper left."""
    light = -(0.45 * float(lean[0]) + 0.75 * float(lean[1]))
    return ("#fff", 0.34 * light) if light > 0 else ("#000", -0.42 * light)
