"""A board is promised for a day that cannot be; why, an evening more, the week on paper; a tick late moves it all."""

from __future__ import annotations

import json
import re
import urllib.request
from datetime import datetime, timedelta

import pytest
from icalendar import Calendar
from playwright.sync_api import Page

from laberinto.core.patterns import Alternating
from laberinto.core.plan.simulate import simulate
from laberinto.core.steps import steps
from laberinto.store import Store, open_database

from .conftest import Server, expect, printed, settled

pytestmark = pytest.mark.browser

PLAN = Alternating(strips=4, strip_width=30, row=30, slices=5, panel_length=420).plan("Skerry")
NO_FRIDAY_EVENING = {f"day-{at}": "18-20" if at < 4 else "" for at in range(7)}


def found(page: Page) -> None:
    """Wait until the search for the best calendar is over."""
    expect(page.locator("#calendar-sheet")).not_to_have_attribute("hx-post", re.compile("."))
    expect(page.locator("#calendar-sheet")).not_to_have_attribute("hx-get", re.compile("."))


def day_of(page: Page, job: str) -> int:
    """On which day a job stands, counted from today."""
    return int(page.locator(f'.cal-bar[data-job="{job}"]').get_attribute("data-day") or -1)


def test_a_promise_that_cannot_be_kept_and_what_moves_it(page: Page, server: Server) -> None:
    store = Store(open_database(server.data / "laberinto.db"))
    store.prefer("calendar", json.dumps(NO_FRIDAY_EVENING))
    board = store.create(PLAN)
    # promised for the day after tomorrow, from its own menu
    page.goto(f"{server.url}/boards/{board}")
    page.locator("#board-menu > summary").click()
    due = (datetime.now().astimezone() + timedelta(days=2)).date()
    page.locator("#board-menu input[type=date]").fill(due.isoformat())
    page.locator("#board-menu input[type=date]").press("Enter")
    settled(page)
    page.goto(f"{server.url}/calendar")
    found(page)
    expect(page.locator(".calendar-late")).to_contain_text("Skerry")
    late = page.locator(".calendar-late .overdue").inner_text()

    page.locator(".late-board summary .why-word").click()
    expect(page.locator(".why-body")).to_contain_text("Even with nothing else to do")

    # hours on every day make it sooner
    page.locator("#calendar-hours summary").click()
    page.locator("#day-4").fill("6-24")
    page.locator("#day-5").fill("half the day")
    page.get_by_text("Keep these hours").click()
    expect(page.locator(".calendar-hours .error")).to_contain_text("is no span of time")
    page.locator("#day-5").fill("6-24")
    for at in (0, 1, 2, 3, 6):
        page.locator(f"#day-{at}").fill("6-24")
    page.get_by_text("Keep these hours").click()
    expect(page.locator("#calendar-hours")).not_to_have_attribute("open", re.compile(".*"))
    found(page)
    sooner = page.locator(".calendar-late .overdue").inner_text()
    assert int(sooner.split()[0]) < int(late.split()[0])

    # moved by keys, and taken back
    job = f"{board}.waxed.wax"
    stood = day_of(page, job)
    page.locator(f'.cal-bar[data-job="{job}"]').focus()
    page.keyboard.press("Alt+ArrowRight")
    expect(page.locator(f'.cal-bar[data-job="{job}"]')).to_have_attribute("data-day", str(stood + 1))
    expect(page.locator(f'.cal-bar[data-job="{job}"]')).to_be_focused()
    page.keyboard.press("Control+z")
    expect(page.locator(f'.cal-bar[data-job="{job}"]')).to_have_attribute("data-day", str(stood))
    found(page)

    # dragged to another day
    bar = page.locator(f'.cal-bar[data-job="{job}"] .cal-hands')
    box, to = bar.bounding_box(), page.locator(".cal-day").nth(stood + 2).bounding_box()
    assert box and to
    page.mouse.move(box["x"] + 1, box["y"] + 4)
    page.mouse.down()
    page.mouse.move(box["x"] + 30, box["y"] + 4, steps=3)
    page.mouse.move(to["x"] + to["width"] / 2, box["y"] + 4, steps=3)
    page.mouse.up()
    expect(page.locator(f'.cal-bar[data-job="{job}"]')).to_have_attribute("data-day", str(stood + 2))
    expect(page).to_have_url(f"{server.url}/calendar")

    # ticked late: half of it is done, and the rest moves
    for step in steps(simulate(PLAN))[:4]:
        for key in step.keys:
            store.build(board).tick(key)
    page.reload()
    found(page)
    expect(page.locator(f'.cal-bar[data-job="{board}.strips.rough"]')).to_have_count(0)

    # on paper, and in another program
    assert printed(page, "Print").startswith(b"%PDF")
    page.locator("#share summary").click()
    page.get_by_text("Make an address").click()
    page.locator("#share summary").click()
    address = page.locator("#share-at").input_value()
    with urllib.request.urlopen(address) as answer:
        events = Calendar.from_ical(answer.read()).walk("VEVENT")
    assert any("Skerry" in event["SUMMARY"] for event in events)


def test_today_at_the_bench(page: Page, demo_server: Server) -> None:
    page.set_viewport_size({"width": 1024, "height": 768})
    page.goto(f"{demo_server.url}/calendar/today")
    rows = page.locator(".today-list li")
    expect(rows.first).to_be_visible()
    clocks = page.locator(".today-clock").all_inner_texts()
    assert clocks == sorted(clocks)
    rows.first.locator("a").click()
    expect(page).to_have_url(re.compile("/boards/\\d+/bench"))


def test_a_glue_up_is_rehearsed_against_the_clock(page: Page, server: Server) -> None:
    store = Store(open_database(server.data / "laberinto.db"))
    board = store.create(PLAN)
    page.goto(f"{server.url}/boards/{board}/bench?at=panel.dry")
    page.get_by_text("Rehearse it against the clock").click()
    press = page.locator("#rehearsal-next")
    expect(press).to_have_text("Begin")
    press.click()
    for strip in (2, 3, 4):
        expect(press).to_have_text(f"strip {strip} lies")
        page.locator("h1").press(" ")
    expect(press).to_have_text("Clamps are on")
    press.click()
    expect(page.locator(".rehearsal-score")).to_contain_text("It can be done")
    assert store.build(board).notes()[0].step == "panel.dry"
