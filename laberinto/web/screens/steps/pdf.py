"""HTML to PDF, with our own fonts and no reaching out: every address but our files is refused."""

from __future__ import annotations

from pathlib import Path
from typing import Any

PICTURE = "data:image/jpeg;base64,"
"""How a picture that stands in the page itself begins."""

STATIC = Path(__file__).resolve().parent.parent.parent / "static"


def to_pdf(html: str) -> bytes:
    """The page as a PDF. WeasyPrint is loaded here since it takes half a second that no other page needs."""
    from PIL import ImageFile
    from weasyprint import HTML
    from weasyprint.urls import URLFetcher

    ImageFile.LOAD_TRUNCATED_IMAGES = False  # it sets this for everybody, and half a photo would be taken for whole

    class OurFiles(URLFetcher):  # type: ignore[misc]
        def fetch(self, url: str, headers: Any = None) -> Any:
            if not url.startswith((STATIC.as_uri() + "/", PICTURE)):
                raise ValueError(f"a printed page may not fetch {url}")
            return super().fetch(url, headers)

    pdf = HTML(string=html, base_url=STATIC.as_uri() + "/", url_fetcher=OurFiles()).write_pdf()
    assert isinstance(pdf, bytes)
    return pdf
