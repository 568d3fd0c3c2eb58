"""The engine held against the plan format read a second time, by another solid modeller: the same pieces, each wood of
each filling the same room."""

from __future__ import annotations

import os
import random
from typing import Any

import numpy as np
import pytest

from laberinto.core.errors import LaberintoError
from laberinto.core.plan.model import read_plan
from laberinto.core.plan.simulate import Simulation, simulate
from tests.core.modeller import body, hulls, moments
from tests.core.reading import box, by_wood, read

SEEDS = [*range(60), 110] if os.environ.get("LABERINTO_EXAMPLES") != "fuzz" else range(600)
WOODS = ("ash", "plum", "oak", "elm")


def drawn(seed: int) -> dict[str, Any]:
    """A plan of cuts, turns and glue-ups of all kinds that may or may not be possible."""
    dice = random.Random(seed)
    stages: list[dict[str, Any]] = []

    def add(kind: str, **more: Any) -> None:
        before = {"from": stages[-1]["id"]} if stages else {}
        stages.append({"id": f"s{len(stages)}", "kind": kind, **before, **more})

    def mm(low: float, high: float) -> float:
        return round(dice.uniform(low, high), 2)

    strips = [{"wood": dice.choice(WOODS), "width": mm(14, 50)} for _ in range(dice.randint(2, 5))]
    add("mill", thickness=mm(20, 45), length=mm(260, 420), strips=strips)
    add("glue", **({"reverse": True} if dice.random() < 0.3 else {}), stagger=dice.choice([0, 0, 4.5]))
    if dice.random() < 0.6:
        add("flatten", each_face=mm(0.4, 2))
    for _ in range(dice.randint(0, 2)):
        lean = {"skew": dice.choice([0, 0, 3, -5])} if dice.random() < 0.5 else {"bevel": dice.choice([0, 8, -12])}
        kind = dice.choice(["rip", "rip", "resaw"])
        add(kind, width=mm(9, 30), kerf=mm(1, 3.5), squaring=mm(0, 4), **(lean if kind == "rip" else {}))
        if dice.random() < 0.25:
            add("turn", turns=dice.sample(["as it lies", "quarter roll", "face over", "end for end"], 2))
        ways = ["as it lies", "face over", "end for end", "three-quarter roll"]
        if lean.get("bevel"):
            ways = ways[:2]  # else slanted sides meet along an edge, which nothing can glue
        turns = dice.sample(ways, dice.randint(1, len(ways) - 1))
        add("glue", turns=turns if kind == "rip" else turns[:1], across="thickness" if kind == "resaw" else "width",
            shifts=dice.choice([[0], [0, 6]]))  # fmt: skip
        if dice.random() < 0.5:
            add("flatten", each_face=mm(0.3, 1.5), faces=dice.choice(["top-bottom", "left-right"]))
    lean = dice.choice([{}, {}, {"skew": 6}, {"skew": -4}, {"bevel": 7}, {"bevel": -10}])
    add("crosscut", slice=mm(18, 40), count=dice.randint(2, 5), kerf=mm(1, 3.5), squaring=mm(0, 9), **lean)
    if dice.random() < 0.8:
        rule = dice.choice(["as-cut", "flip-every-other", "end-for-end-every-other", "book-matched", "mirrored-pairs"])
        add("arrange", rule=rule, turned={"2": dice.choice(["flip", "other-end-up"])} if dice.random() < 0.3 else {})
        add("glue", across="length", shifts=dice.choice([[0], [0, 7], [0, -5, 3]]))
        if dice.random() < 0.6:
            add("flatten", each_face=mm(0.3, 2))
            add("trim", edge=mm(0, 3))
    return {"format": "laberinto-plan", "version": 1, "name": f"Drawn {seed}", "stages": stages}


def acted(data: dict[str, Any]) -> Simulation | None:
    try:
        return simulate(read_plan(data), remember=False)
    except LaberintoError:
        return None


@pytest.mark.parametrize("seed", SEEDS)
def test_the_engine_agrees_with_another_reading(seed: int) -> None:
    data = drawn(seed)
    sim = acted(data)
    if sim is None:
        pytest.skip("this plan cannot be built")
    again = read(data)
    for result in sim.results:
        mine = again[result.stage.id]
        assert len(mine) == len(result.pieces), result.stage.id
        for at, other in enumerate(mine):
            piece = result.pieces[at]
            assert piece.size() == pytest.approx(box(other)[1] - box(other)[0], abs=1e-5), (result.stage.id, at)
            size = max(piece.size())
            scale = np.repeat([1.0, size, size**2], [1, 3, 6])
            for wood, room in by_wood(other).items():
                mine_too = np.array([sim.strips[int(strip)].wood == wood for strip in piece.strip])
                ours = moments(hulls(piece.take(mine_too).moved(-piece.bounds()[0]))) / scale
                theirs = moments(room) / scale
                assert ours == pytest.approx(theirs, abs=1e-6 * theirs[0]), (result.stage.id, at, wood)
            whole = body(piece).volume()
            assert whole == pytest.approx(piece.volume(), rel=1e-6), f"wood inside wood at {result.stage.id}"


def test_most_drawn_plans_can_be_built() -> None:
    """Else the comparison says little."""
    assert sum(acted(drawn(seed)) is not None for seed in range(60)) >= 40
