"""Backups: everything comes back, damage is told, and nothing that is there is ever overwritten."""

from __future__ import annotations

import json
import random
import shutil
import sqlite3
import zipfile
from datetime import UTC, date, datetime, timedelta
from pathlib import Path

import pytest
from click.testing import CliRunner
from hypothesis import given
from hypothesis import strategies as st

from laberinto.cli import main
from laberinto.core.errors import DataError
from laberinto.core.patterns import Alternating
from laberinto.core.timber import Lot
from laberinto.store import DATABASE, Store, checkpoint, open_database
from laberinto.store.backup import DAILY, MANIFEST, WEEKLY, backups, daily, restore, verify, worth_keeping, write_backup
from laberinto.store.health import State, clock_is_doubtful, look
from tests.empty import new_shop

NOW = datetime(2026, 11, 29, 12, tzinfo=UTC)
VERSIONS = Path(__file__).parent / "versions"


@pytest.fixture
def shop(tmp_path: Path) -> Path:
    """A shop with a board, a photo and a lot, that is in use while it is backed up."""
    folder = tmp_path / "shop"
    store = Store(open_database(new_shop(folder)))
    board = store.create(Alternating().plan("Kept"))
    store.build(board).keep_photo("glue", bytes(range(256)) * 40)
    store.timber.add([Lot.of(wood="elm", length=900.0, width=90.0, thickness=30.0)])
    store.prefer("theme", "dark")
    return folder


def dump(database: Path) -> list[str]:
    with sqlite3.connect(database) as connection:
        return list(connection.iterdump())


def test_what_is_put_back_is_what_was_there(shop: Path, tmp_path: Path) -> None:
    archive = tmp_path / "shop.zip"
    manifest = write_backup(shop / DATABASE, archive, "1.0", NOW)
    assert manifest.boards == 1 and verify(archive) == manifest and archive.stat().st_mode & 0o077 == 0
    restore(archive, tmp_path / "other")
    assert dump(tmp_path / "other" / DATABASE) == dump(shop / DATABASE)
    with pytest.raises(DataError, match="nothing is overwritten"):
        restore(archive, tmp_path / "other")
    assert sorted(path.name for path in tmp_path.iterdir()) == ["other", "shop", "shop.zip"]


def test_a_backup_of_an_older_version_is_upgraded(tmp_path: Path) -> None:
    with sqlite3.connect(tmp_path / "old.db") as database:
        database.executescript((VERSIONS / "0003.sql").read_text())
    database.close()
    write_backup(tmp_path / "old.db", tmp_path / "old.zip", "0.1")
    restore(tmp_path / "old.zip", tmp_path / "new")
    board = Store(open_database(tmp_path / "new" / DATABASE)).board(1)
    assert board and board.name == "Shoal"


def test_a_damaged_backup_is_told_and_nothing_is_put_back(shop: Path, tmp_path: Path) -> None:
    archive, chance = tmp_path / "shop.zip", random.Random(5)
    write_backup(shop / DATABASE, archive, "1.0")
    whole, refused = archive.read_bytes(), 0
    for number in range(60):
        data = bytearray(whole)
        if number % 3:
            data[chance.randrange(len(data))] ^= 1 << chance.randrange(8)
        else:
            del data[chance.randrange(len(data)) :]
        (broken := tmp_path / "broken.zip").write_bytes(data)
        try:
            verify(broken)
        except DataError:
            refused += 1
            with pytest.raises(DataError):
                restore(broken, tmp_path / "never")
    assert refused > 50 and not (tmp_path / "never" / DATABASE).exists()  # some bits of a ZIP mean nothing


@pytest.mark.parametrize(("change", "says"), [
    ({"format": "another"}, "no backup of a shop"), ({"version": 9}, "newer Laberinto"),
    ({"sha256": "0" * 64}, "damaged"), ({"size": 5}, "another size"), ({"boards": "many"}, "cannot be read"),
])  # fmt: skip
def test_what_a_backup_says_of_itself_is_held_against_it(
    shop: Path, tmp_path: Path, change: dict[str, object], says: str
) -> None:
    archive, other = tmp_path / "shop.zip", tmp_path / "other.zip"
    write_backup(shop / DATABASE, archive, "1.0")
    with zipfile.ZipFile(archive) as source, zipfile.ZipFile(other, "w") as aim:
        told = json.loads(source.read(MANIFEST)) | change
        aim.writestr(MANIFEST, json.dumps(told))
        aim.writestr(DATABASE, source.read(DATABASE))
    with pytest.raises(DataError, match=says):
        verify(other)


@given(st.sets(st.dates(date(2024, 12, 1), date(2027, 2, 1)), max_size=120))
def test_the_last_days_are_kept_and_of_the_weeks_before_the_first_day(days: set[date]) -> None:
    kept, newest = worth_keeping(days), sorted(days, reverse=True)
    assert kept <= days and set(newest[:DAILY]) <= kept and len(kept) <= DAILY + WEEKLY
    older = kept - set(newest[:DAILY])
    assert len({day.isocalendar()[:2] for day in older}) == len(older)
    assert len(older) == min(WEEKLY, len({day.isocalendar()[:2] for day in newest[DAILY:]}))
    assert worth_keeping(kept) == kept  # letting go of some does not make others go


def test_each_day_there_is_one(shop: Path, tmp_path: Path) -> None:
    folder = tmp_path / "disk" / "kept"
    for day in range(45):
        at = NOW + timedelta(days=day)
        made = daily(shop / DATABASE, folder, "1.0", at)
        assert made and made.day == at.date() and daily(shop / DATABASE, folder, "1.0", at) is None
    there = backups(folder)
    assert len(there) == DAILY + WEEKLY and there[0].day == (NOW + timedelta(days=44)).date()
    assert 28 <= (there[0].day - there[-1].day).days <= 7 + 7 * WEEKLY
    (folder / "mine.zip").write_text("not ours")
    (shop / "file").write_text("")
    with pytest.raises(DataError, match="Choose another folder"):
        daily(shop / DATABASE, shop / "file", "1.0", NOW)


