"""Board files: read back equal, into an empty shop as the same board, and refused whole where anything is wrong."""

from __future__ import annotations

import hashlib
import io
import json
import zipfile
from collections.abc import Callable, Iterator
from dataclasses import replace
from datetime import UTC, datetime
from pathlib import Path

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from laberinto.core.errors import InputError
from laberinto.core.woods import LIBRARY
from laberinto.files.boardfile import BoardFile, read_board, renamed, renames, write_board
from laberinto.store import Shelf, Store

from .whole import QUAY, furnished, shop

NOW = datetime(2026, 4, 1, tzinfo=UTC)


@pytest.fixture(scope="module")
def written(tmp_path_factory: pytest.TempPathFactory) -> BoardFile:
    store, board = furnished(tmp_path_factory.mktemp("from"))
    return store.whole.read(board)


@pytest.fixture
def whole(written: BoardFile) -> Iterator[BoardFile]:
    """In a shop that has its own wood."""
    LIBRARY.take_in((QUAY,))
    yield written
    LIBRARY.take_in(())


@pytest.fixture
def data(whole: BoardFile) -> bytes:
    return write_board(whole, NOW, "1.0")


def test_it_holds_all_of_a_board_in_open_formats(whole: BoardFile, data: bytes) -> None:
    archive = zipfile.ZipFile(io.BytesIO(data))
    assert {"manifest.json", "plan.json", "history.json", "log.json", "timber.json", "woods/quay-pear.json",
            "photos/1.jpg", "photos/3.jpg", "lots/1.jpg"} <= set(archive.namelist())  # fmt: skip
    assert json.loads(archive.read("plan.json"))["note"] == "for the bench"
    assert archive.testzip() is None
    history = whole.history
    assert [change.words for change in history.changes] == ["started", "strips 32 wide", "a note"]
    assert [change.parent for change in history.changes] == [None, 0, 0] and history.head == 2
    assert history.variants == {"A": 0, "B": 1} and history.order is not None
    assert {cut.state for cut in whole.used.cuts} == {"booked", "reserved"}


def test_into_an_empty_shop_it_comes_as_the_same_board(whole: BoardFile, data: bytes, tmp_path: Path) -> None:
    """Read back from there everything is equal, but for the numbers that lots have in that store."""
    other = shop(tmp_path / "to")
    assert read_board(data) == whole
    board = other.whole.add(read_board(data), lots=True, order=True, ours=True)
    again = other.whole.read(board)
    assert (again.history, again.log, again.photos, again.woods) == (
        whole.history, whole.log, whole.photos, whole.woods
    )  # fmt: skip
    assert [(lot.lot, lot.cut) for lot in again.used.lots] == [(lot.lot, lot.cut) for lot in whole.used.lots]
    view = other.board(board)
    assert view is not None and view.plan == whole.plan and view.can_undo
    # what it holds there can be booked, and what is booked can be taken back
    for cut in other.timber.cuts(board):
        other.timber.book(cut.id) if cut.state == "reserved" else other.timber.undo(cut.id)


def test_beside_other_lots_its_cuts_name_their_own(data: bytes, tmp_path: Path) -> None:
    other, _ = furnished(tmp_path / "to")
    before = [(lot.id, lot.lot, lot.reserved) for lot in other.timber.lots(gone=True)]
    board = other.whole.add(read_board(data), lots=True, order=False, ours=False)
    after = other.timber.lots(gone=True)
    assert [(lot.id, lot.lot, lot.reserved) for lot in after if lot.id in {b[0] for b in before}] == before
    assert {n for cut in other.timber.cuts(board) for n in cut.took}.isdisjoint(one[0] for one in before)


def test_without_lots_and_order_only_the_board_comes(data: bytes, tmp_path: Path) -> None:
    other = shop(tmp_path / "to")
    board = other.whole.add(read_board(data), lots=False, order=False, ours=False)
    assert not other.timber.lots(gone=True) and not other.timber.cuts(board) and not other.orders.all()


