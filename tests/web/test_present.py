"""How moments, dates and amounts are said."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta
from pathlib import Path

import pytest
from flask import Flask

from laberinto.core.plan.simulate import simulate
from laberinto.core.steps import steps
from laberinto.demo.fill import fill
from laberinto.store import Store, open_database
from laberinto.web.app import present
from laberinto.web.screens.build.view import log
from laberinto.web.screens.steps import sheet

NOW = datetime(2031, 5, 20, 15, 0, tzinfo=UTC)


@pytest.mark.parametrize(
    ("ago", "said"),
    [
        (timedelta(seconds=20), "just now"),
        (timedelta(minutes=5), "5 minutes ago"),
        (timedelta(hours=3), "3 hours ago"),
        (timedelta(hours=22), "yesterday"),
        (timedelta(days=3), "3 days ago"),
        (timedelta(days=20), "30 Apr"),
        (timedelta(days=400), "15 Apr 2030"),
    ],
)
def test_moments_are_said_as_people_say_them(ago: timedelta, said: str) -> None:
    assert present.when(NOW - ago, NOW) == said


@pytest.mark.parametrize(
    ("days", "said"),
    [(-2, "2 days overdue"), (-1, "1 day overdue"), (0, "due today"), (1, "due tomorrow"), (9, "due in 9 days")],
)
def test_due_dates(days: int, said: str) -> None:
    assert present.due(NOW + timedelta(days=days), NOW) == said


def test_amounts_in_either_system(app: Flask, store: Store) -> None:
    with app.test_request_context():
        # 4.72 l is 2 board feet (2 × 2.3597 l); 3 kg is 6.6 lb
        assert (present.volume(4.7195e6), present.weight(3.0)) == ("4.72 l", "3.0 kg")
    store.prefer("units", "in16")
    with app.test_request_context():
        assert (present.volume(4.7195e6), present.weight(3.0)) == ("2.00 bf", "6.6 lb")
        assert present.area(92903.04) == "1.0 ft²"


def test_the_demo_has_something_drying_due_overdue_and_done(app: Flask, tmp_path: Path) -> None:
    folder = tmp_path / "demo"
    assert fill(folder) is True
    assert fill(folder) is False  # what is there stays
    store = Store(open_database(folder / "laberinto.db"))
    boards = store.boards()
    today = datetime.now(UTC).date()
    ended = []
    for board in boards:
        todo = steps(simulate(board.plan))
        ticks = store.build(board.id).ticks()
        known = {key for step in todo for key in step.keys}
        assert set(ticks) <= known
        assert {note.step for note in store.build(board.id).notes()} <= known
        ended.append(len(ticks) == len(todo))
    assert any(ended) and not all(ended)
    open_due = [b.due.date() for b, done in zip(boards, ended, strict=True) if b.due and not done]
    assert min(open_due) < today < max(open_due)
    app.extensions["store"] = store
    with app.test_request_context():
        logs = [log(sheet(board), store.build(board.id).notes()) for board in boards]
    assert any(entry.ready_at for entry in logs)


def test_a_note_says_how_far_a_measure_is_off(app: Flask, store: Store, board: int) -> None:
    build = store.build(board)
    build.write("slices.cut", "", 42.5)
    build.write("slices.square", "no measure belongs here", 3.0)
    with app.test_request_context():
        view = store.board(board)
        assert view is not None
        entries = log(sheet(view), build.notes()).entries
    offs = {e.step.key: e.off(note) for e in entries for note in e.notes}
    assert offs == {"slices.cut": 0.5, "slices.square": None}