def test_a_copy_of_the_file_alone_holds_everything_after_a_checkpoint(shop: Path, tmp_path: Path) -> None:
    store = Store(open_database(shop / DATABASE))
    store.create(Alternating().plan("Late"))
    checkpoint(store.engine)
    shutil.copy(shop / DATABASE, tmp_path / "alone.db")
    assert {board.name for board in Store(open_database(tmp_path / "alone.db")).boards()} == {"Kept", "Late"}


def test_a_file_that_is_no_shop_says_so_in_a_sentence_and_stays(tmp_path: Path, shop: Path) -> None:
    (tmp_path / "text").write_text("no database at all, " * 90)
    with sqlite3.connect(tmp_path / "foreign") as foreign:
        foreign.execute("CREATE TABLE birds (name)")
    foreign.close()
    checkpoint(open_database(shop / DATABASE))
    shutil.copy(shop / DATABASE, tmp_path / "newer")
    with sqlite3.connect(tmp_path / "newer") as newer:
        newer.execute("UPDATE alembic_version SET version_num = '9999'")
    newer.close()
    torn = bytearray((shop / DATABASE).read_bytes())
    torn[100:3000] = b"\xff" * 2900
    (tmp_path / "torn").write_bytes(torn)
    for name, says in (("text", "damaged"), ("foreign", "another program"), ("newer", "newer Laberinto"),
                       ("torn", "damaged")):  # fmt: skip
        before = (tmp_path / name).read_bytes()
        with pytest.raises(DataError, match=says) as told:
            open_database(tmp_path / name)
        assert str(tmp_path / name) in str(told.value) and (tmp_path / name).read_bytes() == before
    (tmp_path / "a file").write_text("")
    with pytest.raises(DataError, match="cannot be written to"):
        open_database(tmp_path / "a file" / DATABASE)


def test_a_held_database_is_waited_for_and_that_is_told(shop: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr("laberinto.store.database.PATIENCE", 0.01)
    holder = sqlite3.connect(shop / DATABASE)
    holder.execute("BEGIN EXCLUSIVE")
    said: list[str] = []
    with pytest.raises(DataError, match="held by another program"):
        open_database(shop / DATABASE, said.append)
    assert len(said) == 2 and "trying again (2 of 3)" in said[0]
    holder.rollback()
    open_database(shop / DATABASE, said.append)
    assert len(said) == 2


def test_the_doctor_says_what_is_well_and_what_is_not(shop: Path, tmp_path: Path) -> None:
    def states(now: datetime | None = None) -> dict[str, State]:
        return {each.what: each.state for each in look(shop, tmp_path / "kept", now)}

    checkpoint(open_database(shop / DATABASE))
    well = states()
    assert {what for what, state in well.items() if state is not State.WELL} == {"backups"}
    daily(shop / DATABASE, tmp_path / "kept", "1.0", datetime.now(UTC))
    assert states()["backups"] is State.WELL
    assert states(datetime.now(UTC) - timedelta(days=700))["clock"] is State.LOOK
    (shop / "notes.txt").touch(mode=0o644)
    assert states()["rights"] is State.LOOK
    data = bytearray((shop / DATABASE).read_bytes())
    data[5000:9000] = bytes(4000)
    (shop / DATABASE).write_bytes(data)
    assert State.BAD in states().values()
    assert [each.state for each in look(tmp_path / "nowhere", tmp_path)] == [State.BAD]


def test_a_clock_years_ahead_deletes_nothing(shop: Path) -> None:
    engine = open_database(shop / DATABASE)
    assert not clock_is_doubtful(engine)
    assert clock_is_doubtful(engine, datetime.now(UTC) + timedelta(days=4 * 365))


def test_from_the_command_line(shop: Path, tmp_path: Path) -> None:
    def run(*words: object) -> tuple[int, str]:
        answer = CliRunner().invoke(main, [str(word) for word in words])
        return answer.exit_code, answer.output

    file, other = tmp_path / "shop.zip", tmp_path / "other"
    assert "1 board" in run("backup", file, "--data", shop)[1]
    assert run("backup", file, "--data", shop) == (1, f"Error: {file} is there already, and nothing is overwritten. "
                                                     "Choose another name.\n")  # fmt: skip
    assert run("backup", tmp_path / "x.zip", "--data", tmp_path / "nowhere")[0] == 1
    code, said = run("restore", file, "--data", other)
    assert code == 0 and "1 board as of" in said and (other / DATABASE).exists()
    assert run("restore", file, "--data", other)[0] == 1
    with sqlite3.connect(tmp_path / "old.db") as database:
        database.executescript((VERSIONS / "0003.sql").read_text())
    database.close()
    (old := tmp_path / "old").mkdir()
    (tmp_path / "old.db").rename(old / DATABASE)
    before = (old / DATABASE).read_bytes()
    assert "It is of version 0003" in run("doctor", "--data", old)[1] and (old / DATABASE).read_bytes() == before
    code, said = run("doctor", "--data", other)
    assert code == 0 and "ok  database: Every page of it is sound." in said and "look  backups" in said
    (other / DATABASE).write_text("no database, " * 900)
    code, said = run("doctor", "--data", other)
    assert code == 1 and "BAD  database" in said
    for words in (("serve", "--no-warm"), ("devices",), ("import", file)):
        code, said = run(*words, "--data", other)
        assert code == 1 and said.startswith("Error: ") and "damaged" in said and said.count("\n") == 1
