"""Steps of the finish: amounts, soaks and waits, by hand."""

from __future__ import annotations

import pytest

from laberinto.core.analysis.glueups import waits
from laberinto.core.edits.stages import insert
from laberinto.core.finish.oiling import area, oil_litres, thirst, wax_litres
from laberinto.core.patterns import Alternating
from laberinto.core.plan.model import Plan
from laberinto.core.plan.simulate import simulate
from laberinto.core.shop import Shop
from laberinto.core.stages import Fill
from laberinto.core.steps import Step, steps
from laberinto.core.units import Lengths
from laberinto.core.woods import LIBRARY, Caution

PLAN = Alternating(strips=6, slices=8, light="beech", dark="plum").plan("Any")


def told(plan: Plan, stage: str, shop: Shop | None = None) -> list[Step]:
    return [step for step in steps(simulate(plan), Lengths(), shop or Shop()) if step.stage == stage]


def changed(plan: Plan, stage: str, **values: object) -> Plan:
    return plan.with_stage(plan.stage(stage).model_copy(update=values))


def test_wide_pores_drink_more_and_edges_less() -> None:
    """Ring-porous woods take 1.4 times what beech does, and one that seeps half as much again; edges 0.3 of end grain, and
    each round half of the one before."""
    assert thirst(LIBRARY["beech"]) == 1 and thirst(LIBRARY["ash"]) in (1.4, pytest.approx(2.1))
    seeps = next(wood for wood in LIBRARY.values() if Caution.SEEPS in wood.cautions)
    assert thirst(seeps) == pytest.approx(1.5 * thirst(seeps.model_copy(update={"cautions": ()})))
    sim = simulate(PLAN)
    width, length, _ = sim.board.size
    ends = 2 * width * length / 1e4
    first = 0.004 * (ends + 0.3 * (area(sim) - ends))
    assert oil_litres(sim, 2) == pytest.approx([first, first / 2])
    assert wax_litres(sim) == pytest.approx(0.0015 * area(sim))


def test_a_round_says_how_much_and_times_the_soak() -> None:
    shop = Shop(soak=45)
    first, second = [step for step in told(PLAN, "oiled", shop) if "round" in step.key]
    ml = [oil * 1000 for oil in oil_litres(simulate(PLAN), 2)]
    for step, amount in ((first, ml[0]), (second, ml[1])):
        text = " ".join(step.lines)
        assert f"about {Lengths().amount(amount, 'ml')}" in text and "45 minutes" in text
        assert text.index("Underside first") < text.index("Then the face") and step.timers == (("Oil soaks in", 45),)


def test_a_bath_needs_its_vessel_and_litres() -> None:
    """20 mm room all round, 10 below and above: the vessel's volume less the board's."""
    sim = simulate(PLAN)
    width, length, thick = sim.board.size
    litres = ((width + 40) * (length + 40) * (thick + 20) - width * length * thick) / 1e6
    text = " ".join(told(changed(PLAN, "oiled", bath=True), "oiled")[1].lines)
    assert f"{litres * 1000:.0f} ml" in text and "spacers 10 mm high with a weight" in text
    assert "flood" not in text and Lengths().show_size(width + 40, length + 40) in text


def test_paste_for_the_jar_is_parted_by_weight() -> None:
    """200 g at 4 to 1: 160 of oil and 40 of wax."""
    (step,) = told(changed(PLAN, "waxed", hours=20.0, hot=True), "waxed", Shop(jar=200))
    text = " ".join(step.lines)
    assert "40 g of wax into 160 g of oil" in text and "leave 20 hours" in text and "never a flame" in text


def test_a_second_filling_waits_again() -> None:
    plan = insert(PLAN, "eased", "fill").plan
    (filled,) = [stage for stage in plan.stages if isinstance(stage, Fill)]
    plan = changed(plan, filled.id, hours=6.0, fillings=2)
    found = told(plan, filled.id)
    assert [step.key.partition(".")[2] for step in found] == ["fill", "fill-2"]
    assert "shrunk" in found[1].lines[0] and sum(step.wait_hours for step in found) == 12
    assert waits(plan, plan.stage(filled.id)) == [6, 6]


def test_each_grit_has_its_minutes_and_sheets() -> None:
    """With half a minute a dm² and a sheet for 6 dm², each of four usual grits takes the same."""
    shop, size = Shop(minutes_grit=0.5, sheet_lasts=6), area(simulate(PLAN))
    text = " ".join(told(PLAN, "sanded", shop)[0].lines)
    sheets = -(-size // 6)
    assert text.count(f"{max(round(size / 2), 1)} min, {sheets:.0f} sheet") == 4
