"""Choosing among panels: at most k of them, each kind of rows made from the one it changes least for.

An integer program, solved by SCIP. From the linear program's prices follows what a better choice cannot contain:
panels worth too little, and rows made from panels that suit them too badly; most of both are left out beforehand.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..solid import Floats, Ints
from .generation import ColumnPool, Priced
from .kinds import Cluster
from .pricing import NEVER


@dataclass(frozen=True, slots=True)
class Choice:
    """What was chosen, or None where no choice is good enough; and whether that is certain."""

    clusters: list[Cluster] | None
    certain: bool


def choose(pool: ColumnPool, k: int, found: Priced, most: int, branches: int) -> Choice:
    """The choice of known panels that changes fewest cells, ``most`` at most, found within so many ``branches``."""
    from ortools.linear_solver import pywraplp  # takes a while to load, and only this needs it

    numbers, changes = _matter(pool.changes, found, most)
    solver = pywraplp.Solver.CreateSolver("SCIP")
    solver.SetSolverSpecificParametersAsString(f"limits/totalnodes = {branches}\n")
    there = [solver.BoolVar("") for _ in numbers]
    solver.Add(sum(there) <= k)
    solver.Minimize(0)
    for mine in changes.T:
        near = np.flatnonzero(mine < NEVER).tolist()
        ways = [solver.NumVar(0.0, 1.0, "") for _ in near]
        solver.Add(sum(ways) == 1)
        for at, way in zip(near, ways, strict=True):
            solver.Add(way <= there[at])
            solver.Objective().SetCoefficient(way, float(mine[at]))
    status = solver.Solve()
    if status not in (pywraplp.Solver.OPTIMAL, pywraplp.Solver.FEASIBLE):
        return Choice(None, status == pywraplp.Solver.INFEASIBLE)
    clusters = pool.nearest([int(numbers[at]) for at, panel in enumerate(there) if panel.solution_value() > 0.5])
    good = sum(one.cost for one in clusters) <= most
    return Choice(clusters if good else None, status == pywraplp.Solver.OPTIMAL)


def swapped(changes: Floats, k: int) -> list[int]:
    """A good choice in no time: panels (p, n) taken one by one, each where it helps most, and then exchanged as long as
    that helps."""
    chosen: list[int] = []
    for _ in range(min(k, len(changes))):
        chosen.append(int(np.minimum(changes, _served(changes, chosen)).sum(axis=1).argmin()))
    while True:
        now = _served(changes, chosen).sum()
        for at in range(len(chosen)):
            others = chosen[:at] + chosen[at + 1 :]
            totals = np.minimum(changes, _served(changes, others)).sum(axis=1)
            if totals.min() < now:
                chosen = [*others, int(totals.argmin())]
                break
        else:
            return chosen


def _served(changes: Floats, chosen: list[int]) -> Floats:
    """What each kind changes for the nearest of the chosen panels."""
    return changes[chosen].min(axis=0) if chosen else np.full(changes.shape[1], NEVER)


def _matter(changes: Floats, found: Priced, most: int) -> tuple[Ints, Floats]:
    """The panels that a choice with ``most`` changes can contain, by number, and how many cells each kind changes for
    them; NEVER where it cannot be made from that panel. One of several that serve all rows alike is enough."""
    spare = np.maximum(found.prices - changes, 0.0).sum(axis=1) - found.room + most - found.value + 1e-3
    numbers = np.flatnonzero(spare >= 0)
    changes, spare = changes[numbers], spare[numbers]
    changes = np.where(changes - found.prices > spare[:, None], NEVER, changes)
    changes, first = np.unique(changes, axis=0, return_index=True)
    outdone = [bool(((changes <= one).all(axis=1) & (changes < one).any(axis=1)).any()) for one in changes]
    kept = ~np.array(outdone, bool)
    return numbers[first[kept]], changes[kept]
