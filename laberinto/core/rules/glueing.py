"""Glue-ups that are too much at once: open time, clamps, and joints that one wood makes with itself."""

from __future__ import annotations

import math
from collections.abc import Iterator

from ..analysis.glueups import clamped, clamps_for
from ..plan.simulate import Simulation
from ..shop import Shop
from ..stages import Glue, Gluing
from .model import Check, Severity, Show

MARGIN = 0.01
"""Same wood along less than this share of the joints is not spoken of."""


def open_time(sim: Simulation, show: Show, shop: Shop) -> Iterator[Check]:
    """Glue skins over while the last joints are still being set."""
    most = shop.joints_in_open_time()
    for result in sim.results:
        joints = len(result.outcome.joints)
        if isinstance(result.stage, Glue) and len(result.pieces) == 1 and joints > most:
            parts = math.ceil((joints + 1) / (most + 1))
            yield Check(
                Severity.CAUTION, result.stage.id,
                f"{joints} joints at {shop.seconds_per_joint:g} s need {joints * shop.seconds_per_joint / 60:.1f} minutes, "
                f"but the glue is open for {shop.open_time:g}.",
                f"Glue it up in {parts} parts of about {math.ceil((joints + 1) / parts)} pieces, then join those; or take "
                "a slower glue.",
            )  # fmt: skip


def clamps(sim: Simulation, show: Show, shop: Shop) -> Iterator[Check]:
    """Clamps are what runs out."""
    for result in sim.results:
        stage = result.stage
        if not isinstance(stage, Glue) or not result.outcome.joints:
            continue
        long, wide = clamped(result)
        need = clamps_for(result, shop)
        there, reach = shop.clamps_that_open_to(wide)
        if need > there:
            yield Check(
                Severity.CAUTION, stage.id,
                f"Joints of {show(long)} want {need} clamps, one every {show(shop.clamp_spacing)}; you have "
                f"{there}{' that open so far' if there < shop.clamps else ''}.",
                "Borrow some, or glue the panel in two shorter lengths.",
            )  # fmt: skip
        if wide > reach:
            yield Check(
                Severity.CAUTION, stage.id,
                f"The glue-up is {show(wide)} across, but your clamps open to {show(reach)}.",
                "Glue it in two parts and join them, or wedge it between battens.",
            )  # fmt: skip


def same_wood(sim: Simulation, show: Show, shop: Shop) -> Iterator[Check]:
    """Spoken of only where this shop never lets a wood touch itself."""
    if shop.same_wood != "never":
        return
    for result in sim.results:
        if not isinstance(result.stage, Gluing):
            continue
        total = alike = 0.0
        for joint in result.outcome.joints:
            for (one, other), area in zip(joint.strips, joint.areas, strict=True):
                total += area
                alike += area if sim.strips[int(one)].wood == sim.strips[int(other)].wood else 0.0
        if total and alike / total > MARGIN:
            yield Check(
                Severity.NOTE, result.stage.id,
                f"In {alike / total * 100:.0f} % of this glue-up a wood touches itself.",
                "Arrange for me keeps woods apart; or change the order of the strips.",
            )  # fmt: skip
