"""The build log: which steps are done, and what was measured and noticed."""

from __future__ import annotations

import json
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime

from sqlalchemy import Engine
from sqlmodel import Session, col, select

from . import queries
from .database import writing
from .tables import Note, Pin, Snapshot, Tick, now
from .trash import STEP_PHOTO, throw


@dataclass(frozen=True, slots=True)
class NoteView:
    """One entry of the log; ``measured``, and what the plan said when it was, of which quantity, in which unit and of
    which piece, counted from 0."""

    id: int
    step: str
    text: str
    measured: float | None
    created: datetime
    planned: float | None = None
    quantity: str = ""
    unit: str = "mm"
    piece: int | None = None
    spots: tuple[float, ...] = ()


@dataclass(frozen=True, slots=True)
class PhotoView:
    """A photo of a step."""

    id: int
    step: str
    created: datetime


class Build:
    """Ticks and notes of one board."""

    def __init__(self, engine: Engine, board_id: int) -> None:
        self.engine = engine
        self.board_id = board_id

    def ticks(self) -> dict[str, datetime]:
        """When each done step was ticked, by its key."""
        with self.engine.connect() as connection:
            return dict(connection.execute(queries.TICKS, {"board_id": self.board_id}).all())

    def tick(self, step: str, at: datetime | None = None) -> None:
        """Mark a step done; ticking twice keeps the first time."""
        with writing(self.engine) as session:
            query = select(Tick).where(Tick.board == self.board_id, Tick.step == step)
            if session.exec(query).first() is None:
                session.add(Tick(board=self.board_id, step=step, done=at or now()))
                session.commit()

    def untick(self, step: str) -> None:
        """Take a tick back."""
        with writing(self.engine) as session:
            for tick in session.exec(select(Tick).where(Tick.board == self.board_id, Tick.step == step)).all():
                session.delete(tick)
            session.commit()

    def notes(self) -> list[NoteView]:
        """All entries, the newest first."""
        with Session(self.engine) as session:
            found = session.exec(
                select(Note).where(Note.board == self.board_id).order_by(col(Note.created).desc(), col(Note.id).desc())
            ).all()
            return [
                NoteView(
                    n.id or 0,
                    n.step,
                    n.text,
                    n.measured,
                    n.created,
                    n.planned,
                    n.quantity,
                    n.unit,
                    n.piece,
                    tuple(json.loads(n.spots or "[]")),
                )
                for n in found
            ]

    def write(
        self, step: str, text: str, measured: float | None, at: datetime | None = None, planned: float | None = None,
        quantity: str = "", unit: str = "mm", piece: int | None = None, spots: Sequence[float] = (),
    ) -> None:  # fmt: skip
        """Add an entry; ``measured``, and what is ``planned``, in ``unit`` or None."""
        note = Note(
            board=self.board_id, step=step, text=text, measured=measured, planned=planned, created=at or now(),
            quantity=quantity, unit=unit, piece=piece, spots=json.dumps(list(spots)) if spots else "",
        )  # fmt: skip
        with writing(self.engine) as session:
            session.add(note)
            session.commit()

    def erase(self, note_id: int) -> None:
        """Remove an entry of this board."""
        with writing(self.engine) as session:
            note = session.get(Note, note_id)
            if note is not None and note.board == self.board_id:
                session.delete(note)
                session.commit()

    def photos(self) -> list[PhotoView]:
        """All photos of its steps, the oldest first."""
        with Session(self.engine) as session:
            query = select(Snapshot.id, Snapshot.step, Snapshot.created).where(Snapshot.board == self.board_id)
            return [PhotoView(number or 0, step, at) for number, step, at in session.exec(query.order_by("created"))]

    def photo(self, number: int) -> bytes | None:
        """A photo of this board as JPEG; None where it has none of that number."""
        with Session(self.engine) as session:
            row = session.get(Snapshot, number)
            return row.jpeg if row is not None and row.board == self.board_id else None

    def keep_photo(self, step: str, jpeg: bytes, at: datetime | None = None) -> int:
        """Keep a photo of a step; returns its number."""
        with writing(self.engine) as session:
            row = Snapshot(board=self.board_id, step=step, jpeg=jpeg, created=at or now())
            session.add(row)
            session.commit()
            return row.id or 0

    def erase_photo(self, number: int) -> None:
        """Put a photo of this board into the trash."""
        with writing(self.engine) as session:
            row = session.get(Snapshot, number)
            if row is not None and row.board == self.board_id:
                pin = session.exec(select(Pin.id).where(Pin.photo == number)).first()
                throw(session, STEP_PHOTO, "", row, board=self.board_id, jpeg=row.jpeg, pin=pin)
                session.commit()
