"""What a shop learns: how far readings are off what was planned, by machine and by what was measured."""

from __future__ import annotations

import statistics
from collections.abc import Iterable
from dataclasses import dataclass

from ..plan.model import Plan
from ..shop import Shop
from .measured import Quantity, quantities

ENOUGH = 5
"""So many readings say something about a machine."""

WORTH = 0.1
"""An offset of less, mm, is not worth a word."""


@dataclass(frozen=True, slots=True)
class Learned:
    """Readings of one kind: what, with which machine, and how far each was off the plan, in mm or minutes; ``field`` is
    the shop's own figure of it, where it has one, and ``values`` what was read."""

    what: str
    machine: str
    offs: tuple[float, ...]
    unit: str = "mm"
    field: str = ""
    values: tuple[float, ...] = ()

    @property
    def median(self) -> float:
        """The offset in the middle of all."""
        return statistics.median(self.offs)

    def better(self, shop: Shop) -> float | None:
        """What the shop should reckon with; None where it does, has no such figure, or too little is known."""
        if not self.field or len(self.offs) < ENOUGH:
            return None
        found = round(statistics.median(self.values), 2)
        return found if abs(found - getattr(shop, self.field)) >= WORTH else None

    @property
    def spread(self) -> float:
        """Half of all readings lie within this much of each other: the distance between the quartiles."""
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
    groups: dict[tuple[str, str, str], list[tuple[float, float]]] = {}
    for plan, key, what, measured, planned in readings:
        stage_id, _, step = key.partition(".")
        if stage_id not in {stage.id for stage in plan.stages}:
            continue
        for quantity in _meant(quantities(plan, stage_id, step), what):
            machine = plan.stage(stage_id).machine
            field = "kerf" if quantity.key == "kerf" else ""
            groups.setdefault((quantity.label, machine, field), []).append((round(measured - planned, 6), measured))
    found = [
        Learned(what, machine, tuple(off for off, _ in read), field=field, values=tuple(value for _, value in read))
        for (what, machine, field), read in groups.items()
    ]
    return sorted(found, key=lambda one: (not one.telling, -len(one.offs), one.what))


SAWN = ("cut", "saw")
"""What the keys of steps end in at which a piece is a cut."""


def cut_minutes(tallies: Iterable[tuple[str, float]], shop: Shop) -> list[Learned]:
    """How long a saw cut took (the step's key, and minutes for a piece) against what the shop reckons with."""
    took = tuple(minutes for key, minutes in tallies if key.rpartition(".")[2] in SAWN)
    offs = tuple(round(minutes - shop.minutes_cut, 6) for minutes in took)
    one = Learned("minutes a saw cut", "as counted at the bench", offs, "min", "minutes_cut", took)
    return [one] if took else []


def _meant(there: Iterable[Quantity], key: str) -> list[Quantity]:
    """The length that a reading is of: the one of that name, or the first where it has none."""
    lengths = [one for one in there if one.unit == "mm" and one.put is not None]
    return [one for one in lengths if one.key == key] if key else lengths[:1]
