"""How woods read against each other: lightness, and the contrast between neighbours.

Lightness is L* of CIE 1976 (0 black to 100 white, D65), from sRGB by IEC 61966-2-1.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

from . import Wood

READS, SOFT = 18.0, 9.0
"""Difference in L* from which two woods tell apart across a kitchen, and at arm's length: our own judgement."""


def lightness(colour: str) -> float:
    """L* of an sRGB colour like ``#c6925f``."""
    red, green, blue = (_linear(int(colour[k : k + 2], 16) / 255) for k in (1, 3, 5))
    y = 0.2126 * red + 0.7152 * green + 0.0722 * blue
    return 116 * y ** (1 / 3) - 16 if y > 216 / 24389 else y * 24389 / 27


def _linear(value: float) -> float:
    return value / 12.92 if value <= 0.04045 else float(((value + 0.055) / 1.055) ** 2.4)


@dataclass(frozen=True, slots=True)
class Contrast:
    """The two woods that tell apart least, their difference in L*, and what that means."""

    one: str
    other: str
    difference: float

    @property
    def words(self) -> str:
        """What the difference means to the eye."""
        if self.difference >= READS:
            return "reads across a room"
        return "soft, reads close up" if self.difference >= SOFT else "runs together"


def contrast(woods: Sequence[Wood], finish: str) -> Contrast | None:
    """The weakest contrast between any two of some woods, raw or oiled; None for fewer than two."""
    by_tone = sorted(woods, key=lambda wood: lightness(wood.colour(finish)))
    pairs = [
        Contrast(a.key, b.key, lightness(b.colour(finish)) - lightness(a.colour(finish))) for a, b in pairwise(by_tone)
    ]
    return min(pairs, key=lambda pair: pair.difference, default=None)
