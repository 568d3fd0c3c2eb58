"""From the wood at hand to boards: for each family the largest that can be made of it, what limits it, what is left."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass
from itertools import combinations, pairwise

from ..errors import LaberintoError
from ..patterns import Family
from ..plan import Plan
from ..shop import Shop
from ..simulate import Simulation, simulate
from ..stages import Mill
from ..timber import Lot, Need, needs
from ..timber.cutting import Saw, Stock
from ..timber.cutting.quick import quick
from ..tones import READS, lightness
from ..woods import LIBRARY
from .wanted import Want, free, grown, measured

SMALLEST, LARGEST, STEP = 140, 600, 20
"""Widths looked at, mm."""

MOST_WOODS = 6
"""Woods that a family's are chosen among: those there is most of."""


@dataclass(frozen=True, slots=True)
class Largest:
    """The largest board of a family: the plan, its board, the wood that gives out first (or "" where none does), and
    mm³ left of each of its woods. ``why`` instead says what stands in the way."""

    family: type[Family]
    made: Family | None = None
    sim: Simulation | None = None
    limit: str = ""
    left: tuple[tuple[str, float], ...] = ()
    why: str = ""


def largest(
    family: type[Family], lots: Sequence[tuple[Lot, int]], shop: Shop, thickness: float, ratio: float
) -> Largest:
    """The largest board of one family, ``ratio`` times as long as wide, from lots with how many pieces are free."""
    saw = Saw.of(shop)
    stock = [Stock(lot, number, nth) for number, (lot, n) in enumerate(lots, 1) for nth in range(1, n + 1)]
    woods = _woods(family, lots)
    if woods is None:
        return Largest(family, why=f"It asks for {len(family.wood_fields())} woods, and there are not as many.")
    try:
        start = free(family.of(**shop.allowances(), **woods, thickness=thickness))
        sides = measured(start, family.title)
    except LaberintoError as error:
        return Largest(family, why=error.say())

    def made(width: int) -> tuple[Family, dict[str, int]] | None:
        try:
            one = grown(start, sides, Want(width, width * ratio, thickness))
            return one, quick(_needs(one.plan(family.title), shop), stock, saw)
        except LaberintoError:
            return None

    low, high = SMALLEST, LARGEST
    best: Family | None = None
    limit = ""
    while low <= high:
        middle = (low + high) // 2 // STEP * STEP
        found = made(middle)
        if found is not None and not found[1]:
            best, low = found[0], middle + STEP
        else:
            high = middle - STEP
            limit = max(found[1], key=found[1].__getitem__) if found and found[1] else limit
    if best is None:
        return Largest(family, limit=limit, why=_why(limit))
    sim = simulate(best.plan(family.title))
    used = needs(sim, shop)
    left = tuple(
        (
            wood,
            sum(lot.volume * n for lot, n in lots if lot.wood == wood) - sum(n.volume for n in used if n.wood == wood),
        )
        for wood in dict.fromkeys(need.wood for need in used)
    )
    return Largest(family, best, sim, limit, left)


def _why(limit: str) -> str:
    if not limit:
        return "Not even a small one can be built of these woods."
    name = LIBRARY[limit].name.lower()
    return f"Not even a small one: no {name} is large enough for its strips, or there is too little."


def all_largest(
    families: Iterable[type[Family]], lots: Sequence[tuple[Lot, int]], shop: Shop, thickness: float, ratio: float,
    told: Callable[[list[Largest]], bool] | None = None,
) -> list[Largest]:  # fmt: skip
    """Every family's largest board; ``told`` hears of each and may end it by answering False."""
    out: list[Largest] = []
    for family in families:
        out.append(largest(family, lots, shop, thickness, ratio))
        if told is not None and not told(out):
            break
    return out


def _needs(plan: Plan, shop: Shop) -> tuple[Need, ...]:
    """The strips of a plan, from its milling alone."""
    milled = tuple(stage for stage in plan.stages if isinstance(stage, Mill))
    return needs(simulate(plan.model_copy(update={"stages": milled, "pattern": None})), shop)


def _woods(family: type[Family], lots: Sequence[tuple[Lot, int]]) -> dict[str, str] | None:
    """Woods for a family's fields, lightest first: of those there is most of, the set that tells apart best for how
    much there is of its scarcest."""
    fields = family.wood_fields()
    there: dict[str, float] = {}
    for lot, n in lots:
        there[lot.wood] = there.get(lot.wood, 0.0) + lot.volume * n
    most = sorted((wood for wood, volume in there.items() if volume), key=lambda wood: -there[wood])[:MOST_WOODS]
    if len(most) < len(fields):
        return None

    def worth(chosen: tuple[str, ...]) -> float:
        lights = sorted(lightness(LIBRARY[wood].oiled) for wood in chosen)
        apart = min((b - a for a, b in pairwise(lights)), default=READS)
        return min(there[wood] for wood in chosen) * min(apart, READS)

    best = max(combinations(most, len(fields)), key=worth)
    ordered = sorted(best, key=lambda wood: -lightness(LIBRARY[wood].oiled))
    return dict(zip(fields, ordered, strict=True))
