"""The best order and turns of slices, proven: a shortest path over slices in their lies, by CP-SAT.

Each slice in each of its four lies is a node; an arc costs what the joint between two such neighbours costs. A
circuit through a start node visits every slice in exactly one lie.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from itertools import pairwise, product
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ...geometry.rotations import Lie
from ...solid import Floats
from .edges import LIES

SCALE = 1_000_000
"""Costs are solved as whole millionths."""

ROUNDING = 1
"""Whole costs that differ by no more are the same."""

Row = tuple[int, Lie]
"""Slice number from 1, and how it lies."""


@dataclass(frozen=True, slots=True)
class Found:
    """An arrangement from the far side, its cost, the least that any could cost, and whether that is proven."""

    rows: tuple[Row, ...]
    cost: float
    bound: float

    @property
    def gap(self) -> float:
        """How much better another could still be, as a share of this one's cost."""
        return 0.0 if self.cost <= self.bound else (self.cost - self.bound) / self.cost

    @property
    def proven(self) -> bool:
        """Whether no other order costs less: the bound has met the cost."""
        return self.gap < 1e-9


def path_cost(cost: Floats, rows: Sequence[Row]) -> float:
    """The cost of an arrangement as it stands."""
    at = [(number - 1, LIES.index(lie)) for number, lie in rows]
    return float(sum(cost[i, a, j, b] for (i, a), (j, b) in pairwise(at)))


def best_path(
    cost: Floats,
    start: Sequence[Row],
    locked: Mapping[int, Row] | None = None,
    *,
    work: float = 8.0,
    seed: int = 1,
    progress: Callable[[Found], bool] = lambda found: True,
) -> Found:
    """The order and lies of n slices with the least sum of ``cost`` (n, 4, n, 4) over neighbours.

    ``start`` is an arrangement to begin from; ``locked`` keeps rows (from 0) as they are in it. ``progress`` hears of
    every better one and answers whether to go on. So much ``work`` is done, in the solver's own measure: the same seed
    gives the same answer on any machine.
    """
    from ortools.sat.python import cp_model  # takes a while to load, and only a search needs it

    problem = _Path(cp_model, np.rint(cost * SCALE).astype(int), locked or {})
    problem.hint(start)
    solver = cp_model.CpSolver()
    solver.parameters.max_deterministic_time = work  # counted, not timed: the same on a slow machine
    solver.parameters.num_workers = 1  # two would be a third quicker, but do not always find the same
    solver.parameters.random_seed = seed

    class Watch(cp_model.CpSolverSolutionCallback):
        def on_solution_callback(self) -> None:
            found = Found(problem.rows(self.value), self.objective_value / SCALE, self.best_objective_bound / SCALE)
            if not progress(found):
                self.stop_search()

    status = solver.solve(problem.model, Watch())
    if status not in (cp_model.OPTIMAL, cp_model.FEASIBLE):
        return Found(tuple(start), path_cost(cost, start), 0.0)
    rows = problem.rows(solver.value)
    return Found(rows, solver.objective_value / SCALE, solver.best_objective_bound / SCALE)


