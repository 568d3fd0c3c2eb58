"""Whether wood is enough, answered quickly: strips laid onto pieces one after the other, without a search."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from ..needs import Need
from .master import TooManyMixesError, pricers, whole_plan
from .model import Aim, Saw, Stock
from .rooms import Task

DEAR = 20.0

GOES = 3
"""Plans tried with different orders of pieces."""


def quick(needs: Sequence[Need], stock: Sequence[Stock], saw: Saw) -> dict[str, int]:
    """Strips that found no wood, by wood; those of a wood that was enough are left out. It may miss a plan that a
    search would find, and never calls wood enough that is not."""
    short: dict[str, int] = {}
    for wood in sorted({need.wood for need in needs}):
        mine = [need for need in needs if need.wood == wood]
        pieces = [piece for piece in stock if piece.lot.wood == wood]
        if missing := _missing(Task(mine, pieces, saw, Aim.LEAST_WASTE)):
            short[wood] = missing
    return short


def _missing(task: Task) -> int:
    wanted = np.array([need.count for need in task.needs], np.int64)
    if not task.stock:
        return int(wanted.sum())
    try:
        there = pricers(task)
    except TooManyMixesError:
        return int(wanted.sum())
    # a strip is worth far more than the wood it takes, so that wood is never spared for its own sake
    prices = np.array([need.volume / need.count * 10 * DEAR for need in task.needs])
    least = int(wanted.sum())
    for go in range(GOES):
        dice = np.random.default_rng(go)
        made = sum((np.array(c.made) for c in whole_plan(task, there, prices, dice)), np.zeros_like(wanted))
        least = min(least, int(np.maximum(wanted - made, 0).sum()))
        if not least:
            break
    return least
