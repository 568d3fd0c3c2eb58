"""A bound on every cut plan, and good whole pieces to choose from: column generation (Gilmore and Gomory, 1961).

A linear program chooses among ways to cut whole pieces up. Its prices for strips say which way to cut each piece would
help most; that is added, until none helps. The program's value is then a bound on every plan, and on the way it has
gathered the ways that matter.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from functools import lru_cache
from typing import Any

import numpy as np
from numpy.typing import NDArray

from .rooms import Choice, Room, Task

MOST_MIXES = 40_000
"""Mixes of section lengths looked at in one rectangle; with more the bound is given up."""

ROUNDS = 60

PLANS = 60
"""Whole plans put together one piece after the other."""

TRIED = 7
"""Pieces looked at for each place in such a plan."""


@dataclass(frozen=True, slots=True)
class Cutting:
    """One way to cut a piece: which layout, and how many of each ripped section in each of its rectangles."""

    choice: int
    way: int
    sections: tuple[tuple[int, int, int], ...]
    """Rectangle, ripped section and how many of it."""
    cost: int
    made: tuple[int, ...]
    """Strips of each need."""


@dataclass(frozen=True, slots=True)
class Relaxed:
    """What column generation leaves: the bound, in the objective's units, and the ways gathered."""

    bound: float
    cuttings: tuple[Cutting, ...]


def relax(task: Task, looks: int) -> Relaxed | None:
    """The bound over all plans and the ways that matter; None where there is too much to look at. So many ``looks`` at
    mixes of sections are taken at about the most."""
    try:
        there = pricers(task)
    except TooManyMixesError:
        return None
    counts = np.array([need.count for need in task.needs], float)
    from ortools.linear_solver import pywraplp  # takes a while to load, and only a search needs it

    solver = pywraplp.Solver.CreateSolver("GLOP")
    if solver is None:
        return None
    scale = float(task.missing)
    enough = [solver.Constraint(float(n), solver.infinity()) for n in counts]
    once = [solver.Constraint(-solver.infinity(), 1.0) for _ in task.choices]
    for row in enough:
        missing = solver.NumVar(0, solver.infinity(), "")
        row.SetCoefficient(missing, 1.0)
        solver.Objective().SetCoefficient(missing, 1.0)
    solver.Objective().SetMinimization()
    gathered: dict[tuple[object, ...], Cutting] = {}
    bound, each = 0.0, sum(pricer.looks for pricer in there)
    for _ in range(ROUNDS):
        looks -= each
        if solver.Solve() != pywraplp.Solver.OPTIMAL:
            return None
        prices = np.array([row.DualValue() for row in enough]) * scale
        piece_prices = [row.DualValue() * scale for row in once]
        value, slack, fresh = solver.Objective().Value() * scale, 0.0, 0
        for pricer, own in zip(there, piece_prices, strict=True):
            cutting, reduced = pricer.best(prices)
            gain = reduced - own
            slack += min(gain, 0.0)
            key = (cutting.choice, cutting.way, cutting.sections) if cutting else ()
            if cutting is None or gain >= -1e-7 * scale or key in gathered:
                continue
            gathered[key] = cutting
            fresh += 1
            amount = solver.NumVar(0, solver.infinity(), "")
            solver.Objective().SetCoefficient(amount, cutting.cost / scale)
            once[cutting.choice].SetCoefficient(amount, 1.0)
            for row, made in zip(enough, cutting.made, strict=True):
                if made:
                    row.SetCoefficient(amount, float(made))
        # Lasdon's bound: the program's value, and at most one of each piece at its best gain
        bound = max(bound, value + slack)
        if not fresh or value - bound < 1e-5 * value or looks < 0:
            break
    for cutting in _whole_plans(task, there, prices, max(looks, each)):
        gathered.setdefault((cutting.choice, cutting.way, cutting.sections), cutting)
    return Relaxed(bound, tuple(gathered.values()))


