"""The cut plan as one integer program over ripped sections, solved by CP-SAT.

The sections of a piece are the patterns of two-stage guillotine cutting (Gilmore and Gomory, 1965): each is crosscut
over the whole width of sound wood, then ripped into strips.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence

from ortools.sat.python import cp_model

from .master import Cutting, counted
from .model import NEAR
from .rooms import Choice, Room, Task

Progress = Callable[[list[Cutting], float], bool]
"""Called with every better plan and the bound; False ends the search."""


class Program:
    """Variables and constraints for one task."""

    def __init__(self, task: Task) -> None:
        self.task = task
        self.model = cp_model.CpModel()
        self.used: list[cp_model.IntVar] = []
        self.taken: list[list[cp_model.IntVar]] = []
        self.counts: dict[tuple[int, int, int, int], cp_model.IntVar] = {}
        """How many sections: piece, way, rectangle, ripped section."""
        self.short = [self.model.new_int_var(0, need.count, "short") for need in task.needs]
        costs = [self._piece(number, choice) for number, choice in enumerate(task.choices)]
        made: list[list[cp_model.LinearExpr]] = [[] for _ in task.needs]
        for (number, way, room, column), n in self.counts.items():
            ripped = task.choices[number].ways[way][room].columns[column]
            for at in range(len(task.needs)):
                if yielded := ripped.yields(at):
                    made[at].append(yielded * n)
        for at, need in enumerate(task.needs):
            self.model.add(sum(made[at]) + self.short[at] >= need.count)
        self.objective = sum(costs) + task.missing * sum(self.short)
        self.model.minimize(self.objective)

    def _piece(self, number: int, choice: Choice) -> cp_model.LinearExpr:
        """Variables of one piece; returns its cost."""
        model, piece = self.model, choice.stock
        used = model.new_bool_var(f"used {number}")
        self.used.append(used)
        before = self.task.choices[number - 1].stock if number else None
        if before is not None and (before.number, before.new) == (piece.number, piece.new):
            model.add_implication(used, self.used[number - 1])  # one of a lot is like the next
        self.taken.append([model.new_bool_var(f"way {number} {way}") for way in range(len(choice.ways))])
        if choice.ways:
            model.add_exactly_one([*self.taken[-1], used.negated()])
        else:
            model.add(used == 0)
        back = []
        for way, rooms in enumerate(choice.ways):
            for which, room in enumerate(rooms):
                back += self._room((number, way, which), room, self.taken[-1][way])
        return choice.price * used - sum(back)

    def _room(self, at: tuple[int, int, int], room: Room, taken: cp_model.IntVar) -> list[cp_model.LinearExpr]:
        """Sections in one rectangle; returns what comes back to the store."""
        model, lengths, back = self.model, [], []
        for column, each in enumerate(room.each):
            n = model.new_int_var(0, room.length // each, f"n {at} {column}")
            self.counts[*at, column] = n
            lengths.append(each * n)
            if room.back[column]:
                back.append(room.back[column] * n)
        rest: list[cp_model.LinearExpr] = []
        if room.rest:
            # either nothing is kept of the far end, or enough to be worth it; it lies behind a cut of its own
            most = room.length - room.kerf
            kept = model.new_int_var(0, most, f"kept {at}")
            keeps = model.new_bool_var(f"keeps {at}")
            model.add(kept <= most * keeps)
            model.add(kept >= room.least * keeps)
            rest = [kept, room.kerf * keeps]
            back.append(room.rest * kept)
        # linear in all of them rather than enforced: the relaxation is what the bound comes from
        model.add(sum([*lengths, *rest]) <= room.length * taken)
        return back

    def hint(self, cuttings: Sequence[Cutting]) -> None:
        """Begin the search at this plan."""
        counts = {
            (cutting.choice, cutting.way, room, column): n
            for cutting in cuttings
            for room, column, n in cutting.sections
        }
        for key, n in self.counts.items():
            self.model.add_hint(n, counts.get(key, 0))
        begun = {cutting.choice: cutting.way for cutting in cuttings}
        for number, used in enumerate(self.used):
            self.model.add_hint(used, number in begun)
            for way, taken in enumerate(self.taken[number]):
                self.model.add_hint(taken, begun.get(number) == way)

    def solve(self, work: float, least: float, progress: Progress, workers: int) -> tuple[list[Cutting] | None, float]:
        """The best plan found (None where none was) and the bound; ``least`` is a bound known before."""
        if least > 0:
            self.model.add(self.objective >= int(least * (1 - 1e-7)))
        solver = counted(cp_model.CpSolver(), work, workers)
        solver.parameters.linearization_level = 2
        solver.parameters.relative_gap_limit = NEAR
        status = solver.solve(self.model, _Watch(self, progress))
        if status not in (cp_model.OPTIMAL, cp_model.FEASIBLE):
            return None, 0.0
        return self.plan(solver.value), solver.best_objective_bound

    def fewest(self, work: float, workers: int) -> tuple[list[Cutting] | None, int]:
        """A plan in which as few strips as possible find no wood, whatever it costs (None where none was found), and
        how few that can be at the least."""
        self.model.minimize(sum(self.short))
        solver = counted(cp_model.CpSolver(), work, workers)
        status = solver.solve(self.model)
        if status not in (cp_model.OPTIMAL, cp_model.FEASIBLE):
            return None, 0
        return self.plan(solver.value), math.ceil(solver.best_objective_bound - 1e-6)

    def plan(self, value: Callable[[cp_model.IntVar], int]) -> list[Cutting]:
        """What the variables' values stand for."""
        sections: dict[tuple[int, int], list[tuple[int, int, int]]] = {}
        for (number, way, room, column), variable in self.counts.items():
            if n := value(variable):
                sections.setdefault((number, way), []).append((room, column, n))
        return [Cutting(number, way, tuple(found), 0, ()) for (number, way), found in sections.items()]


class _Watch(cp_model.CpSolverSolutionCallback):
    """Tells of every better plan, and ends the search when told to."""

    def __init__(self, program: Program, progress: Progress) -> None:
        super().__init__()
        self.program, self.progress = program, progress

    def on_solution_callback(self) -> None:
        if not self.progress(self.program.plan(self.value), self.best_objective_bound):
            self.stop_search()
