"""What is made in the background in a process of its own, and fetched when it is done: printed pages, and backups."""

from __future__ import annotations

import shutil
from collections.abc import Callable
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import cast
from urllib.parse import urlsplit

from flask import Response, redirect, request, url_for

from . import present
from .jobs import Job
from .reading import own_path

SOON = 0.6
"""Seconds that are waited for it before a page says how far it is."""

Printer = Callable[[str, Callable[[float], object]], bytes]


_PREFIX = "made-"


class Made:
    """A file that was made, there until nobody knows of it any more."""

    def __init__(self, folder: Path, name: str) -> None:
        self._room = TemporaryDirectory(prefix=_PREFIX, dir=folder, ignore_cleanup_errors=True)
        self.path = Path(self._room.name) / name


def clear(folder: Path) -> None:
    """Take away what a server that was ended from one moment to the next left in its data folder."""
    for left in folder.glob(f"{_PREFIX}*"):
        shutil.rmtree(left, ignore_errors=True)


def begin(html: str | Callable[[], str], number: int, name: str, printer: Printer) -> Response:
    """Print a page of the board, order or whatever has this ``number``; ``name`` is what the file is called. What takes
    long to draw may be drawn when the turn has come. A second print of the same kind takes the place of the first."""

    def work(job: Job) -> bytes:
        return cast(bytes, job.apart(printer, html if isinstance(html, str) else html()))

    return begin_making("Printing", f"{name}.pdf", number, work)


def begin_making(doing: str, name: str, number: int, work: Callable[[Job], bytes | Made]) -> Response:
    """The same for any file, by its whole ``name``; ``doing`` says what is done, for the page that says how far it
    is."""
    kind = request.endpoint or ""
    asked = {"doing": doing, "name": name, "back": own_path(urlsplit(request.referrer or "").path)}
    present.jobs().start((kind, number), asked, work).done.wait(SOON)
    return cast(Response, redirect(url_for("printing.page", kind=kind, number=number), 303))
