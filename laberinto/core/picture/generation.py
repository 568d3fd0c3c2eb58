"""Column generation: which panels to choose from, and how few changes any choice of them can need.

A linear program chooses among the panels known so far and puts a price on every row; what a panel is worth at these
prices tells which to add (``pricing``). Once no panel is worth more than its room, the program's value is a number that
no way gets below (Barnhart et al., Branch-and-Price, Operations Research 46, 1998), and it is mostly met.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from typing import cast

import numpy as np

from ..solid import Floats, Ints
from .columns import above
from .growth import grown
from .kinds import Cluster, Kind
from .pricing import NEVER, Looking, Pay

STARTS, ADDED = 300, 40
"""Panels that are improved at a time, and how many of the worthiest are then added."""

PATIENCE = 120
"""So often panels are improved before all there are have to be looked through, where that takes long."""

MOST_LISTED = 8000
"""So many panels are listed to choose from exactly."""

ROUNDING = 1e-3
"""How far below a whole number the program's value may lie for that number to be the least."""

HAIR = 1e-5
"""Worth less than this beyond its room is rounding."""

BLOCK = 2**19
"""A part of the columns has no more panels than this, so that all can be looked at in a moment."""

SOON = 3_000_000
"""So many beginnings of panels are looked at in about a second."""

SIDE_BY_SIDE, IN_SIGHT, FAVOURED = 30_000_000, 400_000_000, 8
"""As much is looked at both ways alike; then one that has about so much left, and no more, gets ahead so many times as
fast. What is left is too rough a guess to give up the other way."""

GoOn = Callable[[int], bool]
"""Is told how much was looked at last, and says whether to look further."""


@dataclass(frozen=True, slots=True)
class Priced:
    """The program solved over the panels known: ``prices`` of the kinds (n,), what the ``room`` for a panel costs, and
    its ``value``. ``least`` is what any choice of any panels changes at the least, None where not all were seen;
    ``listed`` where all are known that a better choice than the best so far could have in it."""

    prices: Floats
    room: float
    value: float
    least: float | None = None
    listed: bool = False

    def worth_for(self, changes: float) -> float:
        """What a panel must be worth at the least to be part of a choice that makes so many changes or fewer."""
        return self.room - (changes - (self.value if self.least is None else self.least)) - ROUNDING


