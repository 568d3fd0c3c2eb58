"""Woods that want care, or do not belong under food."""

from __future__ import annotations

from collections.abc import Iterator

from ..plan.simulate import Simulation
from ..shop import Shop
from ..stages import Mill, Oil
from ..stages.finish import OilKind
from ..woods import CAUTION_TEXT, Caution
from .model import Check, Remedy, Severity, Show

_SEVERITY = {
    Caution.NOT_UNDER_FOOD: Severity.STOP, Caution.SEEPS: Severity.CAUTION, Caution.DOUBTED_UNDER_FOOD: Severity.CAUTION,
}  # fmt: skip
DUST = (Caution.SENSITISING_DUST, Caution.NASAL_CANCER)
"""Cautions that are about dust: they belong to the steps that make it."""
_FIX = {
    Caution.NOT_UNDER_FOOD: "Choose another wood for anything that touches food.",
    Caution.SEEPS: "Seal it well, or choose a wood with closed or fine pores.",
    Caution.SENSITISING_DUST: "Extract at the source and wear a fitted mask whenever it is cut or sanded.",
    Caution.ALLERGY: "Name the wood on the care card.",
    Caution.NASAL_CANCER: "Extract at the source and wear a fitted mask whenever it is cut or sanded.",
    Caution.DOUBTED_UNDER_FOOD: "Ask whoever will use the board, or keep this wood to the border.",
    Caution.BLEEDS: "Wipe its dust off pale wood before oil, and try the oil on an offcut.",
    Caution.TRADE_CONTROL: "Keep the proof of origin with the board's record.",
}


def wood_cautions(sim: Simulation, show: Show, shop: Shop) -> Iterator[Check]:
    """Every caution that goes with a wood of the plan, once, where its first strips are milled."""
    said: set[str] = set()
    for result in sim.results:
        if not isinstance(result.stage, Mill):
            continue
        for key in dict.fromkeys(strip.wood for strip in result.outcome.strips):
            wood = sim.woods[key]
            fresh = () if key in said else wood.cautions
            said.add(key)
            for caution in fresh:
                yield Check(
                    _SEVERITY.get(caution, Severity.NOTE), result.stage.id,
                    f"{wood.name}: {CAUTION_TEXT[caution]}.", _FIX[caution], about=f"{key}.{caution.value}",
                )  # fmt: skip


def nut_oils(sim: Simulation, show: Show, shop: Shop) -> Iterator[Check]:
    """Oils pressed from nuts, for those who may not touch them."""
    for result in sim.results:
        stage = result.stage
        if isinstance(stage, Oil) and stage.oil.nut and not stage.skip:
            yield Check(
                Severity.CAUTION, stage.id, f"{stage.oil.label.capitalize()} comes from a nut; some people are allergic.",
                "Name it on the care card, or use mineral oil.",
                remedy=Remedy(stage.id, "oil", OilKind.MINERAL, "Use mineral oil"),
            )  # fmt: skip


def curing(sim: Simulation, show: Show, shop: Shop) -> Iterator[Check]:
    """Oils that harden take weeks to, not the days until they feel dry."""
    for result in sim.results:
        stage = result.stage
        if isinstance(stage, Oil) and stage.oil.dries and not stage.skip:
            yield Check(
                Severity.NOTE, stage.id,
                f"{stage.oil.label.capitalize()} feels dry in days but cures in about {stage.oil.cure_days // 7} weeks; until "
                "then it is no surface for food.",
                f"Hand the board over {stage.oil.cure_days} days after the last coat, or as the finish's label says.",
            )  # fmt: skip
