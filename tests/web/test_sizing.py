"""Size pages: numbers follow the size, one that is typed is held, and the wood at hand shows what it makes."""

from __future__ import annotations

import pytest
from flask import Flask

from laberinto.core.patterns import FAMILIES, Alternating
from laberinto.core.plan.simulate import simulate
from laberinto.store import Store
from laberinto.web.screens.sizing import routes

from .conftest import Visitor


def test_a_wanted_size_gives_numbers_sums_and_a_board(visitor: Visitor, store: Store) -> None:
    page = visitor.get("/boards/size?want-width=300&want-length=400&want-thickness=40").get_data(as_text=True)
    assert "Just as wanted" in page and "300 × 400 × 40 mm" in page and 'value="30.6"' in page
    assert "14 × 44<small> slices</small>" in page and "<b>725</b>" in page
    made = visitor.post("/boards/size", **{"want-width": "300", "want-length": "400", "want-thickness": "40"})
    (board,) = store.boards()
    assert made.headers["Location"].endswith(f"/boards/{board.id}")
    assert simulate(board.plan).board.size == pytest.approx((300, 400, 40), abs=0.01) and board.plan.wanted.width == 300
    assert board.words == "made to 300 × 400 × 40 mm"


def test_a_number_typed_over_is_held_and_what_gave_way_says_so(visitor: Visitor) -> None:
    page = visitor.get("/boards/size?n-strip_width=32&was-strip_width=30.6&n-strips=10&was-strips=10").get_data(
        as_text=True
    )
    assert 'value="strip_width" checked' in page and "14 mm wider" in page.lower() and "trimmed off either side" in page
    picked = visitor.get("/boards/size?n-strip_width=32&hold=strip_width&pick=2").get_data(as_text=True)
    assert "300 × 400 × 40 mm" in picked
    gave = visitor.get("/boards/size?n-strips=8&was-strips=10&n-strip_width=30.6&was-strip_width=30.6").get_data(
        as_text=True
    )
    assert "gave, was" in gave and 'value="38.25"' in gave


def test_families_whose_sides_are_tied_have_their_size_page(visitor: Visitor) -> None:
    for key in ("stairs", "weave", "round"):
        assert "sum-line" in visitor.get(f"/boards/size?family={key}").get_data(as_text=True), key
    assert visitor.get("/boards/size?family=tartan").status_code == 404


@pytest.mark.parametrize(
    ("query", "says"),
    [("want-width=wide", "not a length"), ("want-width=20", "outside"), ("n-strips=ten&was-strips=10", "not a number"),
     ("family=hollowed&want-thickness=14", "Take 2 mm or less")],
)  # fmt: skip
def test_what_cannot_be_is_said_beside_its_field(visitor: Visitor, query: str, says: str) -> None:
    answer = visitor.get(f"/boards/size?{query}")
    assert answer.status_code == 200 and says in answer.get_data(as_text=True)


def test_a_board_is_brought_to_a_size_unless_it_changed_meanwhile(visitor: Visitor, store: Store, board: int) -> None:
    head = store.board(board)
    assert head is not None
    form = {"want-width": "250", "want-length": "350", "want-thickness": "36", "revision": str(head.revision)}
    assert visitor.post(f"/boards/{board}/size", **form).status_code == 303
    now = store.board(board)
    assert now is not None and simulate(now.plan).board.size == pytest.approx((250, 350, 36), abs=0.01)
    late = visitor.post(f"/boards/{board}/size", **form)
    assert late.status_code == 409 and "changed on another page" in late.get_data(as_text=True)
    bare = store.create(Alternating().plan("Bare").model_copy(update={"pattern": None}))
    assert "made without a pattern" in visitor.get(f"/boards/{bare}/size").get_data(as_text=True)


def test_the_wood_at_hand_shows_the_largest_of_each_pattern(
    visitor: Visitor, app: Flask, store: Store, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(routes, "FAMILIES", {key: FAMILIES[key] for key in ("alternating", "blocks")})
    assert "Nothing lies in the store yet" in visitor.get("/timber/boards").get_data(as_text=True)
    visitor.post(
        "/timber/lines", lines="2 beech planks 2000 x 180 x 52\nplum plank 900 x 120 x 52\n1 ash plank 900 x 90 x 20"
    )
    begun = visitor.post("/timber/boards/look", lot=["1", "2"])
    assert begun.headers["Location"] == "/timber/boards?lot=1&lot=2"
    job = app.extensions["jobs"].get(("from wood", 0))
    assert job.done.wait(120)
    page = visitor.get("/timber/boards?lot=1&lot=2").get_data(as_text=True)
    assert "Plum gives out first" in page and "asks for 3 woods" in page
    made = visitor.post("/timber/boards", family="alternating")
    assert made.status_code == 303 and len(store.boards()) == 1
    assert visitor.post("/timber/boards", family="blocks").headers["Location"].endswith("/timber/boards")
    refused = visitor.post("/timber/boards/look", ratio="tall")
    assert refused.status_code == 422 and "not a number" in refused.get_data(as_text=True)
    visitor.post("/timber/lines", lines="1 ash plank 900 x 90 x 20")
    assert "another one meanwhile" in visitor.get("/timber/boards?lot=1&lot=4").get_data(as_text=True)


def test_a_boards_page_begins_with_what_is_wanted_or_else_with_its_own_size(
    visitor: Visitor, store: Store, board: int
) -> None:
    """Six strips of 30 and six rows of 30, 3 off each edge."""
    page = visitor.get(f"/boards/{board}/size").get_data(as_text=True)
    assert "Just as wanted" in page and "174 × 174 × 38 mm" in page
    visitor.post(
        f"/boards/{board}/edit",
        op="want",
        stage="strips",
        revision=str(store.board(board).revision),
        **{"want-width": "200", "want-length": "", "want-thickness": ""},
    )  # type: ignore[union-attr]
    page = visitor.get(f"/boards/{board}/size").get_data(as_text=True)
    assert "200 × 174 × 38 mm" in page
