"""Pins on the sides of a board: faults and fills, where they lie and how they were mended."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from sqlalchemy import Engine
from sqlmodel import Session, col, select

from .database import writing
from .tables import Pin, Snapshot, in_utc, now
from .trash import STEP_PHOTO, throw


@dataclass(frozen=True, slots=True)
class PinView:
    """A fault: where on which side of which of the finished boards (mm), what it is, the strip, wood and stage that
    spot came from, and what was done; ``photo`` is the number of its picture. ``minutes`` is what mending took."""

    id: int
    piece: int
    side: str
    x: float
    y: float
    fault: str
    strip: str
    wood: str
    stage: str
    text: str
    mended: str
    minutes: float | None
    photo: int | None
    created: datetime


class Pins:
    """The pins of one board."""

    def __init__(self, engine: Engine, board_id: int) -> None:
        self.engine = engine
        self.board_id = board_id

    def all(self) -> list[PinView]:
        """The oldest first."""
        with Session(self.engine) as session:
            rows = session.exec(select(Pin).where(Pin.board == self.board_id).order_by(col(Pin.id))).all()
            return [
                PinView(
                    r.id or 0, r.piece, r.side, r.x, r.y, r.fault, r.strip, r.wood, r.stage, r.text, r.mended,
                    r.minutes, r.photo, in_utc(r.created),
                )
                for r in rows
            ]  # fmt: skip

    def put(
        self, piece: int, side: str, x: float, y: float, fault: str, *, strip: str = "", wood: str = "",
        stage: str = "", text: str = "", at: datetime | None = None,
    ) -> int:  # fmt: skip
        """Stick a pin; returns its number."""
        with writing(self.engine) as session:
            row = Pin(
                board=self.board_id, piece=piece, side=side, x=x, y=y, fault=fault, strip=strip, wood=wood, stage=stage,
                text=text, created=at or now(),
            )  # fmt: skip
            session.add(row)
            session.commit()
            return row.id or 0

    def mend(self, number: int, text: str, mended: str, minutes: float | None) -> None:
        """Write down what it is, how it was mended ("" where it was not yet) and how long that took."""
        with writing(self.engine) as session:
            row = self._row(session, number)
            if row is not None:
                row.text, row.mended, row.minutes = text, mended, minutes
                session.add(row)
                session.commit()

    def picture(self, number: int, step: str, jpeg: bytes) -> None:
        """Give a pin a photo; the one before goes into the trash. It stands at a step of the build like any other."""
        with writing(self.engine) as session:
            row = self._row(session, number)
            if row is None:
                return
            before = session.get(Snapshot, row.photo) if row.photo else None
            taken = Snapshot(board=self.board_id, step=step, jpeg=jpeg)
            session.add(taken)
            session.flush()
            row.photo = taken.id
            session.add(row)
            session.flush()
            if before is not None:
                throw(session, STEP_PHOTO, "", before, board=self.board_id, jpeg=before.jpeg)
            session.commit()

    def pull(self, number: int) -> None:
        """Take a pin out."""
        with writing(self.engine) as session:
            row = self._row(session, number)
            if row is not None:
                session.delete(row)
                session.commit()

    def _row(self, session: Session, number: int) -> Pin | None:
        row = session.get(Pin, number)
        return row if row is not None and row.board == self.board_id else None
