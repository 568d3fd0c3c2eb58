"""Lessons of the shop."""

from __future__ import annotations

from dataclasses import asdict, dataclass
from datetime import datetime

from sqlalchemy import Engine
from sqlmodel import Session, col, select

from laberinto.core.analysis.lessons import When

from .database import writing
from .tables import Lesson, in_utc


@dataclass(frozen=True, slots=True)
class LessonView:
    """What was learnt, on which board, and when it is said again."""

    id: int
    text: str
    when: When
    board: int | None
    taught_by: str
    created: datetime


class Lessons:
    """All that the shop has learnt."""

    def __init__(self, engine: Engine) -> None:
        self.engine = engine

    def all(self) -> list[LessonView]:
        """The newest first."""
        with Session(self.engine) as session:
            rows = session.exec(select(Lesson).order_by(col(Lesson.created).desc(), col(Lesson.id).desc())).all()
            return [
                LessonView(
                    row.id or 0, row.text, _when(row), row.board, row.taught_by, in_utc(row.created),
                )
                for row in rows
            ]  # fmt: skip

    def add(self, text: str, when: When, board: int, taught_by: str) -> int:
        """Keep a lesson; returns its number."""
        with writing(self.engine) as session:
            row = Lesson(text=text, board=board, taught_by=taught_by, **asdict(when))
            session.add(row)
            session.commit()
            return row.id or 0

    def change(self, lesson_id: int, text: str, when: When) -> None:
        """Word it anew, or let it be said at another time."""
        with writing(self.engine) as session:
            row = session.get(Lesson, lesson_id)
            if row is not None:
                row.text = text
                for name, value in asdict(when).items():
                    setattr(row, name, value)
                session.add(row)
                session.commit()

    def drop(self, lesson_id: int) -> None:
        """Let go of it."""
        with writing(self.engine) as session:
            row = session.get(Lesson, lesson_id)
            if row is not None:
                session.delete(row)
                session.commit()


def _when(row: Lesson) -> When:
    return When(row.kind, row.machine, row.wood, row.family, row.thickness, row.order)
