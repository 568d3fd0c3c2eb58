"""A form that makes something carries a word of its own, so that pressed twice it makes one thing: the second request
waits for the first and gets its answer."""

from __future__ import annotations

import secrets
from collections import OrderedDict
from dataclasses import dataclass, field
from hashlib import sha256
from threading import Event, Lock

from flask import Flask, Response, current_app, g, request
from markupsafe import Markup

FIELD = "once"

KEPT = 200
"""Forms that are remembered, the oldest forgotten first."""

MOST_BODY = 100_000
"""Bytes of an answer that is given a second time; a longer one is made anew by whoever reloads."""

PATIENCE = 30.0
"""Seconds that the second waits for the first."""


@dataclass
class _Sent:
    """What was answered to a form."""

    answered: Event = field(default_factory=Event)
    status: int = 0
    headers: list[tuple[str, str]] = field(default_factory=list)
    body: bytes = b""


class Once:
    """Forms that came already."""

    def __init__(self) -> None:
        self._sent: OrderedDict[str, _Sent] = OrderedDict()
        self._lock = Lock()

    def first(self, key: str) -> _Sent | None:
        """None for the first of its kind, what became of that for every other."""
        with self._lock:
            before = self._sent.get(key)
            if before is None:
                self._sent[key] = _Sent()
                while len(self._sent) > KEPT:
                    self._sent.popitem(last=False)[1].answered.set()
            return before

    def answered(self, key: str, response: Response) -> None:
        """Note what became of it. What was refused may be sent again, mended."""
        with self._lock:
            sent = self._sent.get(key)
            if sent is None:
                return
            if response.status_code >= 400 or response.is_streamed:
                del self._sent[key]
            else:
                sent.status, sent.body = response.status_code, response.get_data()
                sent.headers = [
                    (name, value) for name, value in response.headers if name in ("Location", "HX-Redirect")
                ]
                sent.headers.append(("Content-Type", response.content_type or "text/html"))
                if len(sent.body) > MOST_BODY:
                    sent.body = b""
        sent.answered.set()


def word() -> Markup:
    """The hidden field of a form that makes something."""
    return Markup('<input type="hidden" name="{}" value="{}">').format(FIELD, secrets.token_urlsafe(12))


def init(app: Flask) -> None:
    """Every form with a word is done once; with other values it is another."""
    app.extensions["once"] = Once()
    app.jinja_env.globals["once"] = word
    app.before_request(_before)
    app.after_request(_after)


def _before() -> Response | None:
    if request.method != "POST" or request.mimetype != "application/x-www-form-urlencoded":
        return None
    if not request.form.get(FIELD):
        return None
    values = sorted(pair for pair in request.form.items(multi=True) if pair[0] != "csrf_token")
    key = sha256(f"{request.path} {values}".encode()).hexdigest()
    before: _Sent | None = current_app.extensions["once"].first(key)
    if before is None:
        g.once = key
        return None
    before.answered.wait(PATIENCE)
    return Response(before.body, before.status, before.headers) if before.status else None


def _after(response: Response) -> Response:
    if "once" in g:
        current_app.extensions["once"].answered(g.pop("once"), response)
    return response
