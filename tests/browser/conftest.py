"""The application as a person meets it: a real server that can be stopped and started, and Debian's Chromium."""

from __future__ import annotations

import fcntl
import os
import shutil
from collections.abc import Callable, Iterator
from contextlib import suppress
from pathlib import Path
from typing import Any, cast, overload

import pytest
from playwright.sync_api import BrowserContext, Locator, LocatorAssertions, Page, PageAssertions, Response
from playwright.sync_api import expect as expect_once

from tests.empty import new_shop

from .servers import Server

ARGS = [
    "--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run", "--disable-background-networking",
    "--disable-component-update", "--disable-sync",
]  # fmt: skip

CHROMIUMS = ("chromium-headless-shell", "chromium", "chromium-browser")
"""What Debian's browser goes by, the first of these that is there. Without the window that nobody sees it has a quarter
less to do for the same page."""

PATIENCE = 120_000
"""How long (ms) anything awaited may take on a machine that is busy with eight other things: a bound on failing, which
no test comes near on a quiet one."""

A_WHILE = 2_000
"""Asked to be patient for as long (ms) or less, Playwright looks every tenth of a second; for longer, only every half at
last, which is more than most answers take."""


class _Expected:
    """What is expected of a page or a part of it, looked for often and for as long as there is patience."""

    def __init__(self, once: object) -> None:
        self._once = once

    def __getattr__(self, name: str) -> Callable[..., None]:
        def looked(*values: object, **options: object) -> None:
            look = getattr(self._once, name)
            for _ in range(PATIENCE // A_WHILE - 1):
                with suppress(AssertionError):
                    return look(*values, **options, timeout=A_WHILE)
            return look(*values, **options, timeout=A_WHILE)

        return looked


@overload
def expect(actual: Page) -> PageAssertions: ...
@overload
def expect(actual: Locator) -> LocatorAssertions: ...
def expect(actual: Page | Locator) -> PageAssertions | LocatorAssertions:
    """Playwright's own ``expect``, but looking more often."""
    return cast(LocatorAssertions, _Expected(expect_once(actual)))


@pytest.fixture(scope="session")
def browser_type_launch_args(browser_type_launch_args: dict[str, Any]) -> dict[str, Any]:
    found = os.environ.get("CHROMIUM") or next(filter(None, map(shutil.which, CHROMIUMS)), None)
    assert found, "Chromium is missing: apt-get install chromium"
    return {**browser_type_launch_args, "executable_path": found, "args": ARGS}


@pytest.fixture(scope="session")
def browser_context_args(browser_context_args: dict[str, Any]) -> dict[str, Any]:
    return {**browser_context_args, "viewport": {"width": 1280, "height": 800}}


@pytest.fixture
def context(context: BrowserContext) -> BrowserContext:
    context.set_default_timeout(PATIENCE)
    return context


def settled(page: Page) -> None:
    """Wait for what is under way: answers, pictures, letters, and what moves."""
    page.wait_for_load_state("load")
    expect(page.locator(".htmx-request")).to_have_count(0)
    page.evaluate(SETTLED)


SETTLED = """Promise.all([document.fonts.ready, ...document.getAnimations().map(each => each.finished.catch(() => 0)),
  ...[...document.images].filter(image => image.loading !== 'lazy').map(image => image.complete || new Promise(done => {
    image.addEventListener('load', done); image.addEventListener('error', done); }))])"""

FRAMES = "new Promise(done => requestAnimationFrame(() => requestAnimationFrame(done)))"


def pick(select: Locator, value: str) -> None:
    """Choose from a list as a hand does: it is gone to first, and filled then."""
    select.focus()
    select.select_option(value)


def printed(page: Page, button: str) -> bytes:
    """The PDF that a button opens beside the page, once it is there."""

    def is_one(response: Response) -> bool:
        return response.headers.get("content-type") == "application/pdf"

    with page.context.expect_event("response", is_one, timeout=PATIENCE) as answered, page.expect_popup() as opened:
        page.get_by_role("button", name=button, exact=True).click()
    answer = page.request.get(answered.value.url)
    opened.value.close()
    return answer.body()


@pytest.fixture
def server(tmp_path: Path) -> Iterator[Server]:
    made = Server(tmp_path / "data")
    new_shop(made.data)
    made.start()
    yield made
    made.stop()


@pytest.fixture(scope="session")
def demo_data(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """A folder filled with the demo once, by whichever process of the run comes first; tests work on copies."""
    from laberinto.demo.fill import fill

    mine = tmp_path_factory.getbasetemp()
    folder = (mine.parent if "PYTEST_XDIST_WORKER" in os.environ else mine) / "demo-data"
    with folder.with_suffix(".lock").open("w") as lock:
        fcntl.flock(lock, fcntl.LOCK_EX)
        if not folder.exists():
            filled = tmp_path_factory.mktemp("demo")
            fill(filled)
            filled.rename(folder)
    return folder


@pytest.fixture
def demo_server(demo_data: Path, tmp_path: Path) -> Iterator[Server]:
    made = Server(shutil.copytree(demo_data, tmp_path / "demo"))
    made.start()
    yield made
    made.stop()


@pytest.fixture(scope="session")
def shown_server(demo_data: Path, tmp_path_factory: pytest.TempPathFactory) -> Iterator[Server]:
    """The demo for tests that only look: started once, so that what one test had cut the next need not wait for."""
    made = Server(shutil.copytree(demo_data, tmp_path_factory.mktemp("shown") / "demo"))
    made.start()
    yield made
    made.stop()


@pytest.fixture
def requests_of(page: Page) -> Callable[[], set[str]]:
    """The addresses the page asked for so far; faults on its console fail the test at the end."""
    asked: set[str] = set()
    page.on("request", lambda request: asked.add(request.url))
    return lambda: asked
