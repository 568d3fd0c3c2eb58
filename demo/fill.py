"""Fill a data folder with the demo. Dates count from today, so something is always drying, due and overdue."""

from __future__ import annotations

import shutil
from datetime import UTC, datetime, timedelta
from pathlib import Path

from laberinto.core.simulate import simulate
from laberinto.core.steps import steps
from laberinto.store import Build, Store, open_database

from .boards import BOARDS, DemoBoard


def fill(folder: Path, *, fresh: bool = False) -> bool:
    """Fill ``folder`` unless it holds boards already; True if it was filled."""
    if fresh and folder.exists():
        shutil.rmtree(folder)
    store = Store(open_database(folder / "laberinto.db"))
    if store.boards():
        return False
    for board in BOARDS:
        _add(store, board, datetime.now(UTC))
    return True


def _add(store: Store, board: DemoBoard, today: datetime) -> None:
    plan = board.plan
    due = today + timedelta(days=board.due) if board.due is not None else None
    board_id = store.create(plan, order_for=board.order_for, due=due)
    build = Build(store.engine, board_id)
    done = steps(simulate(plan))[: board.done]
    for i, step in enumerate(done):
        share = i / max(len(done) - 1, 1)
        build.tick(step.key, today - timedelta(days=board.began + (board.last - board.began) * share))
    for note in board.notes:
        build.write(note.step, note.text, note.measured, today - timedelta(days=note.days))
