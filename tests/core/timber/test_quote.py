"""What an order comes to, worked out from its bills."""

from __future__ import annotations

import pytest

from laberinto.core.analysis.figures import figures
from laberinto.core.patterns import Alternating
from laberinto.core.plan.simulate import simulate
from laberinto.core.shop import Shop
from laberinto.core.timber.cost import bill
from laberinto.core.timber.quote import Line, Quote, line


def of(count: int, each: float, cost: float, hours: float = 1.0) -> Line:
    return Line(1, "Board", count, ((300, 400, 40),), ("elm",), each, cost, hours)


def test_what_is_agreed_takes_the_place_of_the_sum() -> None:
    """Four at 60 and one at 100 are 340; they cost 4 × 50 + 90 = 290, so that 50 are left, and at 250 agreed 40 short."""
    lines = of(4, 60, 50, 2.5), of(1, 100, 90)
    assert (Quote(lines).price, Quote(lines).cost, Quote(lines).over, Quote(lines).hours) == (340, 290, 50, 11)
    agreed = Quote(lines, 250)
    assert (agreed.sum, agreed.price, agreed.over) == (340, 250, -40)
    assert Quote(lines, 0).price == 0  # given away


def test_a_line_is_read_off_the_figures_and_the_bill() -> None:
    shop = Shop()
    sim = simulate(Alternating(light="beech", dark="plum", strips=6, slices=6).plan("Board"))
    made, costs = figures(sim, shop), bill(sim, shop)
    found = line(7, "Quay Wall", 3, made, costs)
    assert found.price == pytest.approx(3 * costs.price) and found.cost == pytest.approx(costs.cost)
    assert found.sizes == ((made.width, made.length, made.thickness),) and set(found.woods) == {"beech", "plum"}
    assert found.woods[0] == max(made.woods, key=lambda wood: wood.in_board).wood
