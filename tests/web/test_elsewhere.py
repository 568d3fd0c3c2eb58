"""Board files through the pages: saved, looked through, brought in or left."""

from __future__ import annotations

import io
from collections.abc import Iterator
from dataclasses import replace
from datetime import UTC, datetime
from pathlib import Path

import pytest
from flask import Flask
from werkzeug.test import TestResponse

from laberinto.core.errors import InputError
from laberinto.core.timber import Lot
from laberinto.core.woods import LIBRARY
from laberinto.files.boardfile import write_board
from laberinto.store import Store
from laberinto.web.app import incoming

from ..files.whole import QUAY, furnished, jpeg
from .conftest import Visitor


@pytest.fixture
def theirs(tmp_path: Path) -> Iterator[bytes]:
    """A board of another shop, as a file; this shop does not know its wood."""
    other, board = furnished(tmp_path / "other")
    data = write_board(other.whole.read(board), datetime.now(UTC), "1.0")
    LIBRARY.take_in(())
    yield data
    LIBRARY.take_in(())


def send(visitor: Visitor, data: bytes) -> TestResponse:
    return visitor.post("/boards/open", plan=(io.BytesIO(data), "theirs.laberinto.zip"))


def test_what_it_would_bring_is_shown_before_anything_is_taken(visitor: Visitor, store: Store, theirs: bytes) -> None:
    answer = send(visitor, theirs)
    assert answer.status_code == 303
    page = visitor.get(answer.headers["Location"]).get_data(as_text=True)
    for words in ("Skerry", "3 changes and 2 variants", "1 step done, 1 entry, 3 photos, 1 fault", "1 lesson",
                  "Quay pear: new here", "it was cut from", "The chandler", "Nothing was taken yet"):  # fmt: skip
        assert words in page
    assert not store.boards() and not store.woods.all() and not store.timber.kept()
    visitor.post(answer.headers["Location"], called="Skerry", lots="yes", order="yes", ours="yes")
    (board,) = store.boards()
    assert board.order_for == "The chandler" and len(store.build(board.id).photos()) == 3
    assert "quay-pear" in LIBRARY and store.timber.kept() and len(store.readings()) == 1
    assert visitor.get(f"/boards/{board.id}").status_code == 200
    assert visitor.get(answer.headers["Location"]).status_code == 404  # it does not wait any more


def test_it_never_overwrites(visitor: Visitor, store: Store, theirs: bytes) -> None:
    store.woods.keep(QUAY.model_copy(update={"density": 400.0}))
    store.timber.add([Lot.of(wood="elm", length=900.0, width=90.0, thickness=30.0)])
    LIBRARY.take_in(store.woods.all())
    first = send(visitor, theirs).headers["Location"]
    visitor.post(first, called="Skerry")
    second = send(visitor, theirs).headers["Location"]
    page = visitor.get(second).get_data(as_text=True)
    assert (
        "There is a Skerry already" in page and 'value="Skerry 2"' in page and "checked" not in page.split("<main")[1]
    )
    visitor.post(second, called="Skerry 2")
    assert {board.name for board in store.boards()} == {"Skerry", "Skerry 2"}
    assert {wood.key: wood.density for wood in store.woods.all()}["quay-pear"] == 400.0
    assert not store.orders.all() and len(store.timber.lots()) == 1
    assert store.readings() == []  # what other machines did says nothing about these
    assert len(store.build(store.boards()[0].id).notes()) == 1  # though it stays in the log


def test_leaving_it_takes_nothing(visitor: Visitor, store: Store, theirs: bytes, app: Flask) -> None:
    waits = send(visitor, theirs).headers["Location"]
    assert visitor.post(waits, leave="yes").status_code == 303
    assert not store.boards() and visitor.get(waits).status_code == 404
    for name in ("0" * 32, "..", "%2e%2e%2fsecret", "x" * 500):
        assert visitor.get(f"/boards/coming/{name}").status_code == 404
    for _ in range(incoming.MOST_WAITING + 3):
        send(visitor, theirs)
    assert len(list((Path(app.config["DATA"]) / incoming.FOLDER).iterdir())) == incoming.MOST_WAITING


def test_a_damaged_one_says_why(visitor: Visitor, store: Store, theirs: bytes) -> None:
    answer = send(visitor, theirs[: len(theirs) // 2])
    assert answer.status_code == 422 and "cut off on the way" in answer.get_data(as_text=True)
    assert not store.boards()


def test_a_photo_in_it_is_a_photo_or_nothing_comes(visitor: Visitor, store: Store, theirs: bytes) -> None:
    """Pictures are looked at before they are kept: none is damaged, larger than ours, or says where it was taken."""
    coming = incoming.look_through(theirs)
    large = replace(coming, board=replace(coming.board, photos=(jpeg("red", (4000, 20)), *coming.board.photos[1:])))
    board = incoming.bring(store, large, lots=False, order=False, ours=False)
    kept = store.build(board).photo(store.build(board).photos()[0].id)
    assert kept is not None and kept != large.board.photos[0]
    broken = replace(coming, board=replace(coming.board, photos=(b"no picture", *coming.board.photos[1:])))
    with pytest.raises(InputError, match="photo in that board file is damaged"):
        incoming.bring(store, broken, lots=False, order=False, ours=False)
    assert len(store.boards()) == 1


def test_a_wood_that_nobody_knows_is_named(visitor: Visitor, store: Store, tmp_path: Path) -> None:
    other, board = furnished(tmp_path / "other")
    other.woods.remove("quay-pear")
    data = write_board(other.whole.read(board), datetime.now(UTC), "1.0")
    LIBRARY.take_in(())
    answer = send(visitor, data)
    assert answer.status_code == 422 and "made of quay-pear" in answer.get_data(as_text=True) and not store.boards()


def test_a_board_is_saved_whole(visitor: Visitor, store: Store, board: int) -> None:
    answer = visitor.get(f"/boards/{board}/board.laberinto.zip")
    assert answer.headers["Content-Disposition"].endswith('shoal.laberinto.zip"') and answer.data.startswith(b"PK")
    assert send(visitor, answer.data).status_code == 303
