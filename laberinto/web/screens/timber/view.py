"""What the timber store's page shows."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from markupsafe import Markup

from laberinto.core.timber import Lot, LotKind
from laberinto.core.woods import LIBRARY, Wood
from laberinto.drawing.timber import piece
from laberinto.store import LotView, Timber

from ...app import bitmaps, present


@dataclass(frozen=True, slots=True)
class Shelf:
    """All lots of one wood. Volume in mm³; ``worth`` counts the lots whose price is known."""

    wood: Wood
    lots: list[LotView]

    @property
    def volume(self) -> float:
        """Of all lots, mm³."""
        return sum(view.lot.volume * view.lot.count for view in self.lots)

    @property
    def worth(self) -> float:
        """What those cost whose price is known."""
        return sum((view.lot.price or 0.0) * view.lot.count for view in self.lots)


def store() -> Timber:
    """The timber of the running application."""
    return present.store().timber


def shelves(kind: str = "") -> list[Shelf]:
    """The store by wood; with ``kind`` only lots of that kind."""
    views = [view for view in store().lots() if not kind or view.lot.kind == kind]
    by_wood: dict[str, list[LotView]] = {}
    for view in views:
        by_wood.setdefault(view.lot.wood, []).append(view)
    return [Shelf(LIBRARY[key], by_wood[key]) for key in LIBRARY if key in by_wood]


def longest(found: Sequence[Shelf]) -> float:
    """The length all pictures are drawn to."""
    return max((view.lot.length for shelf in found for view in shelf.lots), default=1000.0)


def picture(lot: Lot, number: int, to: float) -> Markup:
    """One piece of a lot, drawn."""
    return Markup(piece(lot, number, present.lengths(), bitmaps.address, present.preference("finish"), to))


KINDS = tuple(LotKind)
