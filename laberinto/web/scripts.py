"""Which scripts a page runs: those of every page, and with its own entry all that this imports."""

from __future__ import annotations

import re
from functools import lru_cache
from pathlib import Path

from flask import Flask

ALWAYS = "main"
"""The entry that every page has."""

_IMPORT = re.compile(r'^(?:import|export)\b[^;]*?"\./([a-z]+)\.js";', re.MULTILINE)


def init(app: Flask) -> None:
    """Let templates ask for ``modules``: all that a page's entries import, to be fetched at once instead of as each
    names the next."""
    folder = Path(app.static_folder or "") / "js"

    @lru_cache
    def modules(entry: str = "") -> list[str]:
        found = [ALWAYS, *([entry] if entry else [])]
        for name in found:  # grows as it goes
            text = (folder / f"{name}.js").read_text(encoding="utf-8")
            found += [other for other in _IMPORT.findall(text) if other not in found]
        return found

    app.jinja_env.globals["modules"] = modules
