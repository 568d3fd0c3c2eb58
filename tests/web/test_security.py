"""Who is answered: names of this machine, names that were allowed, and nobody else."""

from __future__ import annotations

from pathlib import Path

import pytest
from flask import Flask

from laberinto.web import create_app
from laberinto.web.app.security import host_name


@pytest.mark.parametrize("host", ["localhost", "127.0.0.1:5000", "[::1]:5000", "LOCALHOST.:80"])
def test_this_machine_answers_to_its_own_names(app: Flask, host: str) -> None:
    assert app.test_client().get("/", headers={"Host": host}).status_code == 200


@pytest.mark.parametrize("path", ["/", "/boards/1/edit", "/static/mark.svg", "/nowhere"])
@pytest.mark.parametrize(
    "host", ["boards.example", "127.0.0.1.example", "localhost.example:5000", "", "localhost@evil", "localhost/x"]
)
def test_any_other_name_is_refused_plainly(app: Flask, host: str, path: str) -> None:
    answer = app.test_client().get(path, headers={"Host": host})
    assert answer.status_code == 421 and answer.mimetype == "text/plain"
    assert "--allow-host" in answer.get_data(as_text=True)


def test_names_can_be_allowed(tmp_path: Path) -> None:
    client = create_app(tmp_path, hosts=["Shop.Local", "192.168.1.5"]).test_client()
    for host, status in (("shop.local:8080", 200), ("192.168.1.5", 200), ("other.local", 421)):
        assert client.get("/", headers={"Host": host}).status_code == status


def test_a_port_is_no_part_of_a_name() -> None:
    assert host_name("shop.local:8080") == "shop.local" and host_name("[fe80::1]:80") == "[fe80::1]"


@pytest.mark.parametrize("left", ["", "abc"])
def test_a_secret_that_was_cut_short_is_made_anew(tmp_path: Path, left: str) -> None:
    (tmp_path / "secret").write_text(left)
    app = create_app(tmp_path)
    assert len(app.config["SECRET_KEY"]) == 64 == len((tmp_path / "secret").read_text())
    assert app.test_client().get("/").status_code == 200
    assert create_app(tmp_path).config["SECRET_KEY"] == app.config["SECRET_KEY"]
