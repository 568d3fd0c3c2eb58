"""Serving: the server's manners, and what it works at while nobody asks for anything."""

from __future__ import annotations

import gc
import sys
from collections.abc import Callable, Collection, Iterable
from contextlib import suppress
from pathlib import Path
from threading import Thread
from time import sleep

from flask import Flask

from laberinto.core.errors import InputError, LaberintoError
from laberinto.core.geometry.faces import Side, face_of
from laberinto.core.plan.simulate import simulate

from . import MOST_BOARD, create_app
from .app import present
from .app.jobs import GIVE_WAY, cut_alone
from .screens.board.pictures import warm_bitmaps
from .screens.patterns.draft import all_shown

THRESHOLDS = (20_000, 20, 20)
"""Allocations before the youngest are collected, and how many such rounds before older ones are: an edit makes tens of
thousands of short-lived objects, and with Python's own numbers a fifth of its time went into looking for garbage."""

TURN = 0.001
"""How long one thread may hold up the others, s. Cutting gives way at every array; with Python's own number a page that
is being drawn beside it would hold it up five times as long each time."""

WARM_AFTER = 5.0
"""Seconds after the start before boards and patterns are warmed: whoever opens a page at once comes first."""

FIRST = (
    "base.html",
    "boards/index.html",
    "boards/card.html",
    "board/remove.html",
    "patterns/gallery.html",
    "patterns/card.html",
)
"""Templates of what is mostly opened first: made ready before anybody is told the address."""

LIMITS = {
    "connection_limit": 900,  # a visitor who opens a hundred and says nothing keeps nobody else waiting
    "channel_timeout": 60,  # s in which nothing comes, then it is closed
    "cleanup_interval": 10,
    "asyncore_use_poll": True,  # the other way knows no file of a number above 1023
    "max_request_body_size": MOST_BOARD,  # what is larger is refused by its header, before any of it is kept
}

EVERY_ADDRESS = ("", "0.0.0.0", "::")
"""Listened at, these name no host."""

THREADS = 6
"""Requests that are answered side by side: as many as a browser sends at once to one server."""


def run(
    data: Path | None, host: str, port: int, *, warming: bool, tell: Callable[[str], None], hosts: Collection[str] = (),
    devices: int | None = None,
) -> None:  # fmt: skip
    """Serve the data folder until stopped; ``warming`` cuts boards while nobody asks, ``tell`` hears the address once
    it is listened at, ``hosts`` are further names to go by, and ``devices`` is the port of this
    machine where measuring devices speak. Raises InputError where the address cannot be had."""
    from waitress import create_server

    named = () if host in EVERY_ADDRESS else (host,)
    app = create_app(data, (*named, *hosts), devices)
    compile_templates(app, FIRST)
    set_aside()
    if warming:
        Thread(target=_later, args=(app,), name="warming", daemon=True).start()
    try:
        server = create_server(app, host=host, port=port, threads=THREADS, ident=None, **LIMITS)
    except OSError as error:
        raise InputError(
            f"Nothing can listen at {host}, port {port}: {error.strerror or error}. "
            "Is another Laberinto running? Stop it, or choose a port with --port.", "port",
        ) from None  # fmt: skip
    tell(f"http://{host}:{port}/")
    server.run()


def set_aside() -> None:
    """Take everything that is there now, the modules above all, as staying: it is not looked through again each time
    garbage is collected. And let threads take turns soon."""
    sys.setswitchinterval(TURN)
    gc.collect()
    gc.freeze()
    gc.set_threshold(*THRESHOLDS)


def compile_templates(app: Flask, names: Iterable[str]) -> None:
    """Make templates ready: what is not waits for the first who opens its page, and makes them wait."""
    for name in names:
        app.jinja_env.get_template(name)
        sleep(GIVE_WAY)


def _later(app: Flask) -> None:
    sleep(WARM_AFTER)
    warm(app)


def warm(app: Flask) -> None:
    """Make all templates ready and cut every board, and every pattern as the gallery shows it, so that the first look
    does not wait."""
    compile_templates(app, app.jinja_env.list_templates())
    with app.test_request_context():
        boards = present.store().boards()
        for plan in [*(board.plan for board in boards), *all_shown()]:
            cut_alone(plan)
            try:
                face_of(simulate(plan).whole(), Side.TOP)
            except LaberintoError:
                continue  # its page says what is wrong
            sleep(GIVE_WAY)
        for board in boards:
            with suppress(LaberintoError):
                warm_bitmaps(board)
            sleep(GIVE_WAY)
