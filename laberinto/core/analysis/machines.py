"""Sizes between machines: what must fit through or over what, at every stage that uses one."""

from __future__ import annotations

from dataclasses import dataclass

from ..plan.simulate import Simulation, StageResult


@dataclass(frozen=True, slots=True)
class Passage:
    """All pieces of one stage on their way through a machine: the largest width, length and thickness among them, and
    the shortest piece by its longer side, mm."""

    stage: str
    machine: str
    width: float
    length: float
    thickness: float
    shortest: float


def passage(sim: Simulation, result: StageResult) -> Passage | None:
    """What a stage's machine has to take, as the pieces come to it; None for work by hand."""
    stage = result.stage
    if not stage.machine:
        return None
    before = sim[stage.source].pieces if stage.source else result.pieces
    sizes = before.cells.piece_sizes()
    width, length, thickness = (float(v) for v in sizes.max(axis=0))
    return Passage(stage.id, stage.machine, width, length, thickness, float(sizes[:, :2].max(axis=1).min()))
