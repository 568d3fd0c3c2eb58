"""What a board costs, against a bill worked out by hand."""

from __future__ import annotations

import pytest

from laberinto.core.finish.oiling import area as faces
from laberinto.core.patterns import Alternating
from laberinto.core.plan.simulate import simulate
from laberinto.core.shop import Shop
from laberinto.core.timber.cost import Rate, bill

SIM = simulate(Alternating(light="beech", dark="plum").plan("Priced"))
"""294 × 384 × 38, ten strips of 30 × 33 × 650, thirteen slices."""


def test_a_bill_worked_out_by_hand() -> None:
    """Rough wood: 5 × 670 × 33 × 36 = 3.9798 l a wood, a quarter more for waste: 4.97475 l."""
    shop = Shop(rate=40, margin=25, wood_price=3, minutes_strip=4, minutes_cut=1.5)
    one = bill(SIM, shop, {"plum": Rate(20.0, "your lots")})
    beech, plum = one.woods
    assert (beech.taken, plum.taken) == (pytest.approx(4.97475), pytest.approx(4.97475))
    assert beech.amount == pytest.approx(14.92425) and beech.rate.source == "the shop's usual"
    assert plum.amount == pytest.approx(99.495) and not plum.planned
    minutes = {work.stage: work.minutes for work in one.work}
    assert minutes["strips"] == 40
    assert minutes["panel"] == pytest.approx(25 + 9 * 20 / 60)
    assert minutes["slices"] == 14 * 1.5  # thirteen slices and the squaring cut
    assert minutes["trimmed"] == 4 * 1.5
    assert "rows" not in minutes  # standing slices up takes no time that is asked for
    area = 2 * (2.94 * 3.84 + 0.38 * (2.94 + 3.84))
    assert faces(SIM) == pytest.approx(area)
    items = {item.name: item for item in one.items}
    assert items["Abrasives"].quantity == pytest.approx(4 * area)  # 80, 120, 180 and 220
    ends = 2 * 2.94 * 3.84  # both woods diffuse-porous: 4 ml a dm², edges 0.3 of it, the second round half, wax 1.5 ml
    assert items["Oil and wax"].quantity == pytest.approx(4 * 1.5 * (ends + 0.3 * (area - ends)) + 1.5 * area)
    assert one.labour == pytest.approx(one.hours * 40)
    assert one.cost == pytest.approx(one.wood + sum(i.amount for i in one.items) + one.labour)
    assert one.price == pytest.approx(one.cost * 1.25)


def test_a_cut_plan_says_how_much_wood_is_taken() -> None:
    one = bill(SIM, Shop(wood_price=2), taken={"beech": 6e6})
    assert one.woods[0].planned and one.woods[0].amount == pytest.approx(12)
    in_board = one.woods[0].in_board
    assert one.woods[0].wasted == pytest.approx((6 - in_board) * 2)
    assert 0 < one.waste < one.wood


def test_what_is_switched_off_costs_nothing() -> None:
    plan = SIM.plan.with_stage(SIM.plan.stage("waxed").model_copy(update={"skip": True}))
    without = bill(simulate(plan), Shop())
    assert "waxed" not in {work.stage for work in without.work}
    assert without.cost < bill(SIM, Shop()).cost
