"""Orders as they are kept: with their boards, and what of them a board says."""

from __future__ import annotations

from dataclasses import replace
from datetime import UTC, datetime
from pathlib import Path

import pytest

from laberinto.core.errors import LaberintoError
from laberinto.core.patterns import Alternating
from laberinto.store import OrderState, Shelf, Store, in_utc, open_database
from tests.empty import new_shop

DAY = datetime(2027, 3, 14, 23, 59, tzinfo=UTC)
PLAN = Alternating(strips=4, slices=4).plan("Shoal")


@pytest.fixture
def store(tmp_path: Path) -> Store:
    return Store(open_database(new_shop(tmp_path)))


def test_a_board_says_the_day_only_while_it_is_promised(store: Store) -> None:
    board = store.create(PLAN, order_for="The island ferry", due=DAY)
    view = store.board(board)
    assert view and view.order and (view.order_for, view.handed) == ("The island ferry", False)
    for state in OrderState:
        store.orders.move(view.order, state)
        now = store.board(board)
        assert now and (now.due and in_utc(now.due)) == (DAY if state is OrderState.AGREED else None)
        assert now.handed is (state is OrderState.HANDED) and now.order_for == "The island ferry"


def test_orders_stand_by_their_day_and_know_their_boards(store: Store) -> None:
    late, soon, never = (store.orders.add(whom) for whom in ("late", "soon", "never"))
    for number, day in ((late, DAY), (soon, DAY.replace(month=1))):
        order = store.orders.get(number)
        assert order
        store.orders.change(replace(order, due=day))
    assert [order.id for order in store.orders.all()] == [soon, late, never]
    boards = [store.create(PLAN) for _ in range(3)]
    for board in boards:
        store.orders.put(board, late)
    store.put(boards[1], Shelf.REMOVED)  # it comes back with its board
    found = store.orders.get(late)
    assert found and found.boards == (boards[0], boards[2])
    store.put(boards[1], Shelf.BENCH)
    again = store.orders.get(late)
    assert again and again.boards == tuple(boards)


def test_since_when_changes_with_the_state_alone(store: Store) -> None:
    number = store.orders.add("The chandler")
    first = store.orders.get(number)
    assert first
    store.orders.change(replace(first, price=80, note="With feet."))
    same = store.orders.get(number)
    assert same and same.since == first.since and (same.price, same.note) == (80, "With feet.")
    store.orders.move(number, OrderState.QUOTED)
    moved = store.orders.get(number)
    assert moved and moved.since > first.since and moved.price == 80


def test_what_was_written_of_an_order_outlives_its_last_board(store: Store) -> None:
    plain, priced = (store.create(PLAN, order_for=whom) for whom in ("plain", "priced"))
    orders = {board: view.order for board in (plain, priced) if (view := store.board(board))}
    kept = store.orders.get(orders[priced] or 0)
    assert kept
    store.orders.change(replace(kept, price=90))
    for board in (plain, priced):
        store.orders.appoint(board, "", None)
    assert store.orders.get(orders[plain] or 0) is None and store.orders.get(orders[priced] or 0) is not None


def test_what_is_not_there_is_said(store: Store) -> None:
    board = store.create(PLAN)
    for wrong in (
        lambda: store.orders.put(99, None),
        lambda: store.orders.put(board, 99),
        lambda: store.orders.remove(99),
    ):
        with pytest.raises(LaberintoError, match="There is no"):
            wrong()
    view = store.board(board)
    assert view and view.order is None


def test_the_calendar_of_an_earlier_day_stays_beside_that_of_today(store: Store) -> None:
    """The first that is replaced stays; after that only one that was found before today began."""
    calendar, today = store.calendar, datetime.now(UTC)
    calendar.keep("a", "first", today)
    assert calendar.before() is None
    calendar.keep("b", "second", today.replace(year=2020))
    assert (calendar.before() or ("",))[0] == "first"
    calendar.keep("c", "third", today.replace(year=2020))  # the second was found today: the first still counts
    assert (calendar.before() or ("",))[0] == "first"
    calendar.keep("d", "fourth", today.replace(year=2100))
    assert (calendar.before() or ("",))[0] == "third"
