"""What is asked of all boards at once: ticks, faults, what was written down of some kind, and summaries."""

from __future__ import annotations

from datetime import datetime

from sqlalchemy import Engine
from sqlmodel import Session, col, select

from .database import writing
from .tables import Kept, Note, Pin, Tick, in_utc


class ShelfStore:
    """All boards together."""

    def __init__(self, engine: Engine) -> None:
        self.engine = engine

    def ticks(self) -> dict[int, dict[str, datetime]]:
        """When each done step was ticked, by board and key."""
        found: dict[int, dict[str, datetime]] = {}
        with Session(self.engine) as session:
            for board, step, done in session.exec(select(Tick.board, Tick.step, Tick.done)):
                found.setdefault(board, {})[step] = in_utc(done)
        return found

    def faults(self) -> dict[int, list[tuple[str, float]]]:
        """Kind and minutes of mending of every fault, by board."""
        found: dict[int, list[tuple[str, float]]] = {}
        with Session(self.engine) as session:
            for board, fault, minutes in session.exec(select(Pin.board, Pin.fault, Pin.minutes)):
                found.setdefault(board, []).append((fault, minutes or 0.0))
        return found

    def last(self, step: str) -> dict[int, float]:
        """What was measured last under a key, by board."""
        with Session(self.engine) as session:
            query = select(Note.board, Note.measured).where(Note.step == step, col(Note.measured).is_not(None))
            return {board: value or 0.0 for board, value in session.exec(query.order_by(col(Note.id)))}

    def summaries(self, shop: str) -> dict[tuple[int, int], str]:
        """What was added up for this shop, by board and revision."""
        with Session(self.engine) as session:
            rows = session.exec(select(Kept).where(Kept.shop == shop)).all()
            return {(row.board, row.revision): row.data for row in rows}

    def keep(self, board: int, revision: int, shop: str, data: str) -> None:
        """Keep what was added up of a board; what was kept of it before is let go."""
        with writing(self.engine) as session:
            session.merge(Kept(board=board, revision=revision, shop=shop, data=data))
            session.commit()
