"""The attacks of ``make harden`` in short; and that they see what is wrong."""

from __future__ import annotations

import random
import re
import sys
from collections.abc import Iterator, Mapping
from contextlib import contextmanager
from pathlib import Path

import pytest
from flask.testing import FlaskClient

from laberinto.web import create_app
from scripts import harden
from scripts.harden import Bounds, Part, damaged, fuzzed, served
from tests.browser.servers import Server

SHORT: dict[Part, int] = {
    harden.requests: 60, harden.plans: 18, harden.uploads: 30, harden.kills: 3, harden.visitors: 2, harden.beside: 6,
    harden.edits: 30,
}  # fmt: skip


@contextmanager
def split_off(folder: Path) -> Iterator[served.Server]:
    """As ``served``, from the process that servers of browser tests are split off from: that one has read all code."""
    server = Server(folder)
    server.start()
    try:
        yield served.Server(server.pid, server.port)
    finally:
        server.stop()


@pytest.mark.parametrize("part", harden.PARTS, ids=lambda part: part.__name__)
def test_nothing_breaks(part: Part, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    assert set(SHORT) == set(harden.PARTS)
    visiting = sys.modules["scripts.harden.visitors"]
    monkeypatch.setattr(visiting, "MANY", 12)
    monkeypatch.setattr(visiting, "READS", (0.0, 0.3))  # all of them at once, nearly
    if part is not harden.visitors:  # one of them has the server that make harden has
        for module in (visiting, fuzzed):
            monkeypatch.setattr(module, "served", split_off)
    report = part(Bounds(10_000, SHORT[part]), tmp_path, random.Random(11))
    assert report.wrong == [] and report.done >= SHORT[part]


class Within:
    """Asks an application of this process."""

    def __init__(self, client: FlaskClient) -> None:
        self._client, self._token = client, ""

    def get(self, path: str, values: Mapping[str, object] = {}) -> int:
        return self._client.get(path, query_string=dict(values)).status_code

    def post(self, path: str, values: Mapping[str, object]) -> int:
        return self._client.post(path, data={"csrf_token": self._token, **values}).status_code

    def renew(self) -> None:
        found = re.search(r'name="csrf_token" value="([^"]+)"', self._client.get("/").get_data(as_text=True))
        assert found
        self._token = found[1]


def test_what_is_wrong_is_seen(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    def broken(*_: object) -> None:
        raise ZeroDivisionError

    monkeypatch.setattr("laberinto.web.screens.board.routes.find", broken)
    monkeypatch.setattr("laberinto.web.screens.board.keeping.find", broken)
    monkeypatch.setattr(damaged, "simulate", broken)
    monkeypatch.setattr(damaged, "_picture", broken)
    app = create_app(tmp_path)
    rules = [rule for rule in app.url_map.iter_rules() if rule.endpoint != "static"]
    found = fuzzed.fuzz(Bounds(10_000, 120), Within(app.test_client()), rules, random.Random(1))
    assert found.wrong and all(words.startswith("/boards/") for words in found.wrong)
    assert harden.plans(Bounds(10_000, 20), tmp_path, random.Random(1)).wrong
    assert harden.uploads(Bounds(10_000, 20), tmp_path / "more", random.Random(1)).wrong
