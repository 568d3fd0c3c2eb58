"""Which panels are worth their room: with a price on every row, those that serve rows for more than a panel costs.

A row is served by a panel for as many cells as it would have to change, so what a panel is worth is the sum, over the
rows that gain, of price less changes. The search builds panels column by column and drops a beginning as soon as the
rows that can still gain would not make it worth enough.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ..solid import Floats, Ints
from .kinds import Kind

NEVER = 1e4
"""What changing a cell that must stay is taken to cost: more than any panel could be worth."""

BATCH = 16_384
"""So many beginnings are looked at together."""

Codes = NDArray[np.int64]
"""Panels as numbers: their letters are the digits, in the order the columns are looked at, the first the highest."""


@dataclass(frozen=True, slots=True)
class Pay:
    """``cells`` (c, letters, ways, n) is what each of n kinds of rows pays for each letter in each column, as it lies
    or end for end; ``columns`` (c,) the order in which columns are looked at: each with its mirror image."""

    cells: NDArray[np.float32]
    columns: Ints

    @classmethod
    def of(cls, kinds: Sequence[Kind], letters: int, *, even: bool) -> Pay:
        """Of kinds that have the same height."""
        count = len(kinds[0].letters)
        cells = np.empty((count, letters, 2 if even else 1, len(kinds)), np.float32)
        for n, kind in enumerate(kinds):
            dear = np.full(count, float(len(kind.rows)))
            dear[list(kind.kept)] = NEVER
            alone = dear[:, None] * (kind.letters[:, None] != np.arange(letters))
            cells[:, :, 0, n] = alone
            if even:
                cells[:, :, 1, n] = alone[::-1]
        half = [column for at in range(count // 2) for column in (at, count - 1 - at)]
        columns = np.array([*half, *([count // 2] if count % 2 else [])])
        return cls(cells[columns], columns)

    @property
    def letters(self) -> int:
        return int(self.cells.shape[1])

    def changes(self, panels: Ints) -> tuple[Floats, Ints]:
        """How many cells each kind changes for each panel (p, c), (p, n), and which way round."""
        ways = np.zeros((len(panels), *self.cells.shape[2:]), np.float32)
        for at, column in enumerate(self.columns):
            ways += self.cells[at, panels[:, column]]
        return ways.min(axis=1).astype(float), ways.argmin(axis=1)

    def improved(self, panels: Ints, prices: Floats, rounds: int = 6) -> Ints:
        """Each panel changed again and again to what suits those rows best that gain by it."""
        for _ in range(rounds):
            changes, way = self.changes(panels)
            weight = np.zeros((len(panels), *self.cells.shape[2:]), np.float32)
            np.put_along_axis(weight, way[:, None], (changes < prices)[:, None], axis=1)
            paid = np.einsum("clwn,pwn->pcl", self.cells, weight, optimize=True)
            panels = np.empty_like(panels)
            panels[:, self.columns] = paid.argmin(axis=2)
        return panels

    def worth(self, panels: Ints, prices: Floats) -> Floats:
        """What each panel is worth, (p,)."""
        return np.asarray(np.maximum(prices - self.changes(panels)[0], 0.0).sum(axis=1))

    def above(self, prices: Floats, least: float, most: int, go_on: Callable[[int], bool]) -> Ints | None:
        """All panels that are worth more than ``least``, (p, c), or more than ``most`` of them; none where there are
        none. Of a panel and its reverse there is one. None where ``go_on``, which is told how many beginnings were
        looked at last, says no."""
        price, depth, mirrors = prices.astype(np.float32), len(self.cells), self.cells.shape[2] > 1
        found: list[Codes] = []
        stack = [(0, np.zeros((1, *self.cells.shape[2:]), np.float32), np.zeros(1, np.int64), np.ones(1, bool))]
        while stack and sum(map(len, found)) <= most:
            at, paid, code, tied = stack.pop()
            if at == depth:
                found.append(code)
                continue
            if not go_on(len(code) * self.letters):
                return None
            paid = (paid[:, None] + self.cells[at]).reshape(-1, *paid.shape[1:])
            code = (code[:, None] * self.letters + np.arange(self.letters)).reshape(-1)
            tied = tied.repeat(self.letters)
            worth = np.maximum(price - paid.min(axis=1), 0).sum(axis=1)
            hopeful = worth > least
            if mirrors and at % 2:  # both of two mirrored columns are set
                first, second = code // self.letters % self.letters, code % self.letters
                hopeful &= ~tied | (first <= second)
                tied &= first == second
            kept = np.flatnonzero(hopeful)
            for some in np.split(kept, range(BATCH, len(kept), BATCH)):
                if len(some):
                    stack.append((at + 1, paid.take(some, axis=0), code[some], tied[some]))
        return self._read(np.concatenate(found) if found else np.zeros(0, np.int64))

    def _read(self, codes: Codes) -> Ints:
        """The letters of panels, (p, c)."""
        out = np.empty((len(codes), len(self.cells)), np.int64)
        for column in self.columns[::-1]:
            out[:, column] = codes % self.letters
            codes = codes // self.letters
        return out
