"""Devices that were let in from the shop's network. What a device shows is kept as a digest only."""

from __future__ import annotations

import secrets
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from enum import StrEnum
from hashlib import sha256

from sqlalchemy import Engine
from sqlmodel import Session, col, select

from .database import writing
from .tables import Device, in_utc, now

SEEN_EACH = timedelta(minutes=10)
"""That a device was seen is written down no more often."""


class May(StrEnum):
    """What a device may do: everything, or what is done at the bench: tick, count, measure, time and photograph."""

    DESIGN = "design"
    BENCH = "bench"


@dataclass(frozen=True, slots=True)
class DeviceView:
    """A device that was let in."""

    id: int
    name: str
    may: May
    created: datetime
    seen: datetime
    until: datetime | None


class Doors:
    """All devices that were let in."""

    def __init__(self, engine: Engine) -> None:
        self.engine = engine

    def let_in(self, name: str, may: May, until: datetime | None) -> str:
        """Let a device in until a moment, or for ever; what it shows from then on."""
        token = secrets.token_urlsafe(32)
        with writing(self.engine) as session:
            session.add(Device(name=name, token=_digest(token), may=may.value, seen=now(), until=until))
            session.commit()
        return token

    def known(self, token: str, at: datetime | None = None) -> DeviceView | None:
        """The device that shows this, None where none does, or its time is over."""
        moment = at or now()
        with Session(self.engine) as session:
            row = session.exec(select(Device).where(Device.token == _digest(token))).first()
            if row is None or (row.until is not None and in_utc(row.until) < moment):
                return None
            view, fresh = _view(row), moment - in_utc(row.seen) > SEEN_EACH
        if fresh:
            with writing(self.engine) as session:
                if (row := session.get(Device, view.id)) is not None:
                    row.seen = moment.astimezone(UTC)
                    session.add(row)
                    session.commit()
        return view

    def all(self) -> list[DeviceView]:
        """All of them, the last let in first; those whose time is over, too."""
        with Session(self.engine) as session:
            return [_view(row) for row in session.exec(select(Device).order_by(col(Device.id).desc())).all()]

    def change(self, number: int, may: May) -> None:
        """Let a device do something else."""
        with writing(self.engine) as session:
            if (row := session.get(Device, number)) is not None:
                row.may = may.value
                session.add(row)
                session.commit()

    def shut_out(self, number: int) -> None:
        """Let a device in no more."""
        with writing(self.engine) as session:
            if (row := session.get(Device, number)) is not None:
                session.delete(row)
                session.commit()


def _digest(token: str) -> str:
    return sha256(token.encode()).hexdigest()


def _view(row: Device) -> DeviceView:
    until = in_utc(row.until) if row.until else None
    return DeviceView(row.id or 0, row.name, May(row.may), in_utc(row.created), in_utc(row.seen), until)
