"""Pages go before pictures, and what is sent to the machine itself is not packed."""

from __future__ import annotations

import re

import pytest
from flask import Flask

from laberinto.store import Store
from laberinto.web.app import turns
from laberinto.web.app.turns import MOST_TIMES, TURNS, Turns

from .conftest import Visitor
from .test_studio import edit


def test_a_picture_is_painted_between_pages_and_comes_however_busy_it_is(monkeypatch: pytest.MonkeyPatch) -> None:
    """Two pages are answered while it waits, one after three looks and the other after four. Of the next that never
    ends it waits its share for the whole picture, not for each part."""
    busy, looks = Turns(), []

    def looked(_: float) -> None:
        looks.append(len(looks) + 1)
        if len(looks) in (3, 4):
            busy.change(-1)

    monkeypatch.setattr(turns, "sleep", looked)
    busy.change(2)
    parts = busy.between("abc")
    assert next(parts) == "a" and len(looks) == 4
    busy.change(1)
    assert [*parts] == ["b", "c"] and len(looks) == MOST_TIMES


def test_a_page_is_told_while_it_is_answered_whatever_comes_of_it(
    app: Flask, visitor: Visitor, board: int, monkeypatch: pytest.MonkeyPatch
) -> None:
    seen: list[int] = []
    monkeypatch.setattr("laberinto.web.screens.board.routes.answer", lambda *_: seen.append(TURNS._pages) or 1 / 0)
    before = TURNS._pages
    assert visitor.get(f"/boards/{board}").status_code == 500
    assert seen == [before + 1] and TURNS._pages == before
    face = visitor.get(f"/boards/{board}/knots.webp")
    assert face.status_code == 200 and TURNS._pages == before


def test_pages_are_packed_for_other_machines_only(visitor: Visitor) -> None:
    packed = {"Accept-Encoding": "gzip"}
    assert "Content-Encoding" not in visitor.get("/", headers=packed).headers
    there = visitor.get("/", headers=packed, environ_base={"REMOTE_ADDR": "192.0.2.7"})
    through = visitor.get("/", headers=packed | {"X-Forwarded-For": "192.0.2.7"})
    assert {there.headers["Content-Encoding"], through.headers["Content-Encoding"]} == {"gzip"}


def test_the_line_of_a_strip_shows_what_it_is_now(visitor: Visitor, store: Store, board: int) -> None:
    """Written once, and anew with whatever it shows: width, wood, units and what is wrong in it."""

    def line(page: str, at: int = 1) -> str:
        found = re.search(rf'<li id="strip-{at}".*?</li>', page)
        assert found
        return found[0]

    def now() -> str:
        return line(visitor.get(f"/boards/{board}?stage=strips").get_data(as_text=True))

    first = now()
    assert now() == first and 'value="30"' in first
    wrong = edit(visitor, store, board, "strip-width", "strips", at=1, edited="width-1", **{"width-1": "wide"})
    assert 'value="wide"' in line(wrong) and 'role="alert"' in line(wrong) and 'role="alert"' not in line(wrong, 2)
    assert now() == first
    edit(visitor, store, board, "strip-width", "strips", at=1, edited="width-1", **{"width-1": "44.45"})
    assert 'value="44.45"' in now()
    visitor.post("/preference", key="units", value="in32", back="/")
    assert 'value="1 3/4&#34;"' in now()
