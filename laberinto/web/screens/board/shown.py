"""What a page says that it has on show already (``static/js/shown.js``), so that it is not sent again."""

from __future__ import annotations

import re
from hashlib import blake2b
from typing import NamedTuple

from flask import request
from markupsafe import Markup

_PLACED = re.compile(r'<input\s+type="hidden"\s+name="(?:csrf_token|once|stage|view|piece|revision)"[^>]*>')


class Shown(NamedTuple):
    """The names of the drawing, of all parts and of the lines of the stage's strips."""

    drawing: str = ""
    parts: frozenset[str] = frozenset()
    lines: frozenset[str] = frozenset()

    @classmethod
    def said(cls, stage: str) -> Shown:
        """Of the request under way, whose answer shows this stage; nothing where a whole page was asked for."""
        if "HX-Request" not in request.headers:
            return cls()
        of, _, names = request.headers.get("X-Lines", "").partition(" ")
        lines = frozenset(names.split()) if of == stage else frozenset[str]()
        return cls(request.headers.get("X-Drawing", ""), frozenset(request.headers.get("X-Parts", "").split()), lines)


class Parts:
    """Parts of a page, written for one that has those ``known`` by their names on show: of these their place alone, and
    nothing of those that go to their place by themselves."""

    def __init__(self, known: frozenset[str]) -> None:
        self._known = known
        self._names: set[str] = set()

    def __call__(self, tag: str, key: str, inside: str, looks: str = "", **attributes: str | bool) -> Markup:
        """An element of this id, with what is in it (markup) and its classes; attributes that are "" or False are left
        out. Its name changes with what it shows. Where the page is, which forms send along hidden, is not among that:
        the page puts it into what it keeps."""
        name = blake2b(_PLACED.sub("", f"{key} {looks} {inside}").encode(), digest_size=6).hexdigest()
        self._names.add(name)
        if name in self._known:
            alone = "hx_swap_oob" in attributes
            return Markup("" if alone else '<{0} id="{1}" data-same></{0}>').format(tag, key)
        more = Markup("").join(_attribute(key, value) for key, value in attributes.items() if value)
        return Markup('<{0} id="{1}" class="{2}" data-part="{3}"{4}>{5}</{0}>').format(
            tag, key, looks, name, more, Markup(inside)
        )

    def names(self) -> frozenset[str]:
        """Of all parts that were written, which then are on show."""
        return frozenset(self._names)


def _attribute(name: str, value: str | bool) -> Markup:
    written = name.replace("_", "-")
    return Markup(" {}").format(written) if value is True else Markup(' {}="{}"').format(written, value)
