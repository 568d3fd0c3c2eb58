"""What is kept of the calendar: jobs that somebody pinned, and the one that was found last."""

from __future__ import annotations

from datetime import datetime

from sqlalchemy import Engine
from sqlmodel import Session, col, select

from .database import writing
from .tables import Move, Planned, in_utc, now

_ONE, _BEFORE = 1, 2
"""There is one calendar of a shop, and the one that was worked by before today."""


class CalendarStore:
    """The calendar of the shop."""

    def __init__(self, engine: Engine) -> None:
        self.engine = engine

    def pins(self) -> dict[str, datetime]:
        """To which moment jobs are pinned, by job."""
        with Session(self.engine) as session:
            moves = session.exec(select(Move).order_by(col(Move.id))).all()
        last = {move.job: move.start for move in moves}
        return {job: in_utc(start) for job, start in last.items() if start is not None}

    def pin(self, board_id: int, job: str, start: datetime | None) -> None:
        """Pin a job, or with None let go of it."""
        with writing(self.engine) as session:
            session.add(Move(board=board_id, job=job, start=start))
            session.commit()

    def last_move(self) -> str | None:
        """The job that was pinned or let go of last, None where none was."""
        with Session(self.engine) as session:
            move = session.exec(select(Move).order_by(col(Move.id).desc()).limit(1)).first()
            return move.job if move else None

    def take_back(self) -> bool:
        """Take the last move back; whether there was one."""
        with writing(self.engine) as session:
            move = session.exec(select(Move).order_by(col(Move.id).desc()).limit(1)).first()
            if move is None:
                return False
            session.delete(move)
            session.commit()
            return True

    def found(self) -> tuple[str, str, datetime] | None:
        """Of which problem the last calendar was, its data, and when it was found; None where none was found yet."""
        with Session(self.engine) as session:
            row = session.get(Planned, _ONE)
            return (row.key, row.data, in_utc(row.created)) if row else None

    def before(self) -> tuple[str, datetime] | None:
        """The data of the calendar that was worked by before today, or else of the first of today that was replaced;
        and when it was found."""
        with Session(self.engine) as session:
            row = session.get(Planned, _BEFORE)
            return (row.data, in_utc(row.created)) if row else None

    def keep(self, key: str, data: str, today: datetime) -> None:
        """Keep a calendar instead of the one before. One that was found before ``today`` began stays beside it, to tell
        what slipped."""
        with writing(self.engine) as session:
            row = session.get(Planned, _ONE)
            if row is not None and (in_utc(row.created) < today or session.get(Planned, _BEFORE) is None):
                session.merge(Planned(id=_BEFORE, key=row.key, data=row.data, created=row.created))
            session.merge(Planned(id=_ONE, key=key, data=data, created=now()))
            session.commit()
