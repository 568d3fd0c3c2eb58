"""Instructions of stages that glue: what lies where, turned and shifted how, and which joints stay dry."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from ..analysis.clamping import Clamping, clamping, spaced
from ..analysis.glueups import glue_grams, grams_for
from ..analysis.names import at_places, border_goes
from ..plan.model import OFFCUT
from ..stages import Border, Glue, Inlay
from .model import Channel, Edging, Frame, GlueUp, Instruction, Laid, LetIn
from .told import Told


def glue(t: Told) -> Iterator[Instruction]:
    """A glue-up."""
    stage = t.result.stage
    assert isinstance(stage, Glue)
    turns = t.result.outcome.turns
    yield GlueUp(
        stage=stage.id, across=stage.across,
        pieces=tuple(
            Laid(name, turn, stage.shift_at(at))
            for at, (name, turn) in enumerate(zip(at_places(t.sim, stage, t.names), turns, strict=True))
        ),
        dry=tuple(joint for joint in sorted(set(stage.dry)) if 0 < joint < len(turns)),
        makes=t.makes, spare=t.names[stage.id + OFFCUT], spread=stage.spread, hours=stage.clamp_hours,
        clamping=clamping(t.result, t.shop), grams=glue_grams(t.sim, stage.id),
    )  # fmt: skip


def border(t: Told) -> Iterator[Instruction]:
    """The two goes of a border."""
    stage = t.result.stage
    assert isinstance(stage, Border)
    stock = [name for source in stage.also if source != stage.spline for name in t.names[source]]
    splines = t.names[stage.spline][:4] if stage.spline else ()
    joints, rounds = t.result.outcome.joints, np.cumsum([0, *t.result.outcome.rounds]).tolist()
    assert stage.source is not None
    core = t.sim.taken(stage.source)[0].size()
    goes = [
        Frame(
            stage=stage.id, clamping=_across(t, sides[0].axis, core, last=go == 1),
            core=t.takes[0], splines=splines[2 * go : 2 * go + 2], spare=(), spread=stage.spread,
            hours=stage.clamp_hours, joints=rounds[go + 1] - rounds[go],
            grams=grams_for(joints[rounds[go] : rounds[go + 1]], stage.spread),
            sides=tuple(
                Edging(side.axis, side.outwards, tuple(stock[number] for number in side.pieces), side.begins)
                for side in sides
            ),
        )
        for go, sides in enumerate(border_goes(t.sim, stage))
    ]  # fmt: skip
    yield from goes[:-1]
    yield replace(goes[-1], spare=t.names[stage.id + OFFCUT])


def _across(t: Told, axis: int, core: NDArray[np.float64], *, last: bool) -> Clamping:
    """The clamps over two opposite sides of a border: along the core, or the second time over the first two sides,
    too."""
    whole = t.result.size
    length = float(whole[1 - axis] if last else core[1 - axis])
    return spaced(length, float(whole[axis]), length * float(core[2]), t.shop)


def inlay(t: Told) -> Iterator[Instruction]:
    """Channels and their strips."""
    stage = t.result.stage
    assert isinstance(stage, Inlay)
    strips = [name for source in stage.also for name in t.names[source]]
    yield LetIn(
        stage=stage.id, machine=stage.machine, board=t.takes[0], axis=stage.along.axis, depth=stage.depth,
        channels=tuple(Channel(strip, at) for strip, at in zip(strips, stage.at, strict=False)),
        spare=t.names[stage.id + OFFCUT], spread=stage.spread, hours=stage.clamp_hours,
        joints=len(t.result.outcome.joints), grams=glue_grams(t.sim, stage.id),
    )  # fmt: skip
