"""Orders: what is promised to whom, what it comes to, and when it can be ready."""

from __future__ import annotations

import re
from datetime import UTC, datetime, timedelta
from io import BytesIO

import pytest
from pypdf import PdfReader

from laberinto.core.patterns import Alternating
from laberinto.core.plan.simulate import simulate
from laberinto.core.steps import steps
from laberinto.store import OrderState, Store

from .conftest import Visitor

PLAN = Alternating(strips=6, strip_width=30, row=30, slices=6).plan("Slipway")


@pytest.fixture
def order(store: Store, visitor: Visitor) -> int:
    """Somebody asks for a board of which there is a plan."""
    number = store.orders.add("The school kitchen")
    store.orders.put(store.create(PLAN), number)
    return number


def text(visitor: Visitor, path: str) -> str:
    return " ".join(visitor.get(path).get_data(as_text=True).split())


def test_from_asked_to_handed_over(visitor: Visitor, store: Store) -> None:
    assert "No orders yet" in text(visitor, "/orders")
    assert visitor.post("/orders", whom="  ").status_code == 422
    to = visitor.post("/orders", whom=" The  pilot station ").headers["Location"]
    number = int(to.rpartition("/")[2])
    assert "The pilot station" in text(visitor, to) and "No board belongs to it yet" in text(visitor, to)
    board = store.create(PLAN)
    visitor.post(f"{to}/boards", board=str(board))
    day = (datetime.now(UTC) + timedelta(days=40)).date()
    visitor.post(to, whom="The pilot station", due=day.isoformat(), price="310,50", note="With feet.")
    kept = store.orders.get(number)
    assert (
        kept
        and kept.due
        and (kept.due.date(), kept.price, kept.note, kept.boards) == (day, 310.5, "With feet.", (board,))
    )
    view = store.board(board)
    assert view and view.order_for == "The pilot station" and view.due is None  # asked for is not promised
    for state in ("quoted", "agreed"):
        visitor.post(f"{to}/state", to=state)
    view = store.board(board)
    assert view and view.due and view.due.date() == day
    assert "Promised" in text(visitor, "/orders") and "Slipway" in text(visitor, "/calendar")
    for step in steps(simulate(PLAN)):
        for key in step.keys:
            store.build(board).tick(key)
    assert "Ready to hand over" in text(visitor, "/orders") and "Ready to hand over" in text(visitor, f"{to}/promise")
    visitor.post(f"{to}/state", to="handed")
    handed = store.board(board)
    assert handed and handed.handed and handed.due is None
    assert visitor.post(f"{to}/state", to="lost").status_code == 422  # nothing like that


def test_what_cannot_be_kept_stands_beside_its_field_and_nothing_is_kept(
    visitor: Visitor, store: Store, order: int
) -> None:
    before = store.orders.get(order)
    for field, typed, said in (
        ("price", "cheap", "not a number"), ("price", "-3", "a price is from 0"), ("due", "soon", "is no day"),
        ("whom", "x" * 81, "80 fit here"), ("note", "x" * 601, "600 fit here"),
    ):  # fmt: skip
        sent = {"whom": "Another", "due": "", "price": "", "note": ""} | {field: typed}
        answer = visitor.post(f"/orders/{order}", **sent)
        page = " ".join(answer.get_data(as_text=True).split())
        assert (answer.status_code == 422 and said in page and 'value="Another"' in page) or field == "whom"
        assert store.orders.get(order) == before
    assert visitor.post(f"/orders/{order}/boards", board="999").status_code == 422
    assert visitor.post(f"/orders/{order}/times/1", times="0", based_on="1").status_code == 422
    assert (
        visitor.get("/orders/999").status_code == 404
        and visitor.post("/orders/999/state", to="agreed").status_code == 404
    )


