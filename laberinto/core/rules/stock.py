"""Wood too thin, too short or too wide for what is asked of it."""

from __future__ import annotations

from collections.abc import Iterator

from ..shop import Shop
from ..simulate import Simulation
from ..stages import Crosscut, Flatten, Method, Mill, Trim
from .model import Check, Remedy, Severity, Show

HOLD = 50.0
"""Least remainder (mm) to hold at the last cut."""

THIN = 10.0
"""Strips thinner than this (mm) bend under a clamp."""

END_GRAIN_ALLOWANCE = 1.0
"""Least to leave on each end-grain face for flattening, mm."""


def short_remainder(sim: Simulation, show: Show, shop: Shop) -> Iterator[Check]:
    """The last slice needs something behind it to hold."""
    for result in sim.results:
        stage = result.stage
        if not isinstance(stage, Crosscut) or stage.source is None:
            continue
        panel = sim[stage.source].size[1]
        left = panel - stage.squaring - stage.count * (stage.slice + stage.kerf)
        if left < HOLD:
            yield Check(
                Severity.CAUTION, stage.id,
                f"Only {show(max(left, 0.0))} of the panel is left behind the last cut, too short to hold safely.",
                f"Make the panel {show(HOLD - left)} longer, or cut one slice less.",
            )  # fmt: skip


def thin_strips(sim: Simulation, show: Show, shop: Shop) -> Iterator[Check]:
    """Thin strips bow between the clamps and show it in the pattern."""
    for result in sim.results:
        stage = result.stage
        if isinstance(stage, Mill) and (thin := [s for s in stage.strips if s.width < THIN]):
            yield Check(
                Severity.CAUTION, stage.id,
                f"Strips of {show(min(s.width for s in thin))} bend under a clamp set straight on them.",
                f"Clamp through a stiff caul, or use strips of {show(THIN)} and more.",
            )  # fmt: skip


def end_grain_in_planer(sim: Simulation, show: Show, shop: Shop) -> Iterator[Check]:
    """Schools differ; some have seen boards burst."""
    for result in sim.results:
        stage = result.stage
        if isinstance(stage, Flatten) and stage.method is Method.PLANER and stands_on_end(sim, stage.id):
            yield Check(
                Severity.CAUTION if shop.end_grain_planing == "never" else Severity.NOTE, stage.id,
                "End grain in a thickness planer can tear out at the edge or burst; many makers never do it.",
                "Use a drum sander or a router on a sled. If you plane it: glue on sacrificial ends, let the glue cure "
                f"over 12 hours, and take about {show(0.2)} a pass.",
                remedy=Remedy(stage.id, "method", Method.DRUM_SANDER, "Use the drum sander"),
            )  # fmt: skip


def little_to_flatten(sim: Simulation, show: Show, shop: Shop) -> Iterator[Check]:
    """Rows never come out of the clamps level."""
    for result in sim.results:
        stage = result.stage
        if isinstance(stage, Flatten) and stage.source and stands_on_end(sim, stage.id):
            off = (sim[stage.source].size[2] - result.size[2]) / 2
            if off < END_GRAIN_ALLOWANCE:
                yield Check(
                    Severity.CAUTION, stage.id,
                    f"Only {show(off)} comes off each face, and rows seldom leave the clamps that level.",
                    f"Cut the slices {show(2 * (1.5 - off))} thicker.",
                )  # fmt: skip


def nothing_trimmed(sim: Simulation, show: Show, shop: Shop) -> Iterator[Check]:
    """A board taken exactly to the size the rows make leaves nothing to true."""
    for result in sim.results:
        stage = result.stage
        if isinstance(stage, Trim) and stage.source:
            before, after = sim[stage.source].size, result.size
            least = min(before[0] - after[0], before[1] - after[1])
            if least < 1.0:
                yield Check(
                    Severity.NOTE, stage.id,
                    f"Trimming takes only {show(least)} in one direction, so uneven row ends will stay.",
                    f"Leave at least {show(2.0)} a side.",
                )  # fmt: skip


def stands_on_end(sim: Simulation, stage_id: str) -> bool:
    """Whether the fibres of this stage's pieces point up."""
    return sim[stage_id].pieces.cells.on_end
