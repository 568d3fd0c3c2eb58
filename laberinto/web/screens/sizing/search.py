"""What is worked out in a process of its own: the largest board of every pattern that some wood makes."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from laberinto.core.patterns import FAMILIES, Family
from laberinto.core.shop import Shop
from laberinto.core.sizing.from_wood import Largest, all_largest
from laberinto.core.timber import Lot

from ...app.workshop import Tell
from .view import drawn


@dataclass(frozen=True, slots=True)
class Offer:
    """The largest board of a pattern, as the page shows it: its size in mm and its face, or why there is none."""

    family: str
    title: str
    made: Family | None
    size: tuple[float, float, float] | None
    picture: str
    limit: str
    left: tuple[tuple[str, float], ...]
    why: str

    @property
    def face(self) -> float:
        """mm² of it."""
        return self.size[0] * self.size[1] if self.size else 0.0


def offers(
    families: Sequence[str], lots: Sequence[tuple[Lot, int]], shop: Shop, thickness: float, ratio: float, finish: str,
    tell: Tell,
) -> list[Offer]:  # fmt: skip
    """Of every pattern the largest board; ``tell`` hears of those that were looked at."""
    out: list[Offer] = []

    def heard(found: list[Largest]) -> bool:
        out.extend(_offer(one, finish) for one in found[len(out) :])
        return tell(len(out) / len(families), list(out))

    all_largest([FAMILIES[key] for key in families], lots, shop, thickness, ratio, heard)
    return out


def _offer(one: Largest, finish: str) -> Offer:
    picture = drawn(one.sim, one.family.title, finish) if one.sim else ""
    size = one.sim.board.size if one.sim else None
    return Offer(one.family.key, one.family.title, one.made, size, picture, one.limit, one.left, one.why)
