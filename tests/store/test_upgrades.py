"""Upgrades: a database of every version opens, whatever ended an earlier try half-way, and nothing in it is lost."""

from __future__ import annotations

import os
import shutil
import sqlite3
from pathlib import Path
from typing import Any

import pytest
from alembic.autogenerate import compare_metadata
from alembic.migration import MigrationContext
from sqlalchemy import Engine, event
from sqlmodel import SQLModel

from laberinto.store import Store, open_database
from laberinto.store.database import KEPT_COPIES, MIGRATIONS

VERSIONS = sorted((Path(__file__).parent / "versions").glob("*.sql"))
"""A database of each released version, as the statements that make it."""


def left_behind(path: Path) -> list[Path]:
    """What an upgrade that is killed leaves, for each statement at which it may be. A process that is killed leaves its
    files as they are just then: so they are copied before every statement, in place of an upgrade begun anew for each."""
    cut: list[Path] = []

    def leave(_connection: Any, _cursor: Any, statement: str, *_rest: Any) -> None:
        if statement.lstrip().upper().startswith(("PRAGMA", "SELECT")):
            return
        cut.append(path.with_name(f"cut-{len(cut)}.db"))
        for suffix in ("", "-wal", "-shm", "-journal"):
            if (left := Path(f"{path}{suffix}")).exists():
                shutil.copy(left, f"{cut[-1]}{suffix}")

    event.listen(Engine, "before_cursor_execute", leave)
    try:
        open_database(path).dispose()
    finally:
        event.remove(Engine, "before_cursor_execute", leave)
    return cut


def made(version: Path, target: Path) -> Path:
    with sqlite3.connect(target) as database:
        database.executescript(version.read_text())
    database.close()
    return target


def whole(path: Path, version: str) -> None:
    """Everything of the old database is there, in the newest shape, and can be worked on."""
    engine = open_database(path)
    with engine.connect() as connection:
        assert compare_metadata(MigrationContext.configure(connection), SQLModel.metadata) == []
    store = Store(engine)
    board = store.board(1)
    assert board and (board.name, board.order_for, board.words) == ("Shoal", "the island ferry", "one strip more")
    assert board.variants == ((("A", 1),) if version >= "0002" else ())
    assert store.preferences() == {"units": "in16"}
    assert store.undo(1) and store.redo(1)
    assert store.save(1, board.plan.model_copy(update={"name": "Reef"}), "renamed", based_on=2).name == "Reef"
    engine.dispose()


def held(path: Path) -> str:
    """All that a database holds, as statements; what was cut off in the middle is rolled back by opening it."""
    with sqlite3.connect(path) as database:
        found = "\n".join(database.iterdump())
    database.close()
    return found


def test_there_is_a_database_of_every_version() -> None:
    assert [v.stem for v in VERSIONS] == sorted(f.name[:4] for f in (MIGRATIONS / "versions").glob("[0-9]*.py"))


@pytest.mark.parametrize("version", VERSIONS[:-1], ids=lambda v: v.stem)
def test_an_upgrade_killed_at_any_statement_loses_nothing(tmp_path: Path, version: Path) -> None:
    path = made(version, tmp_path / "old.db")
    cut = left_behind(path)
    assert len(cut) >= 2  # at least a table and the note of the version
    for one in {held(each): each for each in cut}.values():  # the same again is finished in the same way
        whole(one, version.stem)
    whole(path, version.stem)


def test_an_upgrade_broken_off_by_an_older_laberinto_is_finished(tmp_path: Path) -> None:
    path = made(VERSIONS[0], tmp_path / "half.db")
    with sqlite3.connect(path) as database:  # as statements that were each kept by themselves left it
        database.execute("ALTER TABLE revision ADD COLUMN name VARCHAR NOT NULL DEFAULT ''")
        database.execute("ALTER TABLE revision ADD COLUMN token VARCHAR NOT NULL DEFAULT ''")
    database.close()
    whole(path, "0001")


def test_before_an_upgrade_the_database_is_copied_and_the_newest_copies_stay(tmp_path: Path) -> None:
    path = made(VERSIONS[0], tmp_path / "laberinto.db")
    older = [tmp_path / f"laberinto.from-000{k}.db" for k in "abcd"]
    for age, copy in enumerate(older):
        copy.write_text("")
        os.utime(copy, (age, age))
    open_database(path).dispose()
    copies = {copy.name for copy in tmp_path.glob("laberinto.from-*.db")}
    assert len(copies) == KEPT_COPIES and "laberinto.from-0001.db" in copies and older[0].name not in copies
    with sqlite3.connect(tmp_path / "laberinto.from-0001.db") as database:
        assert database.execute("SELECT version_num FROM alembic_version").fetchall() == [("0001",)]
        assert database.execute("SELECT name FROM board").fetchall() == [("Shoal",)]


def test_a_path_may_hold_what_has_a_meaning_in_addresses(tmp_path: Path) -> None:
    path = tmp_path / "what? 100% #1.db"
    open_database(path).dispose()
    assert [each.name for each in tmp_path.glob("*.db")] == [path.name]
