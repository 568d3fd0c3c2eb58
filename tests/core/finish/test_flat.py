"""Flattening by method, by hand."""

from __future__ import annotations

import math

import pytest

from laberinto.core.finish.flat import BY_ITSELF, passes
from laberinto.core.patterns import Alternating
from laberinto.core.plan.simulate import simulate
from laberinto.core.shop import Shop
from laberinto.core.stages import Method
from laberinto.core.steps import steps
from laberinto.core.timber.cost import bill

SHOP = Shop(
    sled_bit=38, sled_step=22, sled_pass=1.5, sled_feed=2, sled_lean=0.1, plane_iron=50, plane_shaving=0.1,
    plane_strokes=20, belt_minutes=1.2, planer_bite=0.8, planer_hair=0.2, planer_feed=5, drum_bite=0.4, drum_feed=1.5,
    between_passes=0.3, cnc_bit=25, cnc_step=15, cnc_pass=1, cnc_feed=2.5, cnc_lean=0.05,
)  # fmt: skip


def test_tracks_of_a_router_passes_ridge_and_minutes() -> None:
    """300 × 400, 2 off: (300 − 38) ÷ 22 = 11.9, so 12 more than the first; 2 ÷ 1.5 is two passes; each runs 438 mm, at 2 m
    a minute. Ridges 22 × tan 0.1° = 0.038."""
    found = passes(Method.ROUTER_SLED, 300, 400, 2, SHOP)
    assert (found.side_by_side, found.passes) == (13, 2)
    assert found.minutes == pytest.approx(2 * 13 * 0.438 / 2)
    assert found.ridge == pytest.approx(22 * math.tan(math.radians(0.1)))
    assert passes(Method.ROUTER_SLED, 400, 300, 2, SHOP) == found
    assert passes(Method.ROUTER_SLED, 30, 400, 0.5, SHOP).side_by_side == 1


@pytest.mark.parametrize(
    ("method", "count", "beside", "minutes"),
    [
        # (300 − 25) ÷ 15 = 18.3, 20 tracks of 425 mm at 2.5 m/min, 2 passes
        (Method.CNC, 2, 20, 2 * 20 * 0.425 / 2.5),
        # 2 ÷ 0.1 = 20 shavings; 8 strokes of 50 over the 400; 20 a minute
        (Method.HAND_PLANE, 20, 8, 20 * 8 / 20),
        # 12 dm² × 2 mm × 1.2 min
        (Method.BELT_SANDER, 1, 1, 28.8),
        # end grain 0.2 a pass: 10 of 400 mm at 5 m/min and 0.3 min round
        (Method.PLANER, 10, 1, 10 * (0.08 + 0.3)),
        (Method.DRUM_SANDER, 5, 1, 5 * (0.4 / 1.5 + 0.3)),
    ],
)
def test_other_ways_by_hand(method: Method, count: int, beside: int, minutes: float) -> None:
    found = passes(method, 300, 400, 2, SHOP)
    assert (found.passes, found.side_by_side, found.minutes) == (count, beside, pytest.approx(minutes))


def test_long_grain_takes_a_bigger_bite_of_the_planer() -> None:
    assert passes(Method.PLANER, 300, 400, 2, SHOP, on_end=False).passes == 3


@pytest.mark.parametrize("method", list(Method))
def test_the_step_and_the_hours_say_the_same(method: Method) -> None:
    plan = Alternating(slices=12, row=30).plan("Any")
    plan = plan.with_stage(plan.stage("board-flat").model_copy(update={"method": method}))
    sim = simulate(plan)
    found = passes(method, *sim["board"].size[:2], 2.0, SHOP)
    lines = next(step.lines for step in steps(sim, shop=SHOP) if step.stage == "board-flat")
    (said,) = [line for line in lines if "minute" in line]
    assert f"about {round(2 * found.minutes)} minutes" in said
    if method is not Method.BELT_SANDER:
        assert f"{found.passes} passes a face" in said
    assert any("waste wood" in line for line in lines) == (method is Method.PLANER)
    (work,) = [w for w in bill(sim, SHOP).work if w.stage == "board-flat"]
    assert work.minutes == pytest.approx(SHOP.minutes_flatten + (0 if method in BY_ITSELF else 2 * found.minutes))
