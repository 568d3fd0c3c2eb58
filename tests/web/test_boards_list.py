"""The list of boards: at once where the boards are at hand, one by one where they must be cut first."""

from __future__ import annotations

import re

from flask import Flask

from laberinto.core.patterns import Alternating
from laberinto.core.simulate import simulate
from laberinto.store import Store

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
