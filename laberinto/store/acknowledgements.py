"""Findings that someone has seen and lets stand, each with a reason."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from sqlalchemy import Engine
from sqlmodel import select

from . import queries
from .database import writing
from .tables import Acknowledgement, now


@dataclass(frozen=True, slots=True)
class Stand:
    """Why a finding was let stand, and what it said then, in millimetres."""

    key: str
    why: str
    reason: str
    created: datetime


class Acknowledgements:
    """Those of one board."""

    def __init__(self, engine: Engine, board_id: int) -> None:
        self.engine = engine
        self.board_id = board_id

    def all(self) -> dict[str, Stand]:
        """By the findings' keys."""
        with self.engine.connect() as connection:
            return {row.key: Stand(*row) for row in connection.execute(queries.STANDING, {"board_id": self.board_id})}

    def put(self, key: str, why: str, reason: str) -> None:
        """Let a finding stand; a reason given before is replaced."""
        with writing(self.engine) as session:
            query = select(Acknowledgement).where(Acknowledgement.board == self.board_id, Acknowledgement.key == key)
            one = session.exec(query).first() or Acknowledgement(board=self.board_id, key=key, why=why, reason=reason)
            one.why, one.reason, one.created = why, reason, now()
            session.add(one)
            session.commit()

    def remove(self, key: str) -> None:
        """Let it speak again."""
        with writing(self.engine) as session:
            query = select(Acknowledgement).where(Acknowledgement.board == self.board_id, Acknowledgement.key == key)
            if (one := session.exec(query).first()) is not None:
                session.delete(one)
                session.commit()