def test_a_batch_costs_as_many_times_and_an_edit_elsewhere_is_not_overwritten(
    visitor: Visitor, store: Store, order: int
) -> None:
    board = store.board(1)
    assert board
    once = re.search(r"(\S+) (\d+) each", text(visitor, f"/orders/{order}"))
    visitor.post(f"/orders/{order}/times/1", times="4", based_on=str(board.revision))
    page = text(visitor, f"/orders/{order}")
    assert once and f"each, {once[1]} " in page and 'value="4"' in page
    total = re.search(r"each, \S+ ([\d ]+) in all", page)
    assert total and abs(int(total[1].replace(" ", "")) - 4 * int(once[2])) <= 4  # each is shown in whole euros
    stale = visitor.post(f"/orders/{order}/times/1", times="2", based_on=str(board.revision))
    now = store.board(1)
    assert stale.status_code == 409 and now and now.plan.times == 4


def test_a_quote_has_every_board_its_price_and_the_sum(visitor: Visitor, store: Store, order: int) -> None:
    store.orders.put(store.create(PLAN.model_copy(update={"name": "Shoal", "times": 3})), order)
    visitor.post(f"/orders/{order}", whom="The school kitchen", due="2027-03-14", price="99", note="A mark burnt in.")
    paper = PdfReader(BytesIO(visitor.printed(f"/orders/{order}/quote.pdf").data))
    said = " ".join(page.extract_text() for page in paper.pages)
    for words in ("The school kitchen", "Slipway", "Shoal", "14 March 2027", "A mark burnt in.", "Price agreed", "99"):
        assert words in said
    empty = store.orders.add("Nobody yet")
    assert visitor.printed(f"/orders/{empty}/quote.pdf").status_code == 409


def test_when_it_could_be_ready_counts_what_is_promised_already(visitor: Visitor, store: Store, order: int) -> None:
    visitor.post("/calendar/hours", **{f"day-{at}": "8-18" for at in range(7)})
    alone = text(visitor, f"/orders/{order}/promise")
    assert "Ready, were it agreed now" in alone and "Nothing that is promised gets later" in alone
    visitor.post(f"/orders/{order}", whom="", due=datetime.now(UTC).date().isoformat(), price="", note="")
    assert "later than the" in text(visitor, f"/orders/{order}/promise")
    assert "No day found" in text(visitor, f"/orders/{store.orders.add('Nobody yet')}/promise")


def test_a_board_of_one_agreed_order_says_so_itself_and_of_several_leads_there(
    visitor: Visitor, store: Store, order: int
) -> None:
    assert f'href="/orders/{order}"' in text(visitor, "/boards/1") and 'name="order_for"' not in text(
        visitor, "/boards/1"
    )
    other = store.create(PLAN)
    visitor.post(f"/boards/{other}/order", order_for="The chart room", due="2027-03-14")
    view = store.board(other)
    assert view and view.order and store.orders.get(view.order).state is OrderState.AGREED  # type: ignore[union-attr]
    visitor.post(f"/boards/{other}/order", order_for="", due="")
    assert store.orders.get(view.order) is None  # nothing else was written of it
    quoted = visitor.post(f"/orders/of/{other}").headers["Location"]
    assert visitor.post(f"/orders/of/{other}").headers["Location"] == quoted


def test_removing_an_order_leaves_its_boards(visitor: Visitor, store: Store, order: int) -> None:
    visitor.post(f"/orders/{order}/boards", out="1")
    assert store.orders.get(order).boards == ()  # type: ignore[union-attr]
    visitor.post(f"/orders/{order}/boards", board="1")
    visitor.post(f"/orders/{order}/remove")
    board = store.board(1)
    assert store.orders.get(order) is None and board and board.order is None


def test_a_board_that_cannot_be_built_takes_no_order_down(visitor: Visitor, store: Store, order: int) -> None:
    broken = PLAN.with_stage(PLAN.stage("slices").model_copy(update={"count": 60}))
    store.orders.put(store.create(broken.model_copy(update={"name": "Wreck"})), order)
    page = text(visitor, f"/orders/{order}")
    assert "Wreck" in page and "Quote, PDF" not in page
    visitor.get("/orders")
    assert "Wreck" in text(visitor, f"/orders/{order}/row")
