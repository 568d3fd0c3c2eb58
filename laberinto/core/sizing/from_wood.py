"""From the wood at hand to boards: for each family the largest that was found, what limits it, what is left.

Several choices of woods are tried, and only what the shop's machines and clamps take. How strips lie on the wood is
looked at quickly (``cutting.quick``), so a larger board may be there; none that is offered lacks wood.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass
from itertools import combinations, pairwise

from ..errors import LaberintoError
from ..patterns import Family
from ..plan.model import Plan
from ..plan.simulate import Simulation, simulate
from ..rules import check
from ..shop import Shop
from ..stages import Mill
from ..timber import Lot, Need, needs
from ..timber.cutting import Saw, Stock
from ..timber.cutting.quick import quick
from ..woods import LIBRARY
from ..woods.tones import READS, lightness
from .wanted import Want, free, grown, measured

SMALLEST, LARGEST, STEP = 140, 600, 20
"""Widths looked at, mm."""

MOST_WOODS = 6
"""Woods that a family's are chosen among: those there is most of."""


MOST_SETS = 6
"""Choices of woods that are tried for a family."""

LIMITS = ("too_wide", "too_wide_for_the_sled", "too_short", "clamps", "too_deep_a_cut")
"""Rules that say what the shop cannot do; a board that trips one is not offered."""

SHOP = "shop"
"""What limits a board that the shop's machines and clamps do not let grow."""


@dataclass(frozen=True, slots=True)
class Largest:
    """The largest board found of a family: the plan, its board, the wood that gives out first (SHOP where machines
    do, "" where nothing does), and mm³ left of each of its woods. ``why`` instead says what stands in the way."""

    family: type[Family]
    made: Family | None = None
    sim: Simulation | None = None
    limit: str = ""
    left: tuple[tuple[str, float], ...] = ()
    why: str = ""


def largest(
    family: type[Family], lots: Sequence[tuple[Lot, int]], shop: Shop, thickness: float, ratio: float
) -> Largest:
    """The largest board of one family that is found, ``ratio`` times as long as wide, from lots with how many pieces
    are free."""
    saw = Saw.of(shop)
    stock = [Stock(lot, number, nth) for number, (lot, n) in enumerate(lots, 1) for nth in range(1, n + 1)]
    sets = _sets(family, lots)
    if not sets:
        return Largest(family, why=f"It asks for {len(family.wood_fields())} woods, and there are not as many.")
    try:
        starts = [free(family.of(**shop.for_a_pattern(), **woods, thickness=thickness)) for woods in sets]
        sides = measured(starts[0], family.title)
    except LaberintoError as error:
        return Largest(family, why=error.say())

    def grown_to(start: Family, width: int) -> Family:
        return grown(start, sides, Want(width, width * ratio, thickness))

    def takes(width: int) -> bool:
        """Whether the shop can make a board of this width, whatever its woods."""
        try:
            found = check(simulate(grown_to(starts[0], width).plan(family.title)), shop=shop)
        except LaberintoError:
            return False
        return not any(finding.rule in LIMITS for finding in found)

    most, _ = _highest(SMALLEST, LARGEST, takes)
    if most is None:
        return Largest(family, limit=SHOP, why="Not even a small one fits your machines and clamps.")
    best: tuple[int, Family, str] | None = None
    limits: list[str] = []
    for start in starts:
        short: dict[int, dict[str, int]] = {}

        def enough(width: int, start: Family = start, short: dict[int, dict[str, int]] = short) -> bool:
            try:
                short[width] = quick(_needs(grown_to(start, width).plan(family.title), shop), stock, saw)
            except LaberintoError:
                return False
            return not short[width]

        # what is no larger than the best so far need not be looked at
        width, next_ = _highest(SMALLEST if best is None else best[0] + STEP, most, enough)
        missing = short.get(next_ or SMALLEST, {})
        limit = max(missing, key=missing.__getitem__) if missing else SHOP if width == most else ""
        limits.append(limit)
        if width is not None:
            best = width, grown_to(start, width), limit
    if best is None:
        first = next((limit for limit in limits if limit), "")
        return Largest(family, limit=first, why=_why(first))
    made, limit = best[1:]
    sim = simulate(made.plan(family.title))
    used = needs(sim, shop)
    left = tuple(
        (
            wood,
            sum(lot.volume * n for lot, n in lots if lot.wood == wood) - sum(n.volume for n in used if n.wood == wood),
        )
        for wood in dict.fromkeys(need.wood for need in used)
    )
    return Largest(family, made, sim, limit, left)


def _highest(low: int, high: int, holds: Callable[[int], bool]) -> tuple[int | None, int | None]:
    """The highest width from ``low`` to ``high`` in steps for which something holds that holds for smaller ones, and
    the next one, for which it did not; None where there is none."""
    best: int | None = None
    failed: int | None = None
    while low <= high:
        middle = max((low + high) // 2 // STEP * STEP, low)
        if holds(middle):
            best, low = middle, middle + STEP
        else:
            failed, high = middle, middle - STEP
    return best, failed


def _why(limit: str) -> str:
    if limit in ("", SHOP):
        return "Not even a small one can be built of these woods."
    name = LIBRARY[limit].name.lower()
    return f"Not even a small one: no {name} is large enough for its strips, or there is too little."


def all_largest(
    families: Iterable[type[Family]], lots: Sequence[tuple[Lot, int]], shop: Shop, thickness: float, ratio: float,
    progress: Callable[[list[Largest]], bool] | None = None,
) -> list[Largest]:  # fmt: skip
    """Every family's largest board; ``progress`` hears of each and may end it by answering False."""
    out: list[Largest] = []
    for family in families:
        out.append(largest(family, lots, shop, thickness, ratio))
        if progress is not None and not progress(out):
            break
    return out


def _needs(plan: Plan, shop: Shop) -> tuple[Need, ...]:
    """The strips of a plan, from its milling alone."""
    milled = tuple(stage for stage in plan.stages if isinstance(stage, Mill))
    return needs(simulate(plan.model_copy(update={"stages": milled, "pattern": None})), shop)


def _sets(family: type[Family], lots: Sequence[tuple[Lot, int]]) -> list[dict[str, str]]:
    """Woods for a family's fields, lightest first, in several ways: of those there is most of, the sets that tell apart
    best for how much there is of their scarcest, the best first."""
    fields = family.wood_fields()
    there: dict[str, float] = {}
    for lot, n in lots:
        there[lot.wood] = there.get(lot.wood, 0.0) + lot.volume * n
    most = sorted((wood for wood, volume in there.items() if volume), key=lambda wood: -there[wood])[:MOST_WOODS]

    def worth(chosen: tuple[str, ...]) -> float:
        lights = sorted(lightness(LIBRARY[wood].oiled) for wood in chosen)
        apart = min((b - a for a, b in pairwise(lights)), default=READS)
        return min(there[wood] for wood in chosen) * min(apart, READS)

    best = sorted(combinations(most, len(fields)), key=worth, reverse=True)[:MOST_SETS]
    return [
        dict(zip(fields, sorted(chosen, key=lambda wood: -lightness(LIBRARY[wood].oiled)), strict=True))
        for chosen in best
    ]
