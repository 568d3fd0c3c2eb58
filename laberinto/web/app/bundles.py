"""Bundles: the styles of all screens as one file and their scripts as another, made when the server starts. A browser
that knows none of them yet would ask for each by itself, while the server has boards to cut."""

from __future__ import annotations

import hashlib
import re
from collections.abc import Callable
from pathlib import Path
from typing import Any
from urllib.parse import quote

from flask import Flask, Response, request
from markupsafe import Markup

from .caching import for_good

SHEETS = (
    "vendor/bootstrap/bootstrap.min.css",
    *(f"css/{name}.css" for name in (
        "theme", "parts", "screens", "studio", "patterns", "judge", "picture", "shop", "reckoners", "timber", "places",
        "learn", "hand", "faults", "together", "woods", "calendar", "orders", "truesize", "cnc", "trust", "print",
    )),
)  # fmt: skip
"""In the order in which later ones have the last word."""

LIBRARIES = (
    "vendor/htmx/htmx.min.js", "vendor/idiomorph/idiomorph-ext.min.js", "vendor/sortablejs/Sortable.min.js",
)  # fmt: skip
"""Before the scripts of our own, which count on them."""

MAIN = "js/main.js"

MARK, SPRITE = "mark.svg", "vendor/icons/icons.svg"

STYLES_AT, SCRIPTS_AT = "/static/css/all.css", "/static/js/all.js"
"""Beside the files of our own, so that what they name is found."""

_IMPORT = re.compile(r'^import (?:\{([^}]*)\} from )?"\./([\w-]+\.js)";$', re.MULTILINE)
_EXPORT = re.compile(r"^export (?=(?:async )?(?:function|const) ([\w$]+))", re.MULTILINE)


def init(app: Flask) -> None:
    """Serve both, and tell templates where as ``styles`` and ``scripts``; the addresses name the contents, so that they
    can be kept. The tab's sign, ``mark``, stands in the page itself: a browser asks for it last of all. So do the
    icons, ``sprite``: out of a file they come in a frame late."""
    static = Path(app.static_folder or "")
    app.jinja_env.globals["mark"] = "data:image/svg+xml," + quote((static / MARK).read_text().strip())
    libraries = [(static / library).read_text() for library in LIBRARIES]
    app.jinja_env.globals["sprite"] = Markup((static / SPRITE).read_text())
    for name, at, kind, text in (
        ("styles", STYLES_AT, "text/css", "\n".join((static / sheet).read_text() for sheet in SHEETS)),
        ("scripts", SCRIPTS_AT, "text/javascript", "\n;".join([*libraries, joined(static / MAIN)])),
    ):
        digest = hashlib.blake2b(text.encode(), digest_size=8).hexdigest()
        app.jinja_env.globals[name] = f"{at}?v={digest}"
        app.add_url_rule(at, name, _kept(text, kind))
    _released(app, static)


def _released(app: Flask, static: Path) -> None:
    """Name the release in the addresses of all static files and in every answer, so that a page that was opened before
    an upgrade never works with what came after it."""
    digest = hashlib.blake2b(digest_size=8)
    for path in sorted(path for path in static.rglob("*") if path.is_file()):
        digest.update(f"{path.relative_to(static)} {path.stat().st_size} {path.stat().st_mtime_ns}".encode())
    release = digest.hexdigest()
    app.jinja_env.globals["release"] = release

    @app.url_defaults
    def _versioned(endpoint: str, values: dict[str, Any]) -> None:
        if endpoint == "static":
            values.setdefault("v", release)

    @app.after_request
    def _said(response: Response) -> Response:
        response.headers["X-Release"] = release
        if request.endpoint == "static" and request.args.get("v") == release:
            return for_good(response)
        if request.endpoint == "static" and request.path.endswith(".js"):  # what a script imports names no release
            response.headers["Cache-Control"] = "no-cache"
        return response


def _kept(text: str, kind: str) -> Callable[[], Response]:
    def view() -> Response:
        return for_good(Response(text, mimetype=kind))

    return view


def joined(main: Path) -> str:
    """A module and all it imports as one script: each a function that is run once, in the order in which a browser
    would run them. Modules import by name from beside them, and export functions and constants, which never change.
    Raises ValueError for a module that does otherwise."""
    out: list[str] = []
    done: set[str] = set()

    def add(name: str) -> None:
        if name in done:
            return
        done.add(name)
        text = (main.parent / name).read_text()
        for _, other in _IMPORT.findall(text):
            add(other)
        exports = _EXPORT.findall(text)
        text = _EXPORT.sub("", _IMPORT.sub(_taken, text))
        if re.search(r"^(import|export)\b", text, re.MULTILINE):
            raise ValueError(f"{name} imports or exports in a way that is not known here")
        out.append(f"const {_variable(name)} = (() => {{\n{text}\nreturn {{ {', '.join(exports)} }};\n}})();")

    add(main.name)
    return '(() => {\n"use strict";\n' + "\n".join(out) + "\n})();\n"


def _taken(found: re.Match[str]) -> str:
    names, other = found.groups()
    return f"const {{ {names.strip()} }} = {_variable(other)};" if names else ""


def _variable(name: str) -> str:
    return "m_" + name.removesuffix(".js").replace("-", "_")
