"""Plans drawn at random by a seed; they may or may not be possible."""

from __future__ import annotations

import os
import random
from typing import Any

from laberinto.core.errors import LaberintoError
from laberinto.core.plan.model import read_plan
from laberinto.core.plan.simulate import Simulation, simulate

WOODS = ("ash", "plum", "oak", "elm")


def seeds(usual: int, fuzz: int) -> range:
    """What plans are drawn by: so many as a rule, the same each time; in ``make fuzz`` as many others each round."""
    first = os.environ.get("LABERINTO_SEEDS_FROM")
    return range(usual) if first is None else range(int(first), int(first) + fuzz)


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


def drawn_on(seed: int) -> dict[str, Any]:
    """The same, then glued on to, worked and finished by some of all other kinds of stages."""
    plan = drawn(seed)
    dice, stages = random.Random(-1 - seed), plan["stages"]

    def mm(low: float, high: float) -> float:
        return round(dice.uniform(low, high), 2)

    def add(kind: str, source: str = "", **more: Any) -> str:
        name = f"s{len(stages)}"
        stages.append({"id": name, "kind": kind, "from": source or stages[-1]["id"], **more})
        return name

    def stock(count: int, **sizes: Any) -> str:
        name = f"s{len(stages)}"
        strips = [{"wood": dice.choice(WOODS), "width": sizes.pop("width"), "count": count}]
        stages.append({"id": name, "kind": "mill", "strips": strips, **sizes})
        return name

    if (
        stages[-1]["kind"] == "crosscut"
    ):  # slices that lie flat are glued side by side, some of them in turn with spares
        source = stages[-1]["id"]
        for lean in ("skew", "bevel"):
            stages[-1].pop(lean, None)
        stages[-1]["squaring"] = max(stages[-1]["squaring"], stages[-1]["kerf"] + 8)
        if dice.random() < 0.4:
            spare = stock(2, width=mm(10, 20), thickness=30, length=150)
            add("glue", source, **{"with": [spare]}, sequence=[source, spare], across="length")
        elif dice.random() < 0.5:
            add("glue", source, across="length", order=list(range(1, 1 + stages[-1]["count"]))[::-1])
        else:
            add("glue", source, **{"with": [f"{source}:offcut"]}, across="length", turned={"2": "end for end"})
    if dice.random() < 0.4:
        add("joint", edges=dice.choice(["left", "front-back", "all"]), off=mm(0.2, 2), level=dice.random() < 0.5)
    if dice.random() < 0.4:
        add("flatten", each_face=mm(0.2, 1), level=dice.random() < 0.5,
            only=dice.choice(["both", "both", "upper", "lower"]))  # fmt: skip
    if dice.random() < 0.3:
        add("trim", edge=mm(0.5, 4), flush=True)
    if dice.random() < 0.2:
        add("trim", edge=mm(0.5, 9), only=dice.choice(["left", "right", "near", "far"]))
    core = stages[-1]["id"]
    if dice.random() < 0.3:
        bars = stock(9, width=12, thickness=mm(16, 30), length=900)
        splines = stock(4, width=8, thickness=4, length=700)
        add("border", core, **{"with": [bars, splines]}, spline=splines, stagger=dice.random() < 0.5,
            first=dice.choice(["left-right", "front-back"]))  # fmt: skip
        core = stages[-1]["id"]
    if dice.random() < 0.4:
        lines = stock(3, width=mm(3, 6), thickness=mm(8, 12), length=700)
        along = dice.choice(["length", "width"])
        add("inlay", core, **{"with": [lines]}, at=[mm(12, 20), mm(30, 38)], depth=mm(2, 5), along=along)
    if dice.random() < 0.3:
        add("profile", section="own", points=[[0, 0], [mm(40, 60), 0], [mm(60, 70), 60], [0, 60]],
            rest_on=dice.randint(0, 4))  # fmt: skip
    works: list[dict[str, Any]] = [
        {"kind": "shape", "outline": "rounded", "radius": mm(5, 20)},
        {"kind": "shape", "outline": "circle"},
        {"kind": "rabbet", "sides": "left-right", "width": mm(4, 9), "depth": mm(2, 5)},
        {"kind": "cove", "sides": "left", "length": mm(30, 50), "radius": mm(4, 6), "depth": mm(2, 4)},
        {"kind": "notch", "sides": "right", "width": mm(20, 40), "depth": mm(6, 9), "radius": 4, "shift": mm(-9, 9)},
        {"kind": "groove", "inset": mm(10, 14), "width": mm(5, 7), "depth": mm(2, 4)},
        {"kind": "groove", "path": "runs", "runs": [[[9, 0], [9, 50], [mm(30, 40), 60]]], "bit": "vee", "depth": 3},
        {"kind": "well", "width": mm(20, 25), "length": 20, "radius": 4, "depth": mm(3, 6), "inset": mm(4, 9)},
        {"kind": "hollow", "radius": mm(200, 300), "depth": mm(3, 5), "offset": [mm(-4, 4), mm(-4, 4)]},
        {"kind": "feet", "inset": mm(14, 18), "depth": 6},
        {"kind": "ease", "size": mm(0.5, 2), "corners": dice.random() < 0.5},
    ]  # fmt: skip
    for work in dice.sample(works, dice.randint(1, 4)):
        add(**work)
    if dice.random() < 0.2:  # a second piece is gone on with
        core = stages[-1]["id"]
        add("beside", core, **{"with": [stock(1, width=mm(30, 60), thickness=mm(20, 30), length=150)]})
        add("ease", size=mm(0.5, 2))
    return plan


def acted(data: dict[str, Any]) -> Simulation | None:
    try:
        return simulate(read_plan(data), remember=False)
    except LaberintoError:
        return None


def built_from(seed: int) -> Simulation | None:
    """What ``drawn_on`` gives, acted out; None where it cannot be built."""
    return acted(drawn_on(seed))
