"""The revisions of one board's plan: what was done, and how it stood."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from itertools import takewhile

from sqlalchemy import Connection, Engine
from sqlmodel import Session, col, select

from laberinto.core.plan.model import Plan

from . import queries
from .database import writing
from .plans import plan_of
from .tables import Revision, found_board
from .views import RevisionView

MOST_SINCE = 20
"""So many changes are told at once."""


class Revisions:
    """How a board's plan stood; all raise LaberintoError where they look for a board that is not there."""

    def __init__(self, engine: Engine, board_id: int) -> None:
        self.engine = engine
        self.board_id = board_id

    def all(self) -> list[RevisionView]:
        """The newest first."""
        with Session(self.engine) as session:
            head = found_board(session, self.board_id).head
            found = session.exec(
                select(Revision).where(Revision.board == self.board_id).order_by(col(Revision.id).desc())
            ).all()
            letters: dict[int, str] = {}
            for letter, at in pinned(session.connection(), self.board_id):
                letters[at] = letters.get(at, "") + letter
            return [_line(r, head, letters.get(r.id or 0, "")) for r in found]

    def since(self, revision_id: int) -> list[RevisionView]:
        """What was done after a revision to reach the head, the oldest first; the newest twenty at most."""
        with Session(self.engine) as session:
            head = found_board(session, self.board_id).head
            found: list[RevisionView] = []
            at = session.get(Revision, head)
            while at is not None and at.id != revision_id and len(found) < MOST_SINCE:
                found.append(_line(at, head))
                at = session.get(Revision, at.parent) if at.parent else None
            return found[::-1]

    def plan_at(self, revision_id: int) -> Plan | None:
        """The plan as it stood at a revision of this board, or None."""
        with Session(self.engine) as session:
            revision = session.get(Revision, revision_id)
            return plan_of(revision.plan) if revision is not None and revision.board == self.board_id else None

    def ancestors(self) -> Iterator[Plan]:
        """Plans from the head back to the first, each the one the last was made from."""
        with Session(self.engine) as session:
            at = session.get(Revision, found_board(session, self.board_id).head)
            while at is not None:
                yield plan_of(at.plan)
                at = session.get(Revision, at.parent) if at.parent else None

    def before(self, such: Callable[[str], bool]) -> Plan | None:
        """The plan before the changes that lead to the head and of all of which the words are ``such``; None where
        those of the last are not."""
        told = list(takewhile(lambda line: such(line[1]), self._path()))
        return self.plan_at(told[-1][0]) if told else None

    def last_planned(self, such: Callable[[str], bool]) -> int | None:
        """The revision before the first change on the way to the head of which the words are ``such``; None where there
        was none."""
        told = [parent for parent, words in self._path() if such(words)]
        return told[-1] if told else None

    def name(self, revision_id: int, name: str) -> bool:
        """Give a revision a name of its own, or with "" take it away; False where there is no such revision."""
        with writing(self.engine) as session:
            revision = session.get(Revision, revision_id)
            if revision is None or revision.board != self.board_id:
                return False
            revision.name = name
            session.commit()
            return True

    def _path(self) -> list[tuple[int, str]]:
        """From the head back to the first change: the revision it was made from, and its words."""
        with self.engine.connect() as connection:
            path = connection.execute(queries.PATH, {"board_id": self.board_id}).all()
        return [(parent, words) for parent, words in path if parent]


def pinned(connection: Connection, board_id: int) -> list[tuple[str, int]]:
    """A board's variants: letter and revision, by letter."""
    found = connection.execute(queries.VARIANTS_OF, {"board_id": board_id})
    return [(letter, revision) for _, letter, revision in found]


def _line(revision: Revision, head: int | None, letters: str = "") -> RevisionView:
    assert revision.id is not None
    return RevisionView(revision.id, revision.words, revision.created, revision.id == head, revision.name, letters)
