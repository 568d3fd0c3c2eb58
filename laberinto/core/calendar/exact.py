"""One search by OR-Tools' CP-SAT: a problem, what earlier aims reached, and the aim that is made better."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from typing import Any

from ortools.sat.python import cp_model

from .bounds import earliest_starts, windows_until
from .model import STEP, Aim, Held, Job, Problem, finishes
from .windows import Cells, between, quick


class Exact:
    """The model of one search; its numbers are steps. ``in_all`` is the sum of what the boards take so far; where
    ``cells`` are given, each job is done in one of them, and any answer will do."""

    def __init__(
        self, problem: Problem, kept: Mapping[Aim, int], aim: Aim, in_all: int, cells: Cells | None = None
    ) -> None:
        self.problem, self.aim = problem, aim
        self.model = cp_model.CpModel()
        self.soonest = earliest_starts(problem)
        self.starts = {job.id: self._start(job) for job in problem.jobs}
        self._order()
        self._shared()
        self.finish = {board: self._finish(board, jobs) for board, jobs in problem.of_boards().items()}
        self.most_windows = windows_until(problem, kept)
        self.windows: dict[int, Any] = {}
        self.inside: dict[str, dict[int, Any]] = {}
        days = [problem.days.count(day) for day in set(problem.days)]
        if {aim, *kept} & {Aim.EVENINGS, Aim.SETUPS} or max(days, default=0) > problem.means.trips:
            self._windows()
        if cells is not None:
            self._within(cells)
        for before, value in kept.items():
            self.model.add(self._sum(before) * self._unit(before) <= value)
        # what is ready together is not to be ready later one by one
        if Aim.SOON in kept and aim in (Aim.EVENINGS, Aim.SETUPS):
            self.model.add(sum(self.finish.values()) * STEP <= in_all + STEP * len(self.finish))
        if cells is None:
            self.model.minimize(self._sum(aim))

    @staticmethod
    def _unit(aim: Aim) -> int:
        return STEP if aim in (Aim.LATE, Aim.SOON) else 1

    def _start(self, job: Job) -> Any:
        if job.fixed is not None:
            return self.model.new_constant(job.fixed // STEP)
        low = max(self.soonest[job.id], job.earliest)
        spans = [
            [-(-max(a, low) // STEP), (b - job.minutes) // STEP]
            for a, b in self.problem.windows if max(a, low) <= b - job.minutes
        ]  # fmt: skip
        return self.model.new_int_var_from_domain(cp_model.Domain.from_intervals(spans), job.id)

    def _order(self) -> None:
        jobs = self.problem.by_id()
        for job in self.problem.jobs:
            for after in job.after:
                if after.job not in jobs:
                    continue
                end = self.starts[after.job] + jobs[after.job].minutes // STEP
                self.model.add(self.starts[job.id] >= end + -(-after.least // STEP))
                if after.most is not None:
                    self.model.add(self.starts[job.id] <= end + after.most // STEP)

    def _shared(self) -> None:
        model, means = self.model, self.problem.means
        at_work = {
            job.id: model.new_fixed_size_interval_var(self.starts[job.id], job.minutes // STEP, f"{job.id}~")
            for job in self.problem.jobs
        }
        if means.hands == 1:
            model.add_no_overlap(at_work.values())
        else:
            model.add_cumulative(at_work.values(), [1] * len(at_work), means.hands)
            machines: dict[str, list[Any]] = {}
            for job in self.problem.jobs:
                if job.machine:
                    machines.setdefault(job.machine, []).append(at_work[job.id])
            for several in machines.values():
                model.add_no_overlap(several)
        for name in Held.__slots__:
            spans, amounts = [], []
            for job in self.problem.jobs:
                if amount := getattr(job.held, name):
                    long = -(-(job.minutes + job.hold) // STEP)
                    spans.append(model.new_fixed_size_interval_var(self.starts[job.id], long, f"{job.id}~{name}"))
                    amounts.append(amount)
            for at, busy in enumerate(self.problem.busy):
                if amount := getattr(busy.held, name):
                    low, high = busy.span[0] // STEP, -(-busy.span[1] // STEP)
                    spans.append(model.new_fixed_size_interval_var(low, high - low, f"busy {at}~{name}"))
                    amounts.append(amount)
            if spans:
                model.add_cumulative(spans, amounts, getattr(means, name))

    def _finish(self, board: int, jobs: Sequence[Job]) -> Any:
        ends = [(self.starts[job.id], -(-(job.minutes + max(job.hold, job.then)) // STEP)) for job in jobs]
        last = max((high for _, high in self.problem.windows), default=0)
        fixed = max((job.fixed for job in jobs if job.fixed is not None), default=0)
        most = max(last, fixed) // STEP + max(long for _, long in ends) + 1
        finish = self.model.new_int_var(0, most, f"ready {board}")
        for start, long in ends:
            self.model.add(finish >= start + long)
        return finish

    def _windows(self) -> None:
        """Which window each job lies in, and which are used."""
        model, problem = self.model, self.problem
        self.windows = {at: model.new_bool_var(f"window {at}") for at in range(len(problem.windows))}
        for job in problem.jobs:
            if job.fixed is not None:
                at = problem.window_of(job.fixed)
                if at is not None:
                    self.inside[job.id] = {at: model.new_constant(1)}
                    model.add(self.windows[at] == 1)
                continue
            mine: dict[int, Any] = {}
            low = max(self.soonest[job.id], job.earliest)
            for at, (a, b) in enumerate(problem.windows[: self.most_windows]):
                if max(a, low) > b - job.minutes:
                    continue
                mine[at] = chosen = model.new_bool_var(f"{job.id} in {at}")
                model.add(self.starts[job.id] >= -(-a // STEP)).only_enforce_if(chosen)
                model.add(self.starts[job.id] <= (b - job.minutes) // STEP).only_enforce_if(chosen)
                model.add_implication(chosen, self.windows[at])
            model.add_exactly_one(mine.values())
            self.inside[job.id] = mine
        for day in set(problem.days):
            of_day = [self.windows[at] for at, one in enumerate(problem.days) if one == day]
            if len(of_day) > problem.means.trips:
                model.add(sum(of_day) <= problem.means.trips)

    def _within(self, cells: Cells) -> None:
        """Each job in one of its cells."""
        for (name, _), (first, last, chosen) in between(self.model, self.problem, cells).items():
            self.model.add(self.starts[name] >= -(-first // STEP)).only_enforce_if(chosen)
            self.model.add(self.starts[name] <= last // STEP).only_enforce_if(chosen)

    def _sum(self, aim: Aim) -> Any:
        if aim is Aim.LATE:
            late = []
            for board, due in self.problem.due.items():
                if board in self.finish:
                    over = self.model.new_int_var(0, 10**6, f"late {board}")
                    self.model.add(over >= self.finish[board] - due // STEP)
                    late.append(over)
            return sum(late)
        if aim is Aim.SOON:
            last = self.model.new_int_var(0, 10**6, "last")
            self.model.add_max_equality(last, list(self.finish.values()))
            return last
        if aim is Aim.EVENINGS:
            return sum(self.windows.values())
        return sum(self._setups().values())

    def _setups(self) -> dict[tuple[int, str], Any]:
        used: dict[tuple[int, str], Any] = {}
        for job in self.problem.jobs:
            if not job.setup:
                continue
            for at, chosen in self.inside.get(job.id, {}).items():
                if (at, job.setup) not in used:
                    used[at, job.setup] = self.model.new_bool_var(f"{job.setup} in {at}")
                self.model.add_implication(chosen, used[at, job.setup])
        return used

    def first(self, work: float, seed: int) -> dict[str, int] | None:
        """Any starts that keep to the model, if some are found."""
        solver = quick(work, seed)
        if solver.solve(self.model) not in (cp_model.OPTIMAL, cp_model.FEASIBLE):
            return None
        return {name: int(solver.value(start)) * STEP for name, start in self.starts.items()}

    def search(
        self, hint: Mapping[str, int], work: float, seed: int, shown: Callable[[Problem, dict[str, int]], bool] | None
    ) -> tuple[dict[str, int] | None, int | None, bool]:
        """The best starts that were found, if any; what nothing can go below; and whether it was stopped."""
        for name, start in hint.items():
            if name in self.starts and self.problem.by_id()[name].fixed is None:
                self.model.add_hint(self.starts[name], start // STEP)
        ready = finishes(self.problem, hint)
        for board, finish in self.finish.items():
            if board in ready:
                self.model.add_hint(finish, -(-ready[board] // STEP))
        solver = cp_model.CpSolver()
        solver.parameters.max_deterministic_time = work
        solver.parameters.random_seed = seed
        solver.parameters.num_workers = 1  # several at once would not give the same answer twice
        watch = _Watch(self, shown)
        status = solver.solve(self.model, watch)
        if status not in (cp_model.OPTIMAL, cp_model.FEASIBLE):
            return None, None, watch.stopped
        bound = round(solver.best_objective_bound + 0.4999) * self._unit(self.aim)
        return {name: int(solver.value(start)) * STEP for name, start in self.starts.items()}, bound, watch.stopped


class _Watch(cp_model.CpSolverSolutionCallback):
    """Shows what is found, and stops where that is asked for."""

    def __init__(self, of: Exact, shown: Callable[[Problem, dict[str, int]], bool] | None) -> None:
        super().__init__()
        self.of, self.shown, self.stopped = of, shown, False

    def on_solution_callback(self) -> None:
        """A better one."""
        if self.shown is None:
            return
        starts = {name: int(self.value(start)) * STEP for name, start in self.of.starts.items()}
        if not self.shown(self.of.problem, starts):
            self.stopped = True
            self.stop_search()
