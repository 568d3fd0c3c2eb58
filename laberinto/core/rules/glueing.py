"""Glue-ups that are too much at once: open time, clamps, and joints that one wood makes with itself."""

from __future__ import annotations

import math
from collections.abc import Iterator

from ..analysis.glueups import clamped, clamps_for, pressed
from ..plan.simulate import Simulation
from ..shop import Shop
from ..shop.glues import GlueKind, pace
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
            needs = joints * shop.seconds_per_joint / 60
            usual = math.isclose(shop.open_now, shop.open_time)
            here = "" if usual else f" at {show.warmth(shop.air)} and {shop.air_damp:g} %"
            yield Check(
                Severity.CAUTION, result.stage.id,
                f"{joints} joints at {shop.seconds_per_joint:g} s need {needs:.1f} minutes, but the glue is open for "
                f"{shop.open_now:.3g}{here}.", divided(joints, shop),
            )  # fmt: skip


def divided(joints: int, shop: Shop) -> str:
    """How a glue-up of so many joints comes within the open time: which joints wait, and what else would do."""
    most, needs = shop.joints_in_open_time(), joints * shop.seconds_per_joint / 60
    parts = math.ceil((joints + 1) / (most + 1))
    each = math.ceil((joints + 1) / parts)
    waits = [str(at) for at in range(each, joints + 1, each)]
    which = f"joint {waits[0]} dry" if len(waits) == 1 else f"joints {', '.join(waits[:-1])} and {waits[-1]} dry"
    also = []
    if needs / 2 <= shop.open_now:
        also.append(f"a second pair of hands takes {needs / 2:.1f} minutes")
    slower = [
        kind for kind in GlueKind
        if kind is not shop.glue and kind.times.open * pace(kind, shop.air, shop.air_damp) >= needs
    ]  # fmt: skip
    if slower:
        also.append(
            f"{slower[0].label} stays open for {slower[0].times.open * pace(slower[0], shop.air, shop.air_damp):.3g}"
        )
    rest = f" Or {', or '.join(also)}." if also else ""
    return f"Leave {which}: that makes {parts} parts of at most {each} pieces, which are joined afterwards.{rest}"


def cold(sim: Simulation, show: Show, shop: Shop) -> Iterator[Check]:
    """Glue that is too cold turns to chalk and does not hold."""
    coldest = shop.glue.times.coldest
    for result in sim.results:
        if isinstance(result.stage, Gluing) and shop.air < coldest:
            yield Check(
                Severity.CAUTION, result.stage.id,
                f"It is {show.warmth(shop.air)} where you glue, and {shop.glue.label} wants {show.warmth(coldest)} at "
                "least: below that it does not set as it should.",
                "Take wood and glue indoors the day before, and let the clamps stand there.",
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
            why = f"one every {show(shop.clamp_spacing)}"
            if shop.clamps_to_press(pressed(result)) == need:
                why = "to press the largest joint as your shop asks"
            yield Check(
                Severity.CAUTION, stage.id,
                f"Joints of {show(long)} want {need} clamps, {why}; you have "
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
