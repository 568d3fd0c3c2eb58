"""Firefox opens and draws the screens too, where it is installed: scripts run, wood is painted, nothing stays blank."""

from __future__ import annotations

import os
import shutil
import subprocess
from pathlib import Path

import pytest
from PIL import Image

from .conftest import Server

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


LOOKS = 4
"""Firefox takes its picture once the page is loaded, which on a busy machine is before the wood is painted; another look
finds it painted. What is never painted has its plain colours in every one."""


@pytest.mark.skipif(FIREFOX is None, reason="Firefox is not installed")
@pytest.mark.parametrize("path", SCREENS)
def test_firefox_draws_it(shown_server: Server, tmp_path: Path, path: str) -> None:
    assert FIREFOX is not None
    shot, part = tmp_path / "shot.png", SCREENS[path]
    command = [FIREFOX, "--headless", "--profile", str(tmp_path), "--window-size=1280,800", "--screenshot", str(shot)]
    colours: list[int] = []
    for _ in range(LOOKS):
        subprocess.run([*command, shown_server.url + path], check=True, capture_output=True, timeout=600)
        colours.append(len(Image.open(shot).convert("RGB").crop(part[0]).getcolors(1 << 22) or []))
        if colours[-1] >= part[1]:
            return
    pytest.fail(f"only {colours} colours")