class _Path:
    """The model: ``arc[u, v]`` says that node v follows node u, ``lies[i, a]`` that slice i lies as a. Node 0 is the
    start, 1 + 4 i + a is slice i in lie a."""

    def __init__(self, cp_model: Any, cost: NDArray[np.int64], locked: Mapping[int, Row]) -> None:
        self.model = cp_model.CpModel()
        self.count = n = len(cost)
        self.arc: dict[tuple[int, int], Any] = {}
        self.lies = {(i, a): self.model.new_bool_var("") for i in range(n) for a in range(4)}
        price = []
        for i, a in self.lies:
            u = _node(i, a)
            self.arc[0, u], self.arc[u, 0] = self.model.new_bool_var(""), self.model.new_bool_var("")
            for j, b in self.lies:
                if i != j:
                    self.arc[u, _node(j, b)] = self.model.new_bool_var("")
                    price.append((self.arc[u, _node(j, b)], int(cost[i, a, j, b])))
        skipped = [(_node(i, a), _node(i, a), ~lies) for (i, a), lies in self.lies.items()]
        self.model.add_circuit([(u, v, var) for (u, v), var in self.arc.items()] + skipped)
        for i in range(n):
            self.model.add_exactly_one(self.lies[i, a] for a in range(4))
        self.model.minimize(sum(var * c for var, c in price))
        self.alike = [] if locked else alike(cost)
        for group in self.alike:
            self._in_turn(group)
        if locked:
            self._lock(locked)
        elif turned_costs_the_same(cost):  # so half of all arrangements need not be tried, or three quarters
            enough = {Lie.AS_CUT} if mirrored_costs_the_same(cost) else {Lie.AS_CUT, Lie.OTHER_END_UP}
            for a, lie in enumerate(LIES):
                if lie not in enough:
                    self.model.add(self.lies[0, a] == 0)

    def _in_turn(self, group: Sequence[int]) -> None:
        """Slices that are all alike come in the order of their numbers, so that their changing places is not tried:
        where two of them meet, the second is the next one."""
        after = dict(pairwise(group))
        for i in group:
            for j in group:
                if j != i and after.get(i) != j:
                    for a, b in product(range(4), repeat=2):
                        self.model.add(self.arc[_node(i, a), _node(j, b)] == 0)

    def _lock(self, locked: Mapping[int, Row]) -> None:
        """Rows that stay: only then does it matter how far along the path a slice comes."""
        n = self.count
        row = [self.model.new_int_var(0, n - 1, "") for _ in range(n)]
        for (u, v), var in self.arc.items():
            if u == 0:
                self.model.add(row[(v - 1) // 4] == 0).only_enforce_if(var)
            elif v != 0:
                self.model.add(row[(v - 1) // 4] == row[(u - 1) // 4] + 1).only_enforce_if(var)
        for at, (number, lie) in locked.items():
            self.model.add(row[number - 1] == at)
            self.model.add(self.lies[number - 1, LIES.index(lie)] == 1)

    def hint(self, rows: Sequence[Row]) -> None:
        # slices that are alike are handed out in the order of their numbers
        shared: dict[int, list[int]] = {}
        for group in self.alike:
            shared |= dict.fromkeys(group, sorted(group, reverse=True))
        at = [shared[number - 1].pop() if number - 1 in shared else number - 1 for number, _ in rows]
        path = [0, *(_node(i, LIES.index(lie)) for i, (_, lie) in zip(at, rows, strict=True)), 0]
        follows = set(pairwise(path))
        for ends, var in self.arc.items():
            self.model.add_hint(var, ends in follows)

    def rows(self, value: Callable[[Any], int]) -> tuple[Row, ...]:
        """The path that a solution takes."""
        follows = {u: v for (u, v), var in self.arc.items() if value(var)}
        out: list[Row] = []
        node = follows[0]
        while node:
            out.append(((node - 1) // 4 + 1, LIES[(node - 1) % 4]))
            node = follows[node]
        return tuple(out)


def _node(i: int, a: int) -> int:
    return 1 + 4 * i + a


def alike(cost: NDArray[Any]) -> list[list[int]]:
    """Groups of two or more slices that cost the same beside any other, in any lie."""
    left, out = list(range(len(cost))), []
    while left:
        first = left[0]
        same = [
            j
            for j in left
            if np.abs(cost[first] - cost[j]).max() <= ROUNDING
            and np.abs(cost[:, :, first] - cost[:, :, j]).max() <= ROUNDING
        ]
        left = [j for j in left if j not in same]
        out += [same] if len(same) > 1 else []
    return out


def turned_costs_the_same(cost: NDArray[Any]) -> bool:
    """Whether turning the whole board half round changes no joint: then every slice is end for end, and what lay in
    front lies behind. True of all wood."""
    other = [LIES.index(lie.then(Lie.END_FOR_END)) for lie in LIES]
    return bool(np.abs(cost - cost[:, other][:, :, :, other].transpose(2, 3, 0, 1)).max(initial=0) <= ROUNDING)


def mirrored_costs_the_same(cost: NDArray[Any]) -> bool:
    """Whether turning every slice left for right changes no joint: true where both ends of a slice show the same."""
    other = [LIES.index(lie.then(Lie.FLIP)) for lie in LIES]
    return bool(np.abs(cost - cost[:, other][:, :, :, other]).max(initial=0) <= ROUNDING)
