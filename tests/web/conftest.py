"""An application on a fresh data folder, and a client that sends forms as the pages do."""

from __future__ import annotations

import re
import shutil
from collections.abc import Iterator
from pathlib import Path
from typing import Any
from urllib.parse import parse_qs, urlsplit

import pytest
from flask import Flask
from flask.testing import FlaskClient
from sqlalchemy import Engine
from werkzeug.test import TestResponse

from laberinto.core.patterns import Alternating
from laberinto.store import Store, open_database
from laberinto.web import create_app
from laberinto.web.app.jobs import Jobs
from tests.empty import new_shop


class AsRead(TestResponse):
    """An answer whose pages read as a browser reads them: however templates break their lines, it sees one space."""

    _read = ""

    def get_data(self, as_text: bool = False) -> Any:
        if not as_text or self.mimetype != "text/html":
            return super().get_data(as_text=as_text)
        if not self._read:
            data = super().get_data(as_text=True)
            self._read = " ".join(data.split()).replace(" >", ">").replace(" />", "/>")
        return self._read


class Visitor:
    """A client that fetches the form token first, as a person's browser would have, and keeps it as long as its
    session lasts."""

    def __init__(self, client: FlaskClient) -> None:
        client.response_wrapper = type("Read", (AsRead, client.response_wrapper), {})
        self.client = client
        self._token = "", ""

    @property
    def token(self) -> str:
        """What says that a form comes from a page of ours."""
        session = self.client.application.config["SESSION_COOKIE_NAME"]
        cookie = self.client.get_cookie(session)
        if cookie is None or self._token[0] != cookie.value:
            found = re.search(r'name="csrf_token" value="([^"]+)"', self.client.get("/").get_data(as_text=True))
            cookie = self.client.get_cookie(session)
            assert found and cookie
            self._token = cookie.value, found[1]
        return self._token[1]

    def get(self, path: str, **values: Any) -> TestResponse:
        return self.client.get(path, **values)

    def post(self, path: str, htmx: bool = False, **form: Any) -> TestResponse:
        headers = {"HX-Request": "true"} if htmx else {}
        if (found := re.fullmatch(r"/boards/(\d+)/(undo|redo|restore|pin|switch)", path)) and "revision" not in form:
            board = self.client.application.extensions["store"].board(int(found[1]))
            form["revision"] = board.revision if board else 0  # as the page that was just looked at shows it
        return self.client.post(path, data={"csrf_token": self.token, **form}, headers=headers)

    def printed(self, path: str) -> TestResponse:
        """The PDF that a press of a button makes, once it is printed; what is answered instead where none is."""
        at = urlsplit(path)
        begun = self.post(at.path, **parse_qs(at.query))
        if begun.status_code != 303:
            return begun
        kind, number = begun.headers["Location"].removeprefix("/printing/").split("/")
        job = self.client.application.extensions["jobs"].get((kind, int(number)))
        assert job.done.wait(240) and not job.failed and job.error is None, job
        return self.client.get(begun.headers["Location"], follow_redirects=True)


@pytest.fixture(scope="session")
def empty(tmp_path_factory: pytest.TempPathFactory) -> tuple[Flask, Path, Engine]:
    """An application, an empty database, and an engine on whatever database ``current`` beside it leads
    to, made once: addresses, templates and statements take long to read."""
    folder = tmp_path_factory.mktemp("empty")
    database = new_shop(folder / "empty")
    current = database.with_name("current")
    current.symlink_to(database)
    return create_app(folder), database, open_database(current)


@pytest.fixture
def app(empty: tuple[Flask, Path, Engine], tmp_path: Path) -> Iterator[Flask]:
    """The application with a database and jobs of its own, and nobody at work in it but the test."""
    made, database, engine = empty
    shutil.copy(database, tmp_path)
    engine.dispose()
    beside = database.with_name("next")
    beside.symlink_to(tmp_path / database.name)
    beside.replace(database.with_name("current"))  # at once, so that nobody finds no database and makes one
    made.extensions["store"] = Store(engine)
    made.extensions["jobs"] = Jobs()
    usual = set(made.extensions)
    yield made
    for name in set(made.extensions) - usual:  # what a test has turned on
        worker = made.extensions.pop(name)
        worker.rest()


@pytest.fixture
def store(app: Flask) -> Store:
    return app.extensions["store"]


@pytest.fixture
def visitor(app: Flask) -> Visitor:
    return Visitor(app.test_client())


@pytest.fixture
def board(store: Store) -> int:
    return store.create(Alternating(strips=6, slices=6).plan("Shoal"))
