"""What a new shop has, copied: making it takes every change of its tables there ever was, one after the other."""

from __future__ import annotations

import shutil
from functools import lru_cache
from pathlib import Path
from tempfile import TemporaryDirectory

from laberinto.store import DATABASE, open_database


@lru_cache(maxsize=1)
def _made() -> TemporaryDirectory[str]:
    folder: TemporaryDirectory[str] = TemporaryDirectory()
    open_database(Path(folder.name) / DATABASE).dispose()  # closed, so that the file holds all of it
    return folder


def new_shop(folder: Path) -> Path:
    """The database of a new shop in its folder, which is made as needed."""
    folder.mkdir(mode=0o700, parents=True, exist_ok=True)
    return Path(shutil.copy(Path(_made().name) / DATABASE, folder))
