"""Wood too thin, too short or too wide for what is asked of it."""

from __future__ import annotations

import math
from collections.abc import Iterator

from ..plan.model import OFFCUT
from ..plan.simulate import Simulation
from ..shop import Shop
from ..stages import Crosscut, Flatten, Method, Mill, Profile, Rip, Trim
from .model import Check, Remedy, Severity, Show

LEAST_TO_HOLD = 50.0
"""Least remainder (mm) to hold at the last cut."""

LONG = 3 * LEAST_TO_HOLD
"""A slice this long (mm) is itself what one holds."""

MUCH, MUCH_SHARE = 100.0, 0.2
"""So much more than it takes to hold (mm), and so much of the panel, is left for nothing."""

KERF_OFF = 0.25
"""Kerfs that differ by less (mm) are one blade on another day."""

TABLE = 1200.0
"""A board longer than this (mm) fits no counter."""

MUCH_OFF = 6.0
"""More than this (mm) off a face is sawn, not planed."""

THIN = 10.0
"""Strips thinner than this (mm) bend under a clamp."""

END_GRAIN_ALLOWANCE = 1.0
"""Least to leave on each end-grain face for flattening, mm."""


def _left(sim: Simulation, stage: Crosscut) -> float:
    """What is left of the shortest panel behind the last cut, mm."""
    panels = sim.taken(stage.sources[0])
    return min(stage.remainder(panels[number]) for number in range(len(panels)))


def short_remainder(sim: Simulation, show: Show, shop: Shop) -> Iterator[Check]:
    """The last slice needs something behind it to hold."""
    for result in sim.results:
        stage = result.stage
        if not isinstance(stage, Crosscut) or stage.source is None:
            continue
        left = _left(sim, stage)
        held = max(left, stage.slice if left < 0.05 else 0.0)  # the last slice itself, where nothing is left behind it
        if held < LEAST_TO_HOLD and stage.slice < LONG:
            yield Check(
                Severity.CAUTION, stage.id,
                f"Only {show(left)} of the panel is left behind the last cut, too short to hold safely.",
                f"Make the panel {show(LEAST_TO_HOLD - left)} longer, or cut one slice less.",
            )  # fmt: skip


