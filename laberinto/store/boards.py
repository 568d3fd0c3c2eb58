"""Boards and the revisions of their plans. Every change is one transaction and one new revision."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import UTC, datetime
from typing import Any

from sqlalchemy import Connection, Engine, Row
from sqlalchemy.exc import DatabaseError
from sqlmodel import Session, col, delete, select

from laberinto.core.errors import DataError, LaberintoError
from laberinto.core.plan.model import Plan

from . import queries
from .acknowledgements import Acknowledgements
from .bench import BenchStore
from .builds import Build
from .calendar import CalendarStore
from .database import writing
from .doors import Doors
from .lessons import Lessons
from .orders import Orders, agreed
from .own_woods import OwnWoods
from .pins import Pins
from .plans import plan_of, text_of
from .revisions import Revisions, pinned
from .shelf import ShelfStore
from .tables import Board, Note, Preference, Revision, Variant, found_board, now
from .timber import Timber
from .trash import KEPT, Trash
from .views import BoardView, Shelf
from .whole import WholeBoards

_STALE = "This board was changed on another page meanwhile."


class StaleError(LaberintoError):
    """The board was changed meanwhile from another page; nothing was saved."""


class Store:
    """All that is kept about boards and their plans."""

    def __init__(self, engine: Engine) -> None:
        self.engine = engine

    def answers(self) -> None:
        """Raise DataError where the database does not answer."""
        try:
            with self.engine.connect() as connection:
                connection.execute(queries.COUNTS)
        except DatabaseError as error:
            raise DataError(f"The database does not answer: {error.orig}.") from None

    @property
    def timber(self) -> Timber:
        """The lots of the shop and the cuts made of them."""
        return Timber(self.engine)

    @property
    def bench(self) -> BenchStore:
        """Tallies and timers."""
        return BenchStore(self.engine)

    @property
    def calendar(self) -> CalendarStore:
        """What is pinned, and the calendar found last."""
        return CalendarStore(self.engine)

    @property
    def orders(self) -> Orders:
        """What is promised to whom."""
        return Orders(self.engine)

    @property
    def lessons(self) -> Lessons:
        """What the shop has learnt."""
        return Lessons(self.engine)

    @property
    def woods(self) -> OwnWoods:
        """Woods of the shop's own."""
        return OwnWoods(self.engine)

    @property
    def shelf(self) -> ShelfStore:
        """What is asked of all boards at once."""
        return ShelfStore(self.engine)

    @property
    def whole(self) -> WholeBoards:
        """Boards with everything that is kept of them."""
        return WholeBoards(self.engine)

    @property
    def trash(self) -> Trash:
        """Lots and photos that were removed."""
        return Trash(self.engine)

    @property
    def doors(self) -> Doors:
        """Devices that were let in."""
        return Doors(self.engine)

    def build(self, board_id: int) -> Build:
        """The build log of a board."""
        return Build(self.engine, board_id)

    def pins(self, board_id: int) -> Pins:
        """Faults and fills of a board."""
        return Pins(self.engine, board_id)

    def revisions(self, board_id: int) -> Revisions:
        """How a board's plan stood, from the first to the newest."""
        return Revisions(self.engine, board_id)

    def acknowledged(self, board_id: int) -> Acknowledgements:
        """What someone has let stand on a board."""
        return Acknowledgements(self.engine, board_id)

    def boards(self, shelf: Shelf = Shelf.BENCH) -> list[BoardView]:
        """All boards of a shelf, the last changed first."""
        with self.engine.connect() as connection:
            pinned: dict[int, list[tuple[str, int]]] = {}
            for board, letter, revision in connection.execute(queries.VARIANTS):
                pinned.setdefault(board, []).append((letter, revision))
            return [_view(row, pinned.get(row.id, ())) for row in connection.execute(queries.ON_SHELF[shelf.value])]

    def counts(self) -> dict[Shelf, int]:
        """How many boards lie on each shelf."""
        with self.engine.connect() as connection:
            found = {name: n for name, n in connection.execute(queries.COUNTS)}  # noqa: C416
            return {shelf: found.get(shelf.value, 0) for shelf in Shelf}

    def begun(self) -> set[int]:
        """The boards of which a step is ticked."""
        with self.engine.connect() as connection:
            return {board for (board,) in connection.execute(queries.BEGUN)}

    def board(self, board_id: int) -> BoardView | None:
        """A board by its number, None where there is none."""
        with self.engine.connect() as connection:
            return _shown(connection, board_id)

    def create(
        self, plan: Plan, *, words: str = "started", order_for: str = "", due: datetime | None = None,
        at: datetime | None = None,
    ) -> int:  # fmt: skip
        """Keep a new board; returns its id."""
        with writing(self.engine) as session:
            board = Board(name=plan.name, created=at or now())
            if order_for or due:
                board.order_id = agreed(session, order_for, due, at or now())
            session.add(board)
            session.flush()
            revision = Revision(board=_id(board), plan=text_of(plan), words=words)
            session.add(revision)
            session.flush()
            board.head = revision.id
            session.commit()
            return _id(board)

    def save(self, board_id: int, plan: Plan, words: str, *, based_on: int, token: str = "") -> BoardView:
        """Add a revision on top of ``based_on``; returns the board as it then stands. ``token`` names the edit, so that
        one that is sent twice can be told (``arrived``).

        Raises StaleError where ``based_on`` is no longer the head.
        """
        with self.engine.begin() as connection:
            board = _shown(connection, board_id)
            if board is None:
                raise LaberintoError(f"There is no board {board_id}.")
            if board.revision != based_on:
                raise StaleError(_STALE)
            values = {
                "board": board_id, "parent": based_on, "plan": text_of(plan), "words": words, "name": "",
                "token": token, "created": now(),
            }  # fmt: skip
            revision = connection.execute(queries.ADD, values).lastrowid
            change = {
                "board_id": board_id, "based_on": based_on, "revision": revision, "called": plan.name, "at": now()
            }  # fmt: skip
            if connection.execute(queries.ADVANCE, change).rowcount != 1:
                raise StaleError(_STALE)
            _follow(connection, board_id, board.variant, revision)
            saved = _shown(connection, board_id)
            assert saved is not None
            return saved

    def arrived(self, board_id: int, token: str) -> bool:
        """Whether the edit with this token was saved already."""
        with Session(self.engine) as session:
            query = select(Revision.id).where(Revision.board == board_id, Revision.token == token)
            return session.exec(query).first() is not None

    def undo(self, board_id: int, based_on: int | None = None) -> bool:
        """Step back to the revision the head was made from; False where there is none.

        Raises StaleError where the head is no longer ``based_on``, the revision that was being looked at.
        """
        with writing(self.engine) as session:
            board = self._must(session, board_id, based_on)
            head = session.get(Revision, board.head)
            return self._show(session, board, head.parent if head else None)

    def redo(self, board_id: int, based_on: int | None = None) -> bool:
        """Step forward again to the newest revision made from the head; False where there is none. Raises StaleError as
        ``undo`` does."""
        with writing(self.engine) as session:
            board = self._must(session, board_id, based_on)
            return self._show(session, board, self._next(session, board))

    def restore(self, board_id: int, revision_id: int, based_on: int | None = None) -> int | None:
        """Take an earlier revision up again as a new one on top; its id, or None where there is no such one. Raises
        StaleError as ``undo`` does."""
        with writing(self.engine) as session:
            board, old = self._must(session, board_id, based_on), session.get(Revision, revision_id)
            if old is None or old.board != board_id:
                return None
            revision = Revision(board=board_id, parent=board.head, plan=old.plan, words=f"back to “{old.words}”")
            session.add(revision)
            session.flush()
            self._show(session, board, revision.id)
            return revision.id

    def readings(self) -> list[tuple[int, str, str, float, float]]:
        """All that was measured in this shop where it is known what was planned, the oldest first: board, step,
        quantity, measured and planned."""
        with Session(self.engine) as session:
            query = select(Note).where(col(Note.measured).is_not(None), col(Note.planned).is_not(None))
            query = query.join(Board).where(~col(Board.elsewhere))
            query = query.order_by(col(Note.created), col(Note.id))
            return [
                (n.board, n.step, n.quantity, n.measured or 0.0, n.planned or 0.0) for n in session.exec(query).all()
            ]

    def pin(self, board_id: int, letter: str, based_on: int | None = None) -> None:
        """Pin the board as it stands under a letter, where it stays until it is switched to; what was pinned there
        before is let go. Raises StaleError as ``undo`` does."""
        with writing(self.engine) as session:
            board = self._must(session, board_id, based_on)
            assert board.head is not None
            query = select(Variant).where(Variant.board == board_id, Variant.letter == letter)
            variant = session.exec(query).first() or Variant(board=board_id, letter=letter, revision=board.head)
            variant.revision = board.head
            session.add(variant)
            session.commit()

    def unpin(self, board_id: int, letter: str) -> None:
        """Let go of a variant; its revisions stay in the history."""
        with writing(self.engine) as session:
            board = self._must(session, board_id)
            query = select(Variant).where(Variant.board == board_id, Variant.letter == letter)
            if (variant := session.exec(query).first()) is not None:
                session.delete(variant)
            board.variant = "" if board.variant == letter else board.variant
            session.commit()

    def switch(self, board_id: int, letter: str, based_on: int | None = None) -> bool:
        """Show the variant pinned under a letter; edits from then on go with it. False where there is none. Raises
        StaleError as ``undo`` does."""
        with writing(self.engine) as session:
            board = self._must(session, board_id, based_on)
            letters = dict(pinned(session.connection(), board_id))
            board.variant = letter if letter in letters else board.variant
            return self._show(session, board, letters.get(letter))

    def put(self, board_id: int, shelf: Shelf) -> None:
        """Put a board on a shelf."""
        with writing(self.engine) as session:
            board = self._must(session, board_id)
            board.archived = now() if shelf is Shelf.ARCHIVE else None
            board.removed = now() if shelf is Shelf.REMOVED else None
            session.commit()

    def clear(self, at: datetime | None = None) -> int:
        """Delete boards that were removed longer than ``KEPT`` ago; returns how many."""
        late = (at or now()).replace(tzinfo=None) - KEPT
        gone = [board for board in self.boards(Shelf.REMOVED) if board.removed and _plain(board.removed) < late]
        for board in gone:
            self.delete(board.id)
        return len(gone)

    def delete(self, board_id: int) -> None:
        """Delete a board for good, with all its revisions, ticks and notes."""
        with writing(self.engine) as session:
            self._must(session, board_id)
            # a revision points at the one it was made from, and the board at its head: looked at when all are gone
            session.connection().exec_driver_sql("PRAGMA defer_foreign_keys=ON")
            session.exec(delete(Board).where(col(Board.id) == board_id))
            session.commit()

    def preferences(self) -> dict[str, str]:
        """What this shop prefers, by key."""
        with self.engine.connect() as connection:
            return dict(connection.execute(queries.PREFERENCES).all())

    def prefer(self, key: str, value: str) -> None:
        """Keep how the shop likes something."""
        with writing(self.engine) as session:
            session.merge(Preference(key=key, value=value))
            session.commit()

    @staticmethod
    def _must(session: Session, board_id: int, based_on: int | None = None) -> Board:
        board = found_board(session, board_id)
        if based_on is not None and board.head != based_on:
            raise StaleError(_STALE)
        return board

    @staticmethod
    def _next(session: Session, board: Board) -> int | None:
        made_from_head = select(Revision.id).where(Revision.board == board.id, Revision.parent == board.head)
        return session.exec(made_from_head.order_by(col(Revision.id).desc())).first()

    @classmethod
    def _show(cls, session: Session, board: Board, revision_id: int | None) -> bool:
        revision = session.get(Revision, revision_id) if revision_id is not None else None
        if revision is None:
            return False
        board.head, board.name, board.changed = revision.id, plan_of(revision.plan).name, now()
        _follow(session.connection(), _id(board), board.variant, _id(revision))
        session.commit()
        return True


