"""A timber yard, simulated: what it has today and what it asks for it.

Prices begin from a figure per litre for each wood, by how it is usually had, and drift from day to day; stock comes and
goes. The same day always gives the same list.
"""

from __future__ import annotations

import random
from dataclasses import dataclass
from datetime import date

from laberinto.core.timber import Lot, LotKind
from laberinto.core.woods import LIBRARY, Wood

SAWN = (27.0, 34.0, 40.0, 52.0, 65.0)
"""Thicknesses a yard saws to, mm."""

_RARE = frozenset({"bog-oak", "box", "bubinga", "holly", "olive", "plum", "rosewood", "laburnum", "yew", "wenge"})


@dataclass(frozen=True, slots=True)
class Quote:
    """Planks of one size: how many there are, and what one costs."""

    lot: Lot
    per_litre: float

    @property
    def price(self) -> float:
        """Of one piece."""
        return self.lot.price or 0.0


def price_list(today: date) -> list[Quote]:
    """Everything the yard has on a day, by wood and thickness."""
    out: list[Quote] = []
    for key, wood in LIBRARY.items():
        dice = random.Random(f"yard {key} {today.isocalendar()[0]} {today.isocalendar()[1]}")  # stock comes weekly
        daily = random.Random(f"price {key} {today.toordinal()}")
        litre = _litre(wood) * daily.uniform(0.96, 1.05)
        rare = key in _RARE
        for thickness in SAWN:
            if dice.random() < (0.6 if rare else 0.15) and thickness != 52.0:
                continue
            length = dice.choice((600, 900, 1200) if rare else (1800, 2100, 2400, 3000))
            width = dice.choice((90, 110, 130) if rare else (130, 150, 180, 210))
            count = dice.randint(1, 4) if rare else dice.randint(3, 14)
            price = round(litre * length * width * thickness / 1e6 * 2) / 2  # to half a unit of money
            lot = Lot(
                kind=LotKind.PLANK, wood=key, count=count, length=length, width=width, thickness=thickness,
                moisture=round(dice.uniform(9, 13), 1), price=max(price, 1.0), place="timber yard",
            )  # fmt: skip
            out.append(Quote(lot, litre))
    return out


def _litre(wood: Wood) -> float:
    """A usual price of a litre: heavy woods and rare ones cost more."""
    return (1.2 + wood.density / 500) * (4.0 if wood.key in _RARE else 1.0)