class ColumnPool:
    """Panels that were found good: ``panels``, and how many cells each kind changes for each, NEVER where it is not as
    high as the rows that can share it."""

    def __init__(self, kinds: Sequence[Kind], letters: int, *, even: bool) -> None:
        self.kinds, self.letters, self.even = kinds, letters, even
        self.panels: list[Ints] = []
        self._changes: list[Floats] = []
        self._number: dict[tuple[int, ...], int] = {}  # by height and letters
        self._members = [
            np.array([n for n, kind in enumerate(kinds) if kind.height == height])
            for height in sorted({kind.height for kind in kinds})
        ]
        self._pay = [Pay.of([kinds[n] for n in members], letters, even=even) for members in self._members]
        for height, members in enumerate(self._members):
            self._add(height, np.array([kinds[n].letters for n in members]))

    @property
    def changes(self) -> Floats:
        """How many cells each kind changes for each panel, (p, n)."""
        return np.array(self._changes)

    def worthiest(self, prices: Floats) -> float:
        """What the best of the panels is worth."""
        return float(np.maximum(prices - self.changes, 0.0).sum(axis=1).max())

    def take(self, panel: Ints, kind: int) -> int:
        """The number of a panel that serves a kind."""
        height = self._height(kind)
        self._add(height, panel[None])
        return self._number[height, *panel.tolist()]

    def nearest(self, chosen: Sequence[int]) -> list[Cluster]:
        """What comes of it if every kind is made from that panel among the chosen for which it changes least."""
        out, own = [], self.changes[list(chosen)].argmin(axis=0)
        for at, number in enumerate(chosen):
            members = np.flatnonzero(own == at)
            if len(members):
                height = self._height(int(members[0]))
                changes, ways = self._pay[height].changes(self.panels[number][None])
                mine = np.searchsorted(self._members[height], members)
                flipped, cost = tuple((ways[0, mine] > 0).tolist()), round(float(changes[0, mine].sum()))
                out.append(Cluster(tuple(members.tolist()), flipped, self.panels[number], cost))
        return out

    def improve(self, now: Priced, dice: np.random.Generator, tries: int = 1) -> int:
        """Look for panels worth their room by improving known ones: shaken, and in further tries two of them crossed.
        How many were new, of the first try that finds some."""
        return next((fresh for at in range(tries) if (fresh := self._improve(now, dice, crossed=at > 0))), 0)

    def _improve(self, now: Priced, dice: np.random.Generator, *, crossed: bool) -> int:
        fresh = 0
        for at, (members, pay) in enumerate(zip(self._members, self._pay, strict=True)):
            mine = now.prices[members]
            known = np.array([self.panels[number] for key, number in self._number.items() if key[0] == at])
            start = known[dice.integers(len(known), size=STARTS)]
            if crossed:
                other, share = known[dice.integers(len(known), size=STARTS)], np.full((STARTS, 1), 0.5)
            else:
                other, share = dice.integers(self.letters, size=start.shape), dice.random((STARTS, 1)) * 0.5
            start = np.where(dice.random(start.shape) < share, other, start)
            found = pay.improved(start if crossed else np.concatenate([known, start]), mine)
            worth = pay.worth(found, mine)
            order = np.argsort(-worth, kind="stable")[:ADDED]
            fresh += self._add(at, found[order[worth[order] > now.room + HAIR]])
        return fresh

    def search(self, prices: Floats, least: float, most: int, go_on: GoOn, *, soon: bool = False) -> tuple[int, bool]:
        """Add panels worth more than ``least``: how many were new, and whether these are all there are. Of each height
        it looks no further than ``most``, and ``soon`` no longer than a moment."""
        fresh, all_ = 0, True
        for at, (members, pay) in enumerate(zip(self._members, self._pay, strict=True)):
            ways = [above(pay, prices[members], least, most)]
            if not soon:
                ways.append(grown(pay, prices[members], least))
            found = _first_to_end(ways, go_on if not soon else _for_a_moment(go_on))
            if found is None:
                return fresh, False
            fresh += self._add(at, found)
            all_ = all_ and len(found) <= most
        return fresh, all_

    def _height(self, kind: int) -> int:
        return next(at for at, members in enumerate(self._members) if kind in members)

    def _add(self, height: int, panels: Ints) -> int:
        """Keep those that are new; how many are."""
        before = len(self.panels)
        for panel, changes in zip(panels, self._pay[height].changes(panels)[0], strict=True):
            key = (height, *panel.tolist())
            if key not in self._number:
                self._number[key] = len(self.panels)
                every = np.full(len(self.kinds), NEVER)
                every[self._members[height]] = changes
                self.panels.append(panel)
                self._changes.append(every)
        return len(self.panels) - before


def _first_to_end(ways: Sequence[Looking], go_on: GoOn) -> Ints | None:
    """What is found by whichever way ends first. They go on side by side: column by column or row by row, one is mostly
    far shorter. Once that has gone on for long, one whose end is in sight is ``FAVOURED``. None where all lead too far
    or ``go_on`` says no."""
    looked = dict.fromkeys(ways, 0.0)
    while looked:
        way = min(looked, key=lambda one: looked[one])
        try:
            last, left = next(way)
        except StopIteration as end:
            if end.value is not None:
                return cast(Ints, end.value)
            del looked[way]
            continue
        if not go_on(last):
            return None
        favoured = looked[way] > SIDE_BY_SIDE and left < IN_SIGHT
        looked[way] += last / FAVOURED if favoured else last
    return None


def _for_a_moment(go_on: GoOn) -> GoOn:
    left = SOON

    def still(looked: int) -> bool:
        nonlocal left
        left -= looked
        return left > 0 and go_on(looked)

    return still


