"""With at most k panels: the fewest cells to change so that a picture needs no more.

All sets of rows that could share a panel without changing more cells than a first good answer does are listed, each
with the panel that suits it best; choosing among them is exact. Where there are too many to list, the first answer
stands, with a number that no way gets below.
"""

from __future__ import annotations

import math
from collections.abc import Collection, Sequence
from dataclasses import dataclass

import numpy as np

from ..errors import InputError
from .clusters import Cluster, Kind, clusters, merged
from .grid import LETTERS, Picture
from .panels import panels

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


def with_at_most(picture: Picture, k: int, keep: Collection[Cell] = (), *, seconds: float = 10.0) -> Fewer:
    """The picture changed in the fewest cells so that k panels make it. Cells in ``keep`` stay as they are.

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
    letters = len(picture.woods)
    first = merged(kinds, letters, k, even=picture.even)
    most = sum(one.cost for one in first) if first else len(picture.rows) * len(picture.widths)
    sets, bound = clusters(kinds, letters, most, even=picture.even), _least(picture, kinds, k)
    if sets is not None:
        chosen, least = _fewest(sets, len(kinds), k, seconds)
        if chosen is None and first is None:
            raise InputError(
                f"The cells that must stay as they are need more than {k} panels. Set some of them free, or allow "
                "more panels.", "most",
            )  # fmt: skip
        bound = max(bound, least)
        if chosen is not None and (first is None or _cost(chosen) <= _cost(first)):
            return _changed(picture, kinds, chosen, bound)
    if first is None:
        raise InputError(f"No way with {k} panels was found. Allow more panels, or keep fewer cells.", "most")
    return _changed(picture, kinds, first, bound)


def _cost(chosen: Sequence[Cluster]) -> int:
    return sum(one.cost for one in chosen)


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


def _fewest(sets: list[Cluster], kinds: int, k: int, seconds: float) -> tuple[list[Cluster] | None, int]:
    """At most k sets that take up every kind once, changing the fewest cells, and how few any choice can change: set
    partitioning, by CP-SAT. None where no choice was found."""
    from ortools.sat.python import cp_model  # takes a while to load, and only this needs it

    model = cp_model.CpModel()
    chosen = [model.new_bool_var("") for _ in sets]
    for n in range(kinds):
        model.add_exactly_one(var for var, one in zip(chosen, sets, strict=True) if n in one.members)
    model.add(sum(chosen) <= k)
    model.minimize(sum(var * one.cost for var, one in zip(chosen, sets, strict=True)))
    solver = cp_model.CpSolver()
    solver.parameters.max_time_in_seconds = seconds
    solver.parameters.num_workers = 2
    solver.parameters.random_seed = 1
    status = solver.solve(model)
    if status not in (cp_model.OPTIMAL, cp_model.FEASIBLE):
        return None, 0
    least = math.ceil(solver.best_objective_bound - 1e-6)
    return [one for var, one in zip(chosen, sets, strict=True) if solver.value(var)], least


def _least(picture: Picture, kinds: list[Kind], k: int) -> int:
    """A number of changes that no way gets below: each row beyond the k that lead must become like some other, and two
    that meet change together in as many cells as they differ in."""
    nearest = []
    for n, one in enumerate(kinds):
        apart = [
            int((one.letters != row).sum())
            for m, other in enumerate(kinds)
            if m != n and other.height == one.height
            for row in ((other.letters, other.letters[::-1]) if picture.even else (other.letters,))
        ]
        nearest.append(min(apart, default=0))
    # a shared panel of s rows changes half of each one's distance to its nearest at the least
    return -(-sum(sorted(nearest)[: max(len(kinds) - k + 1, 0)]) // 2)


def _changed(picture: Picture, kinds: list[Kind], chosen: list[Cluster], bound: int) -> Fewer:
    cells: dict[Cell, str] = {}
    for one in chosen:
        for n, flip in zip(one.members, one.flipped, strict=True):
            panel = one.panel[::-1] if flip else one.panel
            for column in np.flatnonzero(panel != kinds[n].letters):
                cells |= {(row, int(column)): LETTERS[int(panel[column])] for row in kinds[n].rows}
    return Fewer(picture.changed(cells), cells, bound)
