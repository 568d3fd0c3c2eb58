"""Behind a real proxy, set up as docs/operating.md says: everybody signs in, and nobody who says nothing makes others
wait."""

from __future__ import annotations

import re
import shutil
import socket
import subprocess
import time
import urllib.error
import urllib.request
from collections.abc import Iterator
from pathlib import Path
from threading import Thread

import pytest
from waitress import create_server

from laberinto.web import create_app
from laberinto.web.app.doors import Entry
from laberinto.web.serving import FORWARDED, LIMITS, THREADS

DOCS = Path(__file__).parents[2] / "docs" / "operating.md"


def free_port() -> int:
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])


@pytest.fixture
def proxied(tmp_path: Path) -> Iterator[int]:
    """The port of a proxy before a shop."""
    app = create_app(tmp_path / "shop", ["shop.example"], entry=Entry(shared=True, everybody=True))
    server = create_server(
        app, host="127.0.0.1", port=0, threads=THREADS, trusted_proxy="127.0.0.1", trusted_proxy_headers=FORWARDED,
        **LIMITS,
    )  # fmt: skip
    Thread(target=server.run, daemon=True).start()
    block = re.search(r"```nginx\n(.*?)```", DOCS.read_text(), re.S)
    assert block
    port = free_port()
    told = block[1].replace("listen 80;", f"listen 127.0.0.1:{port};").replace(":5000", f":{server.effective_port}")
    places = "\n".join(
        f"{name}_temp_path {tmp_path}/{name};" for name in ("client_body", "proxy", "fastcgi", "uwsgi", "scgi")
    )
    config = tmp_path / "nginx.conf"
    config.write_text(
        f"daemon off; pid {tmp_path}/pid; error_log stderr; worker_processes 1;\nevents {{ worker_connections 1024; }}\n"
        f"http {{ access_log off; {places}\n{told} }}\n"
    )
    program = shutil.which("nginx") or "/usr/sbin/nginx"
    with subprocess.Popen([program, "-c", config, "-p", tmp_path], stderr=subprocess.DEVNULL) as proxy:
        for _ in range(600):
            with socket.socket() as probe:
                if not probe.connect_ex(("127.0.0.1", port)):
                    break
            time.sleep(0.1)
        yield port
        proxy.terminate()
    server.close()


def asked(port: int, path: str, host: str = "shop.example") -> tuple[int, str, str]:
    request = urllib.request.Request(f"http://127.0.0.1:{port}{path}", headers={"Host": host})
    try:
        with urllib.request.urlopen(request) as answer:
            return answer.status, answer.url, answer.read().decode()
    except urllib.error.HTTPError as error:
        return error.code, error.url, error.read().decode()


def test_a_proxy_of_the_docs_lets_nobody_in_who_is_not_signed_in(proxied: int) -> None:
    silent = [socket.create_connection(("127.0.0.1", proxied)) for _ in range(101)]
    for line in silent:
        line.sendall(b"GET / HTTP/1.1\r\nHost: shop")
    status, _, page = asked(proxied, "/static/mark.svg")
    assert status == 200 and "<svg" in page
    request = urllib.request.Request(f"http://127.0.0.1:{proxied}/", headers={"Host": "shop.example"})
    answer = urllib.request.build_opener(Stay).open(request)
    assert answer.status == 303 and answer.headers["Location"].startswith("/sign-in")
    assert asked(proxied, "/healthz")[0] == 200
    assert asked(proxied, "/", "elsewhere.example")[0] == 421
    for line in silent:
        line.close()


class Stay(urllib.request.HTTPRedirectHandler):
    """Follows nothing."""

    def http_error_303(self, req, fp, code, msg, headers):  # type: ignore[no-untyped-def]
        return fp
