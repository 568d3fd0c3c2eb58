"""Which panels are worth their room: with a price on every row, those that serve rows for more than a panel costs.

A row is served by a panel for as many cells as it would have to change, so what a panel is worth is the sum, over the
rows that gain, of price less changes. Such panels are found column by column (``columns``) or row by row
(``growth``).
"""

from __future__ import annotations

from collections.abc import Generator, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ..solid import Floats, Ints
from .kinds import Kind

NEVER = 1e4
"""What changing a cell that must stay is taken to cost: more than any panel could be worth."""

Looking = Generator[tuple[int, float], None, Ints | None]
"""A search for panels, (p, c), a little at a time so that another may be asked instead. Each time it says how much it
looks at, and about how much is left to look at, infinite where that cannot be told. In the end there is what it found,
or None where it leads too far."""


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
