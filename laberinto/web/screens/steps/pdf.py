"""HTML to PDF, with our own fonts and no reaching out: every address but our files is refused."""

from __future__ import annotations

import logging
import math
import re
import threading
from collections.abc import Callable
from pathlib import Path
from typing import Any

PICTURE = "data:image/jpeg;base64,"
"""How a picture that stands in the page itself begins."""

STATIC = Path(__file__).resolve().parent.parent.parent / "static"


class _Progress(logging.Handler):
    """Hears how far the printing of this thread is, and tells it as a share."""

    def __init__(self, tell: Callable[[float], object]) -> None:
        super().__init__(logging.INFO)
        self.tell, self.thread = tell, threading.get_ident()

    def emit(self, record: logging.LogRecord) -> None:
        if record.thread != self.thread:
            return
        step = re.match(r"Step (\d)(?:.*Page (\d+))?", record.getMessage())
        if step is not None:
            pages = 1 - math.exp(-int(step[2] or 0) / PAGES)
            self.tell(STEPS.get(int(step[1]), 0.0) + (STEPS[6] - STEPS[5]) * pages)


STEPS, PAGES = {1: 0.05, 2: 0.12, 3: 0.15, 4: 0.32, 5: 0.4, 6: 0.6, 7: 0.97}, 12.0
"""How far each step of the printing is, and of how many pages a usual sheet is laid out."""


def to_pdf(html: str, tell: Callable[[float], object] | None = None) -> bytes:
    """The page as a PDF; ``tell`` hears how far it is, from 0 to 1. WeasyPrint is loaded here since it takes half a
    second that no other page needs."""
    from PIL import ImageFile
    from weasyprint import HTML
    from weasyprint.urls import URLFetcher

    ImageFile.LOAD_TRUNCATED_IMAGES = False  # it sets this for everybody, and half a photo would be taken for whole

    class OurFiles(URLFetcher):  # type: ignore[misc]
        def fetch(self, url: str, headers: Any = None) -> Any:
            if not url.startswith((STATIC.as_uri() + "/", PICTURE)):
                raise ValueError(f"a printed page may not fetch {url}")
            return super().fetch(url, headers)

    heard, progress = logging.getLogger("weasyprint.progress"), _Progress(tell) if tell is not None else None
    if progress is not None:
        heard.setLevel(logging.INFO)
        heard.addHandler(progress)
    try:
        pdf = HTML(string=html, base_url=STATIC.as_uri() + "/", url_fetcher=OurFiles()).write_pdf()
    finally:
        if progress is not None:
            heard.removeHandler(progress)
    assert isinstance(pdf, bytes)
    return pdf
