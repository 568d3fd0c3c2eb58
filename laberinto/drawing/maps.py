"""Maps for the bench: plain drawings with names and measures that print well and read at arm's length."""

from __future__ import annotations

from collections.abc import Callable

from laberinto.core.instructions import Frame, GlueUp
from laberinto.core.plan.simulate import Simulation
from laberinto.core.steps import Map, Step
from laberinto.core.units import Lengths

from . import bench, clamps, laying, sawing
from .board import board
from .skin import Skin

LARGE, SECTION = 1.5, 1.3
"""Letters of a map beside those of the same drawing at the desk: maps are small, and read at arm's length."""


def glued(sim: Simulation, step: Step, lengths: Lengths, skin: Skin) -> str:
    """What lies in the clamps, piece by piece."""
    return laying.laid(sim, sim[step.stage], lengths, skin)


def clamped(sim: Simulation, step: Step, lengths: Lengths, skin: Skin) -> str:
    """The glue-up in its clamps, from above."""
    told = next(one for one in step.does if isinstance(one, GlueUp))
    return clamps.clamped(sim, sim[step.stage], told, lengths, skin)


def framed(sim: Simulation, step: Step, lengths: Lengths, skin: Skin) -> str:
    """Two sides of a border in their clamps, from above."""
    told = next(one for one in step.does if isinstance(one, Frame))
    return clamps.framed(sim, sim[step.stage], told, lengths, skin)


def turned(sim: Simulation, step: Step, lengths: Lengths, skin: Skin) -> str:
    """The rows in order from the far side, each with its slice's mark and its turn."""
    return bench.laid_rows(sim, sim[step.stage], skin, lengths, LARGE)


def cuts(sim: Simulation, step: Step, lengths: Lengths, skin: Skin) -> str:
    """The cuts before they are made."""
    return sawing.all_cuts(sim, [sim[name] for name in step.stages], skin, lengths, LARGE)


def section(sim: Simulation, step: Step, lengths: Lengths, skin: Skin) -> str:
    """The end of a piece before and after it is sawn to its section."""
    return sawing.section(sim, sim[step.stage], skin, lengths, SECTION)


def face(sim: Simulation, step: Step, lengths: Lengths, skin: Skin) -> str:
    """The board as this step leaves it."""
    return board(sim[step.stage].pieces[0], skin, lengths, label="The board after this step")


MAPS: dict[Map, Callable[[Simulation, Step, Lengths, Skin], str]] = {
    Map.PANEL: glued,
    Map.ROWS: glued,
    Map.CLAMPS: clamped,
    Map.FRAME: framed,
    Map.TURNED: turned,
    Map.CUTS: cuts,
    Map.SECTION: section,
    Map.FACE: face,
}
