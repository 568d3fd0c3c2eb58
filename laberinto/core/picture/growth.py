"""The panels worth having, found from the rows they serve: sets of rows grown one row at a time.

Of a set of t rows leave one out at random: the letter that most of them have in a column keeps its share, so that on
average the cells that s of the rows change are no more than s / t of what all change, and what the panel is worth falls
no faster. So from any set worth more than w, rows can be left out one by one with what is left always worth more than
s / t · w. Growing only sets that are worth that much, t being all rows, finds every one; in noise they are few.
"""

from __future__ import annotations

from math import inf

import numpy as np
from numpy.typing import NDArray

from ..solid import Floats, Ints
from .pricing import Looking, Pay

MOST_KINDS = 31
"""More kinds of rows than this, each either way round, do not fit a number's bits."""

MOST_SETS = 20_000_000
"""So many sets are grown."""

LOOSE = 4_000_000
"""So many sets that may come more than once are held before they are sorted out."""

BATCH = 256
"""So many sets are grown at a time: what is worked on then stays in the processor's cache."""

CLASH = 800
"""What changing a cell that must stay is taken to cost here, where sums are to fit small numbers."""

Sets = NDArray[np.int64]
"""Each bit is a kind of rows as it lies, or farther up end for end; the lowest kind of a set always as it lies."""


def grown(pay: Pay, prices: Floats, least: float) -> Looking:
    """All panels that are worth more than ``least`` to the rows that they serve best, (p, c); None where there are too
    many sets to grow. On the way it says how much it did."""
    ways, kinds = pay.cells.shape[2:]
    if kinds > MOST_KINDS:
        return None
    # by column and letter, what each kind pays as it lies and then what each pays end for end
    table = np.minimum(pay.cells, CLASH).astype(np.int16).reshape(*pay.cells.shape[:2], ways * kinds)
    price = np.tile(prices, ways)
    sets, total = np.int64(1) << np.arange(kinds), 0
    found: list[Ints] = []
    for size in range(2, kinds + 1):
        bar = size / kinds * least
        larger, loose = [np.zeros(0, np.int64)], 0
        for at in range(0, len(sets), BATCH):
            some = sets[at : at + BATCH]
            larger.append(_with_one_more(some, table, price, bar, kinds))
            yield len(some) * len(price) // 3, inf  # each takes about as long as a beginning in ``columns``
            loose += len(larger[-1])
            if loose > LOOSE or at + BATCH >= len(sets):
                every = np.concatenate(larger)
                yield len(every) // 4, inf
                larger, loose = [np.unique(every)], 0
        sets = larger[0]
        total += len(sets)
        if not len(sets):
            break
        if total > MOST_SETS:
            return None
        for at in range(0, len(sets), BATCH):
            paid, worth = _paid(sets[at : at + BATCH], table, price)
            if bool((good := worth - paid.min(axis=1).sum(axis=0) > least).any()):
                panels = np.empty((int(good.sum()), len(table)), np.int64)
                panels[:, pay.columns] = paid[:, :, good].argmin(axis=1).T
                found.append(panels)
    return np.unique(np.concatenate(found), axis=0) if found else np.zeros((0, len(table)), np.int64)


def _paid(sets: Sets, table: NDArray[np.int16], price: Floats) -> tuple[NDArray[np.int16], Floats]:
    """What sets pay for each letter of each column, (c, letters, p), and the prices of their rows together, (p,)."""
    there = (sets >> np.arange(len(price))[:, None] & 1).astype(np.float32)
    paid = table.reshape(-1, len(price)).astype(np.float32) @ there
    return paid.astype(np.int16).reshape(*table.shape[:2], len(sets)), np.asarray(price @ there)


def _with_one_more(sets: Sets, table: NDArray[np.int16], price: Floats, bar: float, kinds: int) -> Sets:
    """Every set with every further row that leaves it worth more than ``bar``; some come more than once."""
    paid, worth = _paid(sets, table, price)
    cost = np.zeros((len(sets), len(price)), np.int16)
    for column, theirs in zip(paid, table, strict=True):
        least = column[0][:, None] + theirs[0]
        for letter in range(1, len(theirs)):
            np.minimum(least, column[letter][:, None] + theirs[letter], out=least)
        cost += least
    either = sets | (sets >> kinds) | (sets << kinds)
    free = (either[:, None] >> np.arange(len(price)) & 1) == 0
    one, row = np.nonzero((worth[:, None] + price - cost > bar) & free)
    return _upright(sets[one] | (np.int64(1) << row), kinds)


def _upright(sets: Sets, kinds: int) -> Sets:
    """The same sets turned so that the lowest kind of each lies as it is."""
    lying, turned = sets & ((1 << kinds) - 1), sets >> kinds
    low = (lying | turned) & -(lying | turned)
    return np.where(turned & low > 0, turned | lying << kinds, sets)
