"""The whole way, from strips to an oiled board, by mouse and by keyboard, with the server killed in between."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Page

from .conftest import Server, expect, pick

pytestmark = pytest.mark.browser


def finished(page: Page, size: str) -> None:
    expect(page.locator(".figure.lead dd, .figure.lead .figure-value")).to_have_text(size)


def test_by_mouse(page: Page, server: Server) -> None:
    page.goto(server.url)
    expect(page.get_by_text("No boards yet")).to_be_visible()
    page.get_by_role("link", name="Start a board").click()
    page.locator("#family-alternating a").click()

    # a wrong count is told beside its field, keeps the last good face, and the right one draws anew
    finished(page, "294 × 384 × 38 mm")
    page.get_by_label("Strips").fill("9")
    expect(page.get_by_text("Take 8 or 10.")).to_be_visible()
    finished(page, "294 × 384 × 38 mm")
    page.get_by_label("Strips").fill("8")
    finished(page, "234 × 384 × 38 mm")
    page.get_by_label("Dark wood").select_option("elm")
    page.get_by_label("Name").fill("Ladder")
    page.get_by_role("button", name="Make this board").click()
    expect(page).to_have_title(re.compile("Ladder"))
    finished(page, "234 × 384 × 38 mm")

    # strips: another wood, drag the first to the third place, undo
    lines = page.locator(".strips .line")
    expect(lines).to_have_count(8)
    pick(page.get_by_label("Wood of strip 2"), "bog-oak")
    expect(page.locator("#strip-1")).to_have_attribute("aria-label", re.compile("^Strip 2, Bog oak, heart"))
    first, third = page.locator("#strip-0 .grip").bounding_box(), page.locator("#strip-2 .grip").bounding_box()
    assert first and third
    page.mouse.move(first["x"] + 8, first["y"] + 10)
    page.mouse.down()
    page.mouse.move(first["x"] + 8, first["y"] + 40, steps=4)
    page.mouse.move(third["x"] + 8, third["y"] + 14, steps=8)
    page.mouse.up()
    expect(page.locator("#strip-0")).to_have_attribute("aria-label", re.compile("^Strip 1, Bog oak, heart"))
    page.locator("#undo").click()
    expect(page.locator("#strip-0")).to_have_attribute("aria-label", re.compile("^Strip 1, Beech, heart"))

    # crosscut: too many slices are refused with what would fit, fewer change the face
    page.locator("#knot-slices").click()
    page.get_by_label("Slices").fill("20")
    page.get_by_label("Slices").press("Tab")
    expect(page.get_by_role("alert")).to_contain_text("or cut 14 slices")
    expect(page.get_by_label("Slices")).to_have_value("20")
    page.get_by_label("Slices").fill("10")
    page.get_by_label("Slices").press("Tab")
    finished(page, "234 × 294 × 38 mm")

    # arrange: choose a row on the drawing, flip it with its button
    page.locator("#knot-rows").click()
    expect(page.get_by_role("heading", name="Stand up and arrange the slices")).to_be_visible()
    page.locator(".drawing .laid-row").nth(3).click()
    expect(page.locator("#row-3")).to_be_focused()
    page.get_by_role("button", name="Flip", exact=True).click()
    expect(page.locator("#row-3")).to_contain_text("by hand")

    # the server is killed; what was shown is there when it comes back, and the edit made meanwhile is sent then
    server.stop(hard=True)
    page.locator("#row-4").click()
    page.keyboard.press("f")
    expect(page.get_by_text("The server does not answer")).to_be_visible()
    server.start()
    page.reload()
    finished(page, "234 × 294 × 38 mm")
    expect(page.locator("#row-3")).to_contain_text("by hand")
    expect(page.locator("#row-4")).to_contain_text("by hand")
    page.locator("#undo").click()
    expect(page.locator("#row-4")).not_to_contain_text("by hand")
    page.locator("#undo").click()
    expect(page.locator("#row-3")).not_to_contain_text("by hand")
    page.locator("#redo").click()
    expect(page.locator("#row-3")).to_contain_text("by hand")

    # steps and log: tick, measure, see it on the thread and in the list of boards
    page.get_by_role("link", name="Build", exact=True).click()
    expect(page.get_by_text("Cut 10 slices to a stop")).to_be_visible()
    cuts = page.get_by_role("table").first.get_by_role("row")
    expect(cuts).to_have_count(1 + 3)
    page.set_viewport_size({"width": 390, "height": 844})  # a phone lays it out as lines; it stays a table
    expect(cuts).to_have_count(1 + 3)
    expect(cuts.nth(1).get_by_role("cell")).to_have_count(6)
    expect(page.get_by_role("columnheader", name="Rough")).to_have_count(1)
    page.set_viewport_size({"width": 1280, "height": 800})
    page.get_by_role("link", name="Build log").click()
    for heading in ("Cut the wood rough", "Joint a face and an edge", "Rip the strips"):
        expect(page.locator(".bench-main h1")).to_contain_text(heading)
        if heading.startswith("Joint"):
            page.get_by_label("Measured").fill("33.4")
            page.get_by_label("Noticed").fill("Left it a hair thick")
            page.get_by_role("button", name="Write it down").click()
            expect(page.locator(".bench-side .note")).to_contain_text("0.4 mm over")
        page.get_by_role("button", name="Done", exact=True).click()
    expect(page.locator(".thread li").first).to_have_class(re.compile("done"))
    page.get_by_role("link", name="Laberinto").click()
    expect(page.locator(".card-board")).to_contain_text("Reached: strips")
    expect(page.locator(".card-board")).to_contain_text("Dry fit the strips")


def tab_to(page: Page, selector: str) -> None:
    """Press Tab until the element has the focus, as a person without a mouse does."""
    for _ in range(120):
        page.keyboard.press("Tab")
        if page.evaluate("s => document.activeElement?.matches(s)", selector):
            return
    raise AssertionError(f"Tab never reaches {selector}")


def test_by_keyboard(page: Page, server: Server) -> None:
    page.goto(server.url)
    tab_to(page, 'a[href="/boards/new"]')
    page.keyboard.press("Enter")
    expect(page).to_have_title(re.compile("New board"))
    tab_to(page, "#family-alternating a")
    page.keyboard.press("Enter")
    expect(page).to_have_title(re.compile("Alternating"))
    tab_to(page, ".new-go button")
    page.keyboard.press("Enter")
    expect(page).to_have_title(re.compile("Tidewrack"))

    # strips: walk, move, turn, double, remove
    tab_to(page, "#strip-0")
    page.keyboard.press("ArrowDown")
    expect(page.locator("#strip-1")).to_be_focused()
    page.keyboard.press("Alt+ArrowDown")
    expect(page.locator("#strip-2")).to_be_focused()
    expect(page.locator("#strip-1")).to_have_attribute("aria-label", re.compile("^Strip 2, Beech, heart"))
    page.keyboard.press("f")
    expect(page.locator("#strip-2")).to_contain_text("face over")
    page.keyboard.press("d")
    expect(page.locator(".strips .line")).to_have_count(11)
    page.locator("#strip-2").focus()
    page.keyboard.press("Delete")
    expect(page.locator(".strips .line")).to_have_count(10)
    for _ in range(4):
        page.keyboard.press("Control+z")
    expect(page.locator("#strip-1")).to_have_attribute("aria-label", re.compile("^Strip 2, Plum, heart"))
    page.keyboard.press("Control+Shift+Z")
    expect(page.locator("#strip-1")).to_have_attribute("aria-label", re.compile("^Strip 2, Beech, heart"))

    # the thread by arrows, then rows
    page.locator("#knot-strips").focus()
    for _ in range(4):
        page.keyboard.press("ArrowRight")
    expect(page.locator("#knot-rows")).to_be_focused()
    page.keyboard.press("Enter")
    expect(page.locator(".rows .line")).to_have_count(13)
    tab_to(page, "#row-0")
    page.keyboard.press("u")
    expect(page.locator("#row-0")).to_contain_text("other end up")
    expect(page.locator("#row-0")).to_be_focused()
    page.keyboard.press("Alt+ArrowDown")
    expect(page.locator("#row-1")).to_be_focused()
    expect(page.locator("#row-1")).to_contain_text("by hand")
    tab_to(page, "#p-rule")
    page.keyboard.press("Home")
    expect(page.locator(".drawing")).to_be_visible()

    # half-way, the server starts again; then the log to the last step
    server.stop()
    server.start()
    page.goto(f"{server.url}/boards/1/build")
    total = page.locator(".log-lines li").count()
    for number in range(1, total + 1):
        expect(page.locator(".bench-count")).to_contain_text(f"Step {number}, next")
        page.locator("body").evaluate("b => document.activeElement.blur()")
        page.keyboard.press("Enter")
    expect(page.get_by_text("All steps are done")).to_be_visible()
    expect(page.locator(".thread li.done")).to_have_count(12)


def test_two_tabs_do_not_overwrite_each_other(page: Page, server: Server) -> None:
    page.goto(f"{server.url}/boards/new/alternating")
    page.get_by_role("button", name="Make this board").click()
    other = page.context.new_page()
    other.goto(page.url)
    pick(page.locator("#wood-0"), "ash")
    expect(page.locator("#strip-0")).to_have_attribute("aria-label", re.compile("^Strip 1, Ash, heart"))
    pick(other.locator("#wood-1"), "elm")
    expect(other.get_by_role("alert")).to_contain_text("changed on another page")
    expect(other.locator("#strip-0")).to_have_attribute("aria-label", re.compile("^Strip 1, Ash, heart"))
    expect(other.locator("#strip-1")).to_have_attribute("aria-label", re.compile("^Strip 2, Plum, heart"))


def test_fast_hands_lose_nothing(page: Page, server: Server) -> None:
    page.goto(f"{server.url}/boards/new/alternating")
    page.get_by_role("button", name="Make this board").click()

    # keys faster than the answers: each waits for the one before
    page.locator("#strip-4").focus()
    for key in ("f", "e", "d", "Alt+ArrowUp"):
        page.keyboard.press(key)
    expect(page.locator("#strip-3")).to_have_attribute(
        "aria-label", re.compile("^Strip 4, Beech, face over, end for end, heart")
    )
    expect(page.locator(".strips .line")).to_have_count(11)

    # widths typed one after the other, and one half typed while an answer comes
    page.locator("#width-0").focus()
    for width in ("20", "22", "24"):
        page.keyboard.press("Control+a")
        page.keyboard.type(width)
        page.keyboard.press("Tab")  # the next strip's wood
        page.keyboard.press("Tab")  # and its width
    page.locator("#p-thickness").focus()
    page.keyboard.press("Control+a")
    page.keyboard.type("4")
    # 8 strips of 30 and the three typed: 240 + 66 − 6
    finished(page, "300 × 384 × 38 mm")
    expect(page.locator("#p-thickness")).to_have_value("4")
    page.keyboard.type("0")
    page.keyboard.press("Tab")
    expect(page.locator(".panel-size")).to_contain_text("40 mm")

    # a yes-or-no can be switched off
    page.locator("#knot-eased").click()
    with page.expect_response("**/edit"):
        page.get_by_label("Bottom edges").uncheck()
    page.reload()
    expect(page.get_by_label("Bottom edges")).not_to_be_checked()


def test_what_is_typed_while_the_face_is_drawn_stays(page: Page, server: Server) -> None:
    page.goto(f"{server.url}/boards/new/alternating")
    # four changes, each while the answer to the one before may still be under way
    page.get_by_label("Dark wood").select_option("elm")
    page.get_by_label("Name").fill("Skerry")
    page.get_by_label("Strips").fill("8")
    page.get_by_label("Finished thickness").fill("40")
    finished(page, "234 × 384 × 40 mm")
    expect(page.get_by_label("Name")).to_have_value("Skerry")
    expect(page.get_by_label("Dark wood")).to_have_value("elm")
    page.get_by_role("button", name="Make this board").click()
    expect(page).to_have_title(re.compile("Skerry"))
