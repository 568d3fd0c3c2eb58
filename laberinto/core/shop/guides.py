"""How a router is led along a template, and how far the template's edge then lies from what is cut."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum


class Guided(StrEnum):
    """What runs along the template."""

    BUSH = "bush"
    BEARING = "bearing"

    @property
    def label(self) -> str:
        return {"bush": "a guide bush round the bit", "bearing": "a bearing as wide as the bit"}[self.value]


class CutWay(StrEnum):
    """Which way a router goes round what it cuts."""

    CLIMB = "climb"
    CONVENTIONAL = "conventional"

    @property
    def label(self) -> str:
        return {"climb": "climb: cleaner, pulls forward", "conventional": "conventional: against its turning"}[
            self.value
        ]


@dataclass(frozen=True, slots=True)
class Guide:
    """A guide bush of ``bush`` mm outside, or a bearing; ``bit`` is the straight bit used with it, mm."""

    way: Guided
    bush: float
    bit: float

    @property
    def offset(self) -> float:
        """From the template's edge to the edge of the cut, mm: half of what the bush is wider than the bit. A bearing
        runs where it cuts."""
        return (self.bush - self.bit) / 2 if self.way is Guided.BUSH else 0.0

    def passes(self, bit: float) -> bool:
        """Whether a bit of this diameter (mm) goes through the bush."""
        return bit < self.bush
