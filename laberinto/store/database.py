"""Opening the database: WAL, foreign keys on, every commit on disk, migrated to the newest shape.

A migration is one transaction with all its statements, so whatever ends it half-way leaves the database as it was.
Before one begins the database is copied beside itself; the newest few copies are kept.
"""

from __future__ import annotations

import sqlite3
from collections.abc import Callable, Collection, Iterator
from contextlib import contextmanager, suppress
from pathlib import Path
from threading import Lock
from typing import Any

from alembic import command
from alembic.config import Config
from alembic.runtime.migration import MigrationContext
from alembic.script import ScriptDirectory
from sqlalchemy import URL, Connection, Engine, event, inspect
from sqlalchemy.exc import DatabaseError, OperationalError
from sqlmodel import Session, create_engine

from laberinto.core.errors import DataError

DATABASE = "laberinto.db"
"""What a shop's database is called in its data folder."""

MIGRATIONS = Path(__file__).parent / "migrations"

PATIENCE = 10.0
"""Seconds to wait for one who writes."""

TRIES = 3
"""So often a database that is held by another program is tried, with as much patience each time."""

KEPT_COPIES = 3
"""Copies from before migrations that are kept, the oldest removed first."""


def open_database(path: Path, tell: Callable[[str], None] = lambda _: None) -> Engine:
    """An engine on the file at ``path``, which is made and migrated as needed. ``tell`` hears what is waited for.

    Raises DataError where it cannot be opened: damaged, of another program or of a newer Laberinto, on a disk that is
    full or may not be written to, or held by another program.
    """
    try:
        path.parent.mkdir(mode=0o700, parents=True, exist_ok=True)
        path.touch(mode=0o600)  # what SQLite puts beside it gets the same rights
        if path.stat().st_mode & 0o077:
            path.chmod(0o600)
    except OSError as error:
        raise DataError(
            f"{error.filename or path} cannot be written to: {error.strerror}. Choose another folder with --data, or "
            "give yourself the right to write there."
        ) from None
    for again in range(TRIES):
        try:
            migrate(path)
            break
        except OperationalError as error:
            if "locked" not in str(error) or again == TRIES - 1:
                raise _told(path, error) from None
            tell(f"{path} is held by another program; trying again ({again + 2} of {TRIES}).")
        except DatabaseError as error:
            raise _told(path, error) from None
    engine = _engine(path)

    @event.listens_for(engine, "connect")
    def _settings(connection: Any, _record: Any) -> None:
        cursor = connection.cursor()
        cursor.execute("PRAGMA journal_mode=WAL")
        cursor.execute("PRAGMA foreign_keys=ON")
        cursor.execute("PRAGMA synchronous=FULL")  # what was shown as saved survives a power cut
        cursor.close()

    return engine


def _told(path: Path, error: DatabaseError) -> DataError:
    """What the database's own words mean, and what to do."""
    said = str(error.orig).lower()
    for words, meaning in _MEANINGS:
        if words in said:
            return DataError(meaning.format(path=path, folder=path.parent))
    return DataError(f"{path} cannot be opened: {error.orig}. `laberinto doctor` says more.")


_MEANINGS = (
    ("not a database", "{path} is no database, or is damaged. It was left as it is. Move it away and put a backup in "
     "its place: laberinto restore FILE --data {folder}"),
    ("malformed", "{path} is damaged. It was left as it is. Move it away and put a backup in its place: laberinto "
     "restore FILE --data {folder}"),
    ("readonly", "{path} may not be written to. Give yourself the right to write there, or choose another folder with "
     "--data."),
    ("full", "The disk that {path} lies on is full. Make some room; nothing of it was changed."),
    ("disk i/o", "The disk that {path} lies on does not answer as it should. Look after the disk first, then run "
     "laberinto doctor."),
    ("unable to open", "{path} cannot be opened. Give yourself the right to read and write there, or choose another "
     "folder with --data."),
    ("locked", "{path} is held by another program. Is another Laberinto running? Stop it, then start again."),
)  # fmt: skip
"""What the database says, and what that means."""


