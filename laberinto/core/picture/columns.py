"""The panels worth having, found column by column.

A beginning of a panel has letters in the first columns. What a row pays for the rest of them is not known, but it adds
up from column to column, and what the row gains, the price less what it pays or nothing, is convex in what it pays. So
a straight line that lies above the gain at the least and at the most that the rest can cost lies above it everywhere,
and the lines of all rows together are highest where every column by itself has the letter that suits them best. A
beginning for which that is not enough is dropped with all its ends (the bound of Falk and Soland, Management Science
15, 1969, for sums of terms that bend one way).

A row that may lie either way round gains by the way it pays less. Of the R columns left, U suit it differently either
way: such a column costs at least 1 one way. With s and t left to gain the two ways, s ≥ t, the plane
s + U b − a · paid this way − b · paid that way lies above the gain wherever 0 ≤ b, a + b ≤ 1, U (a − b) ≤ s − t and
R a ≤ s − (R − U) b, since it does at the corners of what the rest can cost. Both slopes are as steep as that lets them.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from math import inf

import numpy as np
from numpy.typing import NDArray

from ..solid import TAKE, Bools, Floats, Ints
from .pricing import Looking, Pay

BATCH = 2048
"""So many beginnings are looked at together: what is worked on then stays in the processor's cache."""

SLACK = 1e-3
"""Sums of small floats are off by less; what is found is looked at again."""

OUT = -1e6
"""What is left to gain end for end where rows cannot lie so."""

Singles = NDArray[np.float32]


def above(pay: Pay, prices: Floats, least: float, most: int) -> Looking:
    """All panels that are worth more than ``least``, (p, c), or more than ``most`` of them; none where there are none.
    Of a panel and its reverse there is one. On the way it says how many beginnings it looks at."""
    search = _Search(pay, prices, least - SLACK)
    found: list[Ints] = []
    stack, looked = [search.start()], 0
    while stack and sum(map(len, found)) <= most:
        share = sum(len(one) * float(pay.letters) ** -one.at for one in stack)  # of all panels, not yet decided on
        some = stack.pop()
        looked += (now := int(some.hopeful.sum()))
        yield now, looked * share / (1 - share) if share < 1 else inf
        longer = search.longer(some)
        if longer.at == search.depth:
            panels = np.empty((len(longer), search.depth), np.int64)
            panels[:, pay.columns] = longer.letters.T
            found.append(panels[pay.worth(panels, prices) > least])
        else:
            stack += longer.split()
    return np.concatenate(found) if found else np.zeros((0, search.depth), np.int64)


@dataclass(frozen=True, slots=True)
class _Beginnings:
    """Panels up to the column ``at``: ``paid`` (n, p) is what each kind of rows pays so far, as ``_Search`` counts it;
    ``letters`` (c, p) are those of the first columns; ``tied`` (p,) says whether these read the same from both ends,
    and ``hopeful`` (letters, p) which may come next."""

    at: int
    paid: Ints
    letters: NDArray[np.uint8]
    tied: Bools
    hopeful: Bools

    def __len__(self) -> int:
        return len(self.tied)

    def split(self) -> Iterator[_Beginnings]:
        for start in range(0, len(self), BATCH):
            some = slice(start, start + BATCH)
            yield _Beginnings(
                self.at, self.paid[:, some], self.letters[:, some], self.tied[some], self.hopeful[:, some]
            )


