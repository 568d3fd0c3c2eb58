"""A board whose wood came out otherwise than planned: what the plan said before."""

from __future__ import annotations

from dataclasses import dataclass

from flask import Flask, g

from laberinto.core.errors import LaberintoError
from laberinto.core.plan.simulate import Simulation, attempt, simulate
from laberinto.store import BoardView

from . import present
from .saving import OTHERWISE


@dataclass(frozen=True, slots=True)
class Planned:
    """The plan before anything was measured: its revision, and what it would have come to."""

    revision: int
    sim: Simulation
    size: tuple[float, float, float]


def planned_before(board: BoardView) -> Planned | None:
    """What was planned before the first measurement; None where the wood came out as planned so far, where the board
    comes out the same size all the same, or where that plan or this cannot be built."""
    known = g.setdefault("planned", {})
    if board.revision not in known:
        known[board.revision] = _planned(board)
    found: Planned | None = known[board.revision]
    return found


def _planned(board: BoardView) -> Planned | None:
    store = present.store()
    revision = store.revisions(board.id).last_planned(lambda words: words.startswith(OTHERWISE))
    plan = store.revisions(board.id).plan_at(revision) if revision is not None else None
    results, fault = attempt(board.plan)
    if revision is None or plan is None or fault is not None:
        return None
    try:
        sim = simulate(plan)
    except LaberintoError:
        return None
    same = all(abs(a - b) < 0.05 for a, b in zip(sim.board.size, results[-1].size, strict=True))
    return None if same else Planned(revision, sim, sim.board.size)


def init(app: Flask) -> None:
    """Let templates ask."""
    app.add_template_global(planned_before)
