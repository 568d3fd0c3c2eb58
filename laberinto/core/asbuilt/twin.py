"""A twin: a plan with errors of its own, drawn from a seed, as wood at a bench comes out. What a simulated instrument
reads is read off it."""

from __future__ import annotations

import hashlib
import random
from collections.abc import Mapping

from ..analysis.figures import figures
from ..errors import LaberintoError
from ..plan.model import Plan
from ..plan.simulate import simulate
from .measured import Quantity, quantities

Place = tuple[str, str, int | None]
"""A stage, the key of a quantity, and one of its pieces (counted from 0), or None for all."""

ALONE = 0.3
"""A piece differs from the others by this share of how far they all are off."""

DRY = 10.0
"""Moisture of wood that has come to rest in a heated shop, percent."""


def twin(plan: Plan, seed: int, planned: Mapping[Place, float] | None = None) -> Plan:
    """The plan as the wood really is. ``planned`` holds what a stage was planned to before its reading moved the plan,
    so that the wood is the same whenever it is asked for."""
    before, made = planned or {}, plan
    for stage in plan.stages:
        for one in quantities(plan, stage.id):
            meant = before.get((stage.id, one.key, None), one.planned(plan, stage))
            if meant is None or one.put is None or not one.drift:
                continue
            try:
                made = one.put(made, made.stage(stage.id), round(meant + off(one, stage.id, seed), 4))
            except LaberintoError:
                continue  # an error that no wood could have
    return made


def off(quantity: Quantity, stage: str, seed: int, piece: int | None = None) -> float:
    """How far a quantity of a stage is off, in its unit: of all its pieces, or what one of them adds to that."""
    name = f"{seed}:{stage}:{quantity.key}:{'' if piece is None else piece}"
    dice = random.Random(hashlib.blake2b(name.encode(), digest_size=16).digest())
    return dice.gauss(0.0, quantity.drift) * (1.0 if piece is None else ALONE)


def truth(
    plan: Plan,
    stage_id: str,
    key: str,
    seed: int,
    piece: int | None = None,
    planned: Mapping[Place, float] | None = None,
) -> float | None:
    """What is really there: of all pieces, or of one counted from 0. None where the plan has nothing of that name."""
    one = next((q for q in quantities(plan, stage_id) if q.key == key), None)
    if one is None:
        return None
    if one.put is None:
        return _weighed(plan, one, stage_id, seed, planned)
    if not one.drift:  # follows from what else came out otherwise
        real = twin(plan, seed, planned)
        return one.planned(real, real.stage(stage_id))
    before = planned or {}
    meant = before.get((stage_id, key, piece), before.get((stage_id, key, None)))
    if meant is None:
        stage = plan.stage(stage_id)
        meant = one.planned(plan, stage) if piece is None or one.each is None else one.of_piece(stage, piece)
    if meant is None:
        return None
    alone = off(one, stage_id, seed, piece) if piece is not None else 0.0
    return meant + off(one, stage_id, seed) + alone


def _weighed(
    plan: Plan, one: Quantity, stage_id: str, seed: int, planned: Mapping[Place, float] | None
) -> float | None:
    """What follows from the whole board: read off the twin as it is simulated."""
    if one.unit == "%":
        return max(DRY + off(one, stage_id, seed), 4.0)
    for made in (twin(plan, seed, planned), plan):  # a twin that cannot be built says nothing
        try:
            found = figures(simulate(made))
        except LaberintoError:
            continue
        return (found.weight if one.unit == "kg" else found.thickness) + off(one, stage_id, seed)
    return None
