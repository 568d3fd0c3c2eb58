"""How much oil a board takes, from what it weighs before and after each round."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from itertools import pairwise

NOTHING = 0.1
"""A round that takes up this share of what the first did brings nothing more."""

SPARE = 0.05
"""Nor does one that takes up less than this, g a dm²."""


@dataclass(frozen=True, slots=True)
class Uptake:
    """Grams a dm² of surface, round by round; below 0 where a weight fell."""

    rounds: tuple[float, ...]

    @classmethod
    def of(cls, weights: Sequence[float], area: float) -> Uptake:
        """From weights in kg, the first before any oil, and the board's surface in dm²."""
        return cls(tuple((after - before) * 1000 / area for before, after in pairwise(weights)))

    @property
    def full(self) -> bool:
        """Whether another round brings nothing."""
        if not self.rounds or self.rounds[-1] < 0:
            return False
        return self.rounds[-1] < max(SPARE, NOTHING * self.rounds[0]) and len(self.rounds) > 1

    def words(self) -> Iterator[str]:
        """What the weights say."""
        if not self.rounds:
            return
        taken = ", ".join(f"{each:.2g} g" for each in self.rounds)
        yield f"Taken up a dm², round by round: {taken}."
        if self.rounds[-1] < 0:
            yield "It weighs less than before: it was not dry then, or the scale moved. Weigh it once more."
        elif self.full:
            yield "Another round brings nothing."
