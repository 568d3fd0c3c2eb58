"""How long the gallery takes in a browser, from the address to the last of its faces being painted.

Cold is a server that was only just started, which has cut none of the boards, and a browser that has seen none of its
files. The browser's own start, and that of its window, is waited out first: it would take both cores meanwhile.
"""

from __future__ import annotations

import shutil
import statistics
import subprocess
import sys
import tempfile
import time
from pathlib import Path
from typing import Any

from playwright.sync_api import Browser, Page, sync_playwright

from laberinto.core.patterns import FAMILIES
from tests.browser.conftest import ARGS, Server

ROUNDS = 5

SETTLE = 4.0
"""Seconds until a new window is at rest."""

THERE = f"""document.querySelectorAll('.family-face .thumb').length === {len(FAMILIES)}
    && document.readyState === 'complete' && [...document.images].every(image => image.complete)"""

PAINTED = "new Promise(done => requestAnimationFrame(() => requestAnimationFrame(done)))"


class ByCommand(Server):
    """Started as a person starts it."""

    def begin(self) -> Any:
        command = [sys.executable, "-m", "laberinto", "serve", "--no-warm", "--data", str(self.data)]
        return Command([*command, "--port", str(self.port)], stdout=subprocess.DEVNULL)


class Command(subprocess.Popen[bytes]):
    join = subprocess.Popen.wait


def main() -> None:
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=shutil.which("chromium"), args=ARGS)
        spent = [_cold_and_again(browser) for _ in range(ROUNDS)]
        browser.close()
    print(f"{'the whole gallery in a browser':48} {'median ms':>12} {'longest':>9}")
    names = ("server just started, nothing cut or loaded", "loaded again")
    for name, times in zip(names, zip(*spent, strict=True), strict=True):
        print(f"{name:48} {statistics.median(times):12.0f} {max(times):9.0f}")


def _cold_and_again(browser: Browser) -> tuple[float, float]:
    with tempfile.TemporaryDirectory() as folder:
        context = browser.new_context(viewport={"width": 1280, "height": 800}, bypass_csp=True)
        page = context.new_page()
        time.sleep(SETTLE)
        server = ByCommand(Path(folder))
        server.start()
        try:
            return _painted(page, server), _painted(page, server)
        finally:
            server.stop()
            context.close()


def _painted(page: Page, server: Server) -> float:
    """ms until all is painted; ``bypass_csp`` lets the browser ask so often."""
    start = time.perf_counter()
    page.goto(f"{server.url}/boards/new", wait_until="commit")
    page.wait_for_function(THERE, polling=20)
    page.evaluate(PAINTED)
    return (time.perf_counter() - start) * 1000
