"""The log: each line with its time, level and the request it belongs to; to the terminal, and to a file that turns."""

from __future__ import annotations

import logging
from collections.abc import Callable
from logging.config import dictConfig
from pathlib import Path

FOLDER, FILE = "logs", "laberinto.log"

MOST, OLD = 1_000_000, 5
"""Bytes of a file, and how many older ones are kept."""

LINE = "%(asctime)s %(levelname)-7s %(request)s %(name)s: %(message)s"


def set_up(folder: Path, *, verbose: bool, request: Callable[[], str]) -> Path:
    """Log into a data folder; where the file is. ``request`` says which request is being answered, if any. With
    ``verbose`` every request and what libraries tell is there, too."""
    path = folder / FOLDER / FILE
    path.parent.mkdir(mode=0o700, parents=True, exist_ok=True)
    path.touch(mode=0o600)
    level = "DEBUG" if verbose else "INFO"
    dictConfig({
        "version": 1, "disable_existing_loggers": False,
        "filters": {"request": {"()": lambda: _Marked(request)}},
        "formatters": {"line": {"format": LINE}},
        "handlers": {
            "terminal": {"class": "logging.StreamHandler", "formatter": "line", "filters": ["request"],
                         "level": "DEBUG" if verbose else "WARNING"},
            "file": {"class": "logging.handlers.RotatingFileHandler", "formatter": "line", "filters": ["request"],
                     "filename": str(path), "maxBytes": MOST, "backupCount": OLD, "encoding": "utf-8", "delay": True},
        },
        "root": {"level": "INFO" if verbose else "WARNING", "handlers": ["terminal", "file"]},
        "loggers": {"laberinto": {"level": level}},
    })  # fmt: skip
    return path


class _Marked(logging.Filter):
    """Gives every line the request it belongs to."""

    def __init__(self, request: Callable[[], str]) -> None:
        super().__init__()
        self._request = request

    def filter(self, record: logging.LogRecord) -> bool:
        record.request = self._request()
        return True
