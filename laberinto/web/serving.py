"""Serving: the server's manners, and what it works at while nobody asks for anything."""

from __future__ import annotations

import gc
import logging
import socket
import sys
from collections.abc import Callable, Collection, Iterable
from contextlib import suppress
from dataclasses import dataclass
from datetime import UTC, datetime
from importlib import import_module
from io import StringIO
from pathlib import Path
from signal import SIGTERM, signal
from threading import Thread
from time import sleep
from typing import Any

import segno
from flask import Flask

from laberinto import __version__
from laberinto.core.errors import DataError, InputError, LaberintoError
from laberinto.core.geometry.faces import Side, face_of
from laberinto.core.plan.simulate import simulate
from laberinto.store import DATABASE, Store, checkpoint
from laberinto.store.backup import backup_folder, daily
from laberinto.store.health import tidy

from . import MOST_BOARD, create_app, default_data
from .app import asked, logs, network, present, printing, tls
from .app.doors import Entry, has_passphrase
from .app.jobs import GIVE_WAY, cut_alone
from .app.workshop import ready
from .screens.board import beside, onward
from .screens.board.pictures import warm_bitmaps
from .screens.patterns.draft import all_shown

log = logging.getLogger(__name__)

THRESHOLDS = (20_000, 20, 20)
"""Allocations before the youngest are collected, and how many such rounds before older ones are: an edit makes tens of
thousands of short-lived objects, and with Python's own numbers a fifth of its time went into looking for garbage."""

TURN = 0.001
"""How long one thread may hold up the others, s. Cutting gives way at every array; with Python's own number a page that
is being drawn beside it would hold it up five times as long each time."""

SELDOM = ("trimesh.exchange.gltf", "trimesh.visual.material", "ezdxf")
"""What only some files and views need, and takes a while to load: not for the start to wait for."""

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
    "channel_request_lookahead": 1,  # so that who leaves is noticed while a picture is painted for them
    "asyncore_use_poll": True,  # the other way knows no file of a number above 1023
    "clear_untrusted_proxy_headers": False,  # nobody believes them, but who came through a proxy is not at the machine
    "max_request_body_size": MOST_BOARD,  # what is larger is refused by its header, before any of it is kept
}

AT_REST = 60.0
"""Seconds after which what was saved is in the one file."""

EVERY_ADDRESS = ("", "0.0.0.0", "::")
"""Listened at, these name no host."""

FORWARDED = {"x-forwarded-for", "x-forwarded-proto", "x-forwarded-host"}
"""What a proxy says of who asks, and for what."""

THREADS = 6
"""Requests that are answered side by side: as many as a browser sends at once to one server."""


@dataclass(frozen=True, slots=True)
class Way:
    """How it is served: listening at ``host`` and ``port``, and going by the further names ``hosts``. With ``lan`` the
    shop's network is let in. Behind a ``proxy`` of this machine everybody signs in; ``certificate`` and ``key`` are
    PEM files, for TLS. ``devices`` is the port of this machine where measuring devices speak."""

    host: str = "127.0.0.1"
    port: int = 5000
    hosts: Collection[str] = ()
    lan: bool = False
    proxy: bool = False
    certificate: Path | None = None
    key: Path | None = None
    devices: int | None = None
    warming: bool = True
    verbose: bool = False

    @property
    def at(self) -> str:
        """The address that is listened at."""
        return "0.0.0.0" if self.lan and self.host in network.LOOPBACK else self.host

    @property
    def shared(self) -> bool:
        """Whether more than this machine can reach it."""
        return self.proxy or self.at not in network.LOOPBACK

    @property
    def names(self) -> list[str]:
        """The names it goes by, besides those of this machine alone."""
        own = [] if self.at in EVERY_ADDRESS else [self.at]
        seen = [*network.own_addresses(), *network.own_names()] if self.at in EVERY_ADDRESS else []
        return [*own, *seen, *self.hosts]

    @property
    def address(self) -> str:
        """Where devices of the network find it, "" where they do not."""
        if not self.shared or self.proxy or not self.names:
            return ""
        return f"{'https' if self.certificate else 'http'}://{self.names[0]}:{self.port}/"


