"""The woods of a board: letters, contrast, and the ends of strips that the page shows small."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from laberinto.core.edits import woods
from laberinto.core.plan.model import Plan
from laberinto.core.plan.simulate import Simulation
from laberinto.core.woods import LIBRARY
from laberinto.core.woods.strips import Strip
from laberinto.core.woods.tones import Contrast, contrast

from ...app import bitmaps

END_PPM = 1.6
"""Pixels a mm of ends that are shown small."""


@dataclass(frozen=True, slots=True)
class Swatch:
    """A wood on the board's palette."""

    letter: str
    key: str
    name: str
    tone: str
    strip: int
    """Number of a strip of it, or -1 where there is none."""


@dataclass(frozen=True, slots=True)
class Palette:
    """The board's woods, the weakest contrast among them, and one bitmap of all ends that are shown."""

    swatches: list[Swatch]
    contrast: Contrast | None
    ends: bitmaps.Ends
    places: dict[int, int]

    @classmethod
    def of(cls, plan: Plan, sim: Simulation, finish: str, strips: Iterable[Strip] = ()) -> Palette:
        """Of a board; ``strips`` are shown besides one of each wood."""
        swatches = _swatches(plan, sim)
        ends = {strip.number: strip for strip in sim.strips if strip.number in {s.strip for s in swatches}}
        ends |= {strip.number: strip for strip in strips}
        known = [LIBRARY[key] for key in woods.used(plan) if key in LIBRARY]
        return cls(
            swatches, contrast(known, finish), bitmaps.ends(list(ends.values()), finish, END_PPM),
            {number: at for at, number in enumerate(ends)},
        )  # fmt: skip

    def end(self, strip: int) -> str:
        """The view box of a strip's end in the bitmap of ``ends``, by the strip's number; "" where it is not shown."""
        at = self.places.get(strip)
        return "" if at is None else " ".join(f"{v:g}" for v in self.ends.places[at])


def _swatches(plan: Plan, sim: Simulation) -> list[Swatch]:
    out = []
    for letter, key in woods.letters(plan).items():
        strip = next((s for s in sim.strips if s.wood == key), None)
        named = LIBRARY.get(key)
        if named is not None:
            out.append(Swatch(letter, key, named.name, named.tone.value, strip.number if strip else -1))
    return out
