"""Backups: one archive with everything that a shop keeps, made while it is in use, and put back into an empty folder.

The archive is a ZIP with ``manifest.json`` and ``laberinto.db``, a copy of the database as it was at one moment:
photos, settings and lots are in it. What signs forms and lets devices in stays where it is and is made anew.
"""

from __future__ import annotations

import hashlib
import json
import shutil
import sqlite3
import zlib
from collections.abc import Callable, Iterable
from contextlib import closing, suppress
from dataclasses import dataclass
from datetime import UTC, date, datetime
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import IO
from zipfile import ZIP_DEFLATED, BadZipFile, ZipFile

from pydantic import BaseModel, ConfigDict, Field, ValidationError

from laberinto.core.errors import DataError

from .boards import Store
from .database import DATABASE, looked_at, open_database

FORMAT, VERSION = "laberinto shop", 1

MANIFEST = "manifest.json"

FOLDER = "backups"
"""Where daily backups lie, below the data folder, unless another is chosen: then the preference says which."""

PREFERENCE = "backup_folder"

DAILY, WEEKLY = 7, 4
"""So many days' and, of those before, weeks' backups are kept."""

Tell = Callable[[float], object]

_PIECE = 1 << 20
_MOST_MANIFEST = 100_000


class ShopManifest(BaseModel):
    """What an archive is: when and by which Laberinto it was written, how many boards are in it, and of its database
    the bytes and their SHA-256."""

    model_config = ConfigDict(frozen=True, extra="forbid")

    format: str
    version: int
    written: datetime
    by: str
    boards: int
    size: int = Field(ge=0)
    sha256: str = Field(pattern="^[0-9a-f]{64}$")


@dataclass(frozen=True, slots=True)
class Archive:
    """A backup in a folder: of which day, and its bytes."""

    path: Path
    day: date
    size: int


def write_backup(
    database: Path, target: Path, by: str, now: datetime | None = None, tell: Tell = lambda _share: True
) -> ShopManifest:
    """Write everything of a shop into one archive and read it back; it appears at ``target`` when it is whole. ``tell``
    hears how far it is. Raises DataError where it cannot be written, or is not what was written."""
    half = target.with_name(f"{target.name}.half")
    try:
        with TemporaryDirectory(prefix="backup-", dir=target.parent) as folder:
            copy = Path(folder) / DATABASE
            with closing(sqlite3.connect(database)) as source, closing(sqlite3.connect(copy)) as aim:
                source.backup(aim)  # in one go: whoever saves meanwhile cannot make it begin again and again
                tell(0.3)
                aim.execute("PRAGMA journal_mode=DELETE")
                _must_be_sound(aim, database)
                (boards,) = aim.execute("SELECT count(*) FROM board").fetchone()
            tell(0.4)
            with copy.open("rb") as stream:
                digest = _digest(stream)
            tell(0.5)
            manifest = ShopManifest(
                format=FORMAT, version=VERSION, written=now or datetime.now(UTC), by=by, boards=boards,
                size=copy.stat().st_size, sha256=digest,
            )  # fmt: skip
            half.touch(mode=0o600)
            with ZipFile(half, "w", ZIP_DEFLATED, compresslevel=1) as archive:  # photos are packed already
                archive.writestr(MANIFEST, manifest.model_dump_json(indent=1))
                archive.write(copy, DATABASE)
        tell(0.8)
        verify(half)
        half.replace(target)
    except OSError as error:
        raise DataError(
            f"The backup {target} could not be written: {error.strerror or error}. Nothing is there."
        ) from None
    except sqlite3.Error as error:
        raise DataError(f"{database} could not be read for a backup: {error}. `laberinto doctor` says more.") from None
    finally:
        half.unlink(missing_ok=True)
    return manifest


def verify(path: Path) -> ShopManifest:
    """What an archive is, once every byte in it was held against its manifest. Raises DataError."""
    try:
        with ZipFile(path) as archive:
            manifest = _manifest(archive, path)
            info = archive.getinfo(DATABASE)
            if info.file_size != manifest.size:
                raise DataError(
                    f"{path} is not whole: its database has another size than it says. Take another backup."
                )
            with archive.open(info) as stream:
                if _digest(stream) != manifest.sha256:
                    raise DataError(f"{path} is damaged: its database is not the one it says. Take another backup.")
            return manifest
    except (BadZipFile, zlib.error, KeyError, EOFError, NotImplementedError) as error:
        raise DataError(f"{path} is no backup of a shop, or was cut off on the way ({error}). Take another.") from None
    except OSError as error:
        raise DataError(f"{path} cannot be read: {error.strerror or error}.") from None


