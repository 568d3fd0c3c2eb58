"""Tracks of a router sled, by hand."""

from __future__ import annotations

import math

import pytest

from laberinto.core.finish.flat import tracks
from laberinto.core.patterns import Alternating
from laberinto.core.plan.simulate import simulate
from laberinto.core.shop import Shop
from laberinto.core.steps import steps
from laberinto.core.timber.cost import bill

SHOP = Shop(sled_bit=38, sled_step=22, sled_pass=1.5, sled_feed=2, sled_lean=0.1)


def test_tracks_passes_ridge_and_minutes() -> None:
    """300 × 400, 2 off: (300 − 38) ÷ 22 = 11.9, so 12 more than the first; 2 ÷ 1.5 is two passes; each runs 438 mm, at 2 m
    a minute. Ridges 22 × tan 0.1° = 0.038."""
    found = tracks(300, 400, 2, SHOP)
    assert (found.side_by_side, found.passes) == (13, 2)
    assert found.minutes == pytest.approx(2 * 13 * 0.438 / 2) and found.ridge == pytest.approx(
        22 * math.tan(math.radians(0.1))
    )
    assert tracks(400, 300, 2, SHOP) == found and tracks(30, 400, 0.5, SHOP).side_by_side == 1


def test_the_step_and_the_hours_say_the_same() -> None:
    plan = Alternating(slices=12, row=30).plan("Sled")
    plan = plan.with_stage(plan.stage("board-flat").model_copy(update={"method": "router-sled"}))
    sim = simulate(plan)
    before = sim["board"].size
    found = tracks(before[0], before[1], 2.0, SHOP)
    said = " ".join(line for step in steps(sim, shop=SHOP) for line in step.lines)
    assert f"{found.side_by_side} tracks side by side" in said and "2 passes a face" in said
    (work,) = [w for w in bill(sim, SHOP).work if w.stage == "board-flat"]
    assert work.minutes == pytest.approx(SHOP.minutes_flatten + 2 * found.minutes)
