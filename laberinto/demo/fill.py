"""Fill a data folder with the demo. Dates count from today, so something is always drying, due and overdue."""

from __future__ import annotations

import json
from dataclasses import replace
from datetime import UTC, datetime, timedelta
from pathlib import Path

from laberinto.core.asbuilt import measure
from laberinto.core.calendar.settings import KEY, Settings
from laberinto.core.errors import InputError
from laberinto.core.plan.simulate import simulate
from laberinto.core.rules import check
from laberinto.core.steps import steps
from laberinto.core.units import Lengths
from laberinto.store import Store, open_database

from .boards import BOARDS, LESSONS, TOGETHER, DemoBoard, Turn
from .calendar import week
from .finished import FINISHED, add
from .timber import HELD_FOR, hold, stock

MARKER = "made-by-the-demo"
"""The file that says that a folder holds the demo and nothing of anybody's own."""

_OURS = ("laberinto.db", "laberinto.db-wal", "laberinto.db-shm", "laberinto.db-journal", "secret", MARKER)


def clear(folder: Path) -> list[str]:
    """Remove the demo from a folder that it made itself, and nothing else; the names of the files that are gone.

    Raises InputError for any other folder that is there.
    """
    if not folder.exists():
        return []
    if not (folder / MARKER).is_file():
        raise InputError(
            f"{folder} was not made by the demo, so nothing in it is touched. Choose another folder with --data, or "
            "leave --fresh out.", "fresh",
        )  # fmt: skip
    gone = [name for name in _OURS if (folder / name).is_file()]
    for name in gone:  # the marker goes last: broken off half-way, what is left can still be cleared
        (folder / name).unlink()
    return gone


def fill(folder: Path) -> bool:
    """Fill ``folder`` unless there are boards in it already; True if it was filled.

    Raises InputError where the folder holds a database that the demo did not make and that has no boards yet.
    """
    database, marker = folder / "laberinto.db", folder / MARKER
    own = database.exists() and not marker.exists()
    folder.mkdir(parents=True, exist_ok=True)
    if not own:
        marker.write_text("Laberinto's demo made this folder. `laberinto demo --fresh` may empty it.\n")
    store = Store(open_database(database))
    if store.boards():
        return False
    if own:
        raise InputError(
            f"{folder} holds a shop of its own, without boards yet. Choose another folder with --data.", "data"
        )
    stock(store)
    store.prefer(KEY, json.dumps(Settings(week(datetime.now(UTC).date())).typed))
    for board in BOARDS:
        _add(store, board, datetime.now(UTC))
    for one in FINISHED:
        add(store, one, datetime.now(UTC))
    hold(store, HELD_FOR)
    by_name = {board.name: board.id for board in store.boards()}
    _together(store, by_name, datetime.now(UTC))
    for name, text, when in LESSONS:
        if name in by_name:
            store.lessons.add(text, when, by_name[name], name)
    return True


def _together(store: Store, by_name: dict[str, int], today: datetime) -> None:
    """An order of several boards, if they are there."""
    whom, boards, due, state, note = TOGETHER
    if not set(boards) <= set(by_name):
        return
    number = store.orders.add(whom)
    order = store.orders.get(number)
    assert order is not None
    store.orders.change(replace(order, due=today + timedelta(days=due), state=state, note=note))
    for name in boards:
        store.orders.put(by_name[name], number)


def _turn(store: Store, board_id: int, turn: Turn) -> None:
    """Take a board on to a later state."""
    view = store.board(board_id)
    assert view is not None
    head = store.save(board_id, turn.plan, turn.words, based_on=view.revision).revision
    store.revisions(board_id).name(head, turn.name)
    if turn.pin:
        store.pin(board_id, turn.pin)


def _add(store: Store, board: DemoBoard, today: datetime) -> None:
    due = today + timedelta(days=board.due) if board.due is not None else None
    board_id = store.create(board.plan, order_for=board.order_for, due=due)
    view = store.board(board_id)
    if view is not None and view.order is not None:
        order = store.orders.get(view.order)
        assert order is not None
        store.orders.change(replace(order, state=board.state, price=board.price))
    for turn in board.turns:
        _turn(store, board_id, turn)
    plan = board.turns[-1].plan if board.turns else board.plan
    build = store.build(board_id)
    done = steps(simulate(plan))[: board.done]
    for i, step in enumerate(done):
        share = i / max(len(done) - 1, 1)
        for key in step.keys:
            build.tick(key, today - timedelta(days=board.began + (board.last - board.began) * share))
    said = {finding.key: finding.why for finding in check(simulate(plan))} if board.stands else {}
    for key, reason in board.stands:
        store.acknowledged(board_id).put(key, said[key], reason)
    planned = {step.key: step.measure for step in steps(simulate(plan))}
    for note in board.notes:
        build.write(note.step, note.text, note.measured, today - timedelta(days=note.days), planned.get(note.step))
    for stage, key, mm in board.measured:
        view = store.board(board_id)
        assert view is not None
        edit = measure(view.plan, stage, key, mm, Lengths())
        store.save(board_id, edit.plan, edit.words, based_on=view.revision)
