"""Glue-ups, cuts, days and machines, counted on paper."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import pytest

from laberinto.core.analysis.effort import days_of, effort
from laberinto.core.analysis.glueups import waits
from laberinto.core.patterns import FAMILIES, Alternating
from laberinto.core.plan.model import Plan, read_plan
from laberinto.core.plan.simulate import simulate
from laberinto.core.steps import steps


def with_(plan: Plan, stage: str, **changes: Any) -> Plan:
    data = plan.as_dict()
    next(s for s in data["stages"] if s["id"] == stage).update(changes)
    return read_plan(data)


BASE = Alternating().plan("Work")


def rested(days: float) -> Plan:
    data = BASE.as_dict()
    at = BASE.index("board")
    data["stages"].insert(at + 1, {"id": "rest", "kind": "rest", "from": "board", "days": days})
    data["stages"][at + 2]["from"] = "rest"
    return read_plan(data)


def test_the_days_and_the_sheet_wait_alike() -> None:
    """What the steps tell to wait is what the days are reckoned from."""
    for plan in (BASE, rested(7), FAMILIES["framed"]().plan("x"), FAMILIES["weave"]().plan("x")):
        told = sum(step.wait_hours for step in steps(simulate(plan)))
        assert told == pytest.approx(sum(sum(waits(plan, stage)) for stage in plan.stages))


def test_a_checker_counted() -> None:
    """Two glue-ups; ten strips ripped, a squaring cut and one behind each of 13 slices, and four to true the board: 28. The
    panel stands a night, the board another, then two off the clamps, and two coats of oil at 12 hours one more: the sixth
    day."""
    asked = effort(simulate(BASE))
    assert (asked.glue_ups, asked.cuts, asked.days) == (2, 28, 6)
    assert asked.machines == ("jointer", "thickness planer", "table saw", "crosscut sled", "drum sander", "router")


@pytest.mark.parametrize(
    ("plan", "days"),
    [
        (with_(BASE, "oiled", rounds=4), 7),
        (with_(BASE, "board", clamp_hours=30), 7),
        (with_(BASE, "panel", clamp_hours=4), 5),  # gone on with the same day
        (FAMILIES["brick"]().plan("x"), 6),  # bricks and mortar stand the same night
        (FAMILIES["framed"]().plan("x"), 8),  # a frame goes on in two goes, a night each
        (rested(7), 11),  # a week of its own instead of the two days
    ],
    ids=["more oil", "long in the clamps", "short in the clamps", "two panels", "a frame", "a rest of its own"],
)
def test_days_are_nights_of_glue_rest_and_oil_and_the_day_it_is_begun(plan: Plan, days: int) -> None:
    assert days_of(simulate(plan)) == days


def test_a_squaring_cut_of_nothing_is_no_cut_and_a_profile_counts_its_sides() -> None:
    assert effort(simulate(with_(BASE, "slices", squaring=0))).cuts == 27
    # diamonds: strips ripped, eight slabs sawn on four sides, a squaring cut, ten slices and four to true
    diamonds = simulate(FAMILIES["diamonds"]().plan("x"))
    assert effort(diamonds).cuts == len(diamonds.strips) + 8 * 4 + 1 + 10 + 4


@pytest.mark.parametrize("family", FAMILIES)
def test_work_is_counted_without_dressing_the_board_first(family: str) -> None:
    plan = FAMILIES[family]().plan("x")
    bare = plan.undressed()
    assert [stage.kind for stage in plan.stages[len(bare.stages) :]] == ["ease", "sand", "oil", "wax"]
    assert effort(replace(simulate(bare), plan=plan)) == effort(simulate(plan))


def test_a_stage_left_out_is_no_work() -> None:
    left_out = effort(simulate(with_(with_(BASE, "eased", skip=True), "oiled", skip=True)))
    assert "router" not in left_out.machines and left_out.days == 5


def test_difficulty_is_read_off_the_blades_and_the_glue_ups() -> None:
    """Two glue-ups and square cuts are where one begins; a tilted blade, or a picture's many panels, ask for more."""
    said = {key: effort(simulate(FAMILIES[key]().plan("x"))) for key in ("alternating", "brick", "round", "tumbling")}
    assert [(e.level, e.why) for e in said.values()] == [
        ("a first board", "square cuts"), ("some practice", "several glue-ups"), ("some practice", "router work"),
        ("steady hands", "angled cuts"),
    ]  # fmt: skip
