"""Which rows can share a panel at what price: every set of rows worth looking at, with the panel that suits it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ..solid import Ints

MOST_SETS = 12_000
"""More sets of rows than this are not listed."""

MOST_WAYS = 4096
"""Sets with more ways of flipping their rows than this are not listed."""


@dataclass(frozen=True, slots=True)
class Kind:
    """Rows that need not be told apart: letters as numbers (c,), how many rows, their height, the columns to keep."""

    letters: Ints
    rows: tuple[int, ...]
    height: float
    kept: frozenset[int]


@dataclass(frozen=True, slots=True)
class Cluster:
    """Kinds that share a panel: which, each flipped or not, the panel's letters (c,), and how many cells change."""

    members: tuple[int, ...]
    flipped: tuple[bool, ...]
    panel: Ints
    cost: int


class _Set:
    """A set of kinds in every way of flipping them: the votes for each letter in each column, (w, c, letters), letters
    that kept cells force (w, c; −1 none), and the flips (w, members)."""

    __slots__ = ("flips", "forced", "members", "total", "votes")

    def __init__(
        self, members: tuple[int, ...], votes: Ints, forced: Ints, flips: NDArray[np.bool_], total: int
    ) -> None:
        self.members, self.votes, self.forced, self.flips, self.total = members, votes, forced, flips, total

    def best(self) -> Cluster | None:
        """The panel that changes fewest cells; None where kept cells contradict each other in every way."""
        if not len(self.flips):
            return None
        free = self.votes.max(axis=2)
        held = np.take_along_axis(self.votes, np.maximum(self.forced, 0)[:, :, None], axis=2)[:, :, 0]
        agreed = np.where(self.forced >= 0, held, free).sum(axis=1)
        at = int(agreed.argmax())
        panel = np.where(self.forced[at] >= 0, self.forced[at], self.votes[at].argmax(axis=1))
        return Cluster(self.members, tuple(self.flips[at].tolist()), panel, self.total - int(agreed[at]))

    def joined(self, number: int, kind: Kind, letters: int, *, even: bool) -> _Set:
        """This set with one more kind, either way round where slices may be flipped."""
        parts = []
        for flip in (False, True) if even else (False,):
            row = kind.letters[::-1] if flip else kind.letters
            mine = np.eye(letters, dtype=np.int64)[row] * len(kind.rows)
            want = np.full(len(row), -1)
            kept = [len(row) - 1 - c if flip else c for c in kind.kept]
            want[kept] = row[kept]
            clash = ((want >= 0) & (self.forced >= 0) & (want != self.forced)).any(axis=1)
            forced = np.where(want >= 0, want, self.forced)[~clash]
            flips = np.column_stack([self.flips[~clash], np.full(int((~clash).sum()), flip)])
            parts.append((self.votes[~clash] + mine, forced, flips))
        votes, forced, flips = (np.concatenate(part) for part in zip(*parts, strict=True))
        total = self.total + len(kind.rows) * len(kind.letters)
        return _Set((*self.members, number), votes, forced, flips, total)


def _alone(number: int, kind: Kind, letters: int) -> _Set:
    columns = len(kind.letters)
    empty = _Set((), np.zeros((1, columns, letters), np.int64), np.full((1, columns), -1), np.zeros((1, 0), bool), 0)
    return empty.joined(number, kind, letters, even=False)


def clusters(kinds: Sequence[Kind], letters: int, most: int, *, even: bool) -> list[Cluster] | None:
    """Every set of kinds that changes ``most`` cells or fewer; None where there are too many. One more member never
    makes a set cheaper, so what is too dear is not grown."""
    out: list[Cluster] = []
    stack = [_alone(n, kind, letters) for n, kind in enumerate(kinds)]
    while stack:
        one = stack.pop()
        found = one.best()
        if found is None or found.cost > most:
            continue
        out.append(found)
        if len(out) + len(stack) > MOST_SETS or len(one.flips) > MOST_WAYS:
            return None
        for n in range(one.members[-1] + 1, len(kinds)):
            if kinds[n].height == kinds[one.members[0]].height:
                stack.append(one.joined(n, kinds[n], letters, even=even))
    return out


def merged(kinds: Sequence[Kind], letters: int, k: int, *, even: bool) -> list[Cluster] | None:
    """A good way to do with k panels, found by always joining the two sets that cost least; None if there is none."""
    sets = [_alone(n, kind, letters) for n, kind in enumerate(kinds)]
    known: dict[tuple[tuple[int, ...], tuple[int, ...]], tuple[int, _Set] | None] = {}

    def together(one: _Set, other: _Set) -> tuple[int, _Set] | None:
        """What joining two sets costs more than leaving them, and what comes of it."""
        key = one.members, other.members
        if key not in known:
            both = _narrowed(one)
            for n in other.members:
                both = _narrowed(both.joined(n, kinds[n], letters, even=even))
            parts = [part.best() for part in (both, one, other)]
            costs = [part.cost for part in parts if part is not None]
            known[key] = (costs[0] - costs[1] - costs[2], both) if len(costs) == 3 else None
        return known[key]

    while len(sets) > k:
        best: tuple[int, int, int, _Set] | None = None
        for i, one in enumerate(sets):
            for j in range(i + 1, len(sets)):
                if kinds[one.members[0]].height != kinds[sets[j].members[0]].height:
                    continue
                found = together(one, sets[j])
                if found is not None and (best is None or found[0] < best[0]):
                    best = found[0], i, j, found[1]
        if best is None:
            return None
        _, i, j, both = best
        sets = [one for at, one in enumerate(sets) if at not in (i, j)] + [both]
    found_ = [one.best() for one in sets]
    return [one for one in found_ if one is not None]


def _narrowed(one: _Set) -> _Set:
    """Only the few best ways of flipping: enough for a first answer."""
    agreed = one.votes.max(axis=2).sum(axis=1)
    best = np.argsort(-agreed, kind="stable")[:4]
    return _Set(one.members, one.votes[best], one.forced[best], one.flips[best], one.total)
