"""Every screen keeps to itself, can be used by everyone, and does not complain on the console."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from urllib.parse import urlsplit

import pytest
from playwright.sync_api import Page

from .conftest import Server

pytestmark = pytest.mark.browser

AXE = (Path(__file__).parent / "vendor" / "axe.min.js").read_text()

SCREENS = (
    "/",
    "/boards/new",
    "/boards/2",
    "/boards/2?view=under",
    "/boards/2?stage=rows&view=stage",
    "/boards/2?stage=slices&view=stage",
    "/boards/2?stage=panel-flat&view=stage",
    "/boards/2?stage=strips&view=stage",
    "/boards/2/steps",
    "/boards/2/build",
    "/boards/3/build",
    "/boards/4",
    "/boards/4?stage=third-flat&view=stage",
    "/boards/4/steps",
    "/nowhere",
)


@pytest.mark.parametrize("scheme", ["light", "dark"])
def test_every_screen(page: Page, demo_server: Server, requests_of: Callable[[], set[str]], scheme: str) -> None:
    page.emulate_media(color_scheme=scheme)  # type: ignore[arg-type]
    complaints: list[str] = []
    page.on("console", lambda m: complaints.append(m.text) if m.type in ("error", "warning") else None)
    page.on("pageerror", lambda error: complaints.append(str(error)))
    for path in SCREENS:
        complaints.clear()
        page.goto(demo_server.url + path)
        page.wait_for_load_state("networkidle")
        faults = page.evaluate(
            f"async () => {{ {AXE}; const run = await axe.run(); return run.violations"
            ".filter(v => ['serious', 'critical'].includes(v.impact))"
            ".map(v => v.id + ': ' + v.nodes.map(n => n.target).slice(0, 3).join(' ')); }"
        )
        assert faults == [], f"{path} in {scheme}: {faults}"
        wide = page.evaluate("document.documentElement.scrollWidth - window.innerWidth")
        assert wide <= 0, f"{path} is {wide} pixels too wide"
        assert [c for c in complaints if "404" not in c] == [], path
    hosts = {urlsplit(url).netloc for url in requests_of() if not url.startswith("data:")}
    assert hosts == {urlsplit(demo_server.url).netloc}


def test_the_bench_is_for_thumbs(page: Page, demo_server: Server) -> None:
    page.set_viewport_size({"width": 820, "height": 1180})
    page.goto(f"{demo_server.url}/boards/2/build")
    for selector in ("#tick", ".note-form button", ".bench-walk a", ".log-lines .tick-box"):
        box = page.locator(selector).first.bounding_box()
        assert box and min(box["width"], box["height"]) >= 48, selector
