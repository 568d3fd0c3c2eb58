"""The lines of a panel's strips: long lists of which an edit mostly changes one, so each is written once, and one that
the page says it has is not sent again."""

from __future__ import annotations

import hashlib
from functools import lru_cache
from typing import NamedTuple

from flask import render_template
from markupsafe import Markup

from .looking import Fault


class StripLine(NamedTuple):
    """All that the line of a strip shows."""

    at: int
    """Where it lies in the panel, from 0."""
    wood: str
    named: str
    """What its wood is called."""
    width: str
    turned: str
    end: str
    """Where its end lies in the picture of all ends."""
    sawn: str
    sapwood: bool
    own: str
    """Its length where that is its own."""
    heart: str


def written(line: StripLine, edit: str, fault: Fault | None, shown: frozenset[str]) -> Markup:
    """A line of which each change goes to the address ``edit``, with what is wrong in it; its place alone where its
    name is among those ``shown``."""
    wrong = fault is not None and fault.field in (f"width-{line.at}", f"wood-{line.at}")
    if wrong:
        return _line(line, edit, fault)
    name = _name(line, edit)
    return Markup('<li id="strip-{}" data-same></li>').format(line.at) if name in shown else _right(line, edit)


@lru_cache(maxsize=4096)
def _right(line: StripLine, edit: str) -> Markup:
    return _line(line, edit, None)


@lru_cache(maxsize=4096)
def _name(line: StripLine, edit: str) -> str:
    """Short for all that a line shows and does."""
    return hashlib.blake2b(repr((line, edit)).encode(), digest_size=6).hexdigest()


def _line(line: StripLine, edit: str, fault: Fault | None) -> Markup:
    name = "" if fault else _name(line, edit)
    return Markup(render_template("board/strip.html", strip=line, edit=edit, fault=fault, name=name))
