"""The thread: a board's stages as knots on one folded line, each with the wood at that point."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from laberinto.core.rules import Check, Severity
from laberinto.core.simulate import Simulation
from laberinto.core.stages import Oil, Wax
from laberinto.core.steps import Step

_SPEAKS = (Severity.STOP, Severity.CAUTION)


@dataclass(frozen=True, slots=True)
class Knot:
    """One stage on the thread."""

    stage: str
    title: str
    picture: str
    """Address of the wood's picture; it names the wood, so browsers may keep it for ever."""
    pieces: int
    size: tuple[float, float, float]
    done: bool
    begun: bool
    mark: str


def thread(
    board_id: int, sim: Simulation, steps: Sequence[Step], ticks: Iterable[str], checks: Sequence[Check]
) -> list[Knot]:
    """The knots of a board, with what is done (every step of the stage ticked) and what a check says there.

    The wood is raw until the first oil or wax, as at the bench.
    """
    ticked = set(ticks)
    knots_ = []
    finish = "raw"
    for result in sim.results:
        stage = result.stage
        finish = "oiled" if isinstance(stage, Oil | Wax) else finish
        mine = [step.key in ticked for step in steps if step.stage == stage.id]
        marks = [c.severity for c in checks if c.stage == stage.id and c.severity in _SPEAKS]
        mark = min(marks, key=_SPEAKS.index).value if marks else ""
        picture = f"/boards/{board_id}/knots/{stage.id}.svg?wood={result.wood_key}&finish={finish}"
        knots_.append(
            Knot(
                stage.id, stage.title, picture, len(result.pieces), result.size,
                bool(mine) and all(mine), any(mine), mark,
            )
        )  # fmt: skip
    return knots_
