"""What further passes would do to a board: its size, wood, work and disorder after each, from real simulations."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from ..analysis.effort import Effort, effort
from ..edits.again import MOST, once_more
from ..errors import LaberintoError
from ..plan.model import Plan
from ..plan.simulate import Simulation, simulate
from ..shop import Shop
from .scores import Score, Scored, disorder_of, scores


@dataclass(frozen=True, slots=True)
class Point:
    """The board after some further passes. ``lost`` is the share of the milled wood that is waste, ``disorder`` and
    ``worth`` are 0 to 1."""

    passes: int
    plan: Plan
    sim: Simulation
    effort: Effort
    scores: tuple[Score, ...]
    lost: float
    disorder: float
    worth: float

    @property
    def size(self) -> tuple[float, float, float]:
        """Width, length and thickness of the board, mm."""
        return self.sim.board.size


@dataclass(frozen=True, slots=True)
class Outlook:
    """The points in order, the one after which a pass costs more than it gives, and why there are no more."""

    points: tuple[Point, ...]
    best: int
    end: str = ""


def outlook(
    plan: Plan,
    seed: int = 1,
    shop: Shop | None = None,
    most: int = MOST,
    progress: Callable[[int], bool] = lambda passes: True,
) -> Outlook:
    """The plan as it is and with 1 to ``most`` passes more, as far as the wood survives them. ``worth`` is disorder ×
    the share of the face that is left: where it is highest, the next pass takes more board than it gives disorder.

    ``progress`` hears of each pass that is done and answers whether to go on. Raises LaberintoError where the plan
    itself cannot be built or cut again.
    """
    points: list[Point] = []
    end, made = "", plan
    for passes in range(most + 1):
        try:
            made = once_more(made, passes, seed, shop or Shop()) if passes else plan
            sim = simulate(made)
        except LaberintoError as error:
            if passes <= 1:
                raise
            end = str(error)
            break
        scored = Scored(sim)
        found, mess = tuple(scores(scored)), disorder_of(scored)
        width, length, _ = sim.board.size
        face = width * length
        first = points[0].size[0] * points[0].size[1] if points else face
        wood = sum(sim.waste().values()) / sim.milled
        points.append(Point(passes, made, sim, effort(sim), found, wood, mess, mess * face / first))
        if not progress(passes):
            break
    best = max(points, key=lambda point: (point.worth, -point.passes)).passes
    return Outlook(tuple(points), best, end)
