"""An order from the first call to the day it is handed over, by hand."""

from __future__ import annotations

from datetime import datetime, timedelta

import pytest
from playwright.sync_api import Page

from laberinto.core.patterns import Alternating
from laberinto.store import Store, open_database

from .conftest import Server, expect, printed

pytestmark = pytest.mark.browser


def test_somebody_asks_for_a_board(page: Page, server: Server) -> None:
    Store(open_database(server.data / "laberinto.db")).create(
        Alternating(strips=6, strip_width=30, row=30, slices=6).plan("Slipway")
    )
    page.goto(f"{server.url}/calendar")
    page.get_by_role("link", name="Orders").click()
    page.get_by_placeholder("For whom").fill("The school kitchen")
    page.keyboard.press("Enter")
    expect(page.locator("h1")).to_have_text("The school kitchen")
    page.locator("#order-board").select_option(label="Slipway")
    page.get_by_role("button", name="Put it to this order").click()
    expect(page.locator(".order-promise b")).to_be_visible()  # the days are counted
    page.locator("#times-1").fill("2")
    page.locator("#times-1").press("Enter")
    expect(page.locator(".order-times")).to_contain_text("in all")
    expect(page.locator(".order-promise b")).to_be_visible()  # counted anew
    page.locator("#order-due").fill((datetime.now() + timedelta(days=1)).date().isoformat())
    page.locator("#order-price").fill("dear")
    page.get_by_role("button", name="Keep it").click()
    expect(page.locator(".order-form .error")).to_contain_text("not a number")
    page.locator("#order-price").fill("480")
    page.get_by_role("button", name="Keep it").click()
    expect(page.locator(".order-promise")).to_contain_text("later than the")
    page.get_by_role("button", name="Agreed").click()
    expect(page.get_by_role("button", name="Agreed")).to_have_attribute("aria-pressed", "true")
    assert printed(page, "Quote, PDF").startswith(b"%PDF")
    page.get_by_role("link", name="All orders").click()
    expect(page.locator(".order-list li")).to_contain_text("ready only")
    expect(page.locator(".order-list li svg")).to_be_visible()
