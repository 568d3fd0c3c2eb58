"""What a glue-up asks for: which way its joints run, clamps, glue, and how long the wood then waits. Screens, sheets,
rules and reckonings all read it here."""

from __future__ import annotations

import math
from collections.abc import Sequence

from ..geometry.joints import Joint
from ..plan.model import Plan
from ..plan.simulate import Simulation, StageResult
from ..shop import Shop
from ..stages import Across, Fill, Glue, Gluing, Oil, Rest, Spread, Stage

GLUE: dict[Spread, float] = {Spread.ONE: 150.0, Spread.BOTH: 250.0}
"""Waterproof PVA glue in g/m² of joint: labels say 150 to 250, the more where both faces are spread."""

REST = 48.0
"""Hours off the clamps before a board's faces are flattened, where the plan has no rest of its own: two days is the
least that is usual."""

SAME_DAY = 5.0
"""What waits no longer than this (hours) can be gone on with on the same day."""


def glue_grams(sim: Simulation, stage_id: str | None = None) -> float:
    """Glue in grams for one glue-up, or for all: joint area × g/m² of joint."""
    return sum(
        grams_for(result.outcome.joints, result.stage.spread)
        for result in sim.results
        if isinstance(result.stage, Gluing) and stage_id in (None, result.stage.id)
    )


def grams_for(joints: Sequence[Joint], spread: Spread) -> float:
    """Glue in grams for some joints."""
    return sum(joint.area for joint in joints) * 1e-6 * GLUE[spread]


def clamped(result: StageResult) -> tuple[float, float]:
    """How long the joints of a glue-up are, and how far its clamps must open, mm: over all that stands in them, where
    dry joints let several pieces come out."""
    stage = result.stage
    low, high = result.pieces.cells.piece_bounds()
    size = high - low
    across = stage.across if isinstance(stage, Glue) else Across.WIDTH
    along, over = {Across.WIDTH: (1, 0), Across.LENGTH: (0, 1), Across.THICKNESS: (1, 2)}[across]
    return float(size[:, along].max()), float(size[:, over].sum())


def pressed(result: StageResult) -> float:
    """The largest joint of a glue-up, mm²: all its clamps press each joint with the same force, so it is the one that
    is pressed least."""
    return max((joint.area for joint in result.outcome.joints), default=0.0)


def clamps_for(result: StageResult, shop: Shop) -> int:
    """Clamps that a glue-up takes: one every so often along its joints and one more, and as many as press the largest
    joint as it should be."""
    return shop.clamps_for(clamped(result)[0], pressed(result))


def rests(plan: Plan, stage: Stage) -> float:
    """Hours that rows wait off the clamps because no rest stage follows; 0 for other glue-ups."""
    if not isinstance(stage, Glue) or stage.across is not Across.LENGTH or stage.skip:
        return 0.0
    follows = any(isinstance(other, Rest) and other.source == stage.id and not other.skip for other in plan.stages)
    return 0.0 if follows else REST


def waits(plan: Plan, stage: Stage) -> list[float]:
    """Hours that the wood waits at a stage, one entry for each time that work has to come between."""
    if stage.skip:
        return []
    if isinstance(stage, Gluing):
        rest = rests(plan, stage)
        return [stage.clamp_hours] * stage.glue_ups + ([rest] if rest else [])
    if isinstance(stage, Rest):
        return [stage.days * 24]
    if isinstance(stage, Oil):
        return [stage.hours * stage.rounds]  # a coat in the morning and one in the evening need no more nights
    return [stage.hours] * stage.fillings if isinstance(stage, Fill) else []


def nights(hours: float) -> int:
    """Nights that a wait takes: none where the work goes on the same day."""
    return 0 if hours <= SAME_DAY else math.ceil(hours / 24)
