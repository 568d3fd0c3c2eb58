"""What a skipped grit costs. Grain sizes from ISO 6344."""

from __future__ import annotations

import pytest

from laberinto.core.finish.grits import USUAL, between, grain, ladder
from laberinto.core.finish.oiling import area as faces
from laberinto.core.patterns import Alternating
from laberinto.core.plan.model import Plan
from laberinto.core.plan.simulate import simulate
from laberinto.core.rules import Check, check
from laberinto.core.shop import Shop
from laberinto.core.stages import Sand
from laberinto.core.timber.cost import bill

PLAN = Alternating(strips=4, slices=4).plan("Any")


def sanded(*grits: int) -> Plan:
    return PLAN.with_stage(PLAN.stage("sanded").model_copy(update={"grits": grits}))


def test_a_usual_ladder_costs_the_usual_time_and_a_skipped_grit_more() -> None:
    """80 to 120 is 201 ÷ 125 = 1.608. From 80 straight to 180 is 201 ÷ 82 = 2.451, 1.524 times as much."""
    assert pytest.approx(201 / 125) == USUAL
    assert [rung.times for rung in ladder((80, 120, 180, 220))] == [1, 1, 1, 1]
    assert [rung.times for rung in ladder((80, 180))] == [1, pytest.approx(201 / 82 / (201 / 125))]
    assert between(80, 180) == 120 and between(180, 220) is None
    assert grain(100) > grain(110) > grain(120)


def test_skipping_shows_in_the_hours_by_one_notion() -> None:
    """Two grits over the board's surface, the second 1.524 times as long."""
    shop, sim = Shop(), simulate(sanded(80, 180))
    (work,) = [w for w in bill(sim, shop).work if w.stage == "sanded"]
    assert work.minutes == pytest.approx((1 + 201 / 82 / (201 / 125)) * faces(sim) * shop.minutes_grit)
    assert "1.5 times as long at 180" in work.how


def said(plan: Plan, rule: str) -> list[Check]:
    return [finding for finding in check(simulate(plan)) if finding.rule == rule]


def test_a_skipped_grit_and_a_fine_start_are_said_with_their_cure() -> None:
    (skipped,) = said(sanded(80, 180, 220), "skipped_grit")
    assert "1.5 times as long" in skipped.why and "120" in skipped.fix
    assert not said(PLAN, "skipped_grit") and not said(PLAN, "too_fine_a_start")
    (fine,) = said(sanded(180, 220), "too_fine_a_start")
    assert "drum sander" in fine.why and "120" in fine.fix
    assert isinstance(PLAN.stage("sanded"), Sand)
