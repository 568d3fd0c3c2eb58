"""Clamps and cauls of a glue-up, worked out by hand."""

from __future__ import annotations

from itertools import pairwise

import pytest
from hypothesis import given
from hypothesis import strategies as st

from laberinto.core.analysis.clamping import CAUL_END, CAUL_EVERY, cauls_of, clamping
from laberinto.core.analysis.glueups import clamped, clamps_for, pressed
from laberinto.core.patterns import FAMILIES, Alternating
from laberinto.core.plan.simulate import simulate
from laberinto.core.shop import Shop
from laberinto.core.shop.glues import GlueKind, pace
from laberinto.core.stages import Gluing


def test_clamps_by_length_by_pressure_and_the_order_of_tightening() -> None:
    """A panel of 640 × 30 mm strips 35 thick: 640 // 175 + 1 = 4 clamps, which at 5 kN press 640 × 35 = 22 400 mm² with
    20 000 / 22 400 = 0.89 N/mm². At 1.5 N/mm² they would have to give 33.6 kN: 7 clamps."""
    sim = simulate(Alternating(strips=6, strip_width=30, row=30, slices=6).plan("Panel"))
    result = sim["panel"]
    length, area = clamped(result)[0], pressed(result)
    assert area == pytest.approx(length * result.size[2])
    usual = clamping(result, Shop())
    count = int(length // 175) + 1
    assert len(usual.clamps) == count and usual.pressure == pytest.approx(count * 5000 / area)
    hard = Shop.of(pressure=1.5)
    assert clamps_for(result, hard) == -(-1.5 * area // 5000)
    assert clamping(result, hard).pressure >= 1.5
    assert Shop().clamps_for(640, 640 * 35) == 4 and Shop.of(pressure=1.5).clamps_for(640, 640 * 35) == 7


def test_from_the_middle_outwards_alternately_above_and_below() -> None:
    """700 mm are five clamps at 70, 210, 350, 490 and 630; tightened 3, 2, 4, 1, 5."""
    shop = Shop()
    sim = simulate(Alternating(strips=6, strip_width=30, row=30, slices=6, panel_length=700).plan("Panel"))
    found = clamping(sim["panel"], shop)
    assert [clamp.at for clamp in found.clamps] == pytest.approx([70, 210, 350, 490, 630])
    assert found.in_turn == (3, 2, 4, 1, 5)
    assert [clamp.above for clamp in found.clamps] == [True, False, True, False, True]
    assert found.cauls == pytest.approx((30, 280, 670))


@pytest.mark.parametrize("key", FAMILIES)
def test_clamps_and_cauls_of_every_family_lie_on_the_joints_and_never_on_each_other(key: str) -> None:
    shop = Shop()
    sim = simulate(FAMILIES[key]().plan("Board"))
    for result in sim.results:
        if not isinstance(result.stage, Gluing):
            continue
        found = clamping(result, shop)
        at = [clamp.at for clamp in found.clamps]
        assert len(at) == clamps_for(result, shop) and sorted(clamp.turn for clamp in found.clamps) == [
            *range(1, len(at) + 1)
        ]
        assert all(0 < one < found.length for one in at) and all(b > a for a, b in pairwise(at))
        assert found.pressure >= shop.pressure * (1 - 1e-6) and found.opens > 0
        assert (
            all(abs(caul - one) >= min(CAUL_END, found.every / 2) - 1e-6 for caul in found.cauls for one in at)
            or len(at) == 1
        )


def test_what_stands_in_one_set_of_clamps_with_dry_joints_is_opened_for_all_of_it() -> None:
    """The weave's bars are glued side by side with dry joints: the clamps open over all of them."""
    result = simulate(FAMILIES["weave"]().plan("Weave"))["bars"]
    low, high = result.pieces.cells.piece_bounds()
    assert len(result.pieces) > 1 and clamped(result)[1] == pytest.approx(float((high - low)[:, 0].sum()))


@given(st.floats(60, 3000), st.sampled_from([80.0, 175.0, 400.0]))
def test_long_joints_have_cauls_no_farther_apart_than_clamps_allow(length: float, spacing: float) -> None:
    count = int(length // spacing) + 1
    cauls = cauls_of([(at + 0.5) * length / count for at in range(count)], length)
    assert cauls == sorted(set(cauls)) and all(0 < caul < length for caul in cauls)
    assert all(b - a <= CAUL_EVERY + length / count for a, b in pairwise(cauls))


def test_squeeze_out_comes_later_in_the_cold() -> None:
    """Ten degrees less double the time: pace 2 at 10 °C."""
    assert pace(GlueKind.EPOXY, 10, 50) == pytest.approx(2)
    for kind in GlueKind:
        assert 0 < kind.squeeze.least < kind.squeeze.most and kind.squeeze.most > kind.times.open
