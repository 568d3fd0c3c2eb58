"""Take docs/screenshots anew from the demo's data, with Debian's Chromium.

The server runs on a folder of its own that is thrown away afterwards.
"""

from __future__ import annotations

import shutil
import tempfile
from collections.abc import Callable
from pathlib import Path
from threading import Thread

from playwright.sync_api import Page, sync_playwright
from waitress import create_server

from laberinto.demo.fill import fill
from laberinto.web import create_app

OUT = Path(__file__).resolve().parent.parent / "docs" / "screenshots"
ARGS = [
    "--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run", "--disable-background-networking",
    "--disable-component-update", "--disable-sync",
]  # fmt: skip

DESK, TABLET = (1280, 800), (1024, 768)


def carved(page: Page) -> None:
    page.get_by_role("button", name="Carve it here").click()
    page.locator(".carving-answer").wait_for(timeout=120_000)
    page.locator("#relief[data-shown=yes]").wait_for(timeout=60_000)
    page.evaluate("window.scrollTo(0, document.querySelector('.cnc-cuts').offsetTop - 380)")
    page.wait_for_timeout(800)


def until(selector: str) -> Callable[[Page], None]:
    """Wait for what a page works out in its own time."""

    def wait(page: Page) -> None:
        page.locator(selector).first.wait_for(timeout=60_000)
        page.wait_for_timeout(500)

    return wait


def cut_planned(page: Page) -> None:
    page.get_by_role("button", name="Plan the cuts").click()
    page.locator(".buying").wait_for(timeout=60_000)
    page.wait_for_timeout(500)


def added_up(page: Page) -> None:
    page.locator(".together:not([hx-get]) .together-charts").wait_for(timeout=60_000)
    page.wait_for_timeout(500)


ACTIONS: dict[str, Callable[[Page], None]] = {
    "cnc": carved,
    "gallery": until("#family-picture .family-effort"),
    "picture": until(".panel-list"),
    "judge": until("#wish-woods"),
    "wood": cut_planned,
    "together": added_up,
    "calendar": until("#calendar-sheet:not([hx-get])"),
    "orders": until(".order-list:not(:has([hx-get])) .order-faces svg"),
}
"""What is done on a page before its picture is taken."""

SHOTS: list[tuple[str, str, tuple[int, int], str]] = [
    ("now", "/now", DESK, "light"),
    ("boards", "/", DESK, "light"),
    ("gallery", "/boards/new", DESK, "light"),
    ("calendar", "/calendar", DESK, "light"),
    ("picture", "/boards/new/picture", DESK, "light"),
    ("judge", "/boards/5/judge?show=repetition", DESK, "light"),
    ("orders", "/orders", DESK, "light"),
    ("timber", "/timber", DESK, "light"),
    ("wood", "/boards/2/wood", DESK, "light"),
    ("checks", "/boards/18/checks", DESK, "light"),
    ("faults", "/boards/23/faults", DESK, "light"),
    ("record", "/boards/26/record", DESK, "light"),
    ("together", "/together", DESK, "dark"),
    ("board", "/boards/2?stage=strips&view=face", DESK, "light"),
    ("board-arrange", "/boards/3?stage=rows&view=stage", DESK, "dark"),
    ("cnc", "/boards/4/cnc", DESK, "light"),
    ("steps", "/boards/2/steps", DESK, "light"),
    ("bench", "/boards/1/bench?at=panel.glue", TABLET, "light"),
    ("build-log", "/boards/19/build", TABLET, "light"),
]


def main() -> None:
    data = Path(tempfile.mkdtemp())
    fill(data)
    server = create_server(create_app(data), host="127.0.0.1", port=0)
    Thread(target=server.run, daemon=True).start()
    OUT.mkdir(parents=True, exist_ok=True)
    with sync_playwright() as playwright:
        chromium = playwright.chromium.launch(executable_path=shutil.which("chromium"), args=ARGS)
        for name, path, (width, height), scheme in SHOTS:
            context = chromium.new_context(viewport={"width": width, "height": height}, color_scheme=scheme)  # type: ignore[arg-type]
            page = context.new_page()
            page.goto(f"http://127.0.0.1:{server.effective_port}{path}")
            page.wait_for_load_state("networkidle")
            if name in ACTIONS:
                ACTIONS[name](page)
            page.screenshot(path=OUT / f"{name}.png")
            context.close()
            print(f"docs/screenshots/{name}.png")
    shutil.rmtree(data, ignore_errors=True)


if __name__ == "__main__":
    main()
