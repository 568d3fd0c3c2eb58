"""What was measured in the build log moves the plan, and one press takes a way out."""

from __future__ import annotations

import re

from laberinto.core.patterns import Alternating
from laberinto.core.plan.simulate import simulate
from laberinto.core.steps import steps
from laberinto.store import Store

from .conftest import Visitor


def begun(store: Store) -> int:
    """A board of twelve rows of 32 whose panel has just been planed."""
    number = store.create(Alternating(row=32, slices=12, panel_length=650).plan("Ebb"))
    view = store.board(number)
    assert view is not None
    for step in steps(simulate(view.plan))[:6]:
        store.build(number).tick(step.key)
    return number


def test_a_thin_panel_and_the_row_that_mends_it(visitor: Visitor, store: Store) -> None:
    """358.8 for 378: 19.2 short; a thirteenth row makes 389.2."""
    board = begun(store)
    planned = store.board(board)
    assert planned is not None
    page = visitor.get(f"/boards/{board}/build?at=panel-flat.flatten").get_data(as_text=True)
    assert "Let the plan follow" in page and "Let the plan follow" not in visitor.get(
        f"/boards/{board}/build?at=panel.glue"
    ).get_data(as_text=True)
    # written down alone, it is a note and no more
    visitor.post(f"/boards/{board}/build/note", step="panel-flat.flatten", measured="30.4")
    assert store.board(board) == planned
    visitor.post(f"/boards/{board}/build/note", step="panel-flat.flatten", measured="30.4", follow="yes")
    built = store.board(board)
    assert built is not None and built.words == "as measured: thickness, flatten: 32 mm → 30.4 mm"
    record = visitor.get(f"/boards/{board}/record").get_data(as_text=True)
    assert "30.4 mm" in record and ">32 mm</td>" in record  # what was planned when it was measured
    assert f"/boards/{board}/build/ways" in visitor.get(f"/boards/{board}/build").get_data(as_text=True)
    assert "decide what now" in visitor.get("/now").get_data(as_text=True)
    assert "What now?" in visitor.get(f"/boards/{board}/bench").get_data(as_text=True)
    ways = visitor.get(f"/boards/{board}/build/ways").get_data(as_text=True)
    assert "19.2 mm shorter" in ways and re.findall(r"<h3>([^<]+)</h3>", ways)[0] == "Add a row"
    assert "294 × 389.2 × 38 mm" in ways and "11.2 mm off the planned size" in ways
    visitor.post(f"/boards/{board}/build/way", way="row-more", revision=str(built.revision))
    taken = store.board(board)
    assert taken is not None and taken.words == "way out: add a row"
    assert round(simulate(taken.plan).board.size[1], 6) == 389.2
    assert visitor.get(f"/boards/{board}/build/ways").get_data(as_text=True) == ""
    # and back, first the way, then the measurement
    store.undo(board)
    store.undo(board)
    assert store.board(board).plan == planned.plan  # type: ignore[union-attr]


def test_what_cannot_go_on_waits_with_its_ways_out(visitor: Visitor, store: Store) -> None:
    board = store.create(Alternating(slices=13, panel_length=650).plan("Spring Tide"))
    visitor.post(f"/boards/{board}/build/note", step="slices.cut", measured="48", follow="yes")
    page = visitor.get(f"/boards/{board}/build").get_data(as_text=True)
    assert "It cannot go on as planned" in page and f"/boards/{board}/build/ways" in page
    assert visitor.get(f"/boards/{board}/bench").location == f"/boards/{board}/build"
    assert "As many slices as it gives" in visitor.get(f"/boards/{board}/build/ways").get_data(as_text=True)
    visitor.post(f"/boards/{board}/build/way", way="as-many")
    assert "Spring Tide" in visitor.get(f"/boards/{board}/build").get_data(as_text=True)
    assert store.board(board).plan.stage("slices").count == 12  # type: ignore[union-attr]
    assert visitor.post(f"/boards/{board}/build/way", way="as-many").status_code == 404


def test_a_reading_that_cannot_be_stands_beside_its_field(visitor: Visitor, store: Store) -> None:
    board = begun(store)
    before = store.board(board)
    answer = visitor.post(f"/boards/{board}/build/note", step="panel-flat.flatten", measured="2", follow="yes")
    assert answer.status_code == 422 and "That cannot be" in answer.get_data(as_text=True)
    assert store.board(board) == before


def test_a_ruined_slice_is_left_out_and_made_up_for(visitor: Visitor, store: Store) -> None:
    board = store.create(Alternating(strips=6, slices=6, panel_length=360).plan("Skerry"))
    view = store.board(board)
    assert view is not None
    sent = {"stage": "rows", "view": "stage", "revision": str(view.revision)}
    page = visitor.post(f"/boards/{board}/edit", op="row-out", at="2", **sent, htmx=True).get_data(as_text=True)
    assert "Left out:" in page and "Take slice 3 back" in page
    ways = visitor.get(f"/boards/{board}/build/ways").get_data(as_text=True)
    assert "30 mm shorter" in ways and re.findall(r"<h3>([^<]+)</h3>", ways)[0] == "Add a row"
    head = store.board(board)
    assert head is not None and head.words == "left out: slice 3"
    again = {"stage": "rows", "view": "stage", "revision": str(head.revision)}
    visitor.post(f"/boards/{board}/edit", op="row-back", number="3", **again)
    assert store.board(board).plan == view.plan  # type: ignore[union-attr]


def test_the_shop_says_what_comes_out(visitor: Visitor, store: Store) -> None:
    assert "Measure at a step" in visitor.get("/shop").get_data(as_text=True)
    board = begun(store)
    for off in (0.2, 0.3, 0.3, 0.4, 0.2):
        visitor.post(f"/boards/{board}/build/note", step="slices.cut", measured=f"{42 + off:g}")
    page = visitor.get("/shop").get_data(as_text=True)
    assert "5 readings, the middle one 0.3 mm over" in page and "Set it 0.3 mm smaller" in page
