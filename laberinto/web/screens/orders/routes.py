"""Orders on their pages: the list, one of them, what is typed of it, and its boards."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import replace
from datetime import UTC, datetime
from typing import Any, cast

from flask import Response, redirect, render_template, request, url_for

from laberinto.core.errors import InputError
from laberinto.core.plan.simulate import at_hand
from laberinto.core.units import parse_number
from laberinto.store import NOTE, PRICE, WHOM, BoardView, OrderState, OrderView, Shelf, StaleError

from ...app import present, reading
from ...app.jobs import warm_cells
from ...app.lookup import find
from ...app.saving import save
from ..board.operations import OPERATIONS
from ..calendar.state import state as calendar
from . import view
from .blueprint import bp

GROUPS: tuple[tuple[str, tuple[OrderState, ...]], ...] = (
    ("Promised", (OrderState.AGREED,)),
    ("Asked for and quoted", (OrderState.ASKED, OrderState.QUOTED)),
    ("Handed over", (OrderState.HANDED,)),
    ("Called off", (OrderState.OFF,)),
)
"""The list, in its parts."""


@bp.get("")
def index(error: InputError | None = None) -> str:
    """All orders, what is promised first."""
    orders = present.store().orders.all()
    boards = [board for shelf in (Shelf.BENCH, Shelf.ARCHIVE) for board in present.store().boards(shelf)]
    fresh = _fresh(orders, boards)
    groups = [
        (words, [view.shown(order, boards if order.state in view.OPEN and order.id not in fresh else ())
                 for order in orders if order.state in states])
        for words, states in GROUPS
    ]  # fmt: skip
    page = render_template(
        "orders/index.html", groups=groups, any=bool(orders), error=error, typed=request.form.get("whom", ""),
        most=WHOM, fresh=fresh, **_row(boards, waits=bool(fresh)),
    )  # fmt: skip
    warm_cells(board.plan for board in boards if board.order in fresh)
    return page


def _fresh(orders: Iterable[OrderView], boards: Iterable[BoardView]) -> set[int]:
    """Open orders of which a board was not cut since the start: their lines come one by one."""
    open_ = {order.id for order in orders if order.state in view.OPEN}
    return {board.order for board in boards if board.order in open_ and not at_hand(board.plan)}


def _row(boards: Iterable[BoardView], *, waits: bool) -> dict[str, Any]:
    """What every line needs: names of boards, and when an order is ready by the calendar, unless that still waits for
    boards to be cut."""
    found = None if waits else calendar()
    return {
        "names": {board.id: board.name for board in boards},
        "ready": lambda shown: view.ready(found, shown.order.boards) if found else None,
    }


@bp.get("/<int:order_id>/row")
def row(order_id: int) -> str:
    """A line of the list, once its boards are cut."""
    shown = view.found(order_id)
    agreed = shown.order.state is OrderState.AGREED
    return render_template(
        "orders/row.html", shown=shown, **_row([part.board for part in shown.parts], waits=not agreed)
    )


@bp.post("")
def add() -> Response | tuple[str, int]:
    """A new order, asked for."""
    try:
        whom = reading.line(request.form.get("whom", ""), WHOM, "whom")
        if not whom:
            raise InputError("Say for whom it is: a role or a place.", "whom")
    except InputError as error:
        return index(error), 422
    return _to(present.store().orders.add(whom))


@bp.post("/of/<int:board_id>")
def of_board(board_id: int) -> Response:
    """The order of a board; where it has none, a new one that is asked for."""
    board, orders = find(board_id), present.store().orders
    order = board.order if board.order is not None else orders.add("")
    if board.order is None:
        orders.put(board_id, order)
    return _to(order)


@bp.get("/<int:order_id>")
def page(order_id: int) -> str:
    """An order."""
    return _page(order_id)


def _page(order_id: int, error: InputError | None = None) -> str:
    shown = view.found(order_id)
    free = [board for board in present.store().boards() if board.order is None]
    order = shown.order
    typed = {
        "whom": order.whom, "due": f"{order.due:%Y-%m-%d}" if order.due else "", "note": order.note,
        "price": "" if order.price is None else f"{order.price:g}",
    }  # fmt: skip
    return render_template(
        "orders/order.html", shown=shown, order=order, free=free, states=OrderState, error=error,
        typed=typed if error is None else {**typed, **request.form.to_dict()}, open=order.state in view.OPEN,
        whom=WHOM, note=NOTE,
    )  # fmt: skip


@bp.post("/<int:order_id>")
def change(order_id: int) -> Response | tuple[str, int]:
    """What was typed of an order: all of it, or nothing."""
    order = view.found(order_id).order
    try:
        present.store().orders.change(_read(order))
    except InputError as error:
        return _page(order_id, error), 422
    return _to(order_id)


def _read(order: OrderView) -> OrderView:
    form = request.form
    price = form.get("price", "").strip()
    amount = parse_number(price, "price") if price else None
    if amount is not None and not 0 <= amount <= PRICE:
        raise InputError(f"That is {amount:g}; a price is from 0 to {PRICE:g}, or empty.", "price")
    note = form.get("note", "").strip()
    if len(note) > NOTE:
        raise InputError(f"That is {len(note)} characters; {NOTE} fit here.", "note")
    return replace(
        order, whom=reading.line(form.get("whom", ""), WHOM, "whom"), due=reading.day(form.get("due", ""), "due"),
        price=amount, note=note,
    )  # fmt: skip


@bp.post("/<int:order_id>/state")
def state(order_id: int) -> Response:
    """Say how far it is."""
    view.found(order_id)
    present.store().orders.move(order_id, reading.must_be(OrderState, request.form, "to"))
    return _to(order_id)


@bp.post("/<int:order_id>/boards")
def put(order_id: int) -> Response | tuple[str, int]:
    """Put a board to an order, or with ``out`` take it out again."""
    view.found(order_id)
    orders, out = present.store().orders, reading.whole(request.form.get("out"))
    if out is not None:
        if find(out).order == order_id:
            orders.put(out, None)
        return _to(order_id if orders.get(order_id) else None)
    try:
        board = reading.whole(request.form.get("board"))
        if board is None or present.store().board(board) is None:
            raise InputError("Choose a board.", "board")
        orders.put(board, order_id)
    except InputError as error:
        return _page(order_id, error), 422
    return _to(order_id)


@bp.post("/<int:order_id>/times/<int:board_id>")
def times(order_id: int, board_id: int) -> Response | tuple[str, int]:
    """How many of a board are made."""
    board = find(board_id)
    try:
        edit = OPERATIONS["times"](board.plan, "", request.form, present.lengths())
        if edit.words:
            save(board, edit, based_on=reading.must_whole(request.form, "based_on"))
    except StaleError as error:
        return _page(order_id, InputError(f"{error} Look at it and type it again.", f"times-{board_id}")), 409
    except InputError as error:
        return _page(order_id, InputError(str(error), f"times-{board_id}")), 422
    return _to(order_id)


@bp.post("/<int:order_id>/remove")
def remove(order_id: int) -> Response:
    """Delete an order for good; its boards stay."""
    view.found(order_id)
    present.store().orders.remove(order_id)
    return _to(None)


@bp.get("/<int:order_id>/promise")
def promise(order_id: int) -> str:
    """When it could be ready; worked out while its page waits."""
    shown = view.found(order_id)
    agreed = shown.order.state is OrderState.AGREED
    found = (
        view.Promise(view.ready(calendar(), shown.order.boards))
        if agreed
        else view.promise(shown.order, datetime.now(UTC))
    )
    return render_template("orders/promise.html", shown=shown, order=shown.order, promise=found, agreed=agreed)


def _to(order_id: int | None) -> Response:
    to = url_for("orders.index") if order_id is None else url_for("orders.page", order_id=order_id)
    return cast(Response, redirect(to, 303))
