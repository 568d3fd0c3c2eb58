"""Sanding that takes longer than it has to: a grit left out, or a start too fine for what the machine left."""

from __future__ import annotations

from collections.abc import Iterator

from ..finish.grits import LEFT_BY, LONGER, between, ladder, scratch
from ..finish.oiling import area
from ..plan.simulate import Simulation
from ..shop import Shop
from ..stages import Flatten, Sand
from .model import Check, Severity, Show


def skipped_grit(sim: Simulation, show: Show, shop: Shop) -> Iterator[Check]:
    """The scratches of a coarse grit are taken out slowly by one much finer, or stay."""
    for result in sim.results:
        stage = result.stage
        if not isinstance(stage, Sand) or stage.skip:
            continue
        for rung in ladder(stage.grits):
            grit = between(rung.after, rung.grit) if rung.after is not None else None
            if rung.times > LONGER and grit is not None and rung.after is not None:
                yield Check(
                    Severity.CAUTION, stage.id,
                    f"From {rung.after} straight to {rung.grit}: scratches some {scratch(rung.after):.0f} µm deep are left where "
                    f"{rung.grit} cuts {scratch(rung.grit):.0f}, so it takes {rung.times:.1f} times as long over them: about "
                    f"{(rung.times - 1) * area(sim) * shop.minutes_grit:.0f} min more on this board.",
                    f"Sand with {grit} in between.",
                )  # fmt: skip


def too_fine_a_start(sim: Simulation, show: Show, shop: Shop) -> Iterator[Check]:
    """The first grit has to take out what the machine left in end grain."""
    for result in sim.results:
        stage = result.stage
        if not isinstance(stage, Sand) or stage.skip or not result.pieces.cells.on_end:
            continue
        before = [r.stage for r in sim.results[: sim.plan.index(stage.id)] if isinstance(r.stage, Flatten)]
        flats = [flat for flat in before if not flat.skip and sim[flat.id].pieces.cells.on_end]
        if not flats:
            continue
        left, first = LEFT_BY[flats[-1].method]
        if stage.grits[0] > first:
            yield Check(
                Severity.CAUTION, stage.id,
                f"Sanding begins with {stage.grits[0]}, too fine for {left}: they show once oil is on.",
                f"Begin with {first} or coarser.",
            )  # fmt: skip
