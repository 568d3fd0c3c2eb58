"""What a shop learns: how far readings are off what was planned, by machine and by what was measured."""

from __future__ import annotations

import statistics
from collections.abc import Iterable
from dataclasses import dataclass

from ..plan.model import Plan
from .measured import Quantity, quantities

ENOUGH = 5
"""So many readings say something about a machine."""

WORTH = 0.1
"""An offset of less, mm, is not worth a word."""


@dataclass(frozen=True, slots=True)
class Learned:
    """Readings of one kind: what, with which machine, and how far each was off the plan, mm."""

    what: str
    machine: str
    offs: tuple[float, ...]

    @property
    def median(self) -> float:
        """The offset in the middle of all, mm."""
        return statistics.median(self.offs)

    @property
    def spread(self) -> float:
        """Half of all readings lie within this much of each other, mm: the distance between the quartiles."""
        if len(self.offs) < 2:
            return 0.0
        low, _, high = statistics.quantiles(self.offs, n=4, method="inclusive")
        return high - low

    @property
    def telling(self) -> bool:
        """Whether there are enough, and they are off by what is worth a word."""
        return len(self.offs) >= ENOUGH and abs(self.median) >= WORTH


def learned(readings: Iterable[tuple[Plan, str, str, float, float]]) -> list[Learned]:
    """Readings (the board's plan, the step's key, the quantity's or "" for the step's own, what was measured and what
    was planned) put together by machine and quantity, lengths alone, the most telling first. What the plan has no
    quantity for any more is left out."""
    groups: dict[tuple[str, str], list[float]] = {}
    for plan, key, what, measured, planned in readings:
        stage_id, _, step = key.partition(".")
        if stage_id not in {stage.id for stage in plan.stages}:
            continue
        for quantity in _meant(quantities(plan, stage_id, step), what):
            machine = plan.stage(stage_id).machine
            groups.setdefault((quantity.label, machine), []).append(round(measured - planned, 6))
    found = [Learned(what, machine, tuple(offs)) for (what, machine), offs in groups.items()]
    return sorted(found, key=lambda one: (not one.telling, -len(one.offs), one.what))


def _meant(there: Iterable[Quantity], key: str) -> list[Quantity]:
    """The length that a reading is of: the one of that name, or the first where it has none."""
    lengths = [one for one in there if one.unit == "mm" and one.put is not None]
    return [one for one in lengths if one.key == key] if key else lengths[:1]
