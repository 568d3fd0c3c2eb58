"""The shop's network: who is let in, what a device at the bench may do, and how few guesses are listened to."""

from __future__ import annotations

import asyncio
import logging
import re
import ssl
import subprocess
import urllib.request
from collections.abc import Iterator
from datetime import UTC, datetime, timedelta
from functools import partial
from http.client import HTTPSConnection
from pathlib import Path
from threading import Thread

import pytest
from argon2 import PasswordHasher
from flask import Flask, request
from flask.testing import FlaskClient
from waitress import create_server
from werkzeug.test import TestResponse

from laberinto.core.errors import InputError
from laberinto.core.patterns import Alternating
from laberinto.core.timber import Lot
from laberinto.store.backup import PREFERENCE, verify
from laberinto.store.doors import May
from laberinto.web import create_app
from laberinto.web.app import asked, logs, network, tls
from laberinto.web.app.doors import AT_THE_BENCH, NOT_AT_THE_BENCH, OPEN, Entry, is_passphrase, set_passphrase
from laberinto.web.app.printing import clear
from laberinto.web.screens.doors import limiter
from laberinto.web.serving import Way, look_after, run
from tests.empty import new_shop

from .conftest import Visitor

WORDS = "four words no saying"
TABLET = {"REMOTE_ADDR": "192.168.7.20"}


