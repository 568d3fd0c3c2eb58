"""Styles: the sheets of all screens as one file, made when the server starts. A browser that knows none of them yet
would ask for each by itself, while the server has boards to cut."""

from __future__ import annotations

import hashlib
from pathlib import Path

from flask import Flask, Response

SHEETS = (
    "vendor/bootstrap/bootstrap.min.css",
    *(f"css/{name}.css" for name in (
        "theme", "parts", "screens", "studio", "patterns", "judge", "picture", "shop", "reckoners", "timber", "print",
    )),
)  # fmt: skip
"""In the order in which later ones have the last word."""

AT = "/static/css/all.css"
"""Beside the sheets of our own, so that the fonts they name are found."""


def init(app: Flask) -> None:
    """Serve them, and tell templates where as ``styles``; the address names the contents, so it can be kept."""
    static = Path(app.static_folder or "")
    text = "\n".join((static / sheet).read_text() for sheet in SHEETS)
    digest = hashlib.blake2b(text.encode(), digest_size=8).hexdigest()
    app.jinja_env.globals["styles"] = f"{AT}?v={digest}"

    @app.get(AT)
    def styles() -> Response:
        response = Response(text, mimetype="text/css")
        response.headers["Cache-Control"] = "public, max-age=31536000, immutable"
        return response
