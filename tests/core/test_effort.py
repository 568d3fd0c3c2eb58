"""Glue-ups, cuts, days and machines, counted on paper."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import pytest

from laberinto.core.effort import days_of, effort
from laberinto.core.patterns import FAMILIES, Alternating
from laberinto.core.plan import Plan, read_plan
from laberinto.core.simulate import simulate


def with_(plan: Plan, stage: str, **changes: Any) -> Plan:
    data = plan.as_dict()
    next(s for s in data["stages"] if s["id"] == stage).update(changes)
    return read_plan(data)


BASE = Alternating().plan("Work")


def test_a_checker_counted() -> None:
    """Two glue-ups; a squaring cut and one behind each of 13 slices, and four to true the board: 18. The panel stands a
    night, the board another, two coats of oil at 12 hours a third: the fourth day."""
    asked = effort(simulate(BASE))
    assert (asked.glue_ups, asked.cuts, asked.days) == (2, 18, 4)
    assert asked.machines == ("jointer", "thickness planer", "table saw", "crosscut sled", "drum sander", "router")


@pytest.mark.parametrize(
    ("plan", "days"),
    [
        (with_(BASE, "oiled", rounds=4), 5),
        (with_(BASE, "board", clamp_hours=30), 5),
        (with_(BASE, "panel", clamp_hours=2), 4),
        (FAMILIES["brick"]().plan("x"), 4),  # bricks and mortar stand the same night
        (FAMILIES["framed"]().plan("x"), 6),  # a frame goes on in two goes, a night each
    ],
    ids=["more oil", "long in the clamps", "short in the clamps", "two panels", "a frame"],
)
def test_days_are_nights_of_glue_rest_and_oil_and_the_day_it_is_begun(plan: Plan, days: int) -> None:
    assert days_of(simulate(plan)) == days


def test_a_squaring_cut_of_nothing_is_no_cut_and_a_profile_counts_its_sides() -> None:
    assert effort(simulate(with_(BASE, "slices", squaring=0))).cuts == 17
    # diamonds: eight slabs sawn on four sides, a squaring cut, ten slices and four to true
    assert effort(simulate(FAMILIES["diamonds"]().plan("x"))).cuts == 8 * 4 + 1 + 10 + 4


@pytest.mark.parametrize("family", FAMILIES)
def test_work_is_counted_without_dressing_the_board_first(family: str) -> None:
    plan = FAMILIES[family]().plan("x")
    bare = plan.undressed()
    assert [stage.kind for stage in plan.stages[len(bare.stages) :]] == ["ease", "sand", "oil", "wax"]
    assert effort(replace(simulate(bare), plan=plan)) == effort(simulate(plan))


def test_a_stage_left_out_is_no_work() -> None:
    left_out = effort(simulate(with_(with_(BASE, "eased", skip=True), "oiled", skip=True)))
    assert "router" not in left_out.machines and left_out.days == 3