def restore(path: Path, folder: Path) -> ShopManifest:
    """Put a backup into a folder that holds no shop yet, in the newest shape. Raises DataError where there is one, or
    where the backup is not whole; then nothing is there that was not."""
    target = folder / DATABASE
    if target.exists():
        raise DataError(f"There is a shop in {folder} already, and nothing is overwritten. Choose another with --data.")
    manifest = verify(path)
    try:
        folder.mkdir(mode=0o700, parents=True, exist_ok=True)
        free = shutil.disk_usage(folder).free
        if free < manifest.size * 1.1:
            raise DataError(f"There is no room in {folder}: {manifest.size:,} bytes are needed, {free:,} are free.")
        with TemporaryDirectory(prefix="restore-", dir=folder) as half:
            copy = Path(half) / DATABASE
            with ZipFile(path) as archive, archive.open(DATABASE) as stream, copy.open("wb") as out:
                shutil.copyfileobj(stream, out, _PIECE)
            with closing(sqlite3.connect(copy)) as database:
                _must_be_sound(database, path)
            open_database(copy).dispose()  # upgraded where nobody sees it yet
            copy.replace(target)
    except OSError as error:
        raise DataError(f"{folder} cannot be written to: {error.strerror or error}. Nothing was put back.") from None
    except sqlite3.Error as error:
        raise DataError(f"The database in {path} cannot be opened: {error}. Nothing was put back.") from None
    return manifest


def backup_folder(store: Store, data: Path) -> Path:
    """Where the daily backups of a shop lie: in the folder that was chosen, or below its data."""
    chosen = store.preferences().get(PREFERENCE)
    return Path(chosen) if chosen else data / FOLDER


def folder_said(data: Path) -> Path:
    """The same read off a shop's database as it lies, which is not opened for work and so not upgraded."""
    chosen = None
    with suppress(sqlite3.Error), closing(looked_at(data / DATABASE)) as database:
        chosen = database.execute("SELECT value FROM preference WHERE key = ?", (PREFERENCE,)).fetchone()
    return Path(chosen[0]) if chosen and chosen[0] else data / FOLDER


def backups(folder: Path) -> list[Archive]:
    """The daily backups in a folder, the newest first."""
    found = []
    for path in folder.glob("laberinto-*.zip"):
        try:
            day = date.fromisoformat(path.stem.removeprefix("laberinto-"))
        except ValueError:
            continue
        found.append(Archive(path, day, path.stat().st_size))
    return sorted(found, key=lambda archive: archive.day, reverse=True)


def daily(database: Path, folder: Path, by: str, now: datetime) -> Archive | None:
    """Today's backup, unless there is one; then let go of those that are neither of the last days nor the first of one
    of the weeks before. Raises DataError."""
    day = now.date()
    if any(archive.day == day for archive in backups(folder)):
        return None
    try:
        folder.mkdir(mode=0o700, parents=True, exist_ok=True)
    except OSError as error:
        raise DataError(f"There can be no backups in {folder}: {error.strerror}. Choose another folder.") from None
    path = folder / f"laberinto-{day}.zip"
    write_backup(database, path, by, now)
    there = backups(folder)
    kept = worth_keeping(archive.day for archive in there)
    for archive in there:
        if archive.day not in kept:
            archive.path.unlink(missing_ok=True)
    return Archive(path, day, path.stat().st_size)


def worth_keeping(days: Iterable[date]) -> set[date]:
    """The last ``DAILY`` of the days there are, and of those before the first of each of the last ``WEEKLY`` weeks."""
    newest = sorted(set(days), reverse=True)
    weeks: dict[tuple[int, int], date] = {}
    for day in newest[DAILY:]:
        year, week, _ = day.isocalendar()
        weeks[year, week] = day  # the first of a week comes last
    return {*newest[:DAILY], *list(weeks.values())[:WEEKLY]}


def _manifest(archive: ZipFile, path: Path) -> ShopManifest:
    with archive.open(MANIFEST) as stream:
        text = stream.read(_MOST_MANIFEST)
    try:
        told = json.loads(text)
        if told.get("format") != FORMAT:
            raise DataError(f"{path} is no backup of a shop. A single board is brought in with `laberinto import`.")
        if told.get("version") != VERSION:
            raise DataError(f"{path} was written by a newer Laberinto. Restore it with that one.")
        return ShopManifest.model_validate(told)
    except (ValueError, ValidationError, AttributeError):
        raise DataError(f"{path} is damaged: what it says of itself cannot be read. Take another backup.") from None


def _must_be_sound(database: sqlite3.Connection, path: Path) -> None:
    (said,) = database.execute("PRAGMA quick_check(1)").fetchone()
    if said != "ok":
        raise DataError(f"The database of {path} is damaged ({said}). `laberinto doctor` says more.")


def _digest(stream: IO[bytes]) -> str:
    digest = hashlib.sha256()
    while piece := stream.read(_PIECE):
        digest.update(piece)
    return digest.hexdigest()
