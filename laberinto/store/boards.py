"""Boards and the revisions of their plans. Every change is one transaction and one new revision."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from sqlalchemy import Engine, update
from sqlmodel import Session, col, select

from laberinto.core.errors import LaberintoError
from laberinto.core.plan import Plan, read_plan

from .tables import Board, Preference, Revision, now

_STALE = "This board was changed on another page meanwhile."


class StaleError(LaberintoError):
    """The board was changed meanwhile from another page; nothing was saved."""


@dataclass(frozen=True, slots=True)
class BoardView:
    """A board as it stands: its plan at the head revision, and whether there is something to undo or redo."""

    id: int
    name: str
    order_for: str
    due: datetime | None
    created: datetime
    changed: datetime
    revision: int
    words: str
    plan: Plan
    can_undo: bool
    can_redo: bool


@dataclass(frozen=True, slots=True)
class RevisionView:
    """One line of a board's history."""

    id: int
    words: str
    created: datetime
    is_head: bool


class Store:
    """All that is kept about boards and their plans."""

    def __init__(self, engine: Engine) -> None:
        self.engine = engine

    def boards(self) -> list[BoardView]:
        """All boards, the last changed first."""
        with Session(self.engine) as session:
            found = session.exec(select(Board).order_by(col(Board.changed).desc(), col(Board.id).desc())).all()
            return [self._view(session, board) for board in found]

    def board(self, board_id: int) -> BoardView | None:
        with Session(self.engine) as session:
            board = session.get(Board, board_id)
            return self._view(session, board) if board else None

    def create(self, plan: Plan, *, words: str = "started", order_for: str = "", due: datetime | None = None) -> int:
        """Keep a new board; returns its id."""
        with Session(self.engine) as session:
            board = Board(name=plan.name, order_for=order_for, due=due)
            session.add(board)
            session.flush()
            revision = Revision(board=_id(board), plan=plan.as_json(), words=words)
            session.add(revision)
            session.flush()
            board.head = revision.id
            session.commit()
            return _id(board)

    def save(self, board_id: int, plan: Plan, words: str, *, based_on: int) -> BoardView:
        """Add a revision on top of ``based_on``; returns the board as it then stands.

        Raises StaleError where ``based_on`` is no longer the head.
        """
        with Session(self.engine) as session:
            board = self._must(session, board_id)
            if board.head != based_on:
                raise StaleError(_STALE)
            revision = Revision(board=board_id, parent=based_on, plan=plan.as_json(), words=words)
            session.add(revision)
            session.flush()
            # compared and changed in one statement, so that of two edits at once only one goes through
            change = update(Board).where(col(Board.id) == board_id, col(Board.head) == based_on)
            if session.exec(change.values(head=revision.id, name=plan.name, changed=now())).rowcount != 1:
                session.rollback()
                raise StaleError(_STALE)
            session.commit()
            session.refresh(board)
            return self._view(session, board, plan)

    def undo(self, board_id: int) -> bool:
        """Step back to the revision the head was made from; False where there is none."""
        with Session(self.engine) as session:
            board = self._must(session, board_id)
            head = session.get(Revision, board.head)
            return self._show(session, board, head.parent if head else None)

    def redo(self, board_id: int) -> bool:
        """Step forward again to the newest revision made from the head; False where there is none."""
        with Session(self.engine) as session:
            board = self._must(session, board_id)
            return self._show(session, board, self._next(session, board))

    def restore(self, board_id: int, revision_id: int) -> int | None:
        """Take an earlier revision up again as a new one on top; its id, or None where there is no such one."""
        with Session(self.engine) as session:
            board, old = self._must(session, board_id), session.get(Revision, revision_id)
            if old is None or old.board != board_id:
                return None
            revision = Revision(board=board_id, parent=board.head, plan=old.plan, words=f"back to “{old.words}”")
            session.add(revision)
            session.flush()
            board.head, board.name, board.changed = revision.id, read_plan(old.plan).name, now()
            session.commit()
            return revision.id

    def history(self, board_id: int) -> list[RevisionView]:
        """All revisions, the newest first."""
        with Session(self.engine) as session:
            board = self._must(session, board_id)
            found = session.exec(
                select(Revision).where(Revision.board == board_id).order_by(col(Revision.id).desc())
            ).all()
            return [RevisionView(_id(r), r.words, r.created, r.id == board.head) for r in found]

    def delete(self, board_id: int) -> None:
        """Remove a board with all its revisions, ticks and notes."""
        with Session(self.engine) as session:
            board = self._must(session, board_id)
            board.head = None
            session.flush()
            # children before parents, since a revision points at the one it was made from
            for revision in session.exec(
                select(Revision).where(Revision.board == board_id).order_by(col(Revision.id).desc())
            ).all():
                session.delete(revision)
                session.flush()
            session.delete(board)
            session.commit()

    def preference(self, key: str, default: str) -> str:
        with Session(self.engine) as session:
            found = session.get(Preference, key)
            return found.value if found else default

    def prefer(self, key: str, value: str) -> None:
        with Session(self.engine) as session:
            session.merge(Preference(key=key, value=value))
            session.commit()

    @staticmethod
    def _must(session: Session, board_id: int) -> Board:
        board = session.get(Board, board_id)
        if board is None:
            raise LaberintoError(f"There is no board {board_id}.")
        return board

    @staticmethod
    def _next(session: Session, board: Board) -> int | None:
        made_from_head = select(Revision.id).where(Revision.board == board.id, Revision.parent == board.head)
        return session.exec(made_from_head.order_by(col(Revision.id).desc())).first()

    @staticmethod
    def _show(session: Session, board: Board, revision_id: int | None) -> bool:
        revision = session.get(Revision, revision_id) if revision_id is not None else None
        if revision is None:
            return False
        board.head, board.name, board.changed = revision.id, read_plan(revision.plan).name, now()
        session.commit()
        return True

    def _view(self, session: Session, board: Board, plan: Plan | None = None) -> BoardView:
        head = session.get(Revision, board.head)
        assert head is not None
        return BoardView(
            id=_id(board), name=board.name, order_for=board.order_for, due=board.due, created=board.created,
            changed=board.changed, revision=_id(head), words=head.words, plan=plan or read_plan(head.plan),
            can_undo=head.parent is not None, can_redo=self._next(session, board) is not None,
        )  # fmt: skip


def _id(row: Board | Revision) -> int:
    assert row.id is not None
    return row.id