def run(data: Path | None, way: Way, tell: Callable[[str], None]) -> None:
    """Serve the data folder until stopped; ``tell`` hears where it is once it listens. Raises InputError where the
    address cannot be had or a passphrase is wanted first, DataError where the data cannot be opened."""
    from waitress import create_server

    folder = data or default_data()
    if way.shared and not has_passphrase(folder):
        raise InputError(
            f"Others could come in, so choose a passphrase first: laberinto passphrase --data {folder}", "lan"
        )
    if (way.certificate is None) != (way.key is None):
        raise InputError("TLS takes both: --tls-cert and --tls-key.", "tls-cert")
    secrets = tls.context(way.certificate, way.key) if way.certificate and way.key else None
    entry = Entry(shared=way.shared, everybody=way.proxy or secrets is not None, address=way.address)
    app = create_app(folder, way.names, way.devices, tell, entry)
    printing.clear(folder)
    app.config["SESSION_COOKIE_SECURE"] = secrets is not None
    logs.set_up(folder, verbose=way.verbose, request=asked.number)
    compile_templates(app, FIRST)
    beside.init(app)
    onward.init(app)
    set_aside()
    if way.warming:
        Thread(target=_later, args=(app,), name="warming", daemon=True).start()
    listen = ("127.0.0.1", 0) if secrets else (way.at, way.port)
    more: dict[str, Any] = {"url_scheme": "https"} if secrets else {}
    if way.proxy:
        more |= {"trusted_proxy": "127.0.0.1", "trusted_proxy_headers": FORWARDED}
    try:
        if secrets:
            _must_be_free(way.at, way.port)
        server = create_server(app, host=listen[0], port=listen[1], threads=THREADS, ident=None, **LIMITS, **more)
    except OSError as error:
        raise InputError(
            f"Nothing can listen at {way.at}, port {way.port}: {error.strerror or error}. "
            "Is another Laberinto running? Stop it, or choose a port with --port.", "port",
        ) from None  # fmt: skip
    if secrets:
        front = (way.at, way.port, server.effective_port, secrets)
        Thread(target=tls.serve, args=front, name="tls", daemon=True).start()
    scheme = "https" if secrets else "http"
    tell(f"Laberinto is at {scheme}://{way.host}:{way.port or server.effective_port}/ (Ctrl C stops it)")
    if way.address:
        tell(f"Devices of the shop's network find it at {way.address}\n{code_of(way.address)}")
    Thread(target=_look_after, args=(app,), name="upkeep", daemon=True).start()
    signal(SIGTERM, _stopped)
    try:
        server.run()
    finally:
        checkpoint(present_store(app).engine)


def code_of(address: str) -> str:
    """A code to scan, for a terminal."""
    out = StringIO()
    segno.make(address, error="l").terminal(out, compact=True, border=1)
    return out.getvalue().rstrip("\n")


def _must_be_free(host: str, port: int) -> None:
    """Raise OSError where an address is listened at already."""
    with socket.socket() as probe:
        probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        probe.bind((host, port))


def _stopped(*_: object) -> None:
    raise SystemExit(0)


def present_store(app: Flask) -> Store:
    """What the application keeps its data in."""
    found: Store = app.extensions["store"]
    return found


def _look_after(app: Flask) -> None:
    while True:
        sleep(AT_REST)
        look_after(app, datetime.now(UTC))


def look_after(app: Flask, now: datetime) -> None:
    """What is done while nobody asks: everything is brought into the one file, and once a day there is a backup. What
    fails is told in the log and, by ``laberinto doctor`` and the page, to whoever looks."""
    store, folder = present_store(app), Path(app.config["DATA"])
    checkpoint(store.engine)
    try:
        archive = daily(folder / DATABASE, backup_folder(store, folder), __version__, now)
    except DataError as error:
        log.error("no backup today: %s", error)
    else:
        if archive is not None:
            tidy(store, now)  # once a day, after what is let go of was backed up
            log.info("backed up into %s, %d bytes", archive.path, archive.size)


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
    ready()
    warm(app)


def warm(app: Flask) -> None:
    """Make all templates ready and cut every board, and every pattern as the gallery shows it, so that the first look
    does not wait."""
    compile_templates(app, app.jinja_env.list_templates())
    for name in SELDOM:
        import_module(name)
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
