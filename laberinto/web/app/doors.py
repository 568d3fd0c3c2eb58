"""Who may come in when the shop's network can: a passphrase lets a device in, and each request shows that it was.

Whoever sits at the machine itself is let in without: the connection comes from it, asks for one of its own names and
went through no proxy. With a proxy on the same machine that says nothing about itself this cannot be told, so then
everybody signs in.
"""

from __future__ import annotations

import secrets
from dataclasses import dataclass, field
from datetime import UTC, datetime, timedelta
from pathlib import Path
from threading import Lock

from argon2 import PasswordHasher
from argon2.exceptions import InvalidHashError, VerificationError
from flask import Flask, Response, current_app, g, redirect, request, url_for
from werkzeug.wrappers import Response as Answer

from laberinto.core.errors import DataError, InputError
from laberinto.store.doors import DeviceView, May

from . import errors, present, reading
from .security import LOOPBACK, host_name

FILE = "passphrase"

LEAST = 8
"""Characters of a passphrase."""

INVITED = timedelta(minutes=15)
"""How long a code to scan lets a device in, once."""

SPANS: dict[str, tuple[str, timedelta | None]] = {
    "day": ("a day", timedelta(days=1)), "month": ("a month", timedelta(days=30)),
    "ever": ("until it is shut out", None),
}  # fmt: skip
"""How long a device is let in."""

OPEN = frozenset({"doors.sign_in", "doors.enter", "doors.join", "doors.joined", "static", "styles", "scripts", "_well"})
"""Addresses that ask nobody who they are."""

AT_THE_BENCH = frozenset({
    "build.tick", "build.note", "build.keep_photo", "build.device", "build.erase", "bench.tap", "bench.done",
    "bench.start", "bench.stop", "rehearsal.done", "faults.put", "shop.prefer", "doors.sign_out", "calendar.look",
    "calendar.ask_why",
})  # fmt: skip
"""What a device that may only tick and measure may send: what it has done and seen, and what only asks."""

NOT_AT_THE_BENCH = frozenset({"safe.page", "safe.download", "safe.make", "doors.page"})
"""What it may not even look at, nor at what was made there."""

_HASHER = PasswordHasher()


@dataclass
class Invitations:
    """Codes that let one device in each."""

    _open: dict[str, tuple[May, datetime]] = field(default_factory=dict)
    _lock: Lock = field(default_factory=Lock)

    def make(self, may: May, now: datetime) -> str:
        """A code, good for a while."""
        code = secrets.token_urlsafe(16)
        with self._lock:
            self._open = {each: kept for each, kept in self._open.items() if kept[1] > now}
            self._open[code] = may, now + INVITED
        return code

    def look(self, code: str, now: datetime) -> May | None:
        """What a device with this code may do, None where it is used or too old."""
        with self._lock:
            may, until = self._open.get(code, (None, now))
            return may if until > now else None

    def take(self, code: str, now: datetime) -> May | None:
        """The same, and the code is used."""
        with self._lock:
            may, until = self._open.pop(code, (None, now))
            return may if until > now else None


def set_passphrase(folder: Path, words: str) -> None:
    """Keep a passphrase, as a hash that its owner alone can read. Raises InputError where it is too short, DataError
    where it cannot be kept."""
    if len(words) < LEAST:
        raise InputError(f"A passphrase has at least {LEAST} characters; four words that are no saying are good.", FILE)
    half = folder / f"{FILE}.half"
    try:
        folder.mkdir(mode=0o700, parents=True, exist_ok=True)
        half.unlink(missing_ok=True)
        half.touch(mode=0o600)
        half.write_text(_HASHER.hash(words))
        half.replace(folder / FILE)
    except OSError as error:
        raise DataError(f"The passphrase cannot be kept in {folder}: {error.strerror}.") from None


def has_passphrase(folder: Path) -> bool:
    """Whether a passphrase was chosen."""
    path = folder / FILE
    return path.is_file() and path.read_text().startswith("$argon2")


def is_passphrase(folder: Path, words: str) -> bool:
    """Whether these are the words; it takes a while on purpose."""
    try:
        return _HASHER.verify((folder / FILE).read_text(), words)
    except (VerificationError, InvalidHashError, OSError):
        return False


@dataclass(frozen=True, slots=True)
class Entry:
    """Who must sign in: devices of the network where it is ``shared``, with ``everybody`` those at the machine, too.
    ``address`` is where devices find the shop."""

    shared: bool = False
    everybody: bool = False
    address: str = ""

    def init(self, app: Flask) -> None:
        """Ask each request who it is, if anybody must sign in."""
        app.extensions["invitations"] = Invitations()
        app.config.update(DEVICE_COOKIE=app.config["SESSION_COOKIE_NAME"] + "-device", SHOP_ADDRESS=self.address)
        app.jinja_env.globals["device"] = lambda: g.get("device")
        if self.shared or self.everybody:
            _ask(app, everybody=self.everybody)


ALONE = Entry()
"""Nobody but this machine can come in."""


def _ask(app: Flask, *, everybody: bool) -> None:
    @app.before_request
    def _who() -> Answer | tuple[str, int] | None:
        if request.endpoint in OPEN:
            return None
        if not everybody and at_the_machine():
            return None
        g.device = present.store().doors.known(request.cookies.get(app.config["DEVICE_COOKIE"], ""))
        if g.device is None:
            return _to_the_door()
        asked = [request.endpoint or ""]
        if request.blueprint == "printing" and request.method == "GET":
            asked.append((request.view_args or {}).get("kind", ""))  # what was made belongs to what had it made
        return None if all(may_do(g.device, request.method, each) for each in asked) else _not_here()


def at_the_machine() -> bool:
    """Whether a request comes from the machine itself, for one of its own names and past no proxy."""
    through = ("Forwarded", "X-Forwarded-For", "X-Forwarded-Host", "X-Real-Ip", "Via")
    return (
        (request.remote_addr or "") in ("127.0.0.1", "::1")
        and host_name(request.host) in LOOPBACK
        and not any(request.headers.get(name) for name in through)
    )


def may_do(device: DeviceView, method: str, endpoint: str) -> bool:
    """Whether a device may ask for this."""
    if device.may is May.DESIGN:
        return True
    if method in ("GET", "HEAD"):
        return endpoint not in NOT_AT_THE_BENCH
    return endpoint in AT_THE_BENCH


def _to_the_door() -> Answer:
    if request.headers.get("HX-Request") or request.method != "GET":
        answer = Response(
            "This device is not signed in, or no longer. Nothing was changed.", 401, mimetype="text/plain"
        )
        answer.headers["HX-Redirect"] = url_for("doors.sign_in")
        return answer
    return redirect(url_for("doors.sign_in", then=request.full_path.rstrip("?")), 303)


def _not_here() -> tuple[str, int]:
    text = "This device may tick, count and measure, not design. Whoever sits at the shop's machine can let it do more."
    return errors.page(403, "Not on this device", text)


def enter(name: str, may: May, span: str, then: str) -> Answer:
    """Let the asking device in, and go on to where it wanted to."""
    length = SPANS.get(span, SPANS["month"])[1]
    token = present.store().doors.let_in(name, may, datetime.now(UTC) + length if length else None)
    answer = redirect(reading.own_path(then), 303)
    answer.set_cookie(
        current_app.config["DEVICE_COOKIE"], token, max_age=length or timedelta(days=3650), httponly=True,
        secure=request.is_secure, samesite="Lax",
    )  # fmt: skip
    return answer
