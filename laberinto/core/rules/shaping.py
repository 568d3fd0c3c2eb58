"""Shaping that gets in its own way: grooves, wells, coves, screws, and the order they come in."""

from __future__ import annotations

from collections.abc import Iterator
from typing import TypeVar

from ..plan.simulate import Simulation, StageResult
from ..shop import Shop
from ..stages import Cove, Ease, Feet, Fill, Flatten, Groove, Hollow, Method, Notch, Rabbet, Sand, Stage, Well
from ..stages.carving import Surface
from ..stages.edges import Height
from .model import Check, Remedy, Severity, Show

WALL = 3.0
"""Least wood between two cuts, mm."""

DEEPER = 2.0
"""A well lies this much lower than the groove that drains into it, mm."""


Kind = TypeVar("Kind", bound=Stage)


def _of(sim: Simulation, kind: type[Kind]) -> list[tuple[StageResult, Kind]]:
    """Results and stages of a kind that are not switched off."""
    return [(r, r.stage) for r in sim.results if isinstance(r.stage, kind) and not r.stage.skip]


def deep_cove(sim: Simulation, show: Show, shop: Shop) -> Iterator[Check]:
    """Coves half way up the edge, from two sides, weaken a board where it is held."""
    for result, stage in _of(sim, Cove):
        most = result.size[2] / 2
        if stage.depth > most:
            yield Check(
                Severity.CAUTION, stage.id,
                f"A cove {show(stage.depth)} deep is more than half the board's thickness ({show(result.size[2])}).",
                f"Keep it to {show(most)} or less.",
                remedy=Remedy(stage.id, "depth", round(most, 1), f"Make it {show(round(most, 1))} deep"),
            )  # fmt: skip


def hollow_for_its_knife(sim: Simulation, show: Show, shop: Shop) -> Iterator[Check]:
    """A blade rounder than the hollow rocks in it; one less round stands on its ends and never reaches the bottom."""
    for _, stage in _of(sim, Hollow):
        if stage.knife is not None and stage.radius <= stage.knife:
            radius = round(stage.knife * 1.1, 0)
            yield Check(
                Severity.STOP, stage.id,
                f"A hollow of radius {show(stage.radius)} is no wider than the knife's curve of {show(stage.knife)}: the "
                "blade would stand on its ends.",
                f"Hollow it to more than {show(stage.knife)}, such as {show(radius)}.",
                remedy=Remedy(stage.id, "radius", radius, f"Hollow it to {show(radius)}"),
            )  # fmt: skip


def shallow_guard(sim: Simulation, show: Show, shop: Shop) -> Iterator[Check]:
    """A chamfer that keeps the edges from bursting in the planer does so as long as there is some of it."""
    guard = 0.0
    for result in sim.results:
        stage = result.stage
        if stage.skip:
            continue
        if isinstance(stage, Ease):
            guard = stage.size if stage.top and stage.bottom else 0.0
        if not isinstance(stage, Flatten) or stage.method is not Method.PLANER or not guard:
            continue
        if not result.pieces.cells.on_end or result.outcome.off is None:
            continue
        off = float(result.outcome.off[:, 2].max())
        guard -= off
        if guard <= 0:
            yield Check(
                Severity.CAUTION, stage.id,
                f"The chamfer round the board is planed away here: {show(off)} comes off a face, and nothing is left of it "
                "to keep the edges from bursting.",
                "Make the chamfer before it larger than all that is planed off, and plane a hair a pass.",
            )  # fmt: skip


def well_above_groove(sim: Simulation, show: Show, shop: Shop) -> Iterator[Check]:
    """Juice runs down: the well must be the lower of the two."""
    for _, stage in _of(sim, Well):
        for _, groove in _of(sim, Groove):
            if groove.face is stage.face and stage.depth <= groove.depth:
                lower = groove.depth + DEEPER
                yield Check(
                    Severity.CAUTION, stage.id,
                    f"The well is {show(stage.depth)} deep and the groove {show(groove.depth)}: nothing drains into it.",
                    f"Rout the well {show(lower)} deep or more.",
                    remedy=Remedy(stage.id, "depth", lower, f"Make it {show(lower)} deep"),
                )  # fmt: skip


def groove_into_cove(sim: Simulation, show: Show, shop: Shop) -> Iterator[Check]:
    """A groove that comes too near to a cove breaks through into it."""
    for _, groove in _of(sim, Groove):
        for other, cove in _of(sim, Cove):
            thickness = other.size[2]
            opening = cove.radius if cove.at is Height.UNDERSIDE else thickness / 2 + cove.radius
            down = thickness - groove.depth if groove.face is Surface.TOP else groove.depth
            overlaps = down < opening + WALL if groove.face is Surface.TOP else thickness - opening < down + WALL
            wall = groove.inset - groove.width / 2 - cove.depth
            if overlaps and wall < WALL:
                inset = round(cove.depth + groove.width / 2 + WALL, 1)
                yield Check(
                    Severity.CAUTION, groove.id,
                    f"Between the groove and the cove only {show(max(wall, 0.0))} of wood is left.",
                    f"Set the groove {show(inset)} in, or make the cove shallower.",
                    remedy=Remedy(groove.id, "inset", inset, f"Set it {show(inset)} in"),
                )  # fmt: skip


def screw_into_groove(sim: Simulation, show: Show, shop: Shop) -> Iterator[Check]:
    """A screw under a groove comes out in it."""
    for result, feet in _of(sim, Feet):
        for _, groove in _of(sim, Groove):
            beside = abs(feet.inset - groove.inset) > groove.width / 2 + WALL
            left = result.size[2] - feet.depth - groove.depth
            if groove.face is Surface.TOP and not beside and left < WALL:
                yield Check(
                    Severity.STOP, feet.id,
                    f"The pilot hole ends {show(max(left, 0.0))} below the groove; a screw would come out in it.",
                    f"Drill {show(max(feet.depth - (WALL - left), 2.0))} deep, or set the feet further in.",
                    remedy=Remedy(feet.id, "inset", groove.inset + groove.width / 2 + 6, "Set the feet further in"),
                )  # fmt: skip


def order(sim: Simulation, show: Show, shop: Shop) -> Iterator[Check]:
    """What needs square edges comes before the edge profile; voids are filled before sanding."""
    eased: Stage | None = None
    sanded: Stage | None = None
    for result in sim.results:
        stage = result.stage
        if stage.skip:
            continue
        if eased is not None and isinstance(stage, Groove | Cove | Notch | Rabbet | Well):
            yield Check(
                Severity.CAUTION, stage.id,
                f"{stage.title} comes after the edges are eased, but fences and bearings want a square edge to run on.",
                f"Move it before “{eased.title.lower()}”.",
            )  # fmt: skip
        if sanded is not None and isinstance(stage, Fill):
            yield Check(
                Severity.CAUTION, stage.id, "Voids are filled after sanding, so the filler stands proud.",
                f"Move it before “{sanded.title.lower()}”.",
            )  # fmt: skip
        if isinstance(stage, Ease) and any(isinstance(r.stage, Notch) for r in sim.results[: sim.plan.index(stage.id)]):
            yield Check(
                Severity.CAUTION, stage.id, "A bearing that follows the edge falls into the notch that is already cut.",
                "Stop short of the notch and finish it by hand, or ease the edges first.",
            )  # fmt: skip
        eased = stage if isinstance(stage, Ease) else eased
        sanded = stage if isinstance(stage, Sand) else sanded