def _shown(connection: Connection, board_id: int) -> BoardView | None:
    """A board as it stands, or None where there is none."""
    row = connection.execute(queries.HEAD, {"board_id": board_id}).first()
    if row is None:
        return None
    return _view(row, pinned(connection, board_id))


def _follow(connection: Connection, board_id: int, letter: str, revision_id: int) -> None:
    """The variant being worked on goes along with the head."""
    if letter:
        connection.execute(queries.FOLLOW, {"board_id": board_id, "which": letter, "now_at": revision_id})


def _view(row: Row[Any], pinned: Iterable[tuple[str, int]]) -> BoardView:
    return BoardView(
        id=row.id, name=row.name, order=row.order_id, order_for=row.whom or "", due=row.due, handed=bool(row.handed),
        created=row.created, changed=row.changed,
        revision=row.revision, words=row.words, text=row.plan, can_undo=row.parent is not None,
        can_redo=row.redo is not None, variant=row.variant, variants=tuple(pinned),
        archived=row.archived, removed=row.removed,
    )  # fmt: skip


def _plain(moment: datetime) -> datetime:
    """In UTC without saying so, as the database gives times back."""
    return moment.astimezone(UTC).replace(tzinfo=None) if moment.tzinfo else moment


def _id(row: Board | Revision) -> int:
    assert row.id is not None
    return row.id
