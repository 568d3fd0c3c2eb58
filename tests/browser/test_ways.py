"""Ways through the application: the palette, the tour, words explained where they stand, lists set on a drawing."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Page, expect

from .conftest import Server
from .test_studio import drag, put_in, start

pytestmark = pytest.mark.browser


def test_the_palette_goes_anywhere_and_does_what_the_page_can(page: Page, server: Server) -> None:
    start(page, server)
    page.keyboard.press("Control+k")
    words = page.locator("#finder-words")
    expect(words).to_be_focused()
    words.fill("arrange sl")
    expect(page.locator("#finder-list [aria-selected=true]")).to_contain_text("Stand up and arrange the slices")
    words.press("Enter")
    expect(page).to_have_url(re.compile("stage=rows"))
    # what the page itself can do: another view, then a change taken back
    page.keyboard.press("Control+k")
    words.fill("underside")
    words.press("Enter")
    expect(page.locator("#view-under")).to_have_attribute("aria-current", "true")
    page.keyboard.press("Control+k")
    words.fill("nowhere at all")
    expect(page.locator("#finder-list")).to_contain_text("Nothing goes by that")
    words.press("Escape")
    expect(page.locator("#finder")).to_be_hidden()
    page.locator("#find-all").click()
    words.fill("timber")
    words.press("ArrowDown")
    words.press("ArrowUp")
    words.press("Enter")
    expect(page).to_have_url(re.compile("/timber$"))


def test_a_board_in_eight_presses(page: Page, server: Server) -> None:
    page.goto(f"{server.url}/start")
    page.get_by_role("button", name="Go on").click()
    for press in range(1, 9):
        expect(page.locator(".tour")).to_contain_text(f"Press {press} of 8")
        expect(page.locator(".tour-target")).to_have_count(1)
        page.locator(".tour-target").click()
    expect(page.locator(".tour")).to_contain_text("That was the tour")
    expect(page).to_have_url(re.compile("/boards/1/build$"))
    page.locator(".tour button").click()
    expect(page.locator(".tour")).to_be_hidden()
    page.reload()
    expect(page.locator(".tour")).to_be_hidden()


def test_a_dotted_word_says_what_it_means(page: Page, server: Server) -> None:
    start(page, server)
    page.goto(f"{server.url}/boards/1/steps")
    word = page.locator('a.word[data-word="crosscut"]')
    word.hover()
    said = page.locator("#word-said")
    expect(said).to_contain_text("Saw across the fibres.")
    page.mouse.move(2, 2)
    expect(said).to_be_hidden()
    word.click()
    expect(said).to_be_visible()
    expect(page).to_have_url(re.compile("/steps$"))


def test_lists_are_set_on_the_drawing(page: Page, server: Server) -> None:
    start(page, server)
    page.locator("#knot-panel-flat").click()
    expect(page.locator("#knot-panel-flat")).to_have_attribute("aria-current", "step")
    put_in(page, "rip")
    widths = page.locator("#p-widths")
    expect(page.locator("#pad-widths-0-0")).to_be_visible()
    expect(widths).to_have_value("")
    drag(page, "#pad-widths-0-0", 12, 0)
    expect(widths).not_to_have_value("")
    before = widths.input_value()
    page.locator("#pad-widths-1-0").focus()
    page.keyboard.press("Delete")
    expect(widths).not_to_have_value(before)
    assert widths.input_value().count(",") == before.count(",") - 1
    page.locator("#undo").click()
    expect(widths).to_have_value(before)
    knots = page.locator(".thread li").count()
    page.locator("#stage-remove").click()
    expect(page.locator(".thread li")).to_have_count(knots - 1)
    # an outline: a corner goes in, both sides alike, and a key nudges it
    page.locator('.thread a[data-stage="trimmed"]').click()
    expect(page.locator('.thread a[data-stage="trimmed"]')).to_have_attribute("aria-current", "step")
    put_in(page, "shape")
    points = page.locator("#p-points")
    page.locator("#pad-mirrored").check()
    drag(page, "#pad-points-0-2", -24, 0)
    expect(points).not_to_have_value("")
    corners = [tuple(map(float, point.split("×"))) for point in points.input_value().split(",")]
    assert corners[2][0] + corners[3][0] == pytest.approx(corners[1][0], abs=0.01) and corners[3][0] > 5
    page.locator("#pad-points-0-2").focus()
    page.keyboard.press("ArrowDown")
    expect(points).not_to_have_value(", ".join(f"{x:g} × {y:g}" for x, y in corners))
