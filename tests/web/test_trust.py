"""Two at once and twice the same: what was shown is what is changed, and a form pressed twice makes one thing."""

from __future__ import annotations

import re
from concurrent.futures import ThreadPoolExecutor

import pytest
from flask import Flask

from laberinto.store import Shelf, Store

from .conftest import Visitor


@pytest.mark.parametrize("path", ["undo", "redo", "restore", "pin", "switch"])
def test_what_was_overtaken_changes_nothing_and_says_by_what(
    visitor: Visitor, store: Store, board: int, path: str
) -> None:
    seen = store.board(board)
    assert seen is not None
    store.pin(board, "A")
    plan = seen.plan.model_copy(update={"name": "Theirs"})
    store.save(board, plan, "renamed Theirs", based_on=seen.revision)
    now, history = store.board(board), store.revisions(board).all()
    for revision in (str(seen.revision), "", "x"):
        answer = visitor.post(f"/boards/{board}/{path}", letter="A", to=str(seen.revision), revision=revision)
        page = answer.get_data(as_text=True)
        assert answer.status_code == 409 and "Nothing was changed by yours." in page
        assert "renamed Theirs" in page or revision != str(seen.revision)
    assert store.board(board) == now and store.revisions(board).all() == history
    done = visitor.post(f"/boards/{board}/{path}", letter="A", to=str(seen.revision))
    assert done.status_code == 303 or path == "redo"


def test_a_form_pressed_twice_makes_one_thing(visitor: Visitor, store: Store, board: int) -> None:
    page = visitor.get(f"/boards/{board}").get_data(as_text=True)
    word = re.search(r'/copy">.*?name="once" value="([^"]+)"', page)
    assert word
    first, second = (visitor.post(f"/boards/{board}/copy", once=word[1]) for _ in range(2))
    assert first.headers["Location"] == second.headers["Location"] and len(store.boards()) == 2
    other = visitor.post(f"/boards/{board}/copy", once="another page")
    assert other.headers["Location"] != first.headers["Location"] and len(store.boards()) == 3


def test_what_was_refused_may_be_sent_again(visitor: Visitor, store: Store) -> None:
    for lines, status in (("6 cheese 900 x 90 x 30", 422), ("6 beech plank 900 x 90 x 30", 303)):
        assert visitor.post("/timber/lines", lines=lines, once="a word").status_code == status
    visitor.post("/timber/lines", lines="6 beech plank 900 x 90 x 30", once="a word")
    assert [view.lot.count for view in store.timber.lots()] == [6]


def test_of_two_that_come_together_the_second_waits_for_the_first(app: Flask, store: Store, board: int) -> None:
    visitors = [Visitor(app.test_client()) for _ in range(6)]
    for one in visitors:
        one.get("/")
    with ThreadPoolExecutor(len(visitors)) as pool:
        answers = list(pool.map(lambda one: one.post(f"/boards/{board}/copy", once="together"), visitors))
    assert len({answer.headers["Location"] for answer in answers}) == 1 and len(store.boards()) == 2


def test_only_what_was_removed_is_deleted(visitor: Visitor, store: Store, board: int) -> None:
    refused = visitor.post(f"/boards/{board}/delete")
    assert refused.status_code == 422 and "Remove it first" in refused.get_data(as_text=True)
    store.put(board, Shelf.REMOVED)
    assert visitor.post(f"/boards/{board}/delete").status_code == 303 and store.board(board) is None


def test_photos_come_out_of_the_trash(visitor: Visitor, store: Store, board: int) -> None:
    build = store.build(board)
    photo = build.keep_photo("strips.mill", b"a picture")
    page = visitor.post(f"/boards/{board}/build/photo", htmx=True, erase=photo).get_data(as_text=True)
    (thing,) = store.trash.all()
    assert "A photo was removed." in page and f"/trash/{thing.id}/back" in page and not build.photos()
    listed = visitor.get("/trash").get_data(as_text=True)
    assert "Shoal</b>, photo of a step" in listed and f"/trash/{thing.id}/photo.jpg" in listed
    assert visitor.get(f"/trash/{thing.id}/photo.jpg").data == b"a picture"
    assert visitor.post(f"/trash/{thing.id}/back").headers["Location"] == f"/boards/{board}/build"
    assert len(build.photos()) == 1 and "Nothing lies here" in visitor.get("/trash").get_data(as_text=True)
    build.erase_photo(build.photos()[0].id)
    visitor.post(f"/trash/{store.trash.all()[0].id}/delete")
    assert not store.trash.all() and visitor.get("/trash/1/photo.jpg").status_code == 404
