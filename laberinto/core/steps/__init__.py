"""The build as steps at the bench, in order, with settings, maps and cautions."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import replace

from ..analysis.names import names
from ..instructions import grouped, told
from ..plan.simulate import Simulation
from ..shop import Shop
from ..units import Lengths
from .cautions import DEFER
from .jigs import equipped
from .marking import remembered
from .model import Context, Map, Step, rows_of
from .writers import WRITERS


def steps(
    sim: Simulation,
    lengths: Lengths | None = None,
    shop: Shop | None = None,
    taken: tuple[str, ...] = (),
    ticked: Iterable[str] = (),
) -> list[Step]:
    """Every step of the build in order, with lengths written as ``lengths`` shows them. ``taken`` are sentences on what
    of the store is held for the board; they stand where its wood is cut. ``ticked`` are keys of what is done: nothing
    that is not begun goes together with what is."""
    begun = frozenset(key.partition(".")[0] for key in ticked)
    asked = lengths or Lengths(), shop or Shop(), taken, begun
    return list(sim.memo.latest(_steps, sim, *asked, key=asked))


def _steps(sim: Simulation, how: Lengths, here: Shop, taken: tuple[str, ...], begun: frozenset[str]) -> list[Step]:
    known = names(sim)
    by_stage = {result.stage.id: told(sim, result, here, known) for result in sim.results}
    # what becomes rows stops exactly where it is told to, so it goes together only with what does too
    alike = {name: (bool(rows_of(sim, name)), name in begun) for name in by_stage}
    todo = equipped([
        (sim[go[0]].stage, replace(step, also=go[1:], times=sim.plan.times))
        for go, does in grouped(sim.plan, by_stage, alike)
        for step in WRITERS[sim[go[0]].stage.kind](
            Context(sim, sim[go[0]], how, here, known, does, taken, first=sim[go[0]] is sim.results[0])
        )
    ], {strip.wood for strip in sim.strips})  # fmt: skip
    return remembered(todo, sim)


__all__ = ["DEFER", "Map", "Step", "steps"]
