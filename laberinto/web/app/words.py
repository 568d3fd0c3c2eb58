"""Words of the trade where they stand: the first of each on a page can be asked what it means."""

from __future__ import annotations

from flask import Flask, g, url_for
from markupsafe import Markup, escape

from laberinto.core.glossary import found_in

LINK = Markup('<a class="word" href="{}" data-word="{}">{}</a>')


def explained(text: str) -> Markup:
    """A text in which each word of the trade that was not explained on this page yet leads to what it means."""
    said: set[str] = g.setdefault("words_said", set())
    out, at = [], 0
    for start, end, word in found_in(text):
        if word.key in said:
            continue
        said.add(word.key)
        out += [escape(text[at:start]), LINK.format(url_for("learn.glossary", _anchor=word.key), word.key,
                                                    text[start:end])]  # fmt: skip
        at = end
    return Markup("").join([*out, escape(text[at:])])


def init(app: Flask) -> None:
    app.jinja_env.filters["explained"] = explained