class _Search:
    """Building panels worth more than ``least`` at some prices. Kinds count in what one of their cells costs; what they
    pay both ways is one number, by which all that follows from it is looked up."""

    def __init__(self, pay: Pay, prices: Floats, least: float) -> None:
        self.depth, self._letters, self._ways, kinds = pay.cells.shape
        self._least = least
        self._cell = np.where(pay.cells > 0, pay.cells, np.inf).min(axis=(0, 1, 2)).astype(float)
        self._prices = prices / self._cell
        costs = pay.cells > 0
        never = pay.cells > self._cell  # cells that must stay: dearer than all others of the row together
        self._never, self._some_never = self.depth + 1, bool(never.any())
        self._size = 2 * self._never + 1 if self._some_never else self.depth + 1
        steps = np.where(never, self._never, costs).astype(np.int64)
        self._steps = steps[:, :, 0] * self._size + (steps[:, :, 1] if self._ways > 1 else 0)
        self._costs = costs.astype(np.float32).reshape(self.depth, self._letters, -1)
        self._unlike = np.cumsum((costs[:, :, 0] != costs[:, :, -1]).any(axis=1)[::-1], axis=0)[::-1]
        self._first = np.arange(kinds) * self._size**2
        self._planes: dict[int, list[Singles]] = {}
        # a way that cannot be gone any more stays that, whatever else it would cost
        one = np.minimum(np.arange(self._size), self._never)
        self._capped = (self._first[:, None, None] + one[:, None] * self._size + one).ravel()

    def start(self) -> _Beginnings:
        """The one of no letters."""
        none, any_ = np.zeros((self.depth, 1), np.uint8), np.ones((self._letters, 1), bool)
        return _Beginnings(0, self._first[:, None], none, np.ones(1, bool), any_)

    def longer(self, some: _Beginnings) -> _Beginnings:
        """All hopeful beginnings with one letter more; those without hope are left out."""
        at, paid, letters, tied = some.at, [], [], []
        twin = some.letters[at - 1] if at % 2 else None  # what the mirrored column has
        for letter, hopeful in enumerate(some.hopeful):
            mine = np.flatnonzero(hopeful)
            paid.append(some.paid.take(mine, axis=1, mode=TAKE) + self._steps[at, letter][:, None])
            letters.append(some.letters.take(mine, axis=1))
            letters[-1][at] = letter
            tied.append(some.tied[mine] if twin is None else some.tied[mine] & (twin[mine] == letter))
        now = np.concatenate(paid, axis=1)
        if self._some_never:
            now = self._capped.take(now)
        return self._still_hopeful(at + 1, now, np.concatenate(letters, axis=1), np.concatenate(tied))

    def _still_hopeful(self, at: int, paid: Ints, letters: NDArray[np.uint8], tied: Bools) -> _Beginnings:
        top, *slopes = self._planes_at(at)
        worth = top.take(paid, mode=TAKE).sum(axis=0)
        if at == self.depth:
            hopeful = (worth > self._least)[None]
        else:
            slope = np.concatenate([each.take(paid, mode=TAKE) for each in slopes])
            cost = (self._costs[at:].reshape(-1, len(slope)) @ slope).reshape(-1, self._letters, len(tied))
            least = cost.min(axis=1)
            hopeful = worth - least[1:].sum(axis=0) - cost[0] > self._least
            if at % 2 and self._ways > 1:  # of a panel and its reverse the one whose letter comes first
                hopeful &= ~tied | (np.arange(self._letters)[:, None] >= letters[at - 1])
        kept = np.flatnonzero(hopeful.any(axis=0))
        return _Beginnings(
            at, paid.take(kept, axis=1, mode=TAKE), letters.take(kept, axis=1), tied[kept], hopeful[:, kept]
        )

    def _planes_at(self, at: int) -> list[Singles]:
        """For whatever kinds may have paid by a column: how high their planes lie, and the slopes of each way."""
        if at not in self._planes:
            this = self._prices[:, None] - np.arange(self._size, dtype=float)
            one, other = this[:, :, None], this[:, None, :] if self._ways > 1 else np.full((1, 1, self._size), OUT)
            high, low = np.maximum(np.maximum(one, other), 0.0), np.minimum(one, other)
            left = max(self.depth - at, 1)
            unlike = self._unlike[at][:, None, None] if at < self.depth else np.zeros(1)
            apart = np.minimum((high - low) / np.maximum(unlike, 1e-9), 1.0)
            lesser = np.clip((high - left * apart) / (2 * left - unlike), 0.0, (1.0 - apart) / 2)
            greater = np.minimum(high / left, lesser + apart)
            first = one >= other
            planes = (high + unlike * lesser, np.where(first, greater, lesser), np.where(first, lesser, greater))
            cell = self._cell[:, None, None]
            self._planes[at] = [(plane * cell).astype(np.float32).ravel() for plane in planes[: 1 + self._ways]]
        return self._planes[at]
