"""What a board costs: wood, glue, abrasives, finish and hours, line by line, and the price with a margin.

Amounts are in the shop's money. Hours come from times per action that the shop can change.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import TypeVar

from ..analysis.effort import cuts_of
from ..analysis.figures import figures
from ..analysis.glueups import glue_grams
from ..finish import flat
from ..finish.grits import LONGER, ladder
from ..finish.oiling import area as faces
from ..finish.oiling import oil_litres, wax_litres
from ..plan.model import OFFCUT
from ..plan.simulate import Simulation, StageResult
from ..shop import Shop
from ..stages import (
    Carving,
    Crosscut,
    Ease,
    Feet,
    Flatten,
    Gluing,
    Mill,
    Oil,
    Profile,
    Sand,
    Sawing,
    Shape,
    Stage,
    Trim,
    Wax,
)
from ..units import Lengths
from .supply import WASTED


@dataclass(frozen=True, slots=True)
class Rate:
    """What a litre of a wood costs, and where that price is from."""

    per_litre: float
    source: str


@dataclass(frozen=True, slots=True)
class WoodCost:
    """One wood: litres taken and litres that end in the board, and what those taken cost."""

    wood: str
    taken: float
    in_board: float
    rate: Rate
    planned: bool
    """Whether a cut plan says how much is taken."""

    @property
    def amount(self) -> float:
        """What it costs, in the shop’s money."""
        return self.taken * self.rate.per_litre

    @property
    def wasted(self) -> float:
        """What the part that does not end in the board costs."""
        return max(self.taken - self.in_board, 0.0) * self.rate.per_litre


@dataclass(frozen=True, slots=True)
class Item:
    """Anything else that is used up: how much of what unit, and what it costs."""

    name: str
    quantity: float
    unit: str
    amount: float


@dataclass(frozen=True, slots=True)
class Work:
    """Minutes at one stage, and how they come about."""

    stage: str
    title: str
    minutes: float
    how: str


@dataclass(frozen=True, slots=True)
class Bill:
    """All of it. ``price`` is the cost with the margin on top."""

    woods: tuple[WoodCost, ...]
    items: tuple[Item, ...]
    work: tuple[Work, ...]
    rate: float
    margin: float

    @property
    def wood(self) -> float:
        """What the wood costs."""
        return sum(line.amount for line in self.woods)

    @property
    def waste(self) -> float:
        """What the wood costs that does not end in the board."""
        return sum(line.wasted for line in self.woods)

    @property
    def hours(self) -> float:
        """Hours of hands."""
        return sum(work.minutes for work in self.work) / 60

    @property
    def labour(self) -> float:
        """What they cost."""
        return self.hours * self.rate

    @property
    def cost(self) -> float:
        """Wood, materials and hours together."""
        return self.wood + sum(item.amount for item in self.items) + self.labour

    @property
    def price(self) -> float:
        """The cost with the margin."""
        return self.cost * (1 + self.margin / 100)


def bill(
    sim: Simulation,
    shop: Shop,
    rates: Mapping[str, Rate] | None = None,
    taken: Mapping[str, float] | None = None,
    lengths: Lengths | None = None,
) -> Bill:
    """The bill of a board. ``rates`` are prices of woods, the shop's usual where there is none; ``taken`` is mm³ of
    each wood that a cut plan takes from the store for good; words are for ``lengths``."""
    rates, taken, how = rates or {}, taken or {}, lengths or Lengths()
    usual = Rate(shop.wood_price, "the shop's usual")
    woods = tuple(
        WoodCost(
            line.wood, taken.get(line.wood, line.rough * WASTED) / 1e6, line.in_board / 1e6,
            rates.get(line.wood, usual), line.wood in taken,
        )
        for line in figures(sim, shop).woods
    )  # fmt: skip
    work = tuple(
        Work(result.stage.id, result.stage.title, minutes, words)
        for result in sim.results
        if not result.stage.skip
        for minutes, words in [hands_on(sim, result, shop, how)]
        if minutes > 0
    )
    return Bill(woods, _items(sim, shop), work, shop.rate, shop.margin)


def _items(sim: Simulation, shop: Shop) -> tuple[Item, ...]:
    grams, area = glue_grams(sim), faces(sim)
    grits = sum(len(stage.grits) for stage in _stages(sim, Sand))
    oil = sum(sum(oil_litres(sim, stage.rounds)) for stage in _stages(sim, Oil))
    wax = wax_litres(sim) * len(_stages(sim, Wax))
    found = (
        Item("Glue", grams, "g", grams / 1000 * shop.glue_price),
        Item("Abrasives", area * grits, "dm²", area * grits * shop.abrasive_price),
        Item("Oil and wax", (oil + wax) * 1000, "ml", (oil + wax) * shop.finish_price),
    )
    return tuple(item for item in found if item.quantity > 0)


S = TypeVar("S", bound=Stage)


def _stages(sim: Simulation, kind: type[S]) -> list[S]:
    return [r.stage for r in sim.results if isinstance(r.stage, kind) and not r.stage.skip]


def hands_on(sim: Simulation, result: StageResult, shop: Shop, lengths: Lengths | None = None) -> tuple[float, str]:
    """Minutes of hands that a stage takes by the shop's own times, and how they come about."""
    how = lengths or Lengths()
    for kinds, write in _TIMES:
        if isinstance(result.stage, kinds):
            return write(sim, result, shop, how)
    return 0.0, ""


