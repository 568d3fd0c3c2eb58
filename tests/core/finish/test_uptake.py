"""Oil taken up, by hand."""

from __future__ import annotations

import pytest

from laberinto.core.finish.uptake import Uptake


def test_a_falling_curve_ends_where_another_round_brings_nothing() -> None:
    """2.500, 2.560, 2.572 and 2.575 kg over 24 dm²: 60 ÷ 24 = 2.5 g a dm², then 0.5 and 0.125, half the tenth of 2.5."""
    found = Uptake.of((2.500, 2.560, 2.572, 2.575), 24)
    assert found.rounds == pytest.approx((2.5, 0.5, 0.125)) and found.full
    assert list(found.words())[-1] == "Another round brings nothing."
    assert not Uptake.of((2.500, 2.560, 2.572), 24).full and not Uptake.of((2.5, 2.56), 24).full


def test_a_weight_that_fell_is_no_proof_that_it_is_full() -> None:
    found = Uptake.of((2.500, 2.560, 2.540), 24)
    assert found.rounds[-1] < 0 and not found.full and "weighs less than before" in " ".join(found.words())


def test_one_weight_says_nothing() -> None:
    assert not list(Uptake.of((2.5,), 24).words()) and not list(Uptake.of((), 24).words())
