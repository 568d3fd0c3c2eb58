"""Fill a data folder with the demo. Dates count from today, so something is always drying, due and overdue."""

from __future__ import annotations

import shutil
from datetime import UTC, datetime, timedelta
from pathlib import Path

from laberinto.core.rules import check
from laberinto.core.simulate import simulate
from laberinto.core.steps import steps
from laberinto.store import Acknowledgements, Build, Store, open_database

from .boards import BOARDS, DemoBoard, Turn
from .timber import HELD_FOR, hold, stock


def fill(folder: Path, *, fresh: bool = False) -> bool:
    """Fill ``folder`` unless it holds boards already; True if it was filled."""
    if fresh and folder.exists():
        shutil.rmtree(folder)
    store = Store(open_database(folder / "laberinto.db"))
    if store.boards():
        return False
    stock(store.engine)
    for board in BOARDS:
        _add(store, board, datetime.now(UTC))
    hold(store, HELD_FOR)
    return True


def _turn(store: Store, board_id: int, turn: Turn) -> None:
    """Take a board on to a later state."""
    view = store.board(board_id)
    assert view is not None
    head = store.save(board_id, turn.plan, turn.words, based_on=view.revision).revision
    store.name_revision(board_id, head, turn.name)
    if turn.pin:
        store.pin(board_id, turn.pin)


def _add(store: Store, board: DemoBoard, today: datetime) -> None:
    due = today + timedelta(days=board.due) if board.due is not None else None
    board_id = store.create(board.plan, order_for=board.order_for, due=due)
    for turn in board.turns:
        _turn(store, board_id, turn)
    plan = board.turns[-1].plan if board.turns else board.plan
    build = Build(store.engine, board_id)
    done = steps(simulate(plan))[: board.done]
    for i, step in enumerate(done):
        share = i / max(len(done) - 1, 1)
        build.tick(step.key, today - timedelta(days=board.began + (board.last - board.began) * share))
    said = {finding.key: finding.why for finding in check(simulate(plan))} if board.stands else {}
    for key, reason in board.stands:
        Acknowledgements(store.engine, board_id).put(key, said[key], reason)
    for note in board.notes:
        build.write(note.step, note.text, note.measured, today - timedelta(days=note.days))