def _milling(sim: Simulation, result: StageResult, shop: Shop, how: Lengths) -> tuple[float, str]:
    assert isinstance(result.stage, Mill)
    n = 0 if result.stage.as_is else len(result.outcome.strips)
    return n * shop.minutes_strip, f"{n} strips × {shop.minutes_strip:g} min"


def _sawing(sim: Simulation, result: StageResult, shop: Shop, how: Lengths) -> tuple[float, str]:
    n = cuts_of(sim, result.stage)
    return n * shop.minutes_cut, f"{n} cuts × {shop.minutes_cut:g} min"


def _glueing(sim: Simulation, result: StageResult, shop: Shop, how: Lengths) -> tuple[float, str]:
    stage = result.stage
    assert isinstance(stage, Gluing)
    joints = len(result.outcome.joints)
    minutes = stage.glue_ups * shop.minutes_glue_up + joints * shop.seconds_per_joint / 60
    times = f"{stage.glue_ups} × {shop.minutes_glue_up:g} min"
    return minutes, f"{times}, {joints} joints × {shop.seconds_per_joint:g} s"


def _flattening(sim: Simulation, result: StageResult, shop: Shop, how: Lengths) -> tuple[float, str]:
    n, stage = len(result.pieces), result.stage
    assert isinstance(stage, Flatten)
    each = f"{n} piece{'s' if n > 1 else ''} × {shop.minutes_flatten:g} min"
    if stage.method not in flat.BY_ITSELF and result.outcome.off is not None and stage.source:
        width, length, _ = sim[stage.source.removesuffix(OFFCUT)].size
        off, on_end = result.outcome.off[0, 2].tolist(), result.pieces.cells.on_end
        ran = flat.minutes(stage.method, width, length, off, shop, on_end=on_end) * n
        return n * shop.minutes_flatten + ran, f"{each}, and {ran:.0f} min with the {stage.method.label}"
    return n * shop.minutes_flatten, each


def _shaping(sim: Simulation, result: StageResult, shop: Shop, how: Lengths) -> tuple[float, str]:
    n = len(result.pieces)
    return n * shop.minutes_shape, f"{n} × {shop.minutes_shape:g} min" if n > 1 else f"{shop.minutes_shape:g} min"


def _sanding(sim: Simulation, result: StageResult, shop: Shop, how: Lengths) -> tuple[float, str]:
    assert isinstance(result.stage, Sand)
    rungs, area = list(ladder(result.stage.grits)), faces(sim)
    a_unit = f"{shop.minutes_grit * how.scale('min a dm²'):.3g} min"
    longer = [f"{rung.times:.1f} times as long at {rung.grit}" for rung in rungs if rung.times > LONGER]
    return (
        sum(rung.minutes(area, shop) for rung in rungs),
        ", ".join([f"{len(rungs)} grits × {area * how.scale('dm²'):.0f} {how.unit('dm²')} × {a_unit}", *longer]),
    )


def _coats(sim: Simulation, result: StageResult, shop: Shop, how: Lengths) -> tuple[float, str]:
    n = (result.stage.rounds if isinstance(result.stage, Oil) else 1) * len(result.pieces)
    return n * shop.minutes_coat, f"{n} coat{'s' if n > 1 else ''} × {shop.minutes_coat:g} min"


Writer = Callable[[Simulation, StageResult, Shop, Lengths], tuple[float, str]]

_TIMES: tuple[tuple[tuple[type[Stage], ...], Writer], ...] = (
    ((Mill,), _milling),
    ((Gluing,), _glueing),
    ((Sawing, Crosscut, Profile, Trim), _sawing),
    ((Flatten,), _flattening),
    ((Carving, Ease, Shape, Feet), _shaping),
    ((Sand,), _sanding),
    ((Oil, Wax), _coats),
)
"""The first kinds that fit say how long a stage takes; what is not listed takes no time of hands."""
