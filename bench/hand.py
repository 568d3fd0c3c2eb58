"""What a hand waits for, in a browser against a server of its own: from a changed width, put in at once or typed by
hand, or a click on a stage, to the second frame after the page has settled; a first look at a board by a browser that
knows none of its files; and what twenty edits and twenty looks at the turntable leave behind.

The baseline is one word changed in the page, to its second frame: what browser and machine take when nothing is to do.
Frames come at their own pace, so a second baseline, a loop that only adds, says how fast the machine is just then.
"""

from __future__ import annotations

import shutil
import statistics
import tempfile
import time
from pathlib import Path

from playwright.sync_api import Browser, Page, sync_playwright

from bench.chaos import chaos
from bench.edits import BOARD
from bench.gallery import PAINTED, SETTLE, ByCommand
from laberinto.core.patterns import Chaos
from laberinto.store import Store, open_database

ARGS = [
    "--no-sandbox", "--disable-background-networking", "--use-gl=angle", "--use-angle=swiftshader",
    "--enable-unsafe-swiftshader",
]  # fmt: skip
"""A browser whose graphics card is the processor: it paints as one with a card does, and every frame costs."""

ROUNDS = 9

DIGIT = 130
"""From one digit to the next a hand takes so long, ms."""

HAND = 350
"""From one change to the next a hand takes at least so long, ms."""

VIEWS = ("face", "edges", "under")

ARM = """event => { window.done = new Promise(settled => {
  document.addEventListener(event, () => { window.began = performance.now(); }, {once: true, capture: true});
  document.body.addEventListener('htmx:afterSettle', () => requestAnimationFrame(() => requestAnimationFrame(
    () => settled(performance.now() - window.began))), {once: true}); }); }"""

LOOP = """() => { const began = performance.now(); let sum = 0;
  for (let at = 0; at < 3e7; at += 1) sum += at * at % 7;
  return sum < 0 ? 0 : performance.now() - began; }"""

WORD = """at => { const began = performance.now(); document.querySelector('.panel-size').textContent = `${at}`;
  return new Promise(done => requestAnimationFrame(() => requestAnimationFrame(() => done(performance.now() - began))));
}"""


def main() -> None:
    plans = {"168 cells": BOARD.plan("Bench"), "420 cells": Chaos().plan("Bench"), "5,258 cells": chaos(120)}
    with tempfile.TemporaryDirectory() as folder, sync_playwright() as playwright:
        store = Store(open_database(Path(folder) / "laberinto.db"))
        boards = {store.create(plan): name for name, plan in plans.items()}
        server = ByCommand(Path(folder))
        server.start()
        browser = playwright.chromium.launch(executable_path=shutil.which("chromium"), args=ARGS)
        try:
            print(f"{'in a browser':48} {'median ms':>12} {'p95 ms':>9} {'baseline':>8}")
            base = 0.0
            for board, name in boards.items():
                base = _waits(browser, f"{server.url}/boards/{board}", name, base)
            for board, name in boards.items():
                _first_looks(browser, f"{server.url}/boards/{board}", name)
            _left_behind(browser, f"{server.url}/boards/{next(iter(boards))}")
        finally:
            browser.close()
            server.stop()


def _opened(browser: Browser, address: str) -> Page:
    page = browser.new_context(viewport={"width": 1280, "height": 800}, bypass_csp=True).new_page()
    page.goto(address)
    page.wait_for_function("document.querySelector('canvas.painted')?.dataset.painted")
    time.sleep(SETTLE / 4)
    return page


def _waits(browser: Browser, address: str, name: str, base: float) -> float:
    page = _opened(browser, address)
    if not base:
        base = _said("one word changed (baseline)", [float(page.evaluate(WORD, at)) for at in range(ROUNDS)], 0.0)
    _said("a loop that only adds", [float(page.evaluate(LOOP)) for _ in range(ROUNDS)], base)
    _said(f"{name}: a strip's width", [_edit(page, 31 + at % 4) for at in range(ROUNDS)], base)
    _said(f"{name}: a new width, typed by hand", [_typed(page, 41 + at) for at in range(ROUNDS)], base)
    took = []
    for at in range(ROUNDS):
        page.evaluate(ARM, "click")
        page.locator(".thread a").nth(1 + at).click()
        took.append(float(page.evaluate("window.done")))
        page.wait_for_timeout(HAND)
    _said(f"{name}: another stage", took, base)
    page.context.close()
    return base


def _edit(page: Page, width: int) -> float:
    field = page.locator("#width-2")
    page.evaluate(ARM, "change")
    field.fill(str(width))
    field.press("Tab")
    took = float(page.evaluate("window.done"))
    page.wait_for_timeout(HAND)
    return took


def _typed(page: Page, width: int) -> float:
    page.locator("#width-2").select_text()
    page.keyboard.type(str(width), delay=DIGIT)
    page.wait_for_timeout(HAND)
    page.evaluate(ARM, "change")
    page.keyboard.press("Tab")
    took = float(page.evaluate("window.done"))
    page.wait_for_timeout(HAND)
    return took


def _said(name: str, times: list[float], base: float) -> float:
    kept = sorted(times)
    median, late = statistics.median(kept), kept[int(len(kept) * 0.95)]
    print(f"{name:48} {median:12.0f} {late:9.0f} {median / (base or median):7.1f}×")
    return median


def _first_looks(browser: Browser, address: str, name: str) -> None:
    for view in VIEWS:
        spent, files = _first_look(browser, f"{address}?view={view}")
        print(f"{f'{name}, first look: {view}':48} {spent:12.0f} {files:9} files")


def _first_look(browser: Browser, address: str) -> tuple[float, int]:
    """ms until the wood is painted, and how many files were asked for, the page itself among them."""
    context = browser.new_context(viewport={"width": 1280, "height": 800}, bypass_csp=True)
    page = context.new_page()
    time.sleep(SETTLE)
    asked: list[str] = []
    page.on("request", lambda request: asked.append(request.url))
    start = time.perf_counter()
    page.goto(address, wait_until="load")
    page.wait_for_function("document.querySelector('canvas.painted')?.dataset.sharp", polling=20)
    page.evaluate(PAINTED)
    spent = (time.perf_counter() - start) * 1000
    context.close()
    return spent, len(asked)


def _left_behind(browser: Browser, address: str) -> None:
    page = _opened(browser, address)
    devtools = page.context.new_cdp_session(page)
    devtools.send("Performance.enable")

    def held() -> str:
        devtools.send("HeapProfiler.collectGarbage")
        found = {each["name"]: each["value"] for each in devtools.send("Performance.getMetrics")["metrics"]}
        return f"{found['Nodes']:7.0f} nodes, {found['JSEventListeners']:.0f} listeners"

    print(f"{'opened':48} {held()}")
    for at in range(20):
        _edit(page, 41 + at % 4)
    print(f"{'20 edits later':48} {held()}")
    for _ in range(20):
        for view in ("round", "face"):
            page.evaluate(ARM, "click")
            page.locator(f"#view-{view}").click()
            page.evaluate("window.done")
    print(f"{'20 looks at the turntable later':48} {held()}")
    page.context.close()


if __name__ == "__main__":
    main()