def test_a_wood_that_is_another_here_stays_and_theirs_comes_beside_it(whole: BoardFile, tmp_path: Path) -> None:
    """Nothing of the library is changed: not what ships, not what the shop made, whatever key the file has for it."""
    mine = QUAY.model_copy(update={"density": QUAY.density + 90})
    other = shop(tmp_path / "to")
    other.woods.keep(mine)
    LIBRARY.take_in(other.woods.all())
    names = renames(whole)
    assert names == {"quay-pear": "quay-pear-2"}
    coming = renamed(whole, names)
    board = other.whole.add(coming, lots=True, order=False, ours=False)
    kept = {wood.key: wood for wood in other.woods.all()}
    assert kept["quay-pear"].density == mine.density and kept["quay-pear-2"].density == QUAY.density
    LIBRARY.take_in(other.woods.all())
    view = other.board(board)
    assert view is not None and set(view.plan.strip_woods) == {"quay-pear-2", "elm"}
    assert view.plan.pattern is not None and view.plan.pattern.parameters["light"] == "quay-pear-2"
    assert {lot.lot.wood for lot in other.timber.lots(gone=True)} == {"quay-pear-2", "elm"}
    LIBRARY.take_in([QUAY])
    assert not renames(whole)


Damage = Callable[[dict[str, bytes]], None]


def rezipped(data: bytes, damage: Damage, *, sign: bool = True) -> bytes:
    """The same file with something changed; its manifest is told, so that only what is wrong is found."""
    archive = zipfile.ZipFile(io.BytesIO(data))
    files = {name: archive.read(name) for name in archive.namelist()}
    damage(files)
    if sign and "manifest.json" in files:
        manifest = json.loads(files["manifest.json"])
        manifest["files"] = {
            name: hashlib.sha256(content).hexdigest() for name, content in files.items() if name != "manifest.json"
        }
        files["manifest.json"] = json.dumps(manifest).encode()
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as made:
        for name, content in files.items():
            made.writestr(name, content)
    return out.getvalue()


def put(name: str, content: bytes) -> Damage:
    return lambda files: files.__setitem__(name, content)


def told(name: str, *path: object, value: object) -> Damage:
    """Another value somewhere in one of its JSON files."""

    def damage(files: dict[str, bytes]) -> None:
        whole = at = json.loads(files[name])
        for step in path[:-1]:
            at = at[step]
        at[path[-1]] = value
        files[name] = json.dumps(whole).encode()

    return damage


@pytest.mark.parametrize(("damage", "says"), [
    (put("../../etc/passwd", b"x"), "belongs in none"),
    (put("/tmp/x.json", b"x"), "belongs in none"),
    (put("photos/../log.json", b"x"), "belongs in none"),
    (lambda files: files.pop("manifest.json"), "has no manifest"),
    (lambda files: files.pop("history.json"), "has no history.json"),
    (lambda files: files.pop("photos/2.jpg"), "photo that the log names is missing"),
    (told("manifest.json", "format", value="something-else"), "no board file"),
    (told("manifest.json", "version", value=9), "is of version 9; this Laberinto reads up to 1"),
    (put("log.json", b"{"), "log.json in that board file"),
    (told("history.json", "head", value=77), "points at what is not there"),
    (told("history.json", "changes", 1, "parent", value=2), "points at what is not there"),
    (told("history.json", "changes", 1, "plan", "stages", value=[]), "is wrong"),
    (told("history.json", "changes", 1, "plan", "version", value=99), "is wrong: version: This plan is of version 99"),
    (told("log.json", "ticks", value={"strips.rough": "yesterday"}), "log.json in that board file: ticks"),
    (told("log.json", "more", value=1), "more is not known here"),
    (told("timber.json", "lots", 0, "lot", "length", value=-5), "is wrong"),
    (told("timber.json", "cuts", 0, "took", value={"4711": 1}), "points at what is not there"),
    (told("timber.json", "cuts", 0, "plan", value={}), "is wrong"),
    (put("woods/quay-pear.json", b"[]"), "no wood file"),
])  # fmt: skip
def test_what_is_wrong_is_said_and_nothing_is_taken(data: bytes, damage: Damage, says: str) -> None:
    with pytest.raises(InputError, match=says):
        read_board(rezipped(data, damage))