_AT_WORK = (
    ("full", "The disk of the shop's machine is full. Nothing of this was saved: make some room, then try again."),
    ("readonly", "The shop's data may not be written to. Nothing of this was saved: `laberinto doctor` says more."),
    ("locked", "Another program holds the shop's data. Nothing of this was saved: try again in a moment."),
    ("disk i/o", "The disk of the shop's machine does not answer as it should. Nothing of this was saved."),
    ("malformed", "The shop's data are damaged. Nothing of this was saved: `laberinto doctor` says more."),
)  # fmt: skip


def trouble(error: Exception) -> str | None:
    """What an error of the database means to whoever was saving, None for any other error."""
    if not isinstance(error, DatabaseError):
        return None
    said = str(error.orig).lower()
    return next((meaning for words, meaning in _AT_WORK if words in said), None)


def checkpoint(engine: Engine) -> None:
    """Bring everything into the one file, so that a copy of it alone holds all that was saved."""
    with suppress(OperationalError), engine.connect() as connection:
        connection.exec_driver_sql("PRAGMA wal_checkpoint(TRUNCATE)")


@contextmanager
def writing(engine: Engine) -> Iterator[Session]:
    """A session beside which nobody else writes, so that what it has read is still so when it writes. What is not
    committed in it is taken back."""
    with Session(engine) as session:
        session.connection().exec_driver_sql("BEGIN IMMEDIATE")
        yield session


class Changes:
    """Tells whether anybody has saved anything, on a connection of its own that saves nothing."""

    def __init__(self, engine: Engine) -> None:
        self._engine = engine
        self._own: Any = None
        self._lock = Lock()

    def count(self) -> int:
        """Another number than before where anything was saved since; SQLite's own, which costs next to nothing."""
        with self._lock:
            if self._own is None:
                self._own = self._engine.raw_connection()
                self._own.detach()  # it is never given back
            return int(self._own.cursor().execute("PRAGMA data_version").fetchone()[0])


def looked_at(path: Path) -> sqlite3.Connection:
    """A database that is read and nothing else; close it."""
    return sqlite3.connect(f"{path.absolute().as_uri()}?mode=ro", uri=True, timeout=PATIENCE)


def _engine(path: Path) -> Engine:
    url = URL.create("sqlite", database=str(path))  # a path may hold what has a meaning in an address
    return create_engine(url, connect_args={"check_same_thread": False, "timeout": PATIENCE})


def _migrations() -> Config:
    config = Config()
    config.set_main_option("script_location", str(MIGRATIONS).replace("%", "%%"))
    return config


def newest_version() -> str:
    """The version that databases have now."""
    return ScriptDirectory.from_config(_migrations()).get_current_head() or ""


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

    config = _migrations()
    scripts = ScriptDirectory.from_config(config)
    newest = scripts.get_current_head()
    try:
        with engine.begin() as connection:
            version = MigrationContext.configure(connection).get_current_revision()
            if version == newest:
                return
            _must_be_ours(path, connection, version, {script.revision for script in scripts.walk_revisions()})
            if version is not None:
                _copy(path, version)
            config.attributes["connection"] = connection
            command.upgrade(config, "head")
    finally:
        engine.dispose()


def _must_be_ours(path: Path, connection: Connection, version: str | None, known: Collection[str]) -> None:
    """Raise DataError where a database is of a newer Laberinto or of another program."""
    if version is not None and version not in known:
        raise DataError(
            f"{path} was written by a newer Laberinto (its version is {version}). Start that one, or put a backup of "
            "an older day into another folder: laberinto restore FILE --data FOLDER"
        )
    if version is None and inspect(connection).get_table_names():
        raise DataError(f"{path} is the database of another program. Choose another folder with --data.")


def _copy(path: Path, version: str) -> None:
    """The database as it is before a migration, as ``name.from-0002.db`` and so on; only readers are let in while it is
    made, since the transaction that asks for it has begun."""
    target = path.with_name(f"{path.stem}.from-{version}{path.suffix}")
    half = target.with_suffix(".half")
    half.unlink(missing_ok=True)
    half.touch(mode=0o600)
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
