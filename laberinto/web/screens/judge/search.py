"""What is worked out in a process of its own: better orders, and the board cut again."""

from __future__ import annotations

from dataclasses import dataclass

from laberinto.core.analysis.effort import Effort
from laberinto.core.edits.again import MOST
from laberinto.core.geometry.faces import Side, face_of
from laberinto.core.geometry.rotations import Lie
from laberinto.core.judging.arrange import Candidate, Wish, arrange_for_me
from laberinto.core.judging.outlook import Point, outlook
from laberinto.core.plan.model import Plan
from laberinto.core.plan.simulate import simulate
from laberinto.core.shop import Shop
from laberinto.core.stages import Arrange
from laberinto.drawing.board import thumbnail
from laberinto.drawing.skin import Flat

from ...app.workshop import Tell


def better_orders(
    plan: Plan, stage: Arrange, wishes: dict[str, Wish], locked: dict[int, tuple[int, Lie]], seed: int, tell: Tell
) -> list[Candidate]:
    """Orders of a stage's rows, the best first."""
    return arrange_for_me(
        simulate(plan), stage, wishes, locked, seed=seed, progress=lambda heard: tell(heard.share, heard.best)
    )


@dataclass(frozen=True, slots=True)
class Pass:
    """The board after some further passes, as far as the page shows it; sizes in mm, shares from 0 to 1."""

    passes: int
    size: tuple[float, float, float]
    disorder: float
    worth: float
    lost: float
    repetition: str
    effort: Effort
    picture: str


@dataclass(frozen=True, slots=True)
class Passes:
    """All of them, the one after which a pass costs more than it gives, and why there are no more."""

    points: tuple[Pass, ...]
    best: int
    end: str


def cut_on(plan: Plan, seed: int, shop: Shop, finish: str, tell: Tell) -> Passes:
    """The board with one pass more, and another, each acted out."""
    found = outlook(plan, seed, shop, progress=lambda passes: tell((passes + 1) / (MOST + 1)))
    within = found.points[0].size[:2]
    return Passes(tuple(_pass(point, within, finish) for point in found.points), found.best, found.end)


def _pass(point: Point, within: tuple[float, float], finish: str) -> Pass:
    """Drawn all to one scale, so that one sees what is lost."""
    face, label = face_of(point.sim.whole(), Side.TOP), f"The face after {point.passes} further passes"
    return Pass(
        point.passes, point.size, point.disorder, point.worth, point.lost,
        next(score.text for score in point.scores if score.key == "repetition"), point.effort,
        thumbnail(face, Flat(point.sim, finish), label=label, within=within),
    )  # fmt: skip
