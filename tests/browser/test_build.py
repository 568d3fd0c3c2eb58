"""A board built from the first step to the last on a tablet, with simulated instruments whose wood comes out otherwise than
planned, one ruined slice, the network lost for a while, and the server killed in the middle."""

from __future__ import annotations

from collections.abc import Iterator
from threading import Thread

import pytest
from playwright.sync_api import Page

from laberinto.core.patterns import Alternating
from laberinto.core.plan.simulate import simulate
from laberinto.devices.bench import Instruments
from laberinto.devices.bench import Server as Devices
from laberinto.devices.hidden import of_store
from laberinto.store import Store, open_database

from .conftest import Server, expect

pytestmark = pytest.mark.browser

TABLET = {"width": 820, "height": 1180}


@pytest.fixture
def store(server: Server) -> Store:
    return Store(open_database(server.data / "laberinto.db"))


@pytest.fixture
def instruments(server: Server, store: Store) -> Iterator[Devices]:
    """On a line of their own, which the server is told of."""
    devices = Devices(0, Instruments(of_store(store, 11)))
    Thread(target=devices.serve_forever, kwargs={"poll_interval": 0.02}, daemon=True).start()
    server.stop()
    server.devices = devices.server_address[1]
    server.start()
    yield devices
    devices.shutdown()
    devices.server_close()


def decide(page: Page) -> None:
    """Take the best way out, if something is to be decided."""
    page.locator("#log").wait_for()
    if page.locator(".what-now").count():
        page.locator(".way.best button").click()
        expect(page.locator(".what-now")).to_have_count(0)


def measured(page: Page, said: str = "reads") -> None:
    """A reading from the instrument, written down and followed."""
    page.locator("#take-reading").click()
    expect(page.locator("#device-said")).to_contain_text(said)
    expect(page.locator("#measured")).not_to_have_value("")
    notes = page.locator(".bench-side .note").count()
    page.get_by_role("button", name="Write it down").click()
    expect(page.locator(".what-now, .bench-side .note").nth(notes)).to_be_visible()


def test_a_whole_build_with_instruments(page: Page, server: Server, store: Store, instruments: Devices) -> None:
    plan = Alternating(strips=4, strip_width=30, row=30, slices=5, panel_length=420).plan("Ebb")
    board = store.create(plan)
    log, hand = f"{server.url}/boards/{board}/build", f"{server.url}/boards/{board}/bench"
    page.set_viewport_size(TABLET)
    page.goto(log)
    readings, steps = 0, 0
    while page.locator(".bench-main h1").count():
        heading = page.locator(".bench-main h1").inner_text()
        number = page.locator(".bench-count").inner_text()
        if page.locator("#quantity").count() and page.locator("#take-reading").count():
            measured(page)
            readings += 1
            decide(page)
            page.goto(log)
        if heading.startswith(("Cut 5 slices", "Cut 6 slices")):
            _ruin_a_slice(page, server, board)
            decide_at(page, log)
        if steps == 2:  # the server is killed between a note and a tick
            server.stop(hard=True)
            server.start()
            page.goto(log)
        if steps == 4:
            _without_a_network(page, hand)
            page.goto(log)
        else:
            page.locator("#tick").click()
        expect(page.locator(".bench-count, .all-done").first).not_to_have_text(number)
        steps += 1
        assert steps < 40, f"stuck at {heading}"
    expect(page.locator(".all-done")).to_contain_text("All steps are done")
    view, notes = store.board(board), store.build(board).notes()
    assert view is not None and readings >= 6 and len(notes) == readings
    assert all(note.planned is not None or note.unit != "mm" for note in notes if note.quantity != "thickness")
    told = [line.words for line in store.revisions(board).all()]
    assert any(words.startswith("left out: slice") for words in told)
    assert sum(words.startswith("as measured") for words in told) >= 3 and any("way out" in words for words in told)
    # the plan is the board that came out: built, smaller or larger than planned, and told so
    came, meant = simulate(view.plan).board.size, simulate(plan).board.size
    assert max(abs(a - b) for a, b in zip(came, meant, strict=True)) > 0.1
    page.goto(f"{server.url}/boards/{board}")
    expect(page.locator(".figure-beside")).to_contain_text("As built so far")


def decide_at(page: Page, log: str) -> None:
    page.goto(log)
    decide(page)
    page.goto(log)


def _ruin_a_slice(page: Page, server: Server, board: int) -> None:
    """One is left out on the drawing's page; the app says what now."""
    page.goto(f"{server.url}/boards/{board}?stage=rows")
    page.locator("#row-1").click()
    page.locator("[data-op=row-out]").click()
    expect(page.locator(".left-out")).to_be_visible()


def _without_a_network(page: Page, hand: str) -> None:
    """At the bench page a step is ticked while nothing can be reached; it arrives once the network is there again."""
    page.goto(hand)
    expect(page.locator("#hand")).to_have_attribute("data-kept", "all")
    heading = page.locator("#hand h1").inner_text()
    page.context.set_offline(True)
    page.locator("#done").click()
    expect(page.locator("#hand h1")).not_to_have_text(heading)
    expect(page.locator("#away")).to_contain_text("kept here")
    page.context.set_offline(False)
    expect(page.locator("#away")).to_be_hidden()
