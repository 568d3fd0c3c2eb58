"""What is read off a plan, over every family: steps, the bill, checks and the presses that settle them."""

from __future__ import annotations

import re
from functools import lru_cache

import pytest

from laberinto.core.analysis.figures import figures
from laberinto.core.edits.parameters import settle
from laberinto.core.patterns import FAMILIES
from laberinto.core.plan.model import OFFCUT
from laberinto.core.plan.simulate import Simulation, attempt, simulate
from laberinto.core.rules import check
from laberinto.core.shop import Shop
from laberinto.core.steps import steps
from laberinto.core.timber.cost import Rate, bill
from laberinto.core.units import Lengths

NAMES = tuple(FAMILIES)
MM = Lengths()

SMALL = Shop(
    sled_width=250, planer_width=150, planer_shortest=400, jointer_shortest=400, drum_width=250, clamps=3,
    clamp_reach=250, open_time=4, resaw_height=60, bits=(6.0, 9.5),
)  # fmt: skip
"""A shop in which most boards meet a limit."""


@lru_cache(maxsize=len(NAMES))
def sim_of(family: str) -> Simulation:
    return simulate(FAMILIES[family]().plan(FAMILIES[family].title))


def words_of(sim: Simulation, lengths: Lengths) -> list[str]:
    return [
        text
        for step in steps(sim, lengths)
        for text in (
            step.heading,
            step.setting,
            step.setting_label,
            step.measure_label,
            *step.sentences,
            *step.cautions,
        )
    ]


@pytest.mark.parametrize("family", NAMES)
def test_steps_follow_the_plan_and_each_has_a_key_of_its_own(family: str) -> None:
    sim = sim_of(family)
    todo = steps(sim, MM)
    keys = [step.key for step in todo]
    assert len(keys) == len(set(keys))
    done: set[str] = set()
    for at, step in enumerate(todo):
        for stage in map(sim.plan.stage, step.stages):
            assert done >= {name.removesuffix(OFFCUT) for name in stage.sources}, f"{step.key} before its wood is there"
        if at + 1 == len(todo) or todo[at + 1].stage != step.stage:
            assert not done & set(step.stages), "a stage is left and taken up again"
            done.update(step.stages)
    assert done == {stage.id for stage in sim.plan.stages}


@pytest.mark.parametrize("family", NAMES)
def test_steps_are_written_out_in_the_makers_unit(family: str) -> None:
    sim = sim_of(family)
    for text in words_of(sim, MM):
        assert not re.search(r"\b(?:nan|inf|None|False)\b|[{}]", text), text
    inches = words_of(sim, Lengths("in"))
    assert not [text for text in inches if re.search(r"\d mm\b", text)]
    assert [text for text in inches if '"' in text]


@pytest.mark.parametrize("family", NAMES)
def test_a_bill_adds_up_and_follows_its_prices(family: str) -> None:
    sim, shop = sim_of(family), Shop()
    one = bill(sim, shop)
    assert one.cost == pytest.approx(sum(w.amount for w in one.woods) + sum(i.amount for i in one.items) + one.labour)
    assert one.price == pytest.approx(one.cost * (1 + shop.margin / 100))
    assert one.labour == pytest.approx(sum(work.minutes for work in one.work) / 60 * shop.rate)
    for line in one.woods:
        assert 0 < line.in_board <= line.taken + 1e-9, line.wood
    # litres in the board are those of the simulation
    inside = sim.wood_volumes(sim.board.pieces.cells)
    assert {w.wood: w.in_board for w in one.woods if w.in_board > 1e-9} == pytest.approx(
        {wood: volume / 1e6 for wood, volume in inside.items()}
    )
    dear = bill(sim, shop, {w.wood: Rate(2 * w.rate.per_litre, "double") for w in one.woods})
    assert dear.wood == pytest.approx(2 * one.wood) and dear.waste == pytest.approx(2 * one.waste)
    assert dear.labour == one.labour and dear.items == one.items


@pytest.mark.parametrize("family", NAMES)
def test_figures_of_a_board_add_up(family: str) -> None:
    sim = sim_of(family)
    f = figures(sim)
    assert (f.width, f.length, f.thickness) == pytest.approx(sim.board.size)
    lost = sum(sim.waste().values())
    assert sim.milled == pytest.approx(sim.board.volume + lost, rel=1e-9)
    assert f.wasted == pytest.approx(lost / sim.milled, abs=1e-9)
    assert sum(line.share for line in f.waste) == pytest.approx(f.wasted, abs=1e-9)
    assert f.joints == len(sim.joints())
    assert f.weight > 0


@pytest.mark.parametrize("family", NAMES)
def test_findings_name_a_stage_and_read_well(family: str) -> None:
    sim = sim_of(family)
    found = check(sim, MM, SMALL)
    assert found, "a shop as small as this has something to say of every board"
    for finding in found:
        assert finding.stage in {stage.id for stage in sim.plan.stages}
        assert finding.rule and finding.why.endswith(".") and finding.fix.endswith((".", "?")), finding
        assert not re.search(r"\b(?:nan|inf|None)\b|[{}]|  ", f"{finding.why} {finding.fix}"), finding
    assert len({(c.key, c.why) for c in found}) == len(found), "the same is said twice"


@pytest.mark.parametrize("family", NAMES)
def test_one_press_settles_what_it_says_it_settles(family: str) -> None:
    """After a remedy the plan can still be built, and the finding is gone or says something else."""
    sim = sim_of(family)
    for finding in check(sim, MM, SMALL):
        for remedy in finding.remedies:
            plan = settle(sim.plan, remedy, MM).plan
            assert plan != sim.plan, f"{finding.key}: “{remedy.words}” changes nothing"
            _, fault = attempt(plan)
            assert fault is None, f"{finding.key}: “{remedy.words}” leaves {fault}"
            after = check(simulate(plan), MM, SMALL)
            assert (finding.key, finding.why) not in {(c.key, c.why) for c in after}, f"{finding.key}: still there"
