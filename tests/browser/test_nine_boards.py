"""Nine boards by hands: each is made by mouse and keys only, and comes to the same report as a plan that no hand on a
screen has made."""

from __future__ import annotations

from typing import Any

import pytest
from playwright.sync_api import Page

from laberinto.core.edits import lamination, leavings, set_parameters, stages
from laberinto.core.edits.again import standing_again
from laberinto.core.patterns import FAMILIES
from laberinto.core.plan.model import Plan, read_plan
from laberinto.core.plan.simulate import simulate
from laberinto.core.shop import Shop
from laberinto.core.units import Lengths
from laberinto.files.report import report

from .conftest import Server, expect, pick
from .test_studio import put_in

pytestmark = pytest.mark.browser

SHOP, MM = Shop(), Lengths()


def told(plan: Plan) -> dict[str, Any]:
    """All that a plan yields, but for what it is called."""
    return report(simulate(plan)).model_dump(exclude={"name"})


def made(page: Page) -> Plan:
    """The plan of the board that is open, as it is saved as a file."""
    address = page.url.partition("?")[0]
    return read_plan(page.request.get(f"{address}/plan.json").text())


def by_pattern(page: Page, server: Server, key: str, **values: str) -> None:
    """A board of a family: its card, its numbers, its button."""
    page.goto(f"{server.url}/boards/new")
    page.locator(f"#family-{key} a").click()
    for name, value in values.items():
        field = page.locator(f"#n-{name}")
        if field.evaluate("el => el.tagName") == "SELECT":
            pick(field, value)
        elif field.get_attribute("type") == "checkbox":
            field.set_checked(value == "yes")
        else:
            field.fill(value)
    page.get_by_role("button", name="Make this board").click()
    expect(page.locator("#strip-0")).to_be_visible()


def family(key: str, **values: Any) -> Plan:
    return FAMILIES[key].of(**SHOP.for_a_pattern(), **values).plan("By plan")


@pytest.mark.parametrize(
    ("key", "typed", "values"),
    [
        ("crossing", {"bars": "6", "rows": "6", "turns": "first"}, {"bars": 6, "rows": 6, "turns": "first"}),
        ("blocks", {"blocks": "3", "rows": "5"}, {"blocks": 3, "rows": 5}),
        ("zigzag", {"pairs": "3", "stripe": "10", "rows": "4"}, {"pairs": 3, "stripe": 10, "rows": 4}),
        ("layered", {"layers": "4", "bars": "6", "rows": "6"}, {"layers": 4, "bars": 6, "rows": 6}),
        ("slab", {"rim_sides": "25", "rim_ends": "40", "splines": "yes"}, {"rim_sides": 25, "rim_ends": 40, "splines": True}),
        ("round", {"diameter": "260", "rows": "chords"}, {"diameter": 260, "rows": "chords"}),
    ],
    ids=["crossing weave", "three-wood blocks", "zigzag with stripes", "four-layer diamonds",
         "framed slab, two widths and splines", "round with chords"],
)  # fmt: skip
def test_by_its_pattern(page: Page, server: Server, key: str, typed: dict[str, str], values: dict[str, Any]) -> None:
    by_pattern(page, server, key, **typed)
    assert told(made(page)) == told(family(key, **values))


def test_a_chaos_board_from_scraps_in_three_panels_mixed_into_two(page: Page, server: Server) -> None:
    line = "(beech 24, plum 15, beech 9) mirrored, plum 20, beech 31"
    page.goto(f"{server.url}/boards/new/alternating")
    page.get_by_role("button", name="Start from the strips alone").click()
    expect(page.locator("#strip-0")).to_be_visible()
    page.locator("#line").fill(line)
    page.locator("#line").press("Enter")
    expect(page.locator(".strips .line")).to_have_count(7)
    put_in(page, "glue")
    put_in(page, "rip")
    put_in(page, "glue")
    for panels in (2, 3):  # two panels more like the first, their strips mixed in
        page.locator("#knot-strips").click()
        page.locator("#stage-double").click()
        expect(page.locator(".knot-panel", has_text="ABC"[panels - 1])).not_to_have_count(0)
    page.locator('.thread a[data-stage="glue-2"]').click()
    page.locator("#p-shuffle").fill("5")
    page.locator("#p-shuffle").press("Tab")
    expect(page.locator("#p-shuffle")).to_have_value("5")
    expect(page.locator("#undo")).to_be_enabled()
    half = page.locator(".pieces .line").count() // 2
    page.locator("#p-dry").fill(str(half))
    page.locator("#p-dry").press("Tab")
    expect(page.locator(".panel-column")).to_contain_text("2 pieces")

    plan = family("alternating")
    plan = plan.model_copy(update={"stages": plan.stages[:1], "pattern": None})
    plan = lamination.lay(plan, "strips", line, MM).plan
    for after, kind in (("strips", "glue"), ("glue", "rip"), ("rip", "glue")):
        plan = stages.insert(plan, after, kind, SHOP).plan
    plan = stages.duplicate(stages.duplicate(plan, "strips").plan, "strips").plan
    plan = set_parameters(plan, "glue-2", {"shuffle": "5"}, MM).plan
    plan = set_parameters(plan, "glue-2", {"dry": str(half)}, MM).plan
    assert len(simulate(plan).board.pieces) == 2 and told(made(page)) == told(plan)


def test_a_board_cut_again_three_times_when_it_stands(page: Page, server: Server) -> None:
    by_pattern(page, server, "alternating", slices="10")
    plan, at = family("alternating", slices=10), "board"
    for turned in (False, True, False):
        page.locator(f'.thread a[data-stage="{at}"]').click()
        expect(page.locator(f'.thread a[data-stage="{at}"]')).to_have_attribute("aria-current", "step")
        page.locator("#insert summary").click()
        knots = page.locator(".thread li").count()
        page.locator(f'.offer[data-op="stage-again"][data-kind="{"turned" if turned else "along"}"]').click()
        plan = standing_again(plan, at, SHOP, turned=turned).plan
        expect(page.locator(".thread li")).to_have_count(knots + len(plan.stages) - knots)
        at = [stage.id for stage in plan.stages if stage.id.startswith("pass-board")][-1]
    assert told(made(page)) == told(plan)


def test_one_mix_two_boards(page: Page, server: Server) -> None:
    by_pattern(page, server, "alternating", slices="8", panel_length="600")
    page.locator("#knot-slices").click()
    expect(page.locator("#knot-slices")).to_have_attribute("aria-current", "step")
    page.locator("#insert summary").click()
    page.locator('.offer[data-op="stage-leavings"]').click()
    expect(page.locator("#board-2")).to_be_visible()
    page.locator("#board-2").click()
    expect(page.locator(".figure.lead")).to_contain_text("board 2 of 2")
    expect(page.locator(".figure.lead .figure-value")).to_have_text("294 × 144 × 38 mm")
    plan = leavings.second_board(family("alternating", slices=8, panel_length=600), "slices", SHOP).plan
    assert len(simulate(plan).boards) == 2 and told(made(page)) == told(plan)