def long_remainder(sim: Simulation, show: Show, shop: Shop) -> Iterator[Check]:
    """A panel much longer than its slices need is wood, glue and planing for nothing."""
    for result in sim.results:
        stage = result.stage
        if not isinstance(stage, Crosscut) or stage.skip or stage.source is None or stage.source.endswith(OFFCUT):
            continue
        if any(stage.id + OFFCUT in other.sources for other in sim.plan.stages):
            continue  # what is left is used
        left = _left(sim, stage)
        length = float(sim.taken(stage.sources[0]).cells.piece_sizes()[:, 1].min())
        if left > MUCH + LEAST_TO_HOLD and left > MUCH_SHARE * length:
            more = int((left - LEAST_TO_HOLD) // (stage.slice + stage.kerf))
            yield Check(
                Severity.NOTE, stage.id,
                f"{show(left)} of {show(length)} are left behind the last cut, much more than it takes to hold.",
                f"Make the strips shorter, or cut up to {more} slice{'s' if more != 1 else ''} more.",
            )  # fmt: skip


def unlike_kerf(sim: Simulation, show: Show, shop: Shop) -> Iterator[Check]:
    """A plan that counts on another kerf than the saw's comes out longer or shorter, cut by cut."""
    for result in sim.results:
        stage = result.stage
        if isinstance(stage, Rip | Crosscut | Profile) and not stage.skip and abs(stage.kerf - shop.kerf) > KERF_OFF:
            yield Check(
                Severity.NOTE, stage.id,
                f"This counts on a kerf of {show(stage.kerf)}; your saw's is {show(shop.kerf)}.",
                "Take the saw's own, unless another blade makes these cuts.",
                remedy=Remedy(stage.id, "kerf", shop.kerf, f"Count on {show(shop.kerf)}"),
            )  # fmt: skip


def very_large(sim: Simulation, show: Show, shop: Shop) -> Iterator[Check]:
    """A board larger than a table is mostly a count that went wrong."""
    width, length, _ = sim.board.size
    if max(width, length) > TABLE:
        yield Check(
            Severity.CAUTION, sim.board.stage.id,
            f"The board comes out {show(width)} × {show(length)}. Is that meant?",
            "Look at how many strips and slices there are, and which joints stay dry.",
        )  # fmt: skip


def much_off(sim: Simulation, show: Show, shop: Shop) -> Iterator[Check]:
    """Flattening takes hairs; what is far too thick is sawn."""
    for result in sim.results:
        stage = result.stage
        if not isinstance(stage, Flatten) or stage.skip or stage.source is None:
            continue
        axis = stage.faces.axis
        thick, before = sim[stage.source].size[axis], sim.plan.stage(stage.source.removesuffix(OFFCUT))
        if isinstance(before, Mill) and before.as_is and axis == 2:
            thick = before.thickness  # the box round a stave is no wood
        off = (thick - result.size[axis]) / 2
        if off > MUCH_OFF:
            yield Check(
                Severity.CAUTION, stage.id,
                f"{show(off)} off each face is more than flattening is for: hours of passes, and wood for nothing.",
                "Mill or saw it nearer to its size first, or flatten to more.",
            )  # fmt: skip


def wide_strips(sim: Simulation, show: Show, shop: Shop) -> Iterator[Check]:
    """A strip that no jointer takes is a plank: it cups, and one edge of its joint opens."""
    for result in sim.results:
        stage = result.stage
        wide = max((s.width for s in stage.strips), default=0.0) if isinstance(stage, Mill) and not stage.as_is else 0.0
        if wide > shop.jointer_width:
            yield Check(
                Severity.CAUTION, stage.id,
                f"Strips {show(wide)} wide are wider than your jointer ({show(shop.jointer_width)}), and so wide a strip "
                "cups.",
                "Rip it and turn every other part face over, or lay several strips of that wood side by side.",
            )  # fmt: skip


def too_deep_a_cut(sim: Simulation, show: Show, shop: Shop) -> Iterator[Check]:
    """A circular saw's blade stands out of the table so far and no farther; tilted it reaches less."""
    for result in sim.results:
        stage = result.stage
        if not isinstance(stage, Rip | Crosscut | Profile) or stage.skip or stage.source is None:
            continue
        if isinstance(stage, Crosscut) and shop.slicing_saw == "band":
            continue
        bevel = stage.bevel if isinstance(stage, Rip | Crosscut) else 45.0
        thick = float(sim.taken(stage.sources[0]).cells.piece_sizes()[:, 2].max())
        deep = thick / math.cos(math.radians(bevel))
        if deep > shop.saw_depth:
            yield Check(
                Severity.STOP, stage.id,
                f"The cut is {show(deep)} deep{' along the tilted blade' if bevel else ''}; your saw cuts {show(shop.saw_depth)}.",
                "Cut it on the band saw and plane the sawn faces, or make it thinner. A cut from both faces wants a fence "
                "that the piece cannot tip from.",
            )  # fmt: skip


def short_for_a_profile(sim: Simulation, show: Show, shop: Shop) -> Iterator[Check]:
    """A bevel rip leaves a piece that rests on an edge; a short one cannot be held there."""
    for result in sim.results:
        stage = result.stage
        if not isinstance(stage, Profile) or stage.skip or stage.source is None:
            continue
        least = float(sim.taken(stage.sources[0]).cells.piece_sizes()[:, 1].min())
        if least < shop.jointer_shortest:
            yield Check(
                Severity.CAUTION, stage.id,
                f"Pieces {show(least)} long are too short to hold through a bevel rip (your jointer's least is "
                f"{show(shop.jointer_shortest)}).",
                "Saw the section while the wood is long, and crosscut it afterwards.",
            )  # fmt: skip


def thin_strips(sim: Simulation, show: Show, shop: Shop) -> Iterator[Check]:
    """Thin strips bow between the clamps and show it in the pattern."""
    for result in sim.results:
        stage = result.stage
        if isinstance(stage, Mill) and not stage.as_is and (thin := [s for s in stage.strips if s.width < THIN]):
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
            least = max(min(before[0] - after[0], before[1] - after[1]), 0.0)
            if least < 1.0:
                yield Check(
                    Severity.NOTE, stage.id,
                    f"Trimming takes only {show(least)} in one direction, so uneven row ends will stay.",
                    f"Leave at least {show(2.0)} a side.",
                )  # fmt: skip


def stands_on_end(sim: Simulation, stage_id: str) -> bool:
    """Whether the fibres of this stage's pieces point up."""
    return sim[stage_id].pieces.cells.on_end