class _Program:
    """At most k sets of kinds that take in every kind, each set with a panel for it, changing the fewest cells; sets
    may be chosen in part."""

    def __init__(self, kinds: Sequence[Kind], k: int) -> None:
        from ortools.linear_solver import pywraplp  # takes a while to load, and only this needs it

        self._solver = pywraplp.Solver.CreateSolver("GLOP")
        self._objective = self._solver.Objective()
        self._objective.SetMinimization()
        self._room = self._solver.Constraint(-self._solver.infinity(), float(k))
        self._rows = [self._solver.Constraint(1.0, self._solver.infinity()) for _ in kinds]
        self._sets: set[tuple[int, ...]] = set()
        for row, kind in zip(self._rows, kinds, strict=True):  # dearer than any panel: what is not served yet
            unserved = self._solver.NumVar(0.0, self._solver.infinity(), "")
            row.SetCoefficient(unserved, 1.0)
            self._objective.SetCoefficient(unserved, 1.0 + len(kind.rows) * len(kind.letters))

    def solved(self, changes: Floats) -> Priced:
        """Over all sets that the panels with these ``changes`` (p, n) can serve."""
        while True:
            self._solver.Solve()
            prices = np.array([row.DualValue() for row in self._rows])
            room = -float(self._room.DualValue())
            gains = np.maximum(prices - changes, 0.0).sum(axis=1) - room
            best = [at for at in np.argsort(-gains, kind="stable")[:ADDED].tolist() if gains[at] > HAIR]
            if not sum(self._add(np.flatnonzero(changes[at] < prices), changes[at]) for at in best):
                return Priced(prices, room, float(self._objective.Value()))

    def _add(self, members: Ints, changes: Floats) -> bool:
        key = (*members.tolist(), int(changes[members].sum()))
        if key in self._sets:
            return False
        self._sets.add(key)
        chosen = self._solver.NumVar(0.0, self._solver.infinity(), "")
        self._objective.SetCoefficient(chosen, float(changes[members].sum()))
        self._room.SetCoefficient(chosen, 1.0)
        for n in members.tolist():
            self._rows[n].SetCoefficient(chosen, 1.0)
        return True


def priced(pool: ColumnPool, k: int, go_on: GoOn, beaten: Callable[[Priced], int] | None = None) -> Priced:
    """Add panels to the pool until no other could make a better choice. ``beaten`` is told how it stands once no quick
    way finds another panel, and says how many changes are to be beaten: to show that none does, fewer panels need be
    looked at."""
    program, dice = _Program(pool.kinds, k), np.random.default_rng(1)
    quick = True  # to look through all there are takes but a moment
    listing = True  # all that matter are few enough to list
    while True:
        found = program.solved(pool.changes)
        if not go_on(0):
            return found
        if pool.improve(found, dice):
            continue
        enough, total, better = found.room + HAIR, float(found.prices.sum()), -math.inf
        if beaten is not None:
            better = beaten(found) - 1
            enough = max(enough, (total - better - 0.01) / k)
        fresh, all_ = 0, False
        if quick:
            fresh, all_ = pool.search(found.prices, enough, ADDED, go_on, soon=True)
            quick = bool(fresh) or all_
        if not quick:  # what can be found without that saves minutes
            if pool.improve(found, dice, PATIENCE):
                continue
            if listing and found.value <= better + ROUNDING:
                # that nothing is worth its room would not do: what matters to a better choice is asked for as well
                _, listing = pool.search(found.prices, found.worth_for(better), MOST_LISTED, go_on)
                if listing and pool.worthiest(found.prices) <= enough:
                    return replace(found, least=min(found.value, total - k * enough), listed=True)
                if listing:
                    continue
            fresh, all_ = pool.search(found.prices, enough, ADDED, go_on)
        if not fresh:
            return replace(found, least=min(found.value, total - k * enough)) if all_ else found


def least_in_parts(pool: ColumnPool, k: int, go_on: GoOn) -> int:
    """A number of changes that no way gets below, from parts of the columns by themselves, each with its mirror image:
    what is the least for each part adds up."""
    count = len(pool.kinds[0].letters)
    wide = max(int(math.log(BLOCK, pool.letters)) // 2, 1)
    total = 0
    for at in range(0, (count + 1) // 2, wide):
        near = np.arange(at, min(at + wide, (count + 1) // 2))
        columns = np.unique(np.concatenate([near, count - 1 - near]))
        part = [
            replace(kind, letters=kind.letters[columns],
                    kept=frozenset(n for n, column in enumerate(columns.tolist()) if column in kind.kept))
            for kind in pool.kinds
        ]  # fmt: skip
        found = priced(ColumnPool(part, pool.letters, even=pool.even), k, go_on)
        total += math.ceil(found.least - 10 * HAIR) if found.least is not None else 0
    return total
