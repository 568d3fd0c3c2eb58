"""Every screen keeps to itself, can be used by everyone, and does not complain on the console."""

from __future__ import annotations

import json
from collections.abc import Callable
from pathlib import Path
from urllib.parse import urlsplit

import pytest
from playwright.sync_api import Page

from .conftest import Server, settled

pytestmark = pytest.mark.browser

AXE = Path(__file__).parent / "vendor" / "axe.min.js"

SCREENS = (
    "/",
    "/boards/new",
    "/boards/new/weave",
    "/boards/2",
    "/boards/2?view=under",
    "/boards/2?stage=rows&view=stage",
    "/boards/2?stage=slices&view=stage",
    "/boards/2?stage=strips&view=stage",
    "/boards/2/steps",
    "/boards/2/build",
    "/boards/4",
    "/boards/4?stage=third-flat&view=stage",
    "/boards/4/steps",
    "/boards/2?stage=strips&view=edges",
    "/boards/2?stage=strips&view=round",
    "/boards/6?stage=rows&view=stage",
    "/boards/6?stage=brick-slices&view=stage",
    "/compare?one=2&other=6",
    "/boards/5/judge?show=repetition",
    "/boards/5/judge/again",
    "/boards/new/picture",
    "/boards/new/chaos",
    "/shop",
    "/reckoners/groove?board=2",
    "/timber",
    "/timber/2",
    "/timber/boards",
    "/boards/size?family=stairs",
    "/boards/3/size",
    "/boards/1/wood",
    "/boards/18/checks",
    "/boards/2/cost",
    "/boards/23/faults",
    "/boards/23/record",
    "/together",
    "/woods",
    "/woods/plum",
    "/lessons",
    "/trash",
    "/safe",
    "/devices",
    "/sign-in",
    "/boards/2/paper",
    "/boards/4/paper/templates",
    "/boards/4/paper/labels",
    "/boards/4/cnc",
    "/boards/2/bench?at=slices.cut",
    "/boards/21/build",
    "/boards/2/record",
    "/boards/2/what-if?kerf=1.6&old=beech&new=holly",
    "/boards/4?stage=groove&view=stage",
    "/now",
    "/which-board",
    "/words",
    "/start",
    "/nowhere",
)
DARK = [path for path in SCREENS if not path.startswith(("/boards/4", "/nowhere")) and "under" not in path][::2]
"""Colours alone differ in the dark: one page of each kind will do."""


def faults(page: Page, *rules: str) -> list[str]:
    """What axe finds serious on the page as it is shown, by all its rules or these alone."""
    # nothing is fetched once more for axe: no rule that is on by itself reads style sheets, and nothing here plays sound
    asked = {"resultTypes": ["violations"], "preload": False, **({"runOnly": rules} if rules else {})}
    return page.evaluate(
        f"async () => {{ const run = await axe.run({json.dumps(asked)}); return run.violations"
        ".filter(v => ['serious', 'critical'].includes(v.impact))"
        ".map(v => v.id + ': ' + v.nodes.map(n => n.target).slice(0, 3).join(' ')); }"
    )


@pytest.fixture
def page(page: Page) -> Page:
    page.add_init_script(path=AXE)
    return page


def test_what_opens_over_the_studio(page: Page, shown_server: Server) -> None:
    page.goto(f"{shown_server.url}/boards/6?stage=rows&view=stage")
    for key, shown in (
        ("i", ".offer"),
        ("w", ".palette"),
        ("h", ".history li"),
        ("?", "#keys[open]"),
        ("p", "#replay[open]"),
    ):
        page.keyboard.press(key)
        page.locator(shown).first.wait_for()
        settled(page)
        assert faults(page) == [], shown
        page.keyboard.press("Escape")
        page.locator(shown).first.wait_for(state="hidden")
    page.locator('[popovertarget="why-size"]').click()
    assert faults(page) == []


# in three parts, so that two cores have as much to do each
@pytest.mark.parametrize("paths", [SCREENS[at::3] for at in range(3)], ids=["one", "two", "three"])
def test_every_screen(
    page: Page, shown_server: Server, requests_of: Callable[[], set[str]], paths: tuple[str, ...]
) -> None:
    complaints: list[str] = []
    page.on("console", lambda m: complaints.append(m.text) if m.type in ("error", "warning") else None)
    page.on("pageerror", lambda error: complaints.append(str(error)))
    for path in paths:
        complaints.clear()
        page.emulate_media(color_scheme="light")
        page.goto(shown_server.url + path)
        settled(page)
        assert faults(page) == [], path
        wide = page.evaluate("document.documentElement.scrollWidth - window.innerWidth")
        assert wide <= 0, f"{path} is {wide} pixels too wide"
        # a machine without a graphics card draws WebGL by software and complains of its own slowness
        assert [c for c in complaints if "404" not in c and "GL Driver Message" not in c] == [], path
        if path in DARK:
            page.emulate_media(color_scheme="dark")
            settled(page)
            assert faults(page, "color-contrast") == [], f"{path} in the dark"
    hosts = {urlsplit(url).netloc for url in requests_of() if not url.startswith("data:")}
    assert hosts == {urlsplit(shown_server.url).netloc}


def test_the_bench_is_for_thumbs(page: Page, shown_server: Server) -> None:
    page.set_viewport_size({"width": 820, "height": 1180})
    page.goto(f"{shown_server.url}/boards/2/build")
    for selector in ("#tick", ".note-form button", ".bench-walk a", ".log-lines .tick-box"):
        box = page.locator(selector).first.bounding_box()
        assert box and min(box["width"], box["height"]) >= 48, selector
