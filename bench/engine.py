"""The engine against one manifold3d object a cell: the same chaos board, cut in the same process."""

from __future__ import annotations

import gc
import time
import tracemalloc
from collections.abc import Callable

from bench import baseline
from bench.chaos import chaos
from laberinto.core.analysis.mesh import mesh_of
from laberinto.core.geometry.clear import clean_rectangle
from laberinto.core.geometry.faces import Side, face_of
from laberinto.core.plan.model import Plan
from laberinto.core.plan.simulate import Simulation, simulate
from laberinto.core.stages import Trim

LAST = "slices"
"""The last pass of the chaos board begins with this stage; an edit of it leaves all before as it is."""


def best(action: Callable[[], object], rounds: int) -> float:
    """Shortest time of some rounds, ms: on a noisy machine the one with the least noise in it."""
    return min(_timed(action) for _ in range(rounds))


def _timed(action: Callable[[], object]) -> float:
    gc.collect()
    start = time.perf_counter()
    action()
    return (time.perf_counter() - start) * 1000


def in_turns(theirs: Callable[[], object], ours: Callable[[], object], rounds: int) -> tuple[float, float]:
    """Shortest times of both, ms, taken in turns, so that a busy while of the machine slows both. Ours is so short that
    each round has three of it."""
    spent = [(_timed(theirs), best(ours, 3)) for _ in range(rounds)]
    return min(one for one, _ in spent), min(other for _, other in spent)


def everything(sim: Simulation) -> None:
    """What the baseline makes too: the face and a mesh; joints and volumes come with the simulation."""
    board = sim.board.pieces[0]
    face_of(board, Side.TOP)
    mesh_of(board)


def edited(plan: Plan, millimetres: float) -> Plan:
    """The plan with slices of another thickness."""
    return plan.with_stage(plan.stage(LAST).model_copy(update={"slice": millimetres}))


def cuts(sim: Simulation) -> dict[str, tuple[float, float]]:
    """Where flush trims go, which the baseline is told."""
    out = {}
    for result in sim.results:
        if isinstance(result.stage, Trim) and result.stage.flush:
            assert result.stage.source
            low, high = clean_rectangle(sim[result.stage.source].pieces[0])
            out[result.stage.id] = float(low[1]), float(high[1])
    return out


def compare(strips: int, rounds: int) -> list[tuple[str, float, float]]:
    """Rows of name, baseline ms and our ms for a chaos board of so many strips: cold, and the last pass edited."""
    plan = chaos(strips)
    sim = simulate(plan)
    cells = len(sim.board.pieces[0])
    where = cuts(sim)
    theirs, ours = in_turns(
        lambda: baseline.finish(baseline.run(plan, where)),
        lambda: everything(simulate(plan, remember=False)),
        rounds,
    )
    at = plan.index(LAST)
    before = baseline.run(plan, where, plan.stages[:at])
    slices = iter(range(1, 100))
    last, edit = in_turns(
        lambda: baseline.finish(baseline.run(plan, where, plan.stages[at:], before)),
        lambda: everything(simulate(edited(plan, 42 - next(slices) / 100))),
        rounds,
    )
    return [(f"chaos, {cells} cells, cold", theirs, ours), (f"chaos, {cells} cells, last pass edited", last, edit)]


def growth(small: int, large: int) -> tuple[int, int, float]:
    """Cells of a small and of a large chaos board, and how much longer a cell takes on the large one (1 is linear)."""
    taken = []
    for strips in (small, large):
        plan = chaos(strips)
        cells = len(simulate(plan).board.pieces[0])
        taken.append((cells, best(lambda plan=plan: everything(simulate(plan, remember=False)), 3) / cells))  # type: ignore[misc]
    return taken[0][0], taken[1][0], taken[1][1] / taken[0][1]


def memory(strips: int) -> tuple[int, float]:
    """Cells, and the most memory in MB that simulating, face and mesh hold at once."""
    plan = chaos(strips)
    tracemalloc.start()
    sim = simulate(plan, remember=False)
    everything(sim)
    peak = tracemalloc.get_traced_memory()[1]
    tracemalloc.stop()
    return len(sim.board.pieces[0]), peak / 1e6
