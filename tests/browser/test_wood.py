"""From a wanted size to wood on the saw: short of one, bought, cut, and the offcuts back in the store."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Page

from .conftest import Server, expect

pytestmark = pytest.mark.browser


def test_want_a_size_plan_buy_cut_and_the_offcuts_come_back(page: Page, server: Server) -> None:
    # what lies in the store, typed
    page.goto(f"{server.url}/timber")
    expect(page.get_by_text("Nothing in the store yet")).to_be_visible()
    lines = page.get_by_label("Put lots in")
    lines.fill("2 beech planks 2400 x 190 x 52, 10.5 %, 39.00, long rack\nplum plank 700 x 90 x 52, kot 100-140 x 0-30")
    expect(page.locator(".reads .error")).to_have_count(0)
    lines.fill("2 beech planks 2400 x 190 x 52, 10.5 %, 39.00, long rack\nplumm plank 700 x 90 x 52")
    expect(page.locator(".reads mark")).to_have_text("plumm plank")
    lines.fill(
        "2 beech planks 2400 x 190 x 52, 10.5 %, 39.00, long rack\nplum plank 800 x 90 x 52, knot 100-140 x 0-30, 25.00"
    )
    expect(page.locator(".reads li")).to_have_count(2)
    page.get_by_role("button", name="Put in").click()
    expect(page.locator(".lot-picture")).to_have_count(2)

    # the size that is wanted
    page.goto(f"{server.url}/boards/new")
    page.get_by_role("link", name="Start from a size").click()
    for name, value in (("Width", "300"), ("Length", "400"), ("Thickness", "40")):
        page.get_by_label(name, exact=True).fill(value)
    page.keyboard.press("Tab")
    expect(page.locator(".figure.lead dt")).to_have_text("Just as wanted")
    expect(page.locator(".figure.lead dd")).to_have_text("300 × 400 × 40 mm")
    expect(page.locator(".ledger")).to_contain_text("14 × 44 slices")
    page.get_by_label("Strip width").fill("32")
    page.keyboard.press("Tab")
    expect(page.locator(".near-board")).to_have_count(3)
    expect(page.locator('input[name="hold"][value="strip_width"]')).to_be_checked()
    page.locator('input[name="hold"][value="strip_width"]').uncheck()
    expect(page.locator(".figure.lead dt")).to_have_text("Just as wanted")
    page.get_by_role("button", name="Make this board").click()
    expect(page.locator(".figure.lead .figure-value")).to_have_text("300 × 400 × 40 mm")

    # short of one wood: the buying list
    expect(page.locator(".figures .short-words")).to_be_visible()
    page.get_by_role("link", name="Ready", exact=True).click()
    page.get_by_role("link", name="Wood", exact=True).click()
    expect(page.locator(".covers .short")).to_contain_text("Plum")
    page.get_by_role("button", name="Plan the cuts").click()
    expect(page.locator(".buying")).to_contain_text("strips B of plum")
    expect(page.locator(".buy-list .total")).to_contain_text("€")
    page.get_by_role("button", name="Bought: put it in the store").click()
    expect(page.locator(".plan-head .figure.lead dt")).to_have_text("From")
    expect(page.locator(".buying")).to_have_count(0)

    # reserved, cut, booked
    page.get_by_role("button", name="Reserve these").click()
    expect(page.locator(".held-box")).to_contain_text("Reserved just now")
    page.reload()  # once the answer is there: a page that is just being left cannot be loaded again
    expect(page.locator(".held-box")).to_contain_text("Reserved just now")
    page.get_by_role("link", name="Timber").click()
    expect(page.locator(".held").first).to_be_visible()
    page.get_by_role("link", name=re.compile("Tidewrack|Quay Wall|Slipway")).first.click()
    page.get_by_role("button", name="It is cut: book it").click()
    expect(page.locator(".held-box .state-done")).to_contain_text("Cut and booked")
    page.get_by_role("link", name="Timber").click()
    offcuts = page.locator(".lot-words", has_text="offcut")
    expect(offcuts.first).to_contain_text("over from")

    # and taken back
    page.go_back()
    page.get_by_role("button", name="Take it back").click()
    page.get_by_role("link", name="Timber").click()
    expect(page.locator(".lot-words", has_text="offcut")).to_have_count(0)


def test_checks_are_worked_through_by_key_and_mouse(page: Page, demo_server: Server) -> None:
    page.goto(f"{demo_server.url}/boards/18/checks")
    expect(page.locator(".lead-line")).to_contain_text("1 thing to look at")
    page.get_by_text("Let it stand").focus()
    page.keyboard.press("Enter")
    page.get_by_label("Why it may stand").fill("")
    page.keyboard.press("Enter")
    expect(page.locator(".error")).to_have_text("Say in a few words why it may stand.")
    page.get_by_label("Why it may stand").fill("The yard planes it")
    page.keyboard.press("Enter")
    expect(page.locator(".lead-line")).to_contain_text("Nothing is left to look at")
    page.get_by_role("button", name="Ask again").first.click()
    page.get_by_role("button", name="two sub-panels").click()
    expect(page.locator(".todo-line:not(.settled)", has_text="thickness planer")).to_have_count(0)
    page.get_by_role("link", name="Design").click()
    expect(page.locator(".knot-panel").first).to_be_visible()
    page.locator("#undo").click()
    expect(page.locator(".knot-panel")).to_have_count(0)


def test_enter_in_a_reckoner_works_it_out_and_writes_nothing(page: Page, shown_server: Server) -> None:
    """A chord of 200 mm with a rise of 20 mm is of a circle of (100² + 20²) ÷ 40 = 260 mm."""
    sent: list[str] = []
    page.on("request", lambda request: sent.append(request.url) if request.method == "POST" else None)
    page.goto(f"{shown_server.url}/reckoners/arc?board=16")
    page.locator("#r-rise").fill("20")
    page.locator("#r-chord").fill("200")
    page.locator("#r-chord").press("Enter")
    expect(page.locator(".sum-figures .lead dd")).to_have_text("260 mm")
    expect(page).to_have_url(re.compile("chord=200"))
    assert not sent and "csrf" not in page.url
