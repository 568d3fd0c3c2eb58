"""Opening the database: WAL, foreign keys on, every commit on disk, migrated to the newest shape.

A migration is one transaction with all its statements, so whatever ends it half-way leaves the database as it was.
Before one begins the database is copied beside itself; the newest few copies are kept.
"""

from __future__ import annotations

import sqlite3
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

from alembic import command
from alembic.config import Config
from alembic.runtime.migration import MigrationContext
from alembic.script import ScriptDirectory
from sqlalchemy import URL, Connection, Engine, event
from sqlmodel import Session, create_engine

MIGRATIONS = Path(__file__).parent / "migrations"

KEPT_COPIES = 3
"""Copies from before migrations that are kept, the oldest removed first."""


def open_database(path: Path) -> Engine:
    """An engine on the file at ``path``, which is made and migrated as needed."""
    path.parent.mkdir(mode=0o700, parents=True, exist_ok=True)
    path.touch(mode=0o600)  # what SQLite puts beside it gets the same rights
    if path.stat().st_mode & 0o077:
        path.chmod(0o600)
    migrate(path)
    engine = _engine(path)

    @event.listens_for(engine, "connect")
    def _settings(connection: Any, _record: Any) -> None:
        cursor = connection.cursor()
        cursor.execute("PRAGMA journal_mode=WAL")
        cursor.execute("PRAGMA foreign_keys=ON")
        cursor.execute("PRAGMA synchronous=FULL")  # what was shown as saved survives a power cut
        cursor.close()

    return engine


@contextmanager
def writing(engine: Engine) -> Iterator[Session]:
    """A session beside which nobody else writes, so that what it has read is still so when it writes. What is not
    committed in it is taken back."""
    with Session(engine) as session:
        session.connection().exec_driver_sql("BEGIN IMMEDIATE")
        yield session


def _engine(path: Path) -> Engine:
    url = URL.create("sqlite", database=str(path))  # a path may hold what has a meaning in an address
    return create_engine(url, connect_args={"check_same_thread": False, "timeout": 10})


def migrate(path: Path) -> None:
    """Bring the database to the newest revision of the migrations, all of it or nothing."""
    engine = _engine(path)

    # Python's driver begins no transaction before a statement that changes tables, so it is told to begin none at all
    # and the whole migration is one that is begun here
    @event.listens_for(engine, "connect")
    def _by_hand(connection: Any, _record: Any) -> None:
        connection.isolation_level = None
        connection.execute("PRAGMA synchronous=FULL")

    @event.listens_for(engine, "begin")
    def _begin(connection: Connection) -> None:
        connection.exec_driver_sql("BEGIN IMMEDIATE")

    config = Config()
    config.set_main_option("script_location", str(MIGRATIONS).replace("%", "%%"))
    newest = ScriptDirectory.from_config(config).get_current_head()
    try:
        with engine.begin() as connection:
            version = MigrationContext.configure(connection).get_current_revision()
            if version == newest:
                return
            if version is not None:
                _copy(path, version)
            config.attributes["connection"] = connection
            command.upgrade(config, "head")
    finally:
        engine.dispose()


def _copy(path: Path, version: str) -> None:
    """The database as it is before a migration, as ``name.from-0002.db`` and so on; only readers are let in while it is
    made, since the transaction that asks for it has begun."""
    target = path.with_name(f"{path.stem}.from-{version}{path.suffix}")
    half = target.with_suffix(".half")
    half.unlink(missing_ok=True)
    source, copy = sqlite3.connect(path), sqlite3.connect(half)
    try:
        source.backup(copy)
    finally:
        source.close()
        copy.close()
    half.replace(target)
    copies = sorted(path.parent.glob(f"{path.stem}.from-*{path.suffix}"), key=lambda copy: copy.stat().st_mtime)
    for old in copies[:-KEPT_COPIES]:
        old.unlink()
