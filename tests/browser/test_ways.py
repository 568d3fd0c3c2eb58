"""Ways through the application: the palette, the tour, words explained where they stand, lists set on a drawing."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Page, Route

from .conftest import Server, expect
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
    page.wait_for_url(re.compile("stage=rows"))  # and its scripts: a key pressed before they are there is nobody's
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


def test_what_is_typed_outlives_an_answer_that_comes_late(page: Page, server: Server) -> None:
    page.goto(f"{server.url}/boards/new/alternating")
    page.get_by_role("button", name="Make this board").click()
    expect(page.locator("#strip-0")).to_be_visible()
    late: list[Route] = []
    page.route("**/bench/tap", lambda route: late.append(route))
    page.goto(f"{server.url}/boards/1/bench?at=strips.rip")
    with page.expect_request("**/bench/tap"):
        page.keyboard.press("Space")
    expect(page.locator("#hand-count")).to_have_text("1")  # at once
    page.locator("#timer-label").fill("Kettle")
    late[0].continue_()
    expect(page.get_by_title("One less")).to_be_enabled()  # the answer is there
    expect(page.locator("#timer-label")).to_have_value("Kettle")
    expect(page.locator("#timer-label")).to_be_focused()


def test_at_the_bench_pieces_timers_and_a_decision_outlive_a_kill(page: Page, server: Server) -> None:
    """Counted with the space bar, a timer begun, a thin panel measured; the server is killed in between, and nothing that
    was shown as kept is lost. Then one press takes the way out."""
    page.goto(f"{server.url}/boards/new/alternating")
    page.get_by_label("Row height").fill("32")
    page.get_by_label("Slices").fill("12")
    page.get_by_label("Panel length").fill("650")
    page.get_by_role("button", name="Make this board").click()
    expect(page.locator("#strip-0")).to_be_visible()
    page.goto(f"{server.url}/boards/1/bench?at=strips.rip")
    for count in (1, 2, 3):
        page.keyboard.press("Space")
        expect(page.locator(".hand-tally strong")).to_have_text(str(count))
    page.locator("#timer-label").fill("Kettle")
    page.locator("#timer-minutes").fill("90")
    page.get_by_role("button", name="Start").click()
    expect(page.locator("#timers .timer-left")).to_contain_text("1:29:")
    # its pages are kept, so it is walked, counted and ticked while the server is gone
    expect(page.locator("#hand")).to_have_attribute("data-kept", "all")
    server.stop(hard=True)
    page.reload()
    expect(page.locator(".hand-tally strong")).to_have_text("3")
    page.keyboard.press("Space")
    expect(page.locator("#away")).to_contain_text("is kept here")
    page.locator(".hand-ways [data-key=ArrowLeft]").click()
    heading = page.locator("#hand h1").inner_text()
    page.keyboard.press("Enter")
    expect(page.locator("#hand h1")).not_to_have_text(heading)
    expect(page.locator(".hand-tally strong")).to_have_text("4")
    server.start()
    expect(page.locator("#away")).to_be_hidden()
    page.reload()
    expect(page.locator(".hand-tally strong")).to_have_text("4")
    expect(page.locator("#timers")).to_contain_text("Kettle")
    page.goto(f"{server.url}/boards/1/bench")
    for _ in range(5):  # all up to the planed panel; one is ticked
        heading = page.locator("#hand h1").inner_text()
        page.keyboard.press("Enter")
        expect(page.locator("#hand h1")).not_to_have_text(heading)
    page.goto(f"{server.url}/boards/1/build?at=panel-flat.flatten")
    page.locator("#measured").fill("30.4")
    page.get_by_role("button", name="Write it down").click()
    expect(page.locator("#what-now h3").first).to_have_text("Add a row")
    server.stop(hard=True)
    server.start()
    page.reload()
    page.locator(".way.best button").click()
    expect(page.locator("#what-now")).to_have_count(0)
    page.goto(f"{server.url}/boards/1")
    expect(page.locator(".figure.lead .figure-value")).to_have_text("294 × 389.2 × 38 mm")


def test_a_timer_is_right_after_an_hour_whatever_the_tablet_says_the_time_is(page: Page, server: Server) -> None:
    """The browser's clock is years off, and an hour passes: of 90 minutes half an hour is left, to the second that the
    start itself took."""
    start(page, server)
    page.clock.install(time="2020-02-02T02:02:02Z")
    page.goto(f"{server.url}/boards/1/bench")
    page.locator("#timer-label").fill("Cure")
    page.locator("#timer-minutes").fill("90")
    page.get_by_role("button", name="Start").click()
    left = page.locator("#timers .timer-left")
    expect(left).to_contain_text("1:29:")
    page.clock.fast_forward("01:00:00")
    expect(left).to_have_text(re.compile(r"^(30:00|29:\d\d)$"))
