"""What a page says that it has on show already (``static/js/shown.js``), so that it is not sent again."""

from __future__ import annotations

import re
from hashlib import blake2b
from typing import NamedTuple

from flask import request

_HIDDEN = re.compile(r'<input\s+type="hidden"[^>]*>')


class Shown(NamedTuple):
    """The names of the drawing, of the menu under the board's name and of the lines of the stage's strips."""

    drawing: str = ""
    menu: str = ""
    lines: frozenset[str] = frozenset()

    @classmethod
    def said(cls, stage: str) -> Shown:
        """Of the request under way, whose answer shows this stage; nothing where a whole page was asked for."""
        if "HX-Request" not in request.headers:
            return cls()
        of, _, names = request.headers.get("X-Lines", "").partition(" ")
        lines = frozenset(names.split()) if of == stage else frozenset[str]()
        return cls(request.headers.get("X-Drawing", ""), request.headers.get("X-Menu", ""), lines)


def menu_name(menu: str) -> str:
    """A name for a menu that changes with what it shows. Where the page is, which its forms send along hidden, is not
    among that: the page puts it into a menu that it keeps."""
    return blake2b(_HIDDEN.sub("", menu).encode(), digest_size=6).hexdigest()
