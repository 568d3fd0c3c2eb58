"""Palettes: woods for a pattern chosen by tone, from what there is."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from itertools import product

from ..woods import Caution, Tone, Wood
from ..woods.tones import SOFT, lightness

_UNASKED = {Caution.NOT_UNDER_FOOD, Caution.TRADE_CONTROL, Caution.SEEPS, Caution.ALLERGY}
"""Woods with these are never offered, though anybody may choose most of them."""


@dataclass(frozen=True, slots=True)
class Palette:
    """A light, a mid and a dark wood, by key, under a name."""

    name: str
    light: str
    mid: str
    dark: str

    def woods(self) -> dict[str, str]:
        """Parameter → wood, as pattern families call theirs."""
        return {"light": self.light, "mid": self.mid, "dark": self.dark, "wood": self.light}


def palettes(woods: Iterable[Wood], finish: str = "oiled") -> list[Palette]:
    """Up to three palettes that share no wood: the strongest contrast, the quietest that still reads, and the most
    even steps of what is left. Fewer where there are not enough woods of every tone."""
    left = {wood.key: wood for wood in woods if not _UNASKED & set(wood.cautions)}
    tones = {key: lightness(wood.colour(finish)) for key, wood in left.items()}
    out: list[Palette] = []
    for name, merit in (("Strong", _strong), ("Quiet", _quiet), ("Even", _even)):
        by_tone = [
            [key for key, wood in left.items() if wood.tone is tone] for tone in (Tone.LIGHT, Tone.MID, Tone.DARK)
        ]
        choices = [(merit(*(tones[key] for key in keys)), keys) for keys in product(*by_tone)]
        if not choices:
            break
        best = max(choices)[1]
        out.append(Palette(name, *best))
        for key in best:
            del left[key]
    return out


def _steps(light: float, mid: float, dark: float) -> float:
    return min(light - mid, mid - dark)


def _strong(light: float, mid: float, dark: float) -> float:
    return light - dark + _steps(light, mid, dark)


def _quiet(light: float, mid: float, dark: float) -> float:
    return -(light - dark) if _steps(light, mid, dark) >= SOFT else -1000 + _steps(light, mid, dark)


def _even(light: float, mid: float, dark: float) -> float:
    return _steps(light, mid, dark)
