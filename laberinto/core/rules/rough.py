"""Stock that is taken as it is: what bends, rocks, carries bark or holds its heart."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from ..plan.model import OFFCUT, Plan
from ..plan.simulate import Simulation
from ..shop import Shop
from ..solid import Cells
from ..stages import Crosscut, Glue, Mill, Resaw, Rip, StockForm
from .model import Check, Remedy, Severity, Show

FLAT_ENOUGH = 0.5
"""A stave bent by no more than this (mm) over its length lies as flat as a plank does."""


def _as_is(plan: Plan, name: str) -> Mill | None:
    """The stage that laid the wood down as it is, where a stage takes it from there."""
    stage = plan.stage(name.removesuffix(OFFCUT))
    return stage if isinstance(stage, Mill) and stage.as_is else None


def unworked(sim: Simulation, show: Show, shop: Shop) -> Iterator[Check]:
    """Curved faces and bark edges do not close."""
    for result in sim.results:
        rough = [mill for name in result.stage.sources if (mill := _as_is(sim.plan, name))]
        if isinstance(result.stage, Glue) and rough:
            what = "bark edges" if rough[0].stock is StockForm.WANEY else "round faces"
            if rough[0].stock is StockForm.STAVE:
                what = "curved faces"
            yield Check(
                Severity.STOP, result.stage.id,
                f"The pieces go into the clamps with the {what} they came with, which do not close.",
                "Put a stage between: joint the edges, flatten the faces, or rip it straight.",
            )  # fmt: skip


def staves_cut_up(sim: Simulation, show: Show, shop: Shop) -> Iterator[Check]:
    """Part of a curve, sawn off, lies on its own two ends; here it is planed the way the whole lay."""
    for result in sim.results:
        stage = result.stage
        mill = _as_is(sim.plan, stage.sources[0]) if stage.sources else None
        if not isinstance(stage, Crosscut) or mill is None or mill.stock is not StockForm.STAVE:
            continue
        bent = mill.rough_stock.bent(mill.length)
        if bent > FLAT_ENOUGH and stage.count > 1:
            yield Check(
                Severity.CAUTION, stage.id,
                f"The staves are bent by {show(bent)} over their length. Parts sawn from them are reckoned lying aslant as "
                "they did in the whole, so flattening takes more off them here than it will at the bench.",
                f"Lay them down in the length you cut them to: set the strip length to {show(stage.slice)}.",
                remedy=Remedy(mill.id, "length", stage.slice, f"Lay down staves of {show(stage.slice)}"),
            )  # fmt: skip


def round_under_the_saw(sim: Simulation, show: Show, shop: Shop) -> Iterator[Check]:
    """Nothing round is sawn as if it were a plank."""
    for result in sim.results:
        stage = result.stage
        mill = _as_is(sim.plan, stage.sources[0]) if stage.sources else None
        if isinstance(stage, Rip | Resaw | Crosscut) and mill and mill.stock is StockForm.LOG:
            yield Check(
                Severity.CAUTION, stage.id,
                "A round piece rolls into the blade and is thrown.",
                "Saw it on the band saw, screwed to a carriage or held in a cradle, until it has a flat to lie on and one "
                "to run along the fence. Follow the machine's manual and trained practice.",
            )  # fmt: skip


def heart_in_the_board(sim: Simulation, show: Show, shop: Shop) -> Iterator[Check]:
    """Wood round its heart checks as it dries: rings shrink more than the way out to them. Of strips that nobody said
    where they grew, it is not known."""
    board = sim.board.pieces.cells
    told = [
        strip
        for result in sim.results if isinstance(stage := result.stage, Mill)
        for spec, strip in zip(stage.laid_out(), result.outcome.strips, strict=True)
        if spec.rings or stage.stock is StockForm.LOG
    ]  # fmt: skip
    held = [
        strip for strip in told
        if 0 < strip.rings.heart[0] < strip.width and 0 < strip.rings.heart[1] < strip.thickness
        and holds_heart(board.take(board.strip == strip.number), *strip.rings.heart)
    ]  # fmt: skip
    if held:
        woods = ", ".join(dict.fromkeys(sim.woods[strip.wood].name.lower() for strip in held))
        yield Check(
            Severity.CAUTION, sim.board.stage.id,
            f"The heart of {len(held)} piece{'s' if len(held) > 1 else ''} ({woods}) is still in the board, and wood round "
            "its heart checks from there outwards.",
            "Rip the heart out: saw beside it on both sides and leave the strip that holds it.",
        )  # fmt: skip


def holds_heart(cells: Cells, x: float, z: float) -> bool:
    """Whether the line along the fibres at x and z (mm, in the strip's own frame) runs through any of the cells."""
    if not len(cells):
        return False
    across, along, up, reach = cells.faces[:4]
    free = reach - across * x - up * z  # along · y ≤ free for each face
    start = cells.fptr[:-1]
    with np.errstate(divide="ignore", invalid="ignore"):
        at = free / along
    high = np.minimum.reduceat(np.where(along > 1e-9, at, np.inf), start)
    low = np.maximum.reduceat(np.where(along < -1e-9, at, -np.inf), start)
    beside = np.minimum.reduceat(np.where(np.abs(along) <= 1e-9, free, np.inf), start)
    return bool(((high > low) & (beside > 0)).any())
