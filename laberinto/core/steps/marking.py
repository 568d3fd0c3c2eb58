"""A word at the step where marks are written, where what follows would take them."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from ..analysis.lasting import SIDE_NAMES, lasting
from ..plan.simulate import Simulation
from .model import Step


def remembered(steps: Sequence[Step], sim: Simulation) -> list[Step]:
    """Steps with what to do about marks that do not last until the next are written; said at the last step of the stage
    that writes them."""
    said = {}
    for one in lasting(sim):
        if one.lost:
            taker = sim.plan.stage(one.lost).title.lower()
            cure = (
                f"write it on the {SIDE_NAMES[one.instead]} as well, where it stays until they are marked anew"
                if one.instead else "copy it to a fresh side before, piece by piece, and keep them in order meanwhile"
            )  # fmt: skip
            said[one.stage] = f"A mark on the {SIDE_NAMES[one.side]} has no room there or is lost at “{taker}”: {cure}."
    last = {name: at for at, step in enumerate(steps) for name in step.stages if name in said}
    return [
        replace(step, lines=(*step.lines, *(said[name] for name in step.stages if last.get(name) == at)))
        for at, step in enumerate(steps)
    ]
