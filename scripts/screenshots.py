"""Take docs/screenshots anew from the demo's data, with Debian's Chromium.

The server runs on a folder of its own that is thrown away afterwards.
"""

from __future__ import annotations

import shutil
import tempfile
from pathlib import Path
from threading import Thread

from playwright.sync_api import sync_playwright
from waitress import create_server

from demo.fill import fill
from laberinto.web import create_app

OUT = Path(__file__).resolve().parent.parent / "docs" / "screenshots"
ARGS = [
    "--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run", "--disable-background-networking",
    "--disable-component-update", "--disable-sync",
]  # fmt: skip

DESK, TABLET = (1280, 800), (1024, 768)
SHOTS: list[tuple[str, str, tuple[int, int], str]] = [
    ("boards", "/", DESK, "light"),
    ("new-board", "/boards/new", DESK, "light"),
    ("board", "/boards/2?stage=strips", DESK, "light"),
    ("board-chaos", "/boards/5", DESK, "light"),
    ("board-shaped", "/boards/4?stage=groove", DESK, "light"),
    ("board-arrange", "/boards/3?stage=rows&view=stage", DESK, "dark"),
    ("board-crosscut", "/boards/1?stage=slices&view=stage", DESK, "light"),
    ("steps", "/boards/2/steps", DESK, "light"),
    ("build-log", "/boards/2/build?at=slices.cut", TABLET, "light"),
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
            page.screenshot(path=OUT / f"{name}.png")
            context.close()
            print(f"docs/screenshots/{name}.png")
    shutil.rmtree(data, ignore_errors=True)


if __name__ == "__main__":
    main()