def test_a_file_that_was_cut_off_or_changed_or_swells_is_refused(data: bytes) -> None:
    for part in (data[: len(data) // 2], data[:40], b"PK", b""):
        with pytest.raises(InputError, match="cut off on the way"):
            read_board(part)
    newer = bytearray(data)
    newer[data.rindex(b"PK\x01\x02") + 6] = 161  # what takes a version 16.1 to unpack
    with pytest.raises(InputError, match="cannot be opened"):
        read_board(bytes(newer))
    with pytest.raises(InputError, match="was changed or damaged"):
        read_board(rezipped(data, told("log.json", "ticks", value={}), sign=False))
    bomb = io.BytesIO()
    with zipfile.ZipFile(bomb, "w", zipfile.ZIP_DEFLATED, compresslevel=1) as made:
        for at in range(5):
            made.writestr(f"photos/{at}.jpg", bytes(100_000_000))
    with pytest.raises(InputError, match="would unpack to 500 MB"):
        read_board(bomb.getvalue())
    sound = read_board(data)
    for at in range(
        0, len(data), 97
    ):  # a flipped bit: refused, or where it says nothing (a time of day) the same board
        broken = bytearray(data)
        broken[at] ^= 0x40
        try:
            assert read_board(bytes(broken)) == sound
        except InputError:
            continue


def test_a_board_that_is_put_away_stays_so(tmp_path: Path) -> None:
    store, board = furnished(tmp_path / "from")
    try:
        store.put(board, Shelf.ARCHIVE)
        other: Store = shop(tmp_path / "to")
        there = other.whole.add(
            read_board(write_board(store.whole.read(board), NOW, "1")), lots=False, order=False, ours=False
        )
        view = other.board(there)
        assert view is not None and view.shelf is Shelf.ARCHIVE
    finally:
        LIBRARY.take_in(())


def leaves(data: object, path: tuple[object, ...] = ()) -> Iterator[tuple[object, ...]]:
    """Where every value of some JSON lies."""
    pairs = data.items() if isinstance(data, dict) else enumerate(data) if isinstance(data, list) else ()
    for key, value in pairs:
        yield (*path, key)
        yield from leaves(value, (*path, key))


@settings(max_examples=150, suppress_health_check=[HealthCheck.function_scoped_fixture], deadline=None)
@given(draw=st.data())
def test_whatever_stands_in_a_file_it_is_read_or_refused_in_words(data: bytes, draw: st.DataObject) -> None:
    """One value anywhere is another: a number, a text, a list, nothing. Either it is a board that can be brought in, or
    one sentence says why not."""
    name = draw.draw(
        st.sampled_from(["manifest.json", "history.json", "log.json", "timber.json", "woods/quay-pear.json"])
    )
    whole = json.loads(zipfile.ZipFile(io.BytesIO(data)).read(name))
    path = draw.draw(st.sampled_from(sorted(leaves(whole), key=repr)))
    value = draw.draw(
        st.sampled_from([None, -1, 1e308, 10**30, "", "x" * 30_000, [], {}, [[1]], True, "2026-13-99", "../x"])
    )
    damaged = rezipped(data, told(name, *path, value=value))
    try:
        found = read_board(damaged)
    except InputError as error:
        assert error.field == "file" and str(error).endswith((".", "anew."))
    else:
        assert write_board(found, NOW, "1.0") and found.plan.name


def test_the_largest_board_that_is_read_is_bounded(whole: BoardFile) -> None:
    """A history of thousands is no bomb: it is packed small, and read back as it was."""
    change = whole.history.changes[0]
    many = whole.history.model_copy(update={
        "changes": (change, *(change.model_copy(update={"parent": at, "words": f"step {at}"}) for at in range(2000))),
        "head": 2000, "variants": {"A": 7},
    })  # fmt: skip
    packed = write_board(replace(whole, history=many), NOW, "1.0")
    assert len(packed) < 3_000_000 and read_board(packed).history == many
