"""Firefox opens and draws the screens too, where it is installed: scripts run, wood is painted, nothing stays blank."""

from __future__ import annotations

import os
import shutil
import time
from collections.abc import Iterator
from io import BytesIO

import pytest
from PIL import Image

from .conftest import PATIENCE, Server
from .firefox import Firefox

FIREFOX = os.environ.get("FIREFOX") or shutil.which("firefox-esr") or shutil.which("firefox")

# screen, the part of it to look at (left, top, right, bottom), colours that are there at least
SCREENS = {
    "/boards/2": ((380, 160, 760, 620), 600),
    "/boards/2?stage=rows&view=stage": ((380, 160, 720, 620), 600),
    "/boards/4?view=edges": ((320, 140, 820, 620), 600),
    "/boards/2/judge": ((0, 60, 1280, 800), 300),
    "/boards/new": ((0, 200, 1280, 800), 300),
    "/timber": ((0, 60, 1280, 800), 100),
}

PAINTED = """[...document.images].every(image => image.complete || image.loading === 'lazy')
  && (!document.querySelector('svg.drawing .painting') || !!document.querySelector('canvas.painted[data-sharp]'))"""


@pytest.fixture(scope="module")
def firefox(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Firefox]:
    assert FIREFOX is not None
    made = Firefox(FIREFOX, tmp_path_factory.mktemp("firefox"), PATIENCE / 1000)
    yield made
    made.end()


@pytest.mark.skipif(FIREFOX is None, reason="Firefox is not installed")
@pytest.mark.parametrize("path", SCREENS)
def test_firefox_draws_it(shown_server: Server, firefox: Firefox, path: str) -> None:
    firefox.ask("Navigate", url=shown_server.url + path)
    until = time.monotonic() + PATIENCE / 1000
    while not firefox.tell(PAINTED):
        assert time.monotonic() < until, "its wood is never painted"
        time.sleep(0.05)
    part, least = SCREENS[path]
    shot = Image.open(BytesIO(firefox.shot())).convert("RGB")
    assert len(shot.crop(part).getcolors(1 << 22) or []) >= least
