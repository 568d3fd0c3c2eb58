"""The simulated timber yard: the same day the same list, and another day another."""

from __future__ import annotations

from datetime import date, timedelta

from laberinto.core.woods import LIBRARY
from laberinto.devices.yard import price_list

DAY = date(2026, 3, 10)


def test_a_day_always_has_the_same_list_and_prices_drift() -> None:
    today, again, tomorrow = price_list(DAY), price_list(DAY), price_list(DAY + timedelta(days=1))
    assert today == again
    assert [q.lot.model_copy(update={"price": None}) for q in today] == [
        q.lot.model_copy(update={"price": None}) for q in tomorrow
    ]  # a Tuesday and a Wednesday: stock comes weekly
    assert [q.price for q in today] != [q.price for q in tomorrow]
    drift = [b.per_litre / a.per_litre for a, b in zip(today, tomorrow, strict=True)]
    assert all(0.9 < ratio < 1.12 for ratio in drift)
    assert [q.lot.count for q in price_list(DAY + timedelta(days=7))] != [q.lot.count for q in today]


def test_every_wood_can_be_had_and_rare_ones_are_dear_and_small() -> None:
    there = price_list(DAY)
    assert {q.lot.wood for q in there} == set(LIBRARY)
    litre = {q.lot.wood: q.per_litre for q in there}
    assert litre["bog-oak"] > 3 * litre["oak"]
    assert max(q.lot.length for q in there if q.lot.wood == "olive") < min(
        q.lot.length for q in there if q.lot.wood == "beech"
    )
    assert all(q.lot.count > 0 and q.price >= 1 and 8 < (q.lot.moisture or 0) < 14 for q in there)
