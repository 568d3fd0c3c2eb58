"""Which board? The same size as a plank, on edge and on end: what each costs follows from its wood and work."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from .along import Along, Lies
from .alternating import Alternating
from .model import Family

WIDE, LONG, THICK = 300.0, 400.0, 38.0
"""The size that all are compared at, mm."""


@dataclass(frozen=True, slots=True)
class Kind:
    """A kind of board: how it is made, and what that does to knives, looks and care."""

    key: str
    title: str
    made: str
    knives: str
    looks: str
    care: str
    family: str
    """The pattern with which it is planned here."""


KINDS: tuple[Kind, ...] = (
    Kind(
        "plank", "A plank", "One board, planed and finished; no glue at all.",
        "The edge runs across fibres that lie: it cuts them, and every cut stays to be seen.",
        "One wood, its figure large.", "Cups with the seasons; wants oil on both faces alike.", "along",
    ),
    Kind(
        "edge", "Edge grain", "Strips stood on edge and glued side by side; one glue-up.",
        "Kinder than a plank, since growth rings stand; cuts still cross fibres.",
        "Stripes, in one wood or several.", "Moves less than a plank; oil when it looks pale.", "along",
    ),
    Kind(
        "end", "End grain", "A panel cut into slices, stood up and glued again; flattening, long sanding.",
        "The edge goes between upright fibres, which close again: it stays sharp longest, and cuts hardly show.",
        "Blocks: checkers, chaos, weaves, pictures.", "Drinks much oil at first; never soaked, dried on edge.",
        "alternating",
    ),
)  # fmt: skip
"""From the plainest to the one with most work."""


def family_of(kind: Kind, **shop: Any) -> Family:
    """A board of the kind in the size that all are compared at, with a shop's allowances."""
    if kind.key == "end":
        return Alternating.of(
            strips=8, strip_width=40, row=40, slices=11, width=WIDE, length=LONG, thickness=THICK, **shop
        )
    count, lies = (1, Lies.FLAT) if kind.key == "plank" else (10, Lies.EDGE)
    edge = Along.of(**shop).edge
    return Along.of(
        strips=count, strip=(WIDE + 2 * edge) / count, lies=lies, long=LONG, thickness=THICK, light="beech",
        dark="plum", **shop,
    )  # fmt: skip
