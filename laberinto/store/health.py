"""What is looked at to say whether a shop's data are well: rights, room, the database, its backups and the clock."""

from __future__ import annotations

import shutil
import sqlite3
from collections.abc import Callable, Iterator
from contextlib import closing
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from enum import StrEnum
from pathlib import Path

from sqlalchemy import Engine, text

from .backup import backups
from .boards import Store
from .database import DATABASE, looked_at, newest_version

ROOM = 200_000_000
"""Bytes that should be free, for a backup and a copy before an upgrade."""

FAR = timedelta(days=1)
"""A time so far ahead of the clock is in the future."""

UNUSED = timedelta(days=400)
"""When nothing was done for so long, the clock is doubted rather than what is kept deleted."""


class State(StrEnum):
    """How something is."""

    WELL = "well"
    LOOK = "look after it"
    BAD = "bad"


@dataclass(frozen=True, slots=True)
class Finding:
    """One thing that was looked at, how it is, and in a sentence why and the cure."""

    what: str
    state: State
    words: str


def look(folder: Path, archives: Path, now: datetime | None = None) -> list[Finding]:
    """All findings of a shop's data folder whose backups lie in ``archives``; nothing is changed."""
    moment = now or datetime.now(UTC)
    if not (folder / DATABASE).is_file():
        return [Finding("data", State.BAD, f"There is no {DATABASE} in {folder}. Name a shop's folder with --data.")]
    found = [*_rights(folder), *_room(folder)]
    try:
        with closing(looked_at(folder / DATABASE)) as database:
            for each in (_whole, _version, _written):
                found += each(database, folder, moment)
    except sqlite3.Error as error:
        found.append(Finding(
            "database", State.BAD, f"It cannot be read: {error}. Move it away and restore a backup: laberinto restore.",
        ))  # fmt: skip
    return [*found, *_backups(archives, moment)]


def _rights(folder: Path) -> Iterator[Finding]:
    open_ = [path.name for path in (folder, *folder.iterdir()) if path.stat().st_mode & 0o077 and not path.is_symlink()]
    if open_:
        cure = f"chmod -R go= {folder}"
        yield Finding("rights", State.LOOK, f"Others on this machine may read {', '.join(sorted(open_)[:4])}: {cure}")
    else:
        yield Finding("rights", State.WELL, f"{folder} is its owner's alone.")


def _room(folder: Path) -> Iterator[Finding]:
    free = shutil.disk_usage(folder).free
    state = State.WELL if free > max(ROOM, 3 * (folder / DATABASE).stat().st_size) else State.LOOK
    more = "" if state is State.WELL else " Make room: an upgrade and a backup each need as much as the database has."
    yield Finding("disk", state, f"{free / 1e9:.1f} GB are free.{more}")


def _whole(database: sqlite3.Connection, _folder: Path, _now: datetime) -> Iterator[Finding]:
    said = [line for (line,) in database.execute("PRAGMA integrity_check(3)")]
    lost = database.execute("PRAGMA foreign_key_check").fetchmany(3)
    said += [f"{table} row {row} points at nothing" for table, row, *_ in lost]
    if said == ["ok"]:
        yield Finding("database", State.WELL, "Every page of it is sound.")
    else:
        told = "; ".join(line for line in said if line != "ok")
        yield Finding("database", State.BAD, f"{told}. Restore a backup into another folder: laberinto restore.")


def _version(database: sqlite3.Connection, _folder: Path, _now: datetime) -> Iterator[Finding]:
    (version,) = database.execute("SELECT version_num FROM alembic_version").fetchone()
    newest = newest_version()
    if not version:
        yield Finding(
            "version", State.BAD, "It does not say of which version it is. Restore a backup: laberinto restore."
        )
    elif version == newest:
        yield Finding("version", State.WELL, f"The database is of this version ({version}).")
    elif version < newest:
        yield Finding("version", State.LOOK, f"It is of version {version}; the next start upgrades it to {newest}.")
    else:
        yield Finding("version", State.BAD, f"It is of version {version}, newer than this Laberinto ({newest}).")


def _written(database: sqlite3.Connection, folder: Path, now: datetime) -> Iterator[Finding]:
    last = _last_change(lambda query: database.execute(query).fetchone()[0])
    if last is not None and last > now + FAR:
        yield Finding("clock", State.LOOK, (
            f"The last change is of {last:%Y-%m-%d}, ahead of this machine's clock, which says {now:%Y-%m-%d}. Set the "
            "clock; times of that day stay as they were written."
        ))  # fmt: skip
    else:
        yield Finding("clock", State.WELL, f"It says {now:%Y-%m-%d %H:%M} UTC.")
    beside = folder / f"{DATABASE}-wal"
    waiting = beside.stat().st_size if beside.exists() else 0
    if waiting:
        yield Finding("copying", State.LOOK, (
            f"{waiting:,} bytes wait beside the database, as Laberinto is running or was killed: copy with laberinto "
            "backup, not the file alone."
        ))  # fmt: skip


def _backups(folder: Path, now: datetime) -> Iterator[Finding]:
    there = backups(folder)
    if not there:
        yield Finding("backups", State.LOOK, f"There is none in {folder}. The server makes one each day it runs.")
    elif (now.date() - there[0].day).days > 14:
        yield Finding(
            "backups", State.LOOK, f"The last is of {there[0].day}. Start the server, or use laberinto backup."
        )
    else:
        size = sum(archive.size for archive in there) / 1e6
        yield Finding("backups", State.WELL, f"{len(there)} in {folder}, {size:.1f} MB, the last of {there[0].day}.")


def _last_change(ask: Callable[[str], str | None]) -> datetime | None:
    found = ask("SELECT max(created) FROM revision")
    return datetime.fromisoformat(found).replace(tzinfo=UTC) if found else None


def tidy(store: Store, now: datetime | None = None) -> None:
    """Let go for good of what was removed a month ago, unless the clock is doubtful."""
    if not clock_is_doubtful(store.engine, now):
        store.clear(now)
        store.trash.clear(now)


def clock_is_doubtful(engine: Engine, now: datetime | None = None) -> bool:
    """Whether the clock says that nothing was done for longer than anybody would leave a shop: then what it calls old
    is not deleted."""
    with engine.connect() as connection:
        last = _last_change(lambda query: connection.execute(text(query)).scalar())
    return last is not None and (now or datetime.now(UTC)) - last > UNUSED
