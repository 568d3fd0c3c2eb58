"""What boards say together: hours and money as planned and as they were, waste, woods and faults, over time."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass
from datetime import datetime
from enum import StrEnum


class Real(StrEnum):
    """What is written down of a finished board as it really was."""

    HOURS = "hours"
    PRICE = "price"

    @property
    def label(self) -> str:
        return {"hours": "hours of hands", "price": "price got"}[self.value]

    @property
    def key(self) -> str:
        """What its notes stand under; no step of a plan goes by that."""
        return f"-real.{self.value}"


@dataclass(frozen=True, slots=True)
class Made:
    """A board that is begun or finished: hours and money as planned, as they were (None where nobody wrote it down),
    and what was found on it. ``finished`` is None as long as something is left to do. Woods are litres taken; faults
    are the kind of each, and ``mending`` the minutes that they took."""

    id: int
    name: str
    begun: datetime
    finished: datetime | None
    hours: float
    price: float
    materials: float
    waste: float
    woods: dict[str, float]
    real_hours: float | None = None
    got: float | None = None
    faults: tuple[str, ...] = ()
    mending: float = 0.0

    @property
    def month(self) -> str:
        """The month in which it was finished, ``2026-03``; "" where it is not."""
        return self.finished.strftime("%Y-%m") if self.finished else ""

    @property
    def an_hour(self) -> float | None:
        """What an hour earned: the price got less materials, over the hours it took."""
        if self.got is None or not self.real_hours:
            return None
        return (self.got - self.materials) / self.real_hours


@dataclass(frozen=True, slots=True)
class Sum:
    """Some boards added up. What was written down of some alone is set against what was planned of the same."""

    boards: int
    hours: float
    real_hours: float
    price: float
    got: float
    waste: float
    an_hour: float | None


def added(boards: Sequence[Made]) -> Sum:
    """Hours of those whose hours are known, money of those whose price is, waste on average."""
    timed = [one for one in boards if one.real_hours is not None]
    sold = [one for one in boards if one.got is not None]
    both = [one for one in sold if one.real_hours]
    worked = sum(one.real_hours or 0.0 for one in both)
    return Sum(
        len(boards), sum(one.hours for one in timed), sum(one.real_hours or 0.0 for one in timed),
        sum(one.price for one in sold), sum(one.got or 0.0 for one in sold),
        sum(one.waste for one in boards) / len(boards) if boards else 0.0,
        sum((one.got or 0.0) - one.materials for one in both) / worked if worked else None,
    )  # fmt: skip


def months(boards: Iterable[Made]) -> list[tuple[str, list[Made]]]:
    """Finished boards by the month in which they were, the earliest first; months without any in between too."""
    groups: dict[str, list[Made]] = {}
    for one in boards:
        if one.month:
            groups.setdefault(one.month, []).append(one)
    if not groups:
        return []
    year, month = (int(part) for part in min(groups).split("-"))
    out = []
    while (name := f"{year:04d}-{month:02d}") <= max(groups):
        out.append((name, groups.get(name, [])))
        year, month = (year + 1, 1) if month == 12 else (year, month + 1)
    return out


def woods(boards: Iterable[Made]) -> list[tuple[str, float]]:
    """Litres of each wood, the most first."""
    total: dict[str, float] = {}
    for one in boards:
        for key, litres in one.woods.items():
            total[key] = total.get(key, 0.0) + litres
    return sorted(total.items(), key=lambda line: -line[1])


def faults(boards: Iterable[Made]) -> list[tuple[str, int]]:
    """On how many boards each kind of fault was found, the most frequent first."""
    return Counter(kind for one in boards for kind in set(one.faults)).most_common()


CHOICES: dict[str, Callable[[Made, str], bool]] = {
    "month": lambda one, value: one.month == value,
    "wood": lambda one, value: value in one.woods,
    "fault": lambda one, value: value in one.faults,
}
"""What a figure may be opened by: boards of a month, of a wood, with a fault."""
