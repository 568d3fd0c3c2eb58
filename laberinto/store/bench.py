"""What runs at the bench: how many pieces of a step are done, and timers."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, timedelta

from sqlalchemy import Engine
from sqlmodel import Session, col, select

from .database import writing
from .tables import Board, Tally, TimerRow, in_utc, now


@dataclass(frozen=True, slots=True)
class TallyView:
    """How many pieces are done, and when the first and the last of them were."""

    count: int
    first: datetime
    last: datetime

    @property
    def each(self) -> timedelta | None:
        """How long a piece takes, from the second on."""
        return (self.last - self.first) / (self.count - 1) if self.count > 1 else None

    def done_at(self, all_: int) -> datetime | None:
        """When all will be done at this pace."""
        return None if self.each is None or self.count >= all_ else self.last + self.each * (all_ - self.count)


@dataclass(frozen=True, slots=True)
class TimerView:
    """A timer: what for, on which board (its number and name, if any), and when it began and ends."""

    id: int
    label: str
    board: int | None
    name: str
    started: datetime
    ends: datetime

    def left(self, at: datetime | None = None) -> timedelta:
        """Until it ends; below nothing once it has."""
        return self.ends - (at or now())


class BenchStore:
    """Tallies of one step each, and the timers of the shop."""

    def __init__(self, engine: Engine) -> None:
        self.engine = engine

    def tally(self, board_id: int, step: str) -> TallyView | None:
        """How far a step's pieces are; None where none is done."""
        with Session(self.engine) as session:
            row = session.exec(select(Tally).where(Tally.board == board_id, Tally.step == step)).first()
            return TallyView(row.count, in_utc(row.first), in_utc(row.last)) if row else None

    def paces(self) -> list[tuple[str, float]]:
        """Of every step that was counted to two pieces or more, its key and the minutes that one took."""
        with Session(self.engine) as session:
            rows = session.exec(select(Tally).where(Tally.count > 1)).all()
            views = ((row.step, TallyView(row.count, in_utc(row.first), in_utc(row.last))) for row in rows)
            return [(step, view.each.total_seconds() / 60) for step, view in views if view.each is not None]

    def tallies(self) -> dict[int, dict[str, int]]:
        """How many pieces of each step are done, by board."""
        with Session(self.engine) as session:
            found: dict[int, dict[str, int]] = {}
            for row in session.exec(select(Tally)).all():
                found.setdefault(row.board, {})[row.step] = row.count
            return found

    def bring(self, board_id: int, step: str, count: int, at: datetime | None = None) -> None:
        """Bring a step's count to ``count``; what it stands at already changes nothing, so it may be said twice."""
        moment = at or now()
        with writing(self.engine) as session:
            row = session.exec(select(Tally).where(Tally.board == board_id, Tally.step == step)).first()
            if row is None:
                row = Tally(board=board_id, step=step, count=0, first=moment, last=moment)
            row.last = moment if count > row.count else row.last
            row.count = count
            if count > 0:
                session.add(row)
            elif row.id is not None:
                session.delete(row)
            session.commit()

    def tap(self, board_id: int, step: str, by: int = 1, at: datetime | None = None) -> None:
        """One piece more, or one less."""
        tally = self.tally(board_id, step)
        self.bring(board_id, step, max((tally.count if tally else 0) + by, 0), at)

    def timers(self) -> list[TimerView]:
        """All that run or have ended and were not put off, the first to end first."""
        with Session(self.engine) as session:
            query = select(TimerRow, Board.name).join(Board, isouter=True).order_by(col(TimerRow.ends))
            return [
                TimerView(row.id or 0, row.label, row.board, name or "", in_utc(row.started), in_utc(row.ends))
                for row, name in session.exec(query).all()
            ]

    def start(self, label: str, minutes: float, board_id: int | None = None, at: datetime | None = None) -> int:
        """Begin a timer; returns its number."""
        began = at or now()
        with writing(self.engine) as session:
            row = TimerRow(label=label, board=board_id, started=began, ends=began + timedelta(minutes=minutes))
            session.add(row)
            session.commit()
            return row.id or 0

    def stop(self, timer_id: int) -> None:
        """End a timer, or put an ended one off."""
        with writing(self.engine) as session:
            row = session.get(TimerRow, timer_id)
            if row is not None:
                session.delete(row)
                session.commit()
