"""A board as a whole: for whom and until when, another like it, and its files."""

from __future__ import annotations

import json
import re

import pytest

from laberinto.core.patterns import FAMILIES
from laberinto.files.exports import EXPORTS
from laberinto.store import Store

from .conftest import Visitor


def test_for_whom_and_until_when_is_noted_and_taken_away(visitor: Visitor, store: Store, board: int) -> None:
    visitor.post(f"/boards/{board}/order", order_for="  The pilot  station ", due="2027-03-14")
    view = store.board(board)
    assert view is not None and view.order_for == "The pilot station"
    assert view.due is not None and view.due.date().isoformat() == "2027-03-14"
    assert "The pilot station" in visitor.get("/").get_data(as_text=True)
    visitor.post(f"/boards/{board}/order", order_for="", due="")
    view = store.board(board)
    assert view is not None and (view.order_for, view.due) == ("", None)


@pytest.mark.parametrize(
    ("sent", "says"),
    [
        ({"due": "soon"}, "“soon” is no day"),
        ({"due": "2027-02-30"}, "is no day"),
        ({"order_for": "x" * 81}, "80 fit here"),
    ],
)
def test_what_is_no_day_stands_beside_its_field_and_nothing_is_kept(
    visitor: Visitor, store: Store, board: int, sent: dict[str, str], says: str
) -> None:
    before = store.board(board)
    answer = visitor.post(f"/boards/{board}/order", **({"order_for": "", "due": ""} | sent))
    assert answer.status_code == 422 and says in answer.get_data(as_text=True)
    after = store.board(board)
    assert before is not None and after is not None and (before.order_for, before.due) == (after.order_for, after.due)


def test_another_like_it_has_its_plan_and_a_name_of_its_own(visitor: Visitor, store: Store, board: int) -> None:
    first = store.board(board)
    assert first is not None
    for name in (f"{first.name} 2", f"{first.name} 3"):
        made = int(visitor.post(f"/boards/{board}/copy").headers["Location"].rsplit("/", 1)[1].partition("?")[0])
        copy = store.board(made)
        assert copy is not None and copy.name == name and copy.plan.stages == first.plan.stages
        assert not copy.can_undo and store.build(made).ticks() == {}


@pytest.mark.parametrize("key", EXPORTS)
def test_a_board_is_saved_in_every_format(visitor: Visitor, board: int, key: str) -> None:
    page = visitor.get(f"/boards/{board}").get_data(as_text=True)
    assert EXPORTS[key].suffix in page
    answer = visitor.get(f"/boards/{board}/export/{key}")
    assert answer.headers["Content-Disposition"].endswith(EXPORTS[key].suffix)
    starts = {
        "stl": b"", "png": b"\x89PNG", "glb": b"glTF", "svg": b"<svg", "laser": b"<svg", "dxf": b"  0\nSECTION",
        "stl-woods": b"PK", "3mf": b"PK",
    }.get(key, b"{")  # fmt: skip
    assert answer.data.startswith(starts) and len(answer.data) > 200
    if key == "plan":
        assert json.loads(answer.data)["format"] == "laberinto-plan"
    assert visitor.get(f"/boards/{board}/export/no-such").status_code == 404


def test_boards_are_found_by_name_for_whom_and_wood_and_sorted(visitor: Visitor, store: Store, board: int) -> None:
    other = store.create(FAMILIES["alternating"](light="ash", dark="elm").plan("Zinc Roof"), order_for="The foundry")
    visitor.post(f"/boards/{other}/order", order_for="The foundry", due="2026-12-01")

    def found(**asked: str) -> list[str]:
        page = visitor.get("/", query_string=asked).get_data(as_text=True)
        return re.findall(r'<h2><a href="/boards/(\d+)"', page)

    mine, theirs = str(board), str(other)
    assert found(find="zinc") == found(find="FOUNDRY") == found(find="wych roof") == [theirs]
    assert set(found()) == {mine, theirs} and found(find="no such") == []
    assert "No board goes by" in visitor.get("/?find=no+such").get_data(as_text=True)
    assert (
        found(sort="due")[0] == theirs and found(sort="name")[-1] == theirs and set(found(sort="x")) == {mine, theirs}
    )


def test_the_list_is_kept_to_what_is_asked(visitor: Visitor, store: Store, board: int) -> None:
    begun = store.create(FAMILIES["weave"]().plan("Begun"))
    store.build(begun).tick("strips.rough")
    for only, there, gone in (("begun", "Begun", "Shoal"), ("new", "Shoal", "Begun")):
        page = visitor.get("/", query_string={"only": only}).get_data(as_text=True)
        cards = page[page.index('id="cards"') :]
        assert there in cards and gone not in cards
    assert "No board here is promised for a day." in visitor.get("/?only=due").get_data(as_text=True)
