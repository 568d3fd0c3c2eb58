"""The trash: lots and photos that were removed and can be put back for a while. Boards lie on a shelf of their own."""

from __future__ import annotations

import json
from collections.abc import Callable
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from typing import Any

from sqlalchemy import Engine
from sqlmodel import Session, SQLModel, col, delete, select

from .database import writing
from .tables import Board, Cut, LotRow, Photo, Pin, Snapshot, Trashed, in_utc, now

KEPT = timedelta(days=30)
"""How long what was removed can be put back."""

LOT, LOT_PHOTO, STEP_PHOTO = "lot", "photo of a lot", "photo of a step"


@dataclass(frozen=True, slots=True)
class TrashView:
    """A thing in the trash: of which kind, what it was called, the board it belongs to, if to one."""

    id: int
    kind: str
    title: str
    board: int | None
    board_name: str
    pictured: bool
    removed: datetime


def throw(
    session: Session, kind: str, title: str, row: SQLModel, *, board: int | None = None, jpeg: bytes | None = None,
    **more: Any,
) -> Trashed:  # fmt: skip
    """Move a row into the trash, within a session; ``more`` is what else it takes to put it back."""
    data = row.model_dump(mode="json", exclude={"jpeg"}) | more
    thrown = Trashed(kind=kind, board=board, title=title, data=json.dumps(data), jpeg=jpeg)
    session.add(thrown)
    session.delete(row)
    session.flush()
    return thrown


class Trash:
    """All of it."""

    def __init__(self, engine: Engine) -> None:
        self.engine = engine

    def all(self) -> list[TrashView]:
        """What lies there, the last removed first."""
        columns = (
            Trashed.id, Trashed.kind, Trashed.title, Trashed.board, Board.name,
            col(Trashed.jpeg).is_not(None).label("pictured"), Trashed.removed,
        )  # fmt: skip
        with Session(self.engine) as session:
            query = select(*columns).join(Board, isouter=True).order_by(col(Trashed.id).desc())  # type: ignore[call-overload]
            return [
                TrashView(number or 0, kind, title, board, name or "", pictured, in_utc(removed))
                for number, kind, title, board, name, pictured, removed in session.exec(query).all()
            ]

    def newest(self, kind: str | None = None) -> TrashView | None:
        """What was removed last, of a kind if one is named."""
        return next((each for each in self.all() if kind in (None, each.kind)), None)

    def picture(self, number: int) -> bytes | None:
        """The photo of a thing in the trash, None where it has none."""
        with Session(self.engine) as session:
            row = session.get(Trashed, number)
            return row.jpeg if row else None

    def put_back(self, number: int) -> TrashView | None:
        """Take a thing out again, to where it was, under its number where that is free; None where there is nothing of
        that number any more, or where what it belonged to is gone."""
        seen = next((each for each in self.all() if each.id == number), None)
        with writing(self.engine) as session:
            row = session.get(Trashed, number)
            if row is None or seen is None or not _BACK[row.kind](session, json.loads(row.data), row.jpeg):
                return None
            session.delete(row)
            session.commit()
            return seen

    def clear(self, at: datetime | None = None) -> int:
        """Let go for good of what was removed longer than ``KEPT`` ago; returns how many."""
        late = (at or now()).astimezone(UTC) - KEPT
        with writing(self.engine) as session:
            gone = session.exec(delete(Trashed).where(col(Trashed.removed) < late)).rowcount
            session.commit()
            return gone

    def let_go(self, number: int) -> None:
        """Delete a thing for good."""
        with writing(self.engine) as session:
            if (row := session.get(Trashed, number)) is not None:
                session.delete(row)
                session.commit()


def _made(session: Session, table: type[Any], data: dict[str, Any]) -> Any:
    """A row of the kept values; under another number where its own was given to another since."""
    row = table.model_validate({name: value for name, value in data.items() if name in table.model_fields})
    if "id" in table.model_fields and session.get(table, row.id) is not None:
        row.id = None
    session.add(row)
    session.flush()
    return row


def _lot(session: Session, data: dict[str, Any], jpeg: bytes | None) -> bool:
    if data["cut"] is not None and session.get(Cut, data["cut"]) is None:
        data["cut"] = None
    lot = _made(session, LotRow, data)
    if jpeg is not None:
        session.add(Photo(lot=lot.id, jpeg=jpeg))
    return True


def _lot_photo(session: Session, data: dict[str, Any], jpeg: bytes | None) -> bool:
    if session.get(LotRow, data["lot"]) is None or jpeg is None:
        return False
    session.merge(Photo(lot=data["lot"], jpeg=jpeg))
    return True


def _step_photo(session: Session, data: dict[str, Any], jpeg: bytes | None) -> bool:
    photo = _made(session, Snapshot, {**data, "jpeg": jpeg})
    pin = session.get(Pin, data.get("pin")) if data.get("pin") else None
    if pin is not None and pin.photo is None:
        pin.photo = photo.id
        session.add(pin)
    return True


_BACK: dict[str, Callable[[Session, dict[str, Any], bytes | None], bool]] = {
    LOT: _lot, LOT_PHOTO: _lot_photo, STEP_PHOTO: _step_photo
}  # fmt: skip
