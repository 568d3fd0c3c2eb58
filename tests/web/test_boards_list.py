"""The list of boards: at once where the boards are at hand, one by one where they must be cut first."""

from __future__ import annotations

import re
import time

from flask import Flask

from laberinto.core.patterns import FAMILIES, Alternating
from laberinto.core.plan.simulate import at_hand, simulate
from laberinto.store import Store
from laberinto.web.app.jobs import cut_alone

from .conftest import Visitor


def fill(store: Store, widths: list[float]) -> list[int]:
    """Boards of strip widths that no other test uses, so that none was cut before."""
    return [store.create(Alternating(strips=4, slices=4, strip_width=w).plan(f"Fresh {w}")) for w in widths]


def test_boards_that_were_not_cut_yet_come_one_by_one(visitor: Visitor, store: Store) -> None:
    ids = fill(store, [31.01, 31.02, 31.03, 31.04])
    page = visitor.get("/").get_data(as_text=True)
    assert page.count('class="thumb') == 2  # the two last changed
    waiting = re.findall(r'hx-get="(/boards/\d+/card)"', page)
    assert waiting == [f"/boards/{n}/card" for n in (ids[1], ids[0])]
    assert all(f"Fresh {w}" in page for w in (31.01, 31.02))  # their names are there to be followed
    card = visitor.get(waiting[0]).get_data(as_text=True)
    assert 'class="thumb' in card and "Fresh 31.02" in card and "Not begun" in card and "<html" not in card


def test_boards_at_hand_come_with_the_page(visitor: Visitor, store: Store) -> None:
    ids = fill(store, [32.01, 32.02, 32.03])
    for number in ids:
        board = store.board(number)
        assert board is not None
        simulate(board.plan)
    page = visitor.get("/").get_data(as_text=True)
    assert page.count('class="thumb') == 3 and "hx-get" not in page.split('class="cards"')[1]


def test_a_board_that_cannot_be_built_says_so_in_its_card(visitor: Visitor, store: Store) -> None:
    plan = Alternating(strips=4, slices=4, strip_width=33.01).plan("Too thin")
    flat = plan.stage("board-flat")
    store.create(plan.with_stage(flat.model_copy(update={"to": 140.0, "each_face": None})))
    (board,) = store.boards()
    card = visitor.get(f"/boards/{board.id}/card").get_data(as_text=True)
    assert "card-problem" in card and "cannot be flattened to" in card
    assert visitor.get("/boards/999/card").status_code == 404


def test_what_a_template_leaves_out_prints_nothing(app: Flask) -> None:
    blank = app.jinja_env.from_string("[{{ 'x' if no }}][{{ nothing }}][{{ nothing|default('given') }}]")
    assert blank.render(no=False) == "[][][given]"


def test_what_the_page_will_ask_for_is_cut_ahead(visitor: Visitor, store: Store) -> None:
    """While the page loads, a thread cuts the boards it will ask for, each alone."""
    ids = fill(store, [33.01, 33.02, 33.03, 33.04])
    boards = [store.board(number) for number in ids]
    assert not any(at_hand(board.plan) for board in boards if board)
    visitor.get("/")
    done = time.monotonic() + 20
    while time.monotonic() < done and not all(at_hand(board.plan) for board in boards if board):
        time.sleep(0.02)
    assert all(at_hand(board.plan) for board in boards if board)
    plan = FAMILIES["weave"](square=37.0).plan("Ahead")
    assert not at_hand(plan)
    cut_alone(plan)
    assert at_hand(plan)


def test_a_long_list_comes_in_parts_and_every_board_once(visitor: Visitor, store: Store) -> None:
    """130 boards, 60 at a time: 60, 60 and 10."""
    made = {store.create(Alternating(strips=4, slices=4).plan(f"Reef {n}")) for n in range(130)}
    seen: list[int] = []
    path = "/"
    for expected in (60, 60, 10):
        page = visitor.get(path).get_data(as_text=True)
        here = [int(n) for n in re.findall(r'<h2><a href="/boards/(\d+)"', page)]
        assert len(here) == expected
        seen += here
        more = re.search(r'class="card-more" hx-get="([^"]+)"', page)
        path = more[1].replace("&amp;", "&") if more else ""
    assert not path and sorted(seen) == sorted(made)
    found = visitor.get("/?find=reef+77").get_data(as_text=True)
    assert found.count("<h2><a href") == 1


def test_a_board_is_renamed_where_it_stands_and_found_by_its_pattern(
    visitor: Visitor, store: Store, board: int
) -> None:
    card = visitor.post(f"/boards/{board}/name", htmx=True, name="  Gull   Rock ").get_data(as_text=True)
    assert ">Gull Rock</a>" in card and store.board(board).name == "Gull Rock"  # type: ignore[union-attr]
    refused = visitor.post(f"/boards/{board}/name", htmx=True, name=" ")
    assert refused.status_code == 422 and "1 to 80 characters" in refused.get_data(as_text=True)
    pattern = FAMILIES["alternating"].title.split()[0].lower()
    assert "Gull Rock" in visitor.get(f"/?find={pattern}").get_data(as_text=True)
    assert "Gull Rock" not in visitor.get("/?find=herringbone").get_data(as_text=True).split('id="cards"')[1]
