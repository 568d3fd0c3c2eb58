"""Whoever has the instructions alone ends with the same board. Families are followed over their range where their other
promises are held, in ``tests/core/patterns``."""

from __future__ import annotations

import pytest

from laberinto.core.plan.model import Plan
from laberinto.core.plan.simulate import simulate
from laberinto.demo.boards import BOARDS
from tests.core.drawn import built_from, seeds
from tests.core.instructions.follower import ends_alike

USUAL, BATCH = 100, 10


@pytest.mark.seeded
@pytest.mark.parametrize("first", seeds(USUAL, 300)[::BATCH])
def test_random_plans_are_followed_to_the_same_board(first: int) -> None:
    built = [sim for seed in range(first, first + BATCH) if (sim := built_from(seed))]
    assert len(built) > BATCH // 5 or first >= USUAL, "too few of these can be built to say anything"
    for sim in built:
        ends_alike(sim)


STATES = [(board.plan.name, plan) for board in BOARDS for plan in (board.plan, *(turn.plan for turn in board.turns))]


@pytest.mark.parametrize("plan", [plan for _, plan in STATES], ids=[name for name, _ in STATES])
def test_the_demo_s_boards_are_followed_to_the_same_board(plan: Plan) -> None:
    ends_alike(simulate(plan))