def _whole_plans(task: Task, there: Sequence[Pricer], prices: NDArray[np.float64], looks: int) -> Iterator[Cutting]:
    """Ways that make whole plans, which fractions do not, at prices shaken a little every time."""
    dice = np.random.default_rng(1)
    each = TRIED * sum(pricer.looks for pricer in there)  # a whole plan looks at some of them for each it takes
    for _ in range(min(PLANS, max(looks // max(each, 1), 2))):
        yield from whole_plan(task, there, prices * dice.uniform(0.7, 1.3, len(prices)), dice)


def whole_plan(
    task: Task, there: Sequence[Pricer], prices: NDArray[np.float64], dice: np.random.Generator
) -> Iterator[Cutting]:
    """Piece after piece the best way for the strips still wanted, among a few pieces drawn each time."""
    left, free = np.array([need.count for need in task.needs], np.int64), list(range(len(there)))
    while left.any() and free:
        tried = dice.choice(free, min(TRIED, len(free)), replace=False).tolist()
        found = [(there[number].best(prices, left), number) for number in tried]
        (cutting, _), number = min(found, key=lambda item: item[0][1])
        if cutting is None or not any(cutting.made):
            free = [number for number in free if number not in tried]
            continue
        yield cutting
        left = np.maximum(left - np.array(cutting.made), 0)
        free.remove(number)


class TooManyMixesError(Exception):
    """There are more mixes of lengths than can be looked at."""


def pricers(task: Task) -> list[Pricer]:
    """One for every piece. Raises TooManyMixesError."""
    return [Pricer(task, number, choice) for number, choice in enumerate(task.choices)]


@lru_cache(maxsize=512)
def _mixes(length: int, each: tuple[int, ...]) -> NDArray[np.int64]:
    """How many sections of each length fit, every mix: (mixes, lengths)."""
    out = np.zeros((1, 0), np.int64)
    left = np.array([length])
    for size in each:
        n = left // size + 1
        if int(n.sum()) > MOST_MIXES:
            raise TooManyMixesError
        rows = np.repeat(np.arange(len(out)), n)
        count = np.arange(int(n.sum())) - np.repeat(np.cumsum(n) - n, n)
        out = np.column_stack([out[rows], count])
        left = left[rows] - count * size
    return out


class Pricer:
    """The best way to cut one piece at given prices for strips."""

    def __init__(self, task: Task, number: int, choice: Choice) -> None:
        self.number, self.choice, self.needs = number, choice, len(task.needs)
        self.ways = [[_RoomPricer(room, self.needs) for room in way] for way in choice.ways]
        self.looks = 1 + sum(len(room.mixes) for way in self.ways for room in way)

    def best(
        self, prices: NDArray[np.float64], wanted: NDArray[np.int64] | None = None
    ) -> tuple[Cutting | None, float]:
        """The way with the least reduced cost that makes any strip, and that. With ``wanted`` no more of a strip
        counts than is wanted; without, only a way that helps is taken."""
        found: tuple[Cutting | None, float] = (None, 0.0 if wanted is None else float("inf"))
        for way, rooms in enumerate(self.ways):
            sections: list[tuple[int, int, int]] = []
            worth, back, made = 0.0, 0, np.zeros(self.needs, np.int64)
            for number, room in enumerate(rooms):
                gain, mix = room.best(prices) if wanted is None else room.best_of(prices, wanted)
                worth += gain
                sections += [(number, column, n) for column, n in mix]
                back += room.back(mix)
                for column, n in mix:
                    made += room.yields[column] * n
            reduced = self.choice.price - worth
            if sections and reduced < found[1]:
                cost = self.choice.price - back
                found = (Cutting(self.number, way, tuple(sections), cost, tuple(made.tolist())), reduced)
        return found


class _RoomPricer:
    def __init__(self, room: Room, needs: int) -> None:
        self.room = room
        self.yields = np.array([[c.yields(at) for at in range(needs)] for c in room.columns], np.int64).reshape(
            -1, needs
        )
        self.sides = np.array(room.back, float)
        lengths = sorted(set(room.each), reverse=True)
        self.groups = [np.array([k for k, e in enumerate(room.each) if e == length]) for length in lengths]
        self.mixes = _mixes(room.length, tuple(lengths))
        left = room.length - self.mixes @ np.array(lengths, np.int64) if lengths else np.array([room.length])
        self.rest = np.array([room.kept(int(x)) for x in left], float) * room.rest

    def best(self, prices: NDArray[np.float64]) -> tuple[float, list[tuple[int, int]]]:
        """What the best mix is worth, strips and rests together, and its sections."""
        if not self.groups:
            return float(self.rest[0]), []
        values = self.yields @ prices + self.sides
        tops = [group[int(np.argmax(values[group]))] for group in self.groups]
        worth = self.mixes @ values[tops] + self.rest
        at = int(np.argmax(worth))
        return float(worth[at]), [(int(c), int(n)) for c, n in zip(tops, self.mixes[at], strict=True) if n]

    def best_of(self, prices: NDArray[np.float64], wanted: NDArray[np.int64]) -> tuple[float, list[tuple[int, int]]]:
        """As ``best``, where strips beyond those wanted are worth nothing."""
        if not self.groups:
            return float(self.rest[0]), []
        values = np.minimum(self.yields, wanted) @ prices + self.sides
        tops = [group[int(np.argmax(values[group]))] for group in self.groups]
        made = np.minimum(self.mixes @ self.yields[tops], wanted)
        worth = made @ prices + self.mixes @ self.sides[tops] + self.rest
        at = int(np.argmax(worth))
        return float(worth[at]), [(int(c), int(n)) for c, n in zip(tops, self.mixes[at], strict=True) if n]

    def back(self, mix: Sequence[tuple[int, int]]) -> int:
        used = sum(self.room.each[column] * n for column, n in mix)
        return self.room.kept(self.room.length - used) * self.room.rest + sum(self.room.back[c] * n for c, n in mix)


MEASURE = 0.2
"""Of the solver's own measure in a unit of work, which is about a second of two busy cores."""


def counted(solver: Any, work: float, workers: int) -> Any:
    """A CP-SAT solver whose work is counted: its searches take turns in a fixed order, and it ends after so much of its
    own measure, whatever the clock says."""
    solver.parameters.max_deterministic_time = work * MEASURE
    solver.parameters.num_workers = workers
    solver.parameters.interleave_search = True
    solver.parameters.random_seed = 1
    return solver


def chosen(task: Task, cuttings: Sequence[Cutting], work: float, workers: int) -> list[Cutting]:
    """The best plan made of these ways alone."""
    from ortools.sat.python import cp_model

    model = cp_model.CpModel()
    taken = [model.new_bool_var("") for _ in cuttings]
    short = [model.new_int_var(0, need.count, "") for need in task.needs]
    for number in range(len(task.choices)):
        model.add_at_most_one([v for v, c in zip(taken, cuttings, strict=True) if c.choice == number])
    for at, need in enumerate(task.needs):
        model.add(sum(c.made[at] * v for v, c in zip(taken, cuttings, strict=True)) + short[at] >= need.count)
    model.minimize(sum(c.cost * v for v, c in zip(taken, cuttings, strict=True)) + task.missing * sum(short))
    solver = counted(cp_model.CpSolver(), work, workers)
    if solver.solve(model) not in (cp_model.OPTIMAL, cp_model.FEASIBLE):
        return []
    return [c for v, c in zip(taken, cuttings, strict=True) if solver.value(v)]
