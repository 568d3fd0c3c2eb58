"""Printing: a page becomes a PDF in the background, in a process of its own, and is fetched when it is done."""

from __future__ import annotations

from collections.abc import Callable
from typing import cast
from urllib.parse import urlsplit

from flask import Response, redirect, request, url_for

from . import present
from .jobs import Job
from .reading import own_path

SOON = 0.6
"""Seconds that are waited for it before a page says how far it is."""

Printer = Callable[[str, Callable[[float], object]], bytes]


def begin(html: str, number: int, name: str, printer: Printer) -> Response:
    """Print a page of the board, order or whatever has this ``number``; ``name`` is what the file is called. A second
    print of the same kind takes the place of the first."""
    kind = request.endpoint or ""

    def work(job: Job) -> bytes:
        return cast(bytes, job.apart(printer, html))

    present.jobs().start(
        (kind, number), {"name": name, "back": own_path(urlsplit(request.referrer or "").path)}, work
    ).done.wait(SOON)
    return cast(Response, redirect(url_for("printing.page", kind=kind, number=number), 303))
