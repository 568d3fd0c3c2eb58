"""Orders: what is asked for, quoted, agreed and handed over, and which boards belong to each."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import replace
from datetime import datetime

from sqlalchemy import Engine
from sqlmodel import Session, col, select

from laberinto.core.errors import LaberintoError

from .database import writing
from .tables import Board, OrderRow, found_board, now
from .views import OrderState, OrderView

WHOM, NOTE, PRICE = 80, 600, 1_000_000.0
"""Characters of for whom it is and of a note that are kept, and the largest price."""


def agreed(session: Session, whom: str, due: datetime | None, at: datetime) -> int:
    """A new order that is agreed on; returns its id."""
    row = OrderRow(whom=whom, due=due, state=OrderState.AGREED.value, created=at, since=at)
    session.add(row)
    session.flush()
    assert row.id is not None
    return row.id


class Orders:
    """The orders of the shop."""

    def __init__(self, engine: Engine) -> None:
        self.engine = engine

    def all(self) -> list[OrderView]:
        """Every order, what is wished for soonest first, those without a day last."""
        with Session(self.engine) as session:
            rows = session.exec(select(OrderRow).order_by(col(OrderRow.due).is_(None), col(OrderRow.due))).all()
            of: dict[int, list[int]] = {}
            for order, board in session.exec(
                select(Board.order_id, Board.id)
                .where(col(Board.order_id).is_not(None), col(Board.removed).is_(None))
                .order_by(col(Board.id))
            ):
                of.setdefault(order or 0, []).append(board or 0)
            return [_view(row, of.get(row.id or 0, ())) for row in rows]

    def get(self, order_id: int) -> OrderView | None:
        """An order by its number, None where there is none."""
        return next((order for order in self.all() if order.id == order_id), None)

    def add(self, whom: str, state: OrderState = OrderState.ASKED) -> int:
        """A new order; returns its id."""
        with writing(self.engine) as session:
            row = OrderRow(whom=whom, state=state.value)
            session.add(row)
            session.commit()
            assert row.id is not None
            return row.id

    def change(self, order: OrderView) -> None:
        """Keep an order as it is given, its boards aside."""
        with writing(self.engine) as session:
            row = self._must(session, order.id)
            row.whom, row.due, row.price, row.note = order.whom, order.due, order.price, order.note
            if row.state != order.state.value:
                row.state, row.since = order.state.value, now()
            session.commit()

    def move(self, order_id: int, state: OrderState) -> None:
        """Say how far an order is."""
        order = self.get(order_id)
        if order is not None:
            self.change(replace(order, state=state))

    def put(self, board_id: int, order_id: int | None) -> None:
        """Let a board belong to an order, or with None to no order."""
        with writing(self.engine) as session:
            board = found_board(session, board_id)
            if order_id is not None:
                self._must(session, order_id)
            board.order_id = order_id
            session.commit()

    def appoint(self, board_id: int, whom: str, due: datetime | None) -> None:
        """Note for whom a board is and when it is due, on its order or a new one; with neither it belongs to none, and
        the order goes with its last board where nothing else was written of it."""
        with writing(self.engine) as session:
            board = found_board(session, board_id)
            if whom or due:
                if board.order_id is None:
                    board.order_id = agreed(session, whom, due, now())
                else:
                    row = self._must(session, board.order_id)
                    row.whom, row.due = whom, due
            elif board.order_id is not None:
                row, board.order_id = self._must(session, board.order_id), None
                session.flush()
                others = session.exec(select(Board.id).where(Board.order_id == row.id)).first()
                if others is None and row.price is None and not row.note:
                    session.delete(row)
            session.commit()

    def remove(self, order_id: int) -> None:
        """Delete an order; its boards stay, and belong to none."""
        with writing(self.engine) as session:
            row = self._must(session, order_id)
            for board in session.exec(select(Board).where(Board.order_id == order_id)).all():
                board.order_id = None
            session.flush()
            session.delete(row)
            session.commit()

    @staticmethod
    def _must(session: Session, order_id: int) -> OrderRow:
        row = session.get(OrderRow, order_id)
        if row is None:
            raise LaberintoError(f"There is no order {order_id}.")
        return row


def _view(row: OrderRow, boards: Iterable[int]) -> OrderView:
    assert row.id is not None
    return OrderView(
        row.id, row.whom, row.due, row.price, OrderState(row.state), row.note, row.created, row.since, tuple(boards)
    )
