"""What was removed can be put back for a month, and letting go of a long history is no work."""

from __future__ import annotations

from concurrent.futures import ThreadPoolExecutor
from datetime import UTC, datetime, timedelta
from pathlib import Path
from threading import Barrier

import pytest
from sqlalchemy import event, func, insert
from sqlmodel import Session, SQLModel, select

from laberinto.core.patterns import Alternating
from laberinto.core.timber import Lot
from laberinto.store import KEPT, StaleError, Store, Trash, open_database
from laberinto.store.tables import Board, Revision
from laberinto.store.trash import LOT, LOT_PHOTO, STEP_PHOTO
from tests.empty import new_shop

PLAN = Alternating().plan("Kept")
ELM = Lot.of(wood="elm", length=900.0, width=90.0, thickness=30.0)


@pytest.fixture
def store(tmp_path: Path) -> Store:
    return Store(open_database(new_shop(tmp_path)))


def test_a_lot_comes_back_as_it_was(store: Store) -> None:
    (lot,) = store.timber.add([ELM.model_copy(update={"place": "rack 2", "price": 12.5})])
    store.timber.set_photo(lot, b"a picture")
    before = store.timber.lot(lot)
    store.timber.remove(lot)
    (thrown,) = store.trash.all()
    assert (thrown.kind, thrown.title, thrown.pictured) == (LOT, f"lot {lot}: 1 Wych elm plank", True)
    assert store.timber.lot(lot) is None and store.trash.picture(thrown.id) == b"a picture"
    assert store.trash.put_back(thrown.id) is not None
    assert store.timber.lot(lot) == before and store.timber.photo(lot) == b"a picture"
    assert store.trash.all() == [] and store.trash.put_back(thrown.id) is None


def test_a_lot_whose_number_was_given_to_another_comes_under_a_new_one(store: Store) -> None:
    (lot,) = store.timber.add([ELM])
    store.timber.remove(lot)
    (other,) = store.timber.add([ELM.model_copy(update={"wood": "black-walnut"})])
    assert other == lot  # so the database gives numbers
    store.trash.put_back(store.trash.all()[0].id)
    assert sorted(view.lot.wood for view in store.timber.lots()) == ["black-walnut", "elm"]


def test_photos_come_back_to_what_they_showed(store: Store) -> None:
    board = store.create(PLAN)
    pins, build = store.pins(board), store.build(board)
    pin = pins.put(0, "top", 10.0, 20.0, "gap")
    pins.picture(pin, "flatten.fault", b"first")
    pins.picture(pin, "flatten.fault", b"second")
    (first,) = store.trash.all()
    assert (first.kind, store.trash.picture(first.id)) == (STEP_PHOTO, b"first")
    (kept,) = build.photos()
    build.erase_photo(kept.id)
    assert pins.all()[0].photo is None
    last = store.trash.newest(STEP_PHOTO)
    assert last is not None and last.board_name == "Kept"
    store.trash.put_back(last.id)
    assert pins.all()[0].photo == build.photos()[0].id and build.photo(build.photos()[0].id) == b"second"
    (lot,) = store.timber.add([ELM])
    store.timber.set_photo(lot, b"one")
    store.timber.set_photo(lot, b"two")
    store.timber.set_photo(lot, None)
    newest = store.trash.newest(LOT_PHOTO)
    assert newest is not None
    store.trash.put_back(newest.id)
    assert store.timber.photo(lot) == b"two"
    left = store.trash.newest(LOT_PHOTO)
    assert left is not None
    store.timber.remove(lot)
    assert store.trash.put_back(left.id) is None  # its lot is gone; it stays where it is
    assert left.id in [each.id for each in store.trash.all()]


def test_after_a_month_it_is_gone(store: Store) -> None:
    (lot,) = store.timber.add([ELM])
    store.timber.remove(lot)
    later = datetime.now(UTC) + KEPT
    assert store.trash.clear(later - timedelta(minutes=1)) == 0
    assert store.trash.clear(later + timedelta(minutes=1)) == 1 and store.trash.all() == []


def test_deleting_a_board_of_five_thousand_changes_is_no_work(store: Store) -> None:
    """Counted in steps of the database's machine, 100,000 at a time, as a clock would tell of the neighbours. Without
    its indexes each change looked through all others: 5,000 × 5,000 rows."""
    board, other = store.create(PLAN), store.create(PLAN)
    with Session(store.engine) as session:
        first = session.exec(select(Revision).where(Revision.board == board)).one()
        rows = [
            {"board": board, "parent": (first.id or 0) if not n else (other + n), "plan": first.plan, "words": str(n),
             "name": "", "token": "", "created": first.created, "id": other + n + 1}
            for n in range(5000)
        ]  # fmt: skip
        session.execute(insert(Revision), rows)
        session.get_one(Board, board).head = rows[-1]["id"]
        session.commit()
    store.pin(board, "A")
    store.build(board).keep_photo("glue", b"picture")
    steps = 0

    def count() -> int:
        nonlocal steps
        steps += 1
        return 0

    @event.listens_for(store.engine, "checkout")
    def _counted(connection: object, *_: object) -> None:
        connection.set_progress_handler(count, 100_000)  # type: ignore[attr-defined]

    store.delete(board)
    assert steps < 50  # 5 million; it was 1.4 thousand million
    with Session(store.engine) as session:
        for table in SQLModel.metadata.sorted_tables:
            if "board" in table.columns and table.name != "board":
                of_it = select(func.count()).select_from(table).where(table.columns["board"] == board)
                assert session.exec(of_it).one() == 0
    assert store.board(other) is not None


def test_of_simultaneous_changes_each_counts_or_is_refused(store: Store) -> None:
    """Ticks of one step are one tick, and of an edit and a restore that were both made on what was shown only one goes
    through."""
    board = store.create(PLAN)
    build, n = store.build(board), 12
    start, based = Barrier(n), store.board(board)
    assert based is not None

    def at_once(k: int) -> str:
        start.wait()
        build.tick("glue")
        store.acknowledged(board).put("finding", "why", "reason")
        store.bench.bring(board, "rip", k)
        store.prefer("unit", str(k))
        try:
            if k % 2:
                store.restore(board, based.revision, based.revision)
            else:
                store.save(board, PLAN, f"edit {k}", based_on=based.revision)
        except StaleError:
            return "refused"
        return "done"

    with ThreadPoolExecutor(n) as pool:
        said = list(pool.map(at_once, range(n)))
    assert said.count("done") == 1
    assert len(store.revisions(board).all()) == 2 and list(build.ticks()) == ["glue"]


def test_the_trash_goes_with_its_board(store: Store) -> None:
    board = store.create(PLAN)
    store.build(board).erase_photo(store.build(board).keep_photo("glue", b"picture"))
    assert len(Trash(store.engine).all()) == 1
    store.delete(board)
    assert Trash(store.engine).all() == []
