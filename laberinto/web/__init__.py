"""The web application: one package a screen, server-rendered, htmx for what changes in place."""

from __future__ import annotations

import os
import secrets
from collections.abc import Callable, Collection
from hashlib import sha256
from pathlib import Path

from flask import Flask, request
from flask_compress import Compress
from flask_wtf.csrf import CSRFProtect

from laberinto.store import DATABASE, Store, open_database
from laberinto.store.health import tidy

from .app import asbuilt, asked, bitmaps, bundles, errors, once, own, places, present, reading, security, turns, words
from .app.addresses import AsWritten
from .app.doors import ALONE, Entry, at_the_machine
from .app.jobs import Jobs
from .screens import (
    bench,
    board,
    boards,
    build,
    calendar,
    checks,
    cnc,
    compare,
    cost,
    doors,
    faults,
    judge,
    kept,
    learn,
    lessons,
    now,
    orders,
    palette,
    paper,
    patterns,
    picture,
    printing,
    reckoners,
    rehearsal,
    safe,
    shop,
    sizing,
    steps,
    timber,
    together,
    trash,
    whatif,
    wood,
    woods,
)

SCREENS = (
    boards.bp,
    picture.bp,
    patterns.bp,
    board.bp,
    steps.bp,
    build.bp,
    faults.bp,
    judge.bp,
    compare.bp,
    reckoners.bp,
    wood.bp,
    checks.bp,
    cost.bp,
    sizing.bp,
    shop.bp,
    timber.bp,
    now.bp,
    calendar.bp,
    orders.bp,
    paper.bp,
    printing.bp,
    cnc.bp,
    kept.bp,
    learn.bp,
    lessons.bp,
    trash.bp,
    safe.bp,
    doors.bp,
    together.bp,
    woods.bp,
    palette.bp,
    bench.bp,
    rehearsal.bp,
    whatif.bp,
    bitmaps.bp,
)
"""Every screen's blueprint; a new screen is one package and one entry."""

MOST_UPLOAD = 16_000_000
"""Bytes of a request: a phone's photo fits."""

MOST_BOARD = 128_000_000
"""Bytes of a request that brings a board with all its photos."""

COMPRESS_LEVEL = 3
"""Of gzip, for answers to other machines, mostly of the same shop: packing them tighter takes longer than sending them.
Setting up zstd or brotli took as long as a tenth of an edit."""

PICTURES = ("bitmaps.whole", "bitmaps.patch", "board.knots")
"""What is painted between the pages."""

LEAST_SECRET = 32
"""Characters of a key that can be trusted; less is what was left of one."""


def default_data() -> Path:
    """Where data is kept unless told otherwise: $LABERINTO_DATA or ~/.local/share/laberinto."""
    return Path(os.environ.get("LABERINTO_DATA", Path.home() / ".local" / "share" / "laberinto"))


def create_app(
    data: Path | None = None, hosts: Collection[str] = (), devices: int | None = None,
    tell: Callable[[str], None] = lambda _: None, entry: Entry = ALONE,
) -> Flask:  # fmt: skip
    """The application on the data folder ``data``; the database there is made and migrated as needed. Besides this
    machine's own names it goes by ``hosts``. Measuring devices speak at the port ``devices`` of this machine, if
    any. ``tell`` hears what is waited for, ``entry`` says who must sign in. Raises DataError where the data cannot be
    opened."""
    folder = data or default_data()
    app = Flask(__name__)
    app.url_rule_class = AsWritten
    secret = _secret(folder)
    app.config.update(
        SECRET_KEY=secret,
        SESSION_COOKIE_NAME=f"laberinto-{sha256(secret.encode()).hexdigest()[:8]}",  # two in one browser stay apart
        MAX_CONTENT_LENGTH=MOST_UPLOAD,
        DEVICES=devices,
        DATA=folder,
        SESSION_COOKIE_SAMESITE="Strict",
        SESSION_COOKIE_HTTPONLY=True,
        WTF_CSRF_TIME_LIMIT=None,
        COMPRESS_MIMETYPES=["text/html", "text/css", "text/javascript", "application/json", "image/svg+xml"],
        COMPRESS_ALGORITHM=["gzip"],
        COMPRESS_LEVEL=COMPRESS_LEVEL,
        COMPRESS_REGISTER=False,
        SEND_FILE_MAX_AGE_DEFAULT=3600,
    )
    app.jinja_env.globals["swatch"] = lambda key: bitmaps.swatch(key, present.preference("finish"))
    app.jinja_env.globals["ringed"] = lambda key: bitmaps.ringed(key, present.preference("finish"))
    app.jinja_env.undefined = present.Blank
    app.jinja_env.trim_blocks = app.jinja_env.lstrip_blocks = True
    store = app.extensions["store"] = Store(open_database(folder / DATABASE, tell))
    tidy(store)
    own.take_in(store)
    app.extensions["jobs"] = Jobs()
    app.before_request(_roomy)
    asked.init(app)
    turns.init(app, PICTURES)
    security.init(app, hosts)
    entry.init(app)  # whoever is not let in sees nothing, not even that a form was wrong
    CSRFProtect(app)
    packing = Compress(app)
    # to this machine nothing is sent any sooner by packing it
    app.after_request(lambda answer: answer if at_the_machine() else packing.after_request(answer))
    once.init(app)
    reading.init(app)
    doors.init(app)
    errors.init(app)
    present.init(app)
    bundles.init(app)
    places.init(app)
    words.init(app)
    asbuilt.init(app)
    for screen in SCREENS:
        app.register_blueprint(screen)
    return app


def _roomy() -> None:
    """A board file may be larger than other requests, as its photos are in it; said before the form is read."""
    if request.endpoint == "boards.open_file":
        request.max_content_length = MOST_BOARD


def _secret(folder: Path) -> str:
    """The key that signs sessions and forms: made once and kept beside the data, readable by its owner only."""
    path = folder / "secret"
    kept = path.read_text().strip() if path.exists() else ""
    if len(kept) < LEAST_SECRET:  # none yet, or one that was being written when the power went
        folder.mkdir(mode=0o700, parents=True, exist_ok=True)
        kept, half = secrets.token_hex(32), path.with_name("secret.half")
        half.unlink(missing_ok=True)
        half.touch(mode=0o600)
        half.write_text(kept)
        half.replace(path)
    return kept
