"""Which window each job is done in, before it is settled at which minute.

Between windows everything is a matter of yes and no: what a window has room for, what must lie before what, what still
hangs in the clamps when a window ends. That is a far smaller question than that of the minutes, and where it has an
answer, minutes are mostly found close by.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from typing import Any

from ortools.sat.python import cp_model

from .bounds import earliest_starts, latest_within
from .model import STEP, After, Held, Job, Problem

Cell = tuple[int, int, int]
"""A window, and the first and last minute at which a job can begin in it."""

Cells = Mapping[str, Sequence[Cell]]
"""Where each job may be done; what is fixed outside all windows is not among them."""

Chosen = dict[tuple[str, int], tuple[int, int, Any]]
"""For a job and a window: first and last minute, and whether it is done there."""


def cells(problem: Problem, ends: Mapping[int, int]) -> dict[str, list[Cell]] | None:
    """All cells, where every board is to be ready by its one of ``ends``; None where a job has none."""
    soonest, latest = earliest_starts(problem), latest_within(problem, ends)
    if latest is None:
        return None
    found: dict[str, list[Cell]] = {}
    for job in problem.jobs:
        if job.fixed is not None:
            at = problem.window_of(job.fixed)
            if at is not None:
                found[job.id] = [(at, job.fixed, job.fixed)]
            continue
        each = [
            (at, max(low, soonest[job.id]), min(high - job.minutes, latest[job.id]))
            for at, (low, high) in enumerate(problem.windows)
        ]
        found[job.id] = [cell for cell in each if cell[1] <= cell[2]]
        if not found[job.id]:
            return None
    return found


def near(every: Cells, chosen: Mapping[str, int], by: int) -> dict[str, list[Cell]]:
    """Only those at most ``by`` windows from the chosen ones."""
    return {name: [cell for cell in row if abs(cell[0] - chosen[name]) <= by] for name, row in every.items()}


def between(model: cp_model.CpModel, problem: Problem, every: Cells) -> Chosen:
    """Put into a model what must hold between windows, whatever the minutes: each job lies in one of its cells, hands
    have the time, what must come before does, and there are clamps and places for what is held for certain."""
    chosen: Chosen = {
        (name, at): (first, last, model.new_bool_var(f"{name} at {at}"))
        for name, row in every.items() for at, first, last in row
    }  # fmt: skip
    jobs = problem.by_id()
    within: dict[int, list[Any]] = {}
    for name, row in every.items():
        model.add_exactly_one(chosen[name, at][2] for at, _, _ in row)
        for at, _, _ in row:
            within.setdefault(at, []).append(jobs[name].minutes // STEP * chosen[name, at][2])
    for at, work in within.items():
        low, high = problem.windows[at]
        model.add(sum(work) <= (high - low) // STEP * problem.means.hands)
    for job in problem.jobs:
        for after in job.after:
            if job.id in every and after.job in every:
                _order(model, chosen, jobs[after.job], every[after.job], job, every[job.id], after)
    for moment in sorted({moment for at in within for moment in problem.windows[at]}):
        for name in Held.__slots__:
            if held := list(_held(problem, chosen, moment, name)):
                model.add(sum(held) <= getattr(problem.means, name))
    return chosen


def _order(
    model: cp_model.CpModel, chosen: Chosen, one: Job, first: Sequence[Cell], other: Job, then: Sequence[Cell],
    after: After,
) -> None:  # fmt: skip
    """What comes after lies late enough behind what comes before, and not too late."""
    so_far: list[Any] = []
    for at, _, last in then:
        so_far.append(chosen[other.id, at][2])
        before = [chosen[one.id, w][2] for w, begins, _ in first if begins + one.minutes + after.least <= last]
        if len(before) < len(first):
            model.add(sum(so_far) <= sum(before))
    if after.most is None:
        return
    for at, _, last in first:
        soon = [chosen[other.id, w][2] for w, begins, _ in then if begins <= last + one.minutes + after.most]
        if len(soon) < len(then):
            model.add(sum(soon) >= chosen[one.id, at][2])


def _held(problem: Problem, chosen: Chosen, moment: int, name: str) -> Iterator[Any]:
    """How much of one thing is held for certain at a moment."""
    jobs = problem.by_id()
    for (job, _), (first, last, there) in chosen.items():
        amount = getattr(jobs[job].held, name)
        if amount and last <= moment < first + jobs[job].minutes + jobs[job].hold:
            yield amount * there
    for busy in problem.busy:
        if busy.span[0] <= moment < busy.span[1] and (amount := getattr(busy.held, name)):
            yield amount


def quick(work: float, seed: int) -> cp_model.CpSolver:
    """A solver that looks for any answer: fractions of jobs tell nothing of that, and looking ahead costs the most."""
    solver = cp_model.CpSolver()
    solver.parameters.max_deterministic_time = work
    solver.parameters.random_seed = seed
    solver.parameters.num_workers = 1  # several at once would not give the same answer twice
    solver.parameters.linearization_level = 0
    solver.parameters.cp_model_probing_level = 0
    solver.parameters.symmetry_level = 0
    return solver


def settled(problem: Problem, every: Cells, work: float, seed: int) -> dict[str, int] | None:
    """A window for each job, found with so much ``work``; None where none was found."""
    model = cp_model.CpModel()
    chosen = between(model, problem, every)
    solver = quick(work, seed)
    if solver.solve(model) not in (cp_model.OPTIMAL, cp_model.FEASIBLE):
        return None
    return {name: at for (name, at), (_, _, there) in chosen.items() if solver.value(there)}
