"""Arrangements that do not do what they look like."""

from __future__ import annotations

import math
from collections.abc import Iterator

import numpy as np

from ..geometry.faces import Side, face_of
from ..geometry.joints import Joint
from ..plan.simulate import Simulation, StageResult
from ..shop import Shop
from ..solid import Cells
from ..stages import Arrange, Border
from ..woods.movement import movement, swing
from .model import Check, Severity, Show

CROSS = 45.0
"""Fibres that cross by more than this (degrees) may move against each other."""

PARTING = 0.5
"""Sides of a joint move apart where this share of what wood moves across its fibres lies in one side alone: sin² of
CROSS."""


def palindromes(sim: Simulation, show: Show, shop: Shop) -> Iterator[Check]:
    """A row that reads the same from both ends does not change when it is turned."""
    for result in sim.results:
        stage = result.stage
        if not isinstance(stage, Arrange) or stage.source is None or not stage.rule.reverses:
            continue
        row = row_reading(sim, stage.source)
        several = len({wood for wood, _ in row}) > 1  # of one wood alone the rings are the pattern, and they do turn
        if len(row) > 1 and several and _reads_alike(sim, stage.source):
            even = f"Take {len(row) - 1} or {len(row) + 1} strips" if len(row) % 2 else "Change the order of the strips"
            yield Check(
                Severity.STOP, stage.id,
                f"A row of {len(row)} strips reads the same from both ends, so turning every other changes nothing.",
                f"{even}, or lay all slices as cut.",
            )  # fmt: skip


def _reads_alike(sim: Simulation, stage_id: str) -> bool:
    """Whether the end of the first slice shows the same woods in the same places from the left as from the right."""
    face = face_of(sim[stage_id].pieces[0], Side.FRONT)
    mirrored = face.points * (-1, 1) + (face.size[0], 0)
    shapes = [
        {
            (sim.strips[int(number)].wood, frozenset(map(tuple, np.round(points[a:b], 2).tolist())))
            for number, a, b in zip(face.strip, face.ptr, face.ptr[1:], strict=False)
        }
        for points in (face.points, mirrored)
    ]
    return shapes[0] == shapes[1]


def row_reading(sim: Simulation, stage_id: str) -> list[tuple[str, float]]:
    """Wood and width of each strip along the first slice, left to right."""
    slice_ = sim[stage_id].pieces[0]
    across = slice_.world()[:, 0]
    low = np.minimum.reduceat(across, slice_.vptr[:-1])
    high = np.maximum.reduceat(across, slice_.vptr[:-1])
    order = np.argsort(low, kind="stable")
    return [(sim.strips[int(slice_.strip[i])].wood, round(float(high[i] - low[i]), 2)) for i in order]


def mixed_grain(sim: Simulation, show: Show, shop: Shop) -> Iterator[Check]:
    """Long grain glued to end grain, or across it as a long-grain border is, comes apart: one moves with the seasons
    and the other does not."""
    for result in sim.results:
        if not result.outcome.joints or _parallel(result.pieces.cells):
            continue
        mixed = sum(_crossed(joint) for joint in result.outcome.joints)
        if mixed > 1:
            length, wood, off = max(_year(sim, joint, shop) for joint in result.outcome.joints)
            if _of_splines(sim, result):
                yield Check(
                    Severity.CAUTION, result.stage.id,
                    f"The splines lie across the board's fibres: between {shop.dry:g} and {shop.damp:g} % humidity "
                    f"{wood} moves up to {show(off)} along a joint of {show(length)}, and they do not.",
                    "Let each in as several short pieces with a gap between, and glue them on one side only.",
                )  # fmt: skip
                continue
            yield Check(
                Severity.STOP, result.stage.id,
                f"{mixed / 100:.0f} cm² of this glue-up joins wood whose fibres cross, such as long grain to end grain. Between {shop.dry:g} and "
                f"{shop.damp:g} % humidity {wood} moves up to {show(off)} along a joint of {show(length)}, and the long "
                "grain does not.",
                "Turn the pieces so that all fibres run the same way.",
            )  # fmt: skip


def _of_splines(sim: Simulation, result: StageResult) -> bool:
    """Whether nothing but a border's splines crosses the fibres."""
    stage = result.stage
    if not isinstance(stage, Border) or stage.spline is None:
        return False
    splines = np.unique(sim.taken(stage.spline).cells.strip)
    return all(
        bool(np.isin(joint.strips[joint.parting() > PARTING], splines).any(axis=1).all())
        for joint in result.outcome.joints
    )


def _parallel(cells: Cells) -> bool:
    """Whether no two cells' fibres can cross by more than CROSS: all run within half of that of one."""
    fibres = cells.rot[:, :, 1]
    return bool(np.abs(fibres @ fibres[0]).min() > math.cos(math.radians(CROSS / 2)))


def _crossed(joint: Joint) -> float:
    """The part of a joint whose sides move apart, mm². Mitres that mirror each other cross, but move alike."""
    return float(joint.areas[joint.parting() > PARTING].sum())


def _year(sim: Simulation, joint: Joint, shop: Shop) -> tuple[float, str, float]:
    """How long a joint of mixed grain is, the wood in it that moves most, and by how much over a year, mm."""
    crossed = joint.parting() > PARTING
    if not crossed.any():
        return 0.0, "", 0.0
    length = joint.reach(crossed)
    woods = {sim.strips[int(number)].wood for number in joint.strips[crossed].ravel()}
    worst = max(woods, key=lambda key: sim.woods[key].tangential)
    moved = movement(length, sim.woods[worst].tangential, swing(shop.dry, shop.damp))
    return length, sim.woods[worst].name.lower(), moved