@pytest.fixture
def shop(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Iterator[Flask]:
    """A shop that its network may come into. That a guess takes long is argon2's own matter, and not waited for."""
    monkeypatch.setattr("laberinto.web.app.doors._HASHER", PasswordHasher(time_cost=1, memory_cost=64, parallelism=1))
    set_passphrase(tmp_path, WORDS)
    new_shop(tmp_path)
    app = create_app(tmp_path, ["192.168.7.2"], entry=Entry(shared=True, address="http://192.168.7.2:5000/"))
    app.extensions["store"].create(Alternating(strips=6, slices=6).plan("Shoal"))
    limiter.reset()
    yield app
    limiter.reset()


def device(app: Flask, **environ: str) -> FlaskClient:
    host = environ.pop("HTTP_HOST", "192.168.7.2:5000")
    client = app.test_client()
    client.environ_base |= {**TABLET, **environ}
    client.open = partial(client.open, base_url=f"http://{host}/")  # type: ignore[method-assign]
    return client


def form(client: FlaskClient, page: str, path: str, **values: str) -> TestResponse:
    shown = client.get(page).get_data(as_text=True)
    token = re.search(r'name="csrf_token"\s+value="([^"]+)"', shown)
    assert token, shown[:400]
    return client.post(path, data={"csrf_token": token[1], **values})


def bench(app: Flask) -> FlaskClient:
    """A tablet that scanned a code for the bench."""
    code = app.extensions["invitations"].make(May.BENCH, datetime.now(UTC))
    client = device(app)
    assert form(client, f"/join/{code}", f"/join/{code}", name="the tablet at the saw").status_code == 303
    return client


def test_nobody_sees_anything_before_they_sign_in(shop: Flask) -> None:
    client = device(shop)
    for rule in shop.url_map.iter_rules():
        if rule.arguments - {"board_id"} or rule.endpoint in OPEN:
            continue
        path = rule.rule.replace("<int:board_id>", "1")
        answer = client.get(path) if "GET" in (rule.methods or ()) else client.post(path)
        assert answer.status_code in (303, 401), (path, answer.status_code)
        assert b"Shoal" not in answer.data
        assert "/sign-in" in answer.headers.get("Location", answer.headers.get("HX-Redirect", ""))
    assert b"Shoal" not in client.get("/sign-in").data and client.get("/healthz").status_code == 200


def test_the_passphrase_lets_a_device_in_until_it_is_shut_out(shop: Flask) -> None:
    client, store = device(shop), shop.extensions["store"]
    answer = form(client, "/sign-in", "/sign-in", passphrase=WORDS, name="phone", span="day", then="/timber?kind=plank")
    assert answer.headers["Location"] == "/timber?kind=plank"
    cookie = next(line for line in answer.headers.getlist("Set-Cookie") if "-device=" in line)
    assert "HttpOnly" in cookie and "SameSite=Lax" in cookie and "Max-Age=86400" in cookie
    assert b"Shoal" in client.get("/").data
    (known,) = store.doors.all()
    assert (known.name, known.may) == ("phone", May.DESIGN)
    token = cookie.split("=", 1)[1].split(";")[0]
    assert token not in "".join(str(row) for row in store.engine.raw_connection().execute("SELECT * FROM device"))
    assert store.doors.known(token, datetime.now(UTC) + timedelta(days=2)) is None  # its day is over
    form(shop.test_client(), "/devices", f"/devices/{known.id}", out="yes")
    assert client.get("/").status_code == 303


@pytest.mark.parametrize("then", ["//elsewhere.example/", "https://elsewhere.example/", "/\\elsewhere.example", "x"])
def test_the_door_leads_nowhere_else(shop: Flask, then: str) -> None:
    assert form(device(shop), "/sign-in", "/sign-in", passphrase=WORDS, then=then).headers["Location"] == "/"


def test_only_a_few_wrong_guesses_are_listened_to(shop: Flask) -> None:
    client = device(shop)
    said = [form(client, "/sign-in", "/sign-in", passphrase=f"guess {k}").status_code for k in range(7)]
    assert said == [422] * 5 + [429] * 2
    assert form(client, "/sign-in", "/sign-in", passphrase=WORDS).status_code == 429  # not even the right one
    other = device(shop, REMOTE_ADDR="192.168.7.21")
    assert form(other, "/sign-in", "/sign-in", passphrase=WORDS).status_code == 303


def test_a_device_at_the_bench_ticks_and_measures_and_designs_nothing(shop: Flask) -> None:
    """Every address is tried: what it may send is on a list, and everything else is refused before it is done."""
    client, store = bench(shop), shop.extensions["store"]
    known = {rule.endpoint for rule in shop.url_map.iter_rules()}
    assert known >= AT_THE_BENCH | NOT_AT_THE_BENCH | OPEN
    before = store.board(1)
    for rule in shop.url_map.iter_rules():
        if "POST" not in (rule.methods or ()) or rule.endpoint in AT_THE_BENCH | OPEN:
            continue
        path = re.sub(r"<int:\w+>", "1", rule.rule)
        path = re.sub(r"<(?:\w+:)?\w+>", "x", path)
        assert client.post(path).status_code == 403, path
    assert store.board(1) == before
    for path in ("/safe", "/devices", "/printing/safe.make/0", "/printing/safe.make/0/laberinto-2026-11-29-0900.zip"):
        assert client.get(path).status_code == 403
    step = re.search(r'name="step"\s+value="([^"]+)"', client.get("/boards/1/build").get_data(as_text=True))
    assert step
    assert form(client, "/boards/1/build", "/boards/1/build/tick", step=step[1]).status_code == 303
    assert list(store.build(1).ticks()) == [step[1]]
    form(client, "/boards/1/build", "/sign-out")
    assert client.get("/").status_code == 303 and store.doors.all() == []


def test_a_code_lets_one_device_in_and_not_for_long(shop: Flask) -> None:
    page = form(shop.test_client(), "/devices", "/devices/code", may="bench").get_data(as_text=True)
    found = re.search(r"http://192\.168\.7\.2:5000(/join/[\w-]+)", page)
    assert found and "<svg" in page
    first, second = device(shop), device(shop)
    assert "may tick, count and measure" in first.get(found[1]).get_data(as_text=True)
    late = second.get(found[1]).get_data(as_text=True)
    assert form(first, found[1], found[1]).status_code == 303
    token = re.search(r'name="csrf_token"\s+value="([^"]+)"', late)
    assert token and second.post(found[1], data={"csrf_token": token[1]}).status_code == 303
    assert second.get(found[1]).status_code == 404 and second.get("/").status_code == 303
    codes, now = shop.extensions["invitations"], datetime.now(UTC)
    assert codes.take(codes.make(May.DESIGN, now), now + timedelta(minutes=16)) is None


@pytest.mark.parametrize("environ", [
    {"REMOTE_ADDR": "127.0.0.1", "HTTP_HOST": "192.168.7.2:5000"},
    {"REMOTE_ADDR": "127.0.0.1", "HTTP_HOST": "localhost", "HTTP_X_FORWARDED_FOR": "192.168.7.20"},
    {"REMOTE_ADDR": "192.168.7.20", "HTTP_HOST": "localhost"},
], ids=["by the network's name", "through a proxy", "from elsewhere, saying localhost"])  # fmt: skip
def test_only_who_sits_at_the_machine_comes_in_without(shop: Flask, environ: dict[str, str], tmp_path: Path) -> None:
    assert device(shop, **environ).get("/").status_code == 303
    assert shop.test_client().get("/").status_code == 200
    proxied = create_app(tmp_path, entry=Entry(shared=True, everybody=True))
    assert proxied.test_client().get("/").status_code == 303


def test_the_passphrase_is_kept_as_a_hash_of_its_owner(tmp_path: Path) -> None:
    with pytest.raises(InputError, match="at least 8 characters"):
        set_passphrase(tmp_path, "short")
    set_passphrase(tmp_path, WORDS)
    path = tmp_path / "passphrase"
    assert path.stat().st_mode & 0o777 == 0o600 and path.read_text().startswith("$argon2id$")
    assert is_passphrase(tmp_path, WORDS) and not is_passphrase(tmp_path, WORDS + " ")
    assert not is_passphrase(tmp_path / "nowhere", "")


@pytest.mark.parametrize("way", [Way(host="0.0.0.0"), Way(lan=True), Way(proxy=True), Way(host="192.168.7.2")], ids=str)
def test_without_a_passphrase_nothing_but_this_machine_is_listened_to(tmp_path: Path, way: Way) -> None:
    with pytest.raises(InputError, match="choose a passphrase first"):
        run(tmp_path, way, lambda _: None)
    assert list(tmp_path.iterdir()) == []


def test_the_network_finds_it_by_an_address(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(network, "own_addresses", lambda: ["192.168.7.2", "10.0.0.5"])
    monkeypatch.setattr(network, "own_names", lambda: ["quay", "quay.local"])
    way = Way(lan=True, port=5055, hosts=("shop.example",))
    assert way.at == "0.0.0.0" and way.address == "http://192.168.7.2:5055/"
    assert way.names == ["192.168.7.2", "10.0.0.5", "quay", "quay.local", "shop.example"]
    assert Way().address == "" and not Way().shared and Way().names == ["127.0.0.1"]


def test_it_speaks_tls_with_a_certificate_of_ones_own(tmp_path: Path) -> None:
    app = create_app(tmp_path)
    key, certificate = tmp_path / "key.pem", tmp_path / "certificate.pem"
    subprocess.run([
        "openssl", "req", "-x509", "-newkey", "ec", "-pkeyopt", "ec_paramgen_curve:prime256v1", "-nodes", "-days", "2",
        "-keyout", key, "-out", certificate, "-subj", "/CN=localhost", "-addext", "subjectAltName=DNS:localhost",
    ], check=True, capture_output=True)  # fmt: skip
    app.add_url_rule("/who", "who", lambda: tls.address_of(str(request.remote_addr), request.environ["REMOTE_PORT"]))
    behind = create_server(app, host="127.0.0.1", port=0, url_scheme="https")
    Thread(target=behind.run, daemon=True).start()
    listening: list[int] = []

    async def listen() -> None:
        server = await tls.front("127.0.0.1", 0, behind.effective_port, tls.context(certificate, key))
        listening.append(server.sockets[0].getsockname()[1])
        await server.serve_forever()

    Thread(target=lambda: asyncio.run(listen()), daemon=True).start()
    while not listening:
        pass
    trusting = ssl.create_default_context(cafile=str(certificate))
    with urllib.request.urlopen(f"https://localhost:{listening[0]}/", context=trusting) as answer:
        assert b"Laberinto" in answer.read()
    # whose guesses are counted: of who came, not of what handed them on
    line = HTTPSConnection("localhost", listening[0], source_address=("127.0.0.2", 0), context=trusting)
    line.request("GET", "/who")
    assert line.getresponse().read() == b"127.0.0.2"
    line.close()
    with pytest.raises(InputError, match="cannot be used"):
        tls.context(certificate, certificate)
    behind.close()


def test_a_backup_is_saved_from_the_page_and_its_folder_is_chosen(tmp_path: Path) -> None:
    app = create_app(tmp_path / "shop")
    visitor, store = Visitor(app.test_client()), app.extensions["store"]
    store.create(Alternating(strips=6, slices=6).plan("Shoal"))
    place = visitor.post("/safe/backup").headers["Location"]
    job = app.extensions["jobs"].get(("safe.make", 0))
    assert place == "/printing/safe.make/0" and job.done.wait(120)
    page = visitor.get(place).get_data(as_text=True)
    saved = re.search(r'href="(/printing/safe.make/0/laberinto-[\d-]+\.zip)"', page)
    assert saved and "was read back" in page
    (tmp_path / "shop.zip").write_bytes(visitor.get(saved[1]).data)
    assert verify(tmp_path / "shop.zip").boards == 1
    assert visitor.get("/printing/safe.make/0/other.zip").status_code == 404
    (left,) = (tmp_path / "shop").glob("made-*")  # what a server leaves that is killed now
    clear(tmp_path / "shop")
    assert not left.exists()
    disk = tmp_path / "disk"
    for typed, says in (("disk", "whole path"), (str(disk), "There is no folder"), ("/proc", "Nothing can be written")):
        refused = visitor.post("/safe/folder", folder=typed)
        assert refused.status_code == 422 and says in refused.get_data(as_text=True)
    disk.mkdir()
    assert visitor.post("/safe/folder", folder=str(disk)).status_code == 303
    assert store.preferences()[PREFERENCE] == str(disk)
    assert visitor.get("/safe/2026-11-29.zip").status_code == visitor.get("/safe/x.zip").status_code == 404


def test_while_nobody_asks_the_day_is_backed_up(tmp_path: Path) -> None:
    app = create_app(tmp_path)
    day = datetime(2026, 11, 29, tzinfo=UTC)
    store = app.extensions["store"]
    (lot,) = store.timber.add([Lot.of(wood="elm", length=900.0, width=90.0, thickness=30.0)])
    store.timber.remove(lot)
    look_after(app, day)
    look_after(app, day)
    assert [path.name for path in (tmp_path / "backups").iterdir()] == ["laberinto-2026-11-29.zip"]
    assert app.test_client().get("/safe/2026-11-29.zip").status_code == 200
    assert b"Sunday 29 November" in app.test_client().get("/safe").data
    assert len(store.trash.all()) == 1
    look_after(app, datetime.now(UTC) + timedelta(days=31))  # its month is over while the server runs
    assert store.trash.all() == []


@pytest.mark.usefixtures("own_log")
def test_the_log_names_time_level_and_request_and_turns(tmp_path: Path, app: Flask, visitor: Visitor) -> None:
    path = logs.set_up(tmp_path, verbose=True, request=asked.number)
    answer = visitor.get("/healthz")
    number = answer.headers["X-Request-Id"]
    assert answer.json == {"state": "well"}
    assert re.search(
        rf"^20\S+ \S+ DEBUG   {number} laberinto.web.app.asked: GET /healthz 200 in", path.read_text(), re.M
    )
    for _ in range(30):
        logging.getLogger("laberinto").info("x" * 100_000)
    assert (tmp_path / "logs" / "laberinto.log.1").exists() and path.stat().st_size <= logs.MOST
    assert path.parent.stat().st_mode & 0o077 == 0
