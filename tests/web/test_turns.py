"""Pages go before pictures, and what is sent to the machine itself is not packed."""

from __future__ import annotations

import re
from collections.abc import Callable
from threading import Thread

import pytest
from flask import Flask

from laberinto.store import Store
from laberinto.web.app import turns
from laberinto.web.app.turns import PATIENCE, TURNS, NobodyWaitsError, Rank, Turns, between
from laberinto.web.serving import LIMITS

from .conftest import Visitor
from .test_studio import edit


def test_a_picture_is_painted_between_pages_and_comes_however_busy_it_is(monkeypatch: pytest.MonkeyPatch) -> None:
    """It waits for a page that takes two seconds; of the next, which never ends, for what is left of its patience, and
    that once for the whole picture, not for each part."""
    busy, clock, waits = Turns(), [100.0], list[float]()

    def wait_for(free: Callable[[], bool], most: float) -> None:
        assert not free()
        waits.append(most)
        clock[0] += 2.0 if len(waits) == 1 else most
        if len(waits) == 1:
            busy.change(-1)

    monkeypatch.setattr(turns, "monotonic", lambda: clock[0])
    monkeypatch.setattr(busy._freed, "wait_for", wait_for)
    busy.change(1)
    parts = busy.between("abc")
    assert next(parts) == "a" and waits == [PATIENCE]
    with busy.first():
        assert [*parts] == ["b", "c"] and waits == [PATIENCE, PATIENCE - 2.0]
    assert [*busy.between("ab")] == ["a", "b"] and len(waits) == 2


def test_a_page_that_is_answered_lets_the_picture_go_on() -> None:
    busy, painted = Turns(), list[str]()
    painting = Thread(target=lambda: painted.extend(busy.between("abc")))
    with busy.first():
        painting.start()
    painting.join()
    assert painted == ["a", "b", "c"]


def test_what_nobody_waits_for_is_not_painted(
    app: Flask, visitor: Visitor, board: int, monkeypatch: pytest.MonkeyPatch
) -> None:
    """The second look finds that the browser has left, as it does when it asks for a newer picture."""
    looks = iter([False, True])
    done = list[str]()
    left = {"waitress.client_disconnected": lambda: next(looks)}
    with app.test_request_context(environ_base=left), pytest.raises(NobodyWaitsError):
        for part in between("abc"):
            done.append(part)
    assert done == ["a"]
    gone = {"waitress.client_disconnected": lambda: True}
    assert visitor.get(f"/boards/{board}/knots.webp", environ_base=gone).status_code == 204
    assert visitor.get(f"/boards/{board}/knots.webp").status_code == 200
    assert LIMITS["channel_request_lookahead"]  # without which the server never looks whether anybody left


def test_small_pictures_come_after_the_large_drawing() -> None:
    busy, painted = Turns(), list[str]()
    small = Thread(target=lambda: painted.extend(busy.between("xy", Rank.SMALL)))
    with busy.first(Rank.DRAWING):
        small.start()
        painted.extend(busy.between("abc"))
    small.join()
    assert painted == ["a", "b", "c", "x", "y"]


def pages() -> int:
    return TURNS._ahead[Rank.PAGE]


def test_a_page_is_told_while_it_is_answered_whatever_comes_of_it(
    app: Flask, visitor: Visitor, board: int, monkeypatch: pytest.MonkeyPatch
) -> None:
    seen: list[int] = []
    monkeypatch.setattr("laberinto.web.screens.board.routes.answer", lambda *_: seen.append(pages()) or 1 / 0)
    before = pages()
    assert visitor.get(f"/boards/{board}").status_code == 500
    assert seen == [before + 1] and pages() == before
    face = visitor.get(f"/boards/{board}/knots.webp")
    assert face.status_code == 200 and pages() == before


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
