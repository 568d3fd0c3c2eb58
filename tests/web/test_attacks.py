"""Attacks: pictures made to break decoders, forms from elsewhere, connections that say nothing, bodies without end."""

from __future__ import annotations

import random
import socket
import struct
import zlib
from collections.abc import Iterator
from io import BytesIO
from pathlib import Path
from threading import Thread
from typing import Any

import pytest
from flask import Flask
from PIL import Image
from sqlalchemy import event
from waitress import create_server
from waitress.server import BaseWSGIServer

from laberinto.core.errors import InputError
from laberinto.store import Store
from laberinto.web import MOST_BOARD, create_app
from laberinto.web.app.photos import FORMATS, MOST_PHOTO, MOST_WHOLE, shrunk
from laberinto.web.serving import LIMITS, THREADS

from .conftest import Visitor


def picture(kind: str, size: tuple[int, int] = (90, 60), mode: str = "RGB") -> bytes:
    out = BytesIO()
    Image.effect_mandelbrot((90, 60), (-2, -1.5, 1, 1.5), 60).convert(mode).resize(size).save(out, kind)
    return out.getvalue()


def blank_png(width: int, height: int) -> bytes:
    """A PNG of one colour: a few kilobytes that say they are so large."""

    def chunk(kind: bytes, data: bytes) -> bytes:
        return struct.pack(">I", len(data)) + kind + data + struct.pack(">I", zlib.crc32(kind + data))

    rows = zlib.compressobj(9)
    packed = b"".join(rows.compress(bytes(width // 8 + 1)) for _ in range(height)) + rows.flush()
    head = struct.pack(">IIBBBBB", width, height, 1, 0, 0, 0, 0)
    return b"\x89PNG\r\n\x1a\n" + chunk(b"IHDR", head) + chunk(b"IDAT", packed) + chunk(b"IEND", b"")


@pytest.mark.parametrize("kind", FORMATS)
def test_a_damaged_picture_is_one_that_cannot_be_read(kind: str) -> None:
    """200 of each, cut off, bytes changed, pieces doubled: read or refused in words, never anything else."""
    whole, chance = picture(kind), random.Random(kind)
    assert Image.open(BytesIO(shrunk(whole, "photo"))).size == (90, 60)
    refused = 0
    for _ in range(200):
        data = bytearray(whole)
        for _ in range(chance.randint(1, 12)):
            at = chance.randrange(len(data))
            match chance.randrange(4):
                case 0:
                    data[at] = chance.randrange(256)
                case 1:
                    del data[at : at + chance.randint(1, 400)]
                case 2:
                    data[at:at] = data[at : at + chance.randint(1, 60)]
                case _:
                    data[at : at + 4] = struct.pack(">I", chance.choice([0, 2**31 - 1, 2**32 - 1]))
            if not data:
                break
        try:
            shrunk(bytes(data), "photo")
        except InputError as error:
            refused += 1
            assert error.field == "photo" and ("can be read" in str(error) or "pixels" in str(error)), error
    assert refused > 20


def test_a_picture_is_looked_at_before_it_is_decoded() -> None:
    width = 4096
    high = MOST_WHOLE // width
    assert shrunk(blank_png(width, high), "photo")
    with pytest.raises(InputError, match=f"{width} × {high + 1} pixels; at most 16 million are read of a PNG"):
        shrunk(blank_png(width, high + 1), "photo")
    large = Image.open(BytesIO(shrunk(picture("JPEG", (7000, 5500)), "photo")))  # 38 million, decoded small
    assert max(large.size) == MOST_PHOTO
    with pytest.raises(InputError, match="can be read"):
        shrunk(b"%!PS-Adobe-3.0 EPSF-3.0\n%%BoundingBox: 0 0 9 9\nshowpage\n", "photo")  # nothing runs a program


@pytest.mark.parametrize("headers", [
    {"Sec-Fetch-Site": "cross-site"}, {"Sec-Fetch-Site": "same-site"}, {"Origin": "https://elsewhere.example"},
    {"Origin": "null"}, {"Origin": "http://localhost:81"},
], ids=str)  # fmt: skip
def test_a_form_from_another_website_is_refused_even_with_its_token(
    visitor: Visitor, store: Store, board: int, headers: dict[str, str]
) -> None:
    visitor.client.environ_base.update({f"HTTP_{name.upper().replace('-', '_')}": v for name, v in headers.items()})
    visitor.client.environ_base["HTTP_SEC_FETCH_MODE"] = "navigate"
    answer = visitor.post(f"/boards/{board}/copy")
    assert answer.status_code == 403 and "by another website" in answer.get_data(as_text=True)
    assert len(store.boards()) == 1
    for name in list(visitor.client.environ_base):
        if name.startswith(("HTTP_SEC", "HTTP_ORIGIN")):
            del visitor.client.environ_base[name]
    visitor.client.environ_base |= {"HTTP_SEC_FETCH_SITE": "same-origin", "HTTP_ORIGIN": "http://localhost"}
    assert visitor.post(f"/boards/{board}/copy").status_code == 303


def test_a_page_is_gone_to_from_elsewhere_but_not_fetched_from_there(app: Flask, board: int) -> None:
    """As a picture of another website it would begin searches in the background."""
    client, there = app.test_client(), f"/boards/{board}/judge/again"
    fetched = client.get(there, headers={"Sec-Fetch-Site": "cross-site", "Sec-Fetch-Mode": "no-cors"})
    assert fetched.status_code == 403 and app.extensions["jobs"].get(("again", board)) is None
    for site, mode in (("cross-site", "navigate"), ("same-origin", "cors"), ("none", "navigate")):
        assert client.get("/timber", headers={"Sec-Fetch-Site": site, "Sec-Fetch-Mode": mode}).status_code == 200


def test_two_of_us_in_one_browser_stay_apart(tmp_path: Path) -> None:
    names = {create_app(tmp_path / name).config["SESSION_COOKIE_NAME"] for name in ("one", "other")}
    assert len(names) == 2


def test_what_is_kept_is_its_owners_alone(tmp_path: Path) -> None:
    folder = tmp_path / "new" / "shop"
    app = create_app(folder)
    app.extensions["store"].prefer("theme", "dark")
    assert folder.stat().st_mode & 0o777 == 0o700
    there = [path for path in folder.iterdir() if path.is_file()]
    assert len(there) >= 2 and {path.stat().st_mode & 0o077 for path in there} == {0}


@pytest.fixture
def served(app: Flask) -> Iterator[BaseWSGIServer]:
    server = create_server(app, host="127.0.0.1", port=0, threads=THREADS, **LIMITS)
    Thread(target=server.run, daemon=True).start()
    yield server
    server.close()


def asked(port: int, head: str) -> bytes:
    with socket.create_connection(("127.0.0.1", port), timeout=60) as line:
        line.sendall(head.encode())
        return line.recv(200)


def test_half_open_connections_make_nobody_wait(served: BaseWSGIServer) -> None:
    """300 that connected and said half a line; the next is answered while they are all still there."""
    port = served.effective_port
    silent = [socket.create_connection(("127.0.0.1", port), timeout=60) for _ in range(300)]
    for line in silent:
        line.sendall(b"GET / HTTP/1.1\r\nHost: local")
    assert asked(port, "GET /static/mark.svg HTTP/1.1\r\nHost: localhost\r\n\r\n").startswith(b"HTTP/1.1 200")
    for line in silent:
        line.close()


def test_a_body_without_end_is_refused_by_its_header(served: BaseWSGIServer) -> None:
    head = f"POST /boards/open HTTP/1.1\r\nHost: localhost\r\nContent-Length: {MOST_BOARD + 1}\r\n\r\n"
    assert asked(served.effective_port, head).startswith(b"HTTP/1.1 413")  # though nothing of it was sent


def test_a_full_disk_is_said_and_nothing_is_half_saved(visitor: Visitor, store: Store, board: int) -> None:
    view = store.board(board)
    assert view is not None
    full = True

    @event.listens_for(store.engine, "checkout")
    def _full(connection: Any, *_: object) -> None:
        (pages,) = connection.execute("PRAGMA page_count").fetchone()
        connection.execute(f"PRAGMA max_page_count={pages if full else 10_000_000}")

    lines = "\n".join(f"1 beech plank {900 + n} x 90 x 30, 10 %, price 39.00, rack {n}" for n in range(1, 200))
    answer = visitor.post("/timber/lines", lines=lines)
    assert answer.status_code == 503 and "disk of the shop" in answer.get_data(as_text=True)
    assert store.timber.lots() == []
    full = False
    assert visitor.post("/timber/lines", lines=lines).status_code == 303 and len(store.timber.lots()) == 199
    event.remove(store.engine, "checkout", _full)
