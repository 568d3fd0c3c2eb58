"""Kinds of glue for boards, and how warmth and dry air shorten the time to work with them.

The times are typical of each kind, at 20 °C and in air of 50 %; the label of the glue decides. That chemistry runs
twice as fast for ten degrees more is the rule of van 't Hoff; that dry air takes a PVA glue's water sooner is a rule of
thumb, and so is how much.
"""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

USUAL_AIR, USUAL_DAMP = 20.0, 50.0
"""°C and % at which labels state their times."""


@dataclass(frozen=True, slots=True)
class Squeeze:
    """What becomes of glue that is squeezed out: what to do with it, and between which minutes it is ready for that."""

    do: str
    least: float
    most: float


@dataclass(frozen=True, slots=True)
class Times:
    """Minutes from the first spread until the last joint must be closed; the coldest it sets at, °C; and whether it
    sets by giving off water."""

    open: float
    coldest: float
    by_water: bool


class GlueKind(StrEnum):
    """Waterproof glues that boards are made with."""

    PVA = "pva"
    SLOW_PVA = "slow-pva"
    POLYURETHANE = "polyurethane"
    EPOXY = "epoxy"

    @property
    def label(self) -> str:
        return {
            "pva": "waterproof PVA glue", "slow-pva": "slow waterproof PVA glue", "polyurethane": "polyurethane glue",
            "epoxy": "slow epoxy",
        }[self.value]  # fmt: skip

    @property
    def squeeze(self) -> Squeeze:
        """What is done with what is squeezed out, and when, at 20 °C."""
        return _SQUEEZE[self]

    @property
    def times(self) -> Times:
        """What is typical of it."""
        return _TIMES[self]


_TIMES = {
    GlueKind.PVA: Times(10, 10, by_water=True),
    GlueKind.SLOW_PVA: Times(20, 10, by_water=True),
    GlueKind.POLYURETHANE: Times(20, 5, by_water=False),
    GlueKind.EPOXY: Times(45, 12, by_water=False),
}

_SQUEEZE = {
    GlueKind.PVA: Squeeze("Scrape squeeze-out off when it is rubbery", 60, 120),
    GlueKind.SLOW_PVA: Squeeze("Scrape squeeze-out off when it is rubbery", 90, 180),
    GlueKind.POLYURETHANE: Squeeze("Leave the foam alone until it is hard, then pare it off", 240, 480),
    GlueKind.EPOXY: Squeeze("Take squeeze-out off with a card while it is wet; pare off the rest when it is like hard "
                            "rubber", 180, 360),
}  # fmt: skip

TWICE = 10.0
"""So many degrees more halve a time."""

DRYING = 100.0
"""A PVA glue's time is shorter by one percent for each percent of so many that the air is drier than usual."""


def pace(kind: GlueKind, air: float, damp: float) -> float:
    """By what a time on the label is to be multiplied in air of so many °C and %; never more than doubled, since no
    cold makes up for glue that does not set."""
    warmth = 2 ** ((USUAL_AIR - air) / TWICE)
    water = 1 + (damp - USUAL_DAMP) / DRYING if kind.times.by_water else 1.0
    return float(min(max(warmth * water, 0.1), 2.0))
