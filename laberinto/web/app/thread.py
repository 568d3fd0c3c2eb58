"""The thread: a board's stages as knots on one folded line, each with the wood at that point."""

from __future__ import annotations

import hashlib
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from itertools import count

from laberinto.core.analysis.names import letter
from laberinto.core.plan.model import OFFCUT, Plan
from laberinto.core.plan.simulate import StageResult
from laberinto.core.rules import Check, Severity
from laberinto.core.stages import Mill, Oil, Wax
from laberinto.core.steps import Step
from laberinto.store import BoardView

_SPEAKS = (Severity.STOP, Severity.CAUTION)
FAULT = "fault"


@dataclass(frozen=True, slots=True)
class Knot:
    """One stage on the thread."""

    stage: str
    title: str
    strand: str
    """Address of the picture of all knots; it names their wood, so browsers may keep it for ever. Empty where the wood
    never gets this far."""
    place: int
    """Which of them this one is in that picture."""
    pieces: int
    size: tuple[float, float, float]
    done: bool
    begun: bool
    mark: str
    skip: bool = False
    panel: str = ""
    """Letter of the panel this belongs to, where there are several; "A + B" where they meet."""
    begins: bool = False
    """Whether a panel begins here, so that the line does not come from the knot before."""


def begun(plan: Plan, ticks: Iterable[str]) -> frozenset[str]:
    """Stages of which steps are ticked: changing one of these is asked about first."""
    ticked = {key.partition(".")[0] for key in ticks}
    return frozenset(stage.id for stage in plan.stages if stage.id in ticked)


def wood_of(results: Sequence[StageResult]) -> str:
    """A name for the wood at all knots, and for how it is finished there."""
    named = "".join(result.wood_key + finish for result, finish in zip(results, finishes(results), strict=True))
    return hashlib.blake2b(named.encode(), digest_size=16).hexdigest()


def finishes(results: Sequence[StageResult]) -> list[str]:
    """How the wood looks at each knot: raw until the first oil or wax, as at the bench."""
    out: list[str] = []
    for result in results:
        oiled = isinstance(result.stage, Oil | Wax) and not result.stage.skip
        out.append("oiled" if oiled or "oiled" in out else "raw")
    return out


def thread(
    board: BoardView, results: Sequence[StageResult], steps: Sequence[Step], ticks: Iterable[str],
    checks: Sequence[Check], fault: str = "",
) -> list[Knot]:  # fmt: skip
    """The knots of a board, with what is done (every step of the stage ticked) and what a check says there.

    ``fault`` is the stage that cannot be done.
    """
    ticked = set(ticks)
    started = begun(board.plan, ticked)
    panels = _panels(board)
    made = {result.stage.id: result for result in results}
    knots_ = []
    strand = f"/boards/{board.id}/knots.webp?wood={wood_of(results)}"
    for number, stage in enumerate(board.plan.stages):
        result = made.get(stage.id)
        mine = [key in ticked for step in steps for key in step.keys if key.partition(".")[0] == stage.id]
        marks = [c.severity for c in checks if c.stage == stage.id and c.severity in _SPEAKS and not c.let_stand]
        mark = FAULT if stage.id == fault else min(marks, key=_SPEAKS.index).value if marks else ""
        knots_.append(
            Knot(
                stage.id, stage.title, strand if result else "", number, len(result.pieces) if result else 0,
                result.size if result else (0.0, 0.0, 0.0), bool(mine) and all(mine), stage.id in started, mark,
                stage.skip, panels[stage.id], isinstance(stage, Mill) and number > 0,
            )
        )  # fmt: skip
    return knots_


def _panels(board: BoardView) -> dict[str, str]:
    """Which panel each stage belongs to, by letter; all empty where there is one only."""
    out: dict[str, str] = {}
    several = sum(isinstance(stage, Mill) for stage in board.plan.stages) > 1
    letters = map(letter, count())
    for stage in board.plan.stages:
        if not several:
            out[stage.id] = ""
        elif isinstance(stage, Mill):
            out[stage.id] = next(letters)
        else:
            from_ = dict.fromkeys(out[name.removesuffix(OFFCUT)] for name in stage.sources)
            out[stage.id] = " + ".join(name for name in from_ if name) if len(from_) > 1 else next(iter(from_))
    # behind the meeting the thread is one again
    return {name: "" if len(panel) > 1 and not _meets(board, name) else panel for name, panel in out.items()}


def _meets(board: BoardView, stage_id: str) -> bool:
    return len(board.plan.stage(stage_id).sources) > 1
