"""What this shop's machines can take: too wide, too short, too thin, too high."""

from __future__ import annotations

import math
from collections.abc import Iterator

from ..analysis.machines import passage
from ..plan.simulate import Simulation, StageResult
from ..plan.subpanels import seams
from ..shop import Shop
from ..stages import Crosscut, Flatten, Groove, Method, Mill, Resaw
from .model import SUB_PANELS, Check, Remedy, Severity, Show
from .stock import stands_on_end

BIT_OFF = 0.25
"""A bit this near a groove's width (mm) makes it."""


def _flattened(sim: Simulation, *methods: Method) -> Iterator[tuple[StageResult, Flatten]]:
    for result in sim.results:
        if isinstance(result.stage, Flatten) and result.stage.method in methods and not result.stage.skip:
            yield result, result.stage


def too_wide(sim: Simulation, show: Show, shop: Shop) -> Iterator[Check]:
    """A panel wider than the machine that is to flatten it."""
    for result, stage in _flattened(sim, Method.PLANER, Method.DRUM_SANDER):
        planer = stage.method is Method.PLANER
        if planer and stands_on_end(sim, stage.id):
            continue  # end grain in a planer is a question of its own
        most = shop.planer_width if planer else shop.drum_width
        width = result.size[0]
        if width <= most:
            continue
        drum = shop.drum_width if planer else math.inf
        instead = (
            Remedy(stage.id, "method", Method.DRUM_SANDER if planer else Method.ROUTER_SLED,
                   "Use the drum sander" if planer else "Use a router on a sled")
            if width <= drum else None
        )  # fmt: skip
        other: Remedy | None = None
        apart = seams(sim.plan, stage.id, most) if planer else ()
        parts = _counted(len(apart) + 1 if apart else math.ceil(width / most))
        if apart:
            strips = " and ".join(str(at) for at in apart)
            words = f"Make it {parts} sub-panels, parted behind strip {strips}"
            instead, other = Remedy(stage.id, SUB_PANELS, most, words), instead
        yield Check(
            Severity.CAUTION, stage.id,
            f"At {show(width)} the panel is wider than your {stage.method.label} takes ({show(most)}).",
            f"Glue it as {parts} sub-panels of up to {show(most)}, plane all to one thickness, then join them with the "
            "seam on a joint that the pattern has anyway; or flatten it another way." if planer else
            "Flatten it with a router on a sled, or glue it as sub-panels.",
            remedy=instead,
            other=other,
        )  # fmt: skip


def _counted(parts: int) -> str:
    return {2: "two", 3: "three", 4: "four"}.get(parts, str(parts))


def too_short(sim: Simulation, show: Show, shop: Shop) -> Iterator[Check]:
    """Nothing shorter than the machine's minimum goes through it: it tips between the rollers."""
    for result, stage in _flattened(sim, Method.PLANER, Method.DRUM_SANDER):
        way = passage(sim, result)
        least = shop.planer_shortest if stage.method is Method.PLANER else shop.drum_shortest
        if way is not None and way.shortest < least:
            yield Check(
                Severity.STOP, stage.id,
                f"A piece of {show(way.shortest)} is shorter than your {stage.method.label} may take ({show(least)}): it "
                "can tip and be thrown.",
                "Flatten it while it is still longer, or with a router on a sled.",
                remedy=Remedy(stage.id, "method", Method.ROUTER_SLED, "Use a router on a sled"),
            )  # fmt: skip


def too_thin(sim: Simulation, show: Show, shop: Shop) -> Iterator[Check]:
    """Thin wood chatters and breaks up under the knives."""
    for result, stage in _flattened(sim, Method.PLANER, Method.DRUM_SANDER):
        least = shop.planer_thinnest if stage.method is Method.PLANER else shop.drum_thinnest
        if result.size[2] < least:
            yield Check(
                Severity.CAUTION, stage.id,
                f"{show(result.size[2])} is thinner than your {stage.method.label} holds ({show(least)}).",
                "Fix it to a flat carrier board, or mill it thicker.",
            )  # fmt: skip


def too_wide_for_the_sled(sim: Simulation, show: Show, shop: Shop) -> Iterator[Check]:
    """A panel must lie on the sled with its whole width."""
    for result in sim.results:
        stage = result.stage
        if isinstance(stage, Crosscut) and stage.source and (width := _width(sim, stage)) > shop.sled_width:
            yield Check(
                Severity.CAUTION, stage.id,
                f"A panel of {show(width)} does not fit your sled, which takes {show(shop.sled_width)}.",
                "Crosscut it as two sub-panels before they are joined, or use a track saw against a stop.",
            )  # fmt: skip


def too_high_to_resaw(sim: Simulation, show: Show, shop: Shop) -> Iterator[Check]:
    """Re-sawn wood stands on its edge under the guides."""
    for result in sim.results:
        stage = result.stage
        if not isinstance(stage, Resaw) or stage.source is None:
            continue
        # it stands on whichever of its edges makes it the lower
        height = float(sim.taken(stage.sources[0]).cells.piece_sizes()[:, :2].min(axis=1).max())
        if height > shop.resaw_height:
            yield Check(
                Severity.STOP, stage.id,
                f"Standing {show(height)} high the wood does not pass under your saw's guides ({show(shop.resaw_height)}).",
                f"Rip it to {show(shop.resaw_height)} or less first.",
            )  # fmt: skip


def too_short_to_joint(sim: Simulation, show: Show, shop: Shop) -> Iterator[Check]:
    """Strips are jointed before they are ripped; a short one tips into the cutter head. Said once for all panels."""
    mills = [r.stage for r in sim.results if isinstance(r.stage, Mill) and not r.stage.as_is]
    short = [stage for stage in mills if stage.shortest + shop.rough[0] < shop.jointer_shortest]
    if short:
        least = min(stage.shortest for stage in short) + shop.rough[0]
        others = f" (and those of {len(short) - 1} more panels)" if len(short) > 1 else ""
        yield Check(
            Severity.CAUTION, short[0].id,
            f"Rough strips of {show(least)}{others} are shorter than your jointer may take "
            f"({show(shop.jointer_shortest)}): they can tip into the cutter head.",
            "Joint and plane the wood while it is long, and crosscut the strips afterwards.",
        )  # fmt: skip


def no_such_bit(sim: Simulation, show: Show, shop: Shop) -> Iterator[Check]:
    """A groove is as wide as some bit."""
    bits = sorted(shop.bits)
    for result in sim.results:
        stage = result.stage
        if isinstance(stage, Groove) and bits and min(abs(stage.width - bit) for bit in bits) > BIT_OFF:
            nearest = min(bits, key=lambda bit: abs(stage.width - bit))
            yield Check(
                Severity.NOTE, stage.id,
                f"You have no bit {show(stage.width)} wide; yours are {', '.join(show(bit) for bit in bits)}.",
                f"Make the groove {show(nearest)} wide.",
                remedy=Remedy(stage.id, "width", nearest, f"Make it {show(nearest)} wide"),
            )  # fmt: skip


def _width(sim: Simulation, stage: Crosscut) -> float:
    """The widest piece that a stage takes, mm."""
    return float(sim.taken(stage.sources[0]).cells.piece_sizes()[:, 0].max())
