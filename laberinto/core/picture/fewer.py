"""With at most k panels: the fewest cells to change so that a picture needs no more.

Panels are found by what they are worth to the rows (``generation``) and chosen from (``master``). Mostly that ends
with proof that no fewer cells would do. Where there is too much to look at there is the best that was found, and a
number that no way gets below.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Collection
from dataclasses import dataclass

import numpy as np

from ..errors import InputError
from .generation import MOST_LISTED, ROUNDING, ColumnPool, Priced, least_in_parts, priced
from .grid import LETTERS, Picture
from .kept import kept_apart
from .kinds import Cluster, Kind
from .master import choose, swapped
from .panels import panels

MOST_LOOKS = 1_200_000_000
"""So many beginnings of panels are looked at; some ten minutes."""

CHOOSING, CHOOSING_LAST = 1_000, 40_000
"""Branches that a choice on the way may look at, and the last one."""

GRACE = 0.1
"""Where proof was too much work, so much of it more goes into a number that no way gets below."""

Cell = tuple[int, int]
"""Row and column, from 0."""


@dataclass(frozen=True, slots=True)
class Fewer:
    """A picture that needs fewer panels, the cells that changed to what, and how many must at the least."""

    picture: Picture
    cells: dict[Cell, str]
    bound: int

    @property
    def proven(self) -> bool:
        """Whether no fewer cells would do."""
        return len(self.cells) <= self.bound


def with_at_most(
    picture: Picture,
    k: int,
    keep: Collection[Cell] = (),
    *,
    looks: int = MOST_LOOKS,
    tell: Callable[[int], bool] = lambda _changed: True,
) -> Fewer:
    """The picture changed in the fewest cells so that k panels make it. Cells in ``keep`` stay as they are. At
    most ``looks`` beginnings of panels are looked at, a measure that is the same on every machine; ``tell`` hears how
    many cells the best way so far changes, and says whether to go on.

    Raises InputError where rows of different heights or kept cells need more panels than k.
    """
    if len(panels(picture)) <= k:
        return Fewer(picture, {}, 0)
    heights = len(set(picture.heights))
    if k < heights:
        raise InputError(
            f"Rows of {heights} heights need {heights} panels at the least, since a panel has one thickness. Ask for "
            f"{heights} or more.", "most",
        )  # fmt: skip
    kinds = _kinds(picture, keep)
    start = kept_apart(kinds, k, even=picture.even)
    if start is None:
        raise InputError(
            f"The cells that must stay as they are need more than {k} panels. Set some of them free, or allow more "
            "panels.", "most",
        )  # fmt: skip
    pool = ColumnPool(kinds, len(picture.woods), even=picture.even)
    search = _Search(pool, k, pool.nearest([pool.take(panel, kind) for panel, kind in start]), looks, tell)
    search.run()
    return _changed(picture, kinds, search.best, 0 if _may_flip(picture) else search.bound)


def _may_flip(picture: Picture) -> bool:
    """Whether slices of some panel could be flipped although columns are not as wide from the left as from the right:
    its strips then begin where columns begin from either side. Such panels are not searched, so nothing is proven."""
    edges = np.round(np.cumsum([0.0, *picture.widths]), 4)
    mirrored = np.round(edges[-1] - edges, 4)
    return not picture.even and len(np.intersect1d(edges, mirrored)) > 2


def _kinds(picture: Picture, keep: Collection[Cell]) -> list[Kind]:
    """Rows with the same letters, height and kept cells need not be told apart."""
    found: dict[tuple[str, float, frozenset[int]], list[int]] = {}
    for row, text in enumerate(picture.rows):
        kept = frozenset(column for at, column in keep if at == row)
        found.setdefault((text, picture.heights[row], kept), []).append(row)
    return [
        Kind(np.array([LETTERS.index(letter) for letter in text]), tuple(rows), height, kept)
        for (text, height, kept), rows in found.items()
    ]


class _Search:
    """``best`` is the best way so far with panels of the pool; no way at all changes fewer cells than ``bound``."""

    def __init__(self, pool: ColumnPool, k: int, best: list[Cluster], looks: int, tell: Callable[[int], bool]) -> None:
        self._pool, self._k, self._tell = pool, k, tell
        self._most, self._looks = looks, looks
        self.best, self.bound = best, 0

    @property
    def cost(self) -> int:
        return sum(one.cost for one in self.best)

    def run(self) -> None:
        """Better the best way and the bound until they meet, or as long as there is work left and someone listens."""
        found = priced(self._pool, self._k, self._go_on, self._beaten)
        self._beaten(found)
        if found.least is None:
            self._looks = round(self._most * GRACE)
            self.bound = min(least_in_parts(self._pool, self._k, self._go_on), self.cost)
            return
        self.bound = min(math.ceil(found.least - ROUNDING), self.cost)
        if self.bound < self.cost:
            self._list(found)

    def _list(self, found: Priced) -> None:
        """Choose from all panels that a better way could have in it."""
        all_ = found.listed
        if not all_:
            _, all_ = self._pool.search(found.prices, found.worth_for(self.cost - 1), MOST_LISTED, self._go_on)
        better = choose(self._pool, self._k, found, self.cost - 1, CHOOSING_LAST)
        self.best = better.clusters or self.best
        if all_ and better.certain:
            self.bound = self.cost

    def _beaten(self, now: Priced) -> int:
        """How many changes are to be beaten, once the panels known so far were chosen from."""
        quick = self._pool.nearest(swapped(self._pool.changes, self._k))
        self.best = min(self.best, quick, key=lambda way: sum(one.cost for one in way))
        if math.ceil(now.value - ROUNDING) < self.cost:
            self.best = choose(self._pool, self._k, now, self.cost - 1, CHOOSING).clusters or self.best
        return self.cost

    def _go_on(self, looked: int) -> bool:
        self._looks -= looked
        return self._looks > 0 and self._tell(self.cost)


def _changed(picture: Picture, kinds: list[Kind], chosen: list[Cluster], bound: int) -> Fewer:
    cells: dict[Cell, str] = {}
    for one in chosen:
        for n, flip in zip(one.members, one.flipped, strict=True):
            panel = one.panel[::-1] if flip else one.panel
            for column in np.flatnonzero(panel != kinds[n].letters):
                cells |= {(row, int(column)): LETTERS[int(panel[column])] for row in kinds[n].rows}
    return Fewer(picture.changed(cells), cells, bound)
