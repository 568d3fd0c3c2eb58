"""From a measurement to the plan that follows it and all ways out, acted out: against a cold simulation of it."""

from __future__ import annotations

import statistics
import time
from collections.abc import Iterator

from bench.chaos import chaos
from laberinto.core.asbuilt import Situation, measure, ways_out
from laberinto.core.patterns import Alternating
from laberinto.core.plan.model import Plan
from laberinto.core.plan.simulate import attempt, simulate
from laberinto.core.shop import Shop
from laberinto.core.stages import Flatten
from laberinto.core.units import Lengths

ROUNDS = 7


def plans() -> dict[str, Plan]:
    """Boards that are measured, by how many cells they have."""
    made = {
        "168": Alternating(strips=12, slices=14),
        "600": Alternating(strips=24, strip_width=15, row=15, slices=25),
    }
    return {cells: family.plan("Bench") for cells, family in made.items()} | {"5,258": chaos(120)}


def rows() -> Iterator[tuple[str, float, float, int]]:
    """For each board: its cells, ms for a cold simulation, ms for the measurement with its ways out, and how many."""
    for cells, plan in plans().items():
        flat = [stage for stage in plan.stages if isinstance(stage, Flatten)][-2]
        planned, thick = simulate(plan), simulate(plan)[flat.id].size[2]
        done = frozenset(stage.id for stage in plan.stages[: plan.index(flat.id) + 1])
        cold, took, ways = [], [], 0
        for number in range(ROUNDS):
            to = thick - 0.5 - number / 100
            start = time.perf_counter()
            built = plan.with_stage(flat.model_copy(update={"to": to, "each_face": None}))
            if flat.to is not None:
                built = measure(plan, flat.id, "to", to, Lengths()).plan
            ways = len(ways_out(Situation(planned, built, flat.id, done, Shop()), Lengths()))
            took.append((time.perf_counter() - start) * 1000)
            start = time.perf_counter()
            attempt(built, remember=False)
            cold.append((time.perf_counter() - start) * 1000)
        yield cells, statistics.median(cold), statistics.median(took), ways


def main() -> None:
    print(f"{'measured, with its ways out':48} {'cold ms':>12} {'ours ms':>9} {'ratio':>8}")
    for cells, cold, took, ways in rows():
        print(f"{f'{cells} cells, {ways} ways':48} {cold:12.1f} {took:9.1f} {took / cold:7.1f}×")
