"""Boards, revisions and the build log: nothing shown as saved is ever lost."""

from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
from threading import Barrier

import pytest
from alembic.autogenerate import compare_metadata
from alembic.migration import MigrationContext
from cachetools import LRUCache
from hypothesis import given
from hypothesis import strategies as st
from sqlalchemy import Engine, text
from sqlmodel import SQLModel

from laberinto.core.errors import LaberintoError
from laberinto.core.patterns import Alternating
from laberinto.store import Build, StaleError, Store, open_database, plans
from tests.empty import new_shop

PLAN = Alternating().plan("Kept")


@pytest.fixture
def engine(tmp_path: Path) -> Engine:
    return open_database(new_shop(tmp_path))


def named(name: str):
    return PLAN.model_copy(update={"name": name})


def test_the_migrations_make_the_tables(engine: Engine) -> None:
    with engine.connect() as connection:
        assert compare_metadata(MigrationContext.configure(connection), SQLModel.metadata) == []
        assert connection.execute(text("PRAGMA journal_mode")).scalar() == "wal"
        assert connection.execute(text("PRAGMA foreign_keys")).scalar() == 1


def test_a_board_is_found_again_after_opening_anew(tmp_path: Path) -> None:
    first = Store(open_database(tmp_path / "again.db"))
    board = first.create(PLAN, order_for="the stove")
    first.save(board, named("Better"), "renamed", based_on=first.board(board).revision)  # type: ignore[union-attr]
    again = Store(open_database(tmp_path / "again.db")).board(board)
    assert again is not None
    assert (again.name, again.order_for, again.plan.name) == ("Better", "the stove", "Better")


@given(st.lists(st.sampled_from(["edit", "undo", "redo"]), max_size=12))
def test_undo_and_redo_walk_like_a_list_with_a_cursor(
    tmp_path_factory: pytest.TempPathFactory, moves: list[str]
) -> None:
    store = Store(open_database(new_shop(tmp_path_factory.mktemp("walk"))))
    board = store.create(named("0"))
    model, at = ["0"], 0
    for number, move in enumerate(moves, 1):
        if move == "edit":
            store.save(board, named(str(number)), "edited", based_on=store.board(board).revision)  # type: ignore[union-attr]
            model, at = [*model[: at + 1], str(number)], at + 1
        elif move == "undo":
            assert store.undo(board) is (at > 0)
            at = max(at - 1, 0)
        else:
            assert store.redo(board) is (at < len(model) - 1)
            at = min(at + 1, len(model) - 1)
        view = store.board(board)
        assert view is not None
        assert (view.name, view.can_undo, view.can_redo) == (model[at], at > 0, at < len(model) - 1)


def test_an_edit_on_an_old_revision_is_refused_whole(engine: Engine) -> None:
    store = Store(engine)
    board = store.create(PLAN)
    old = store.board(board).revision  # type: ignore[union-attr]
    store.save(board, named("Theirs"), "their edit", based_on=old)
    with pytest.raises(StaleError):
        store.save(board, named("Mine"), "my edit", based_on=old)
    assert [line.words for line in store.revisions(board).all()] == ["their edit", "started"]


def test_restoring_adds_a_revision_and_loses_none(engine: Engine) -> None:
    store = Store(engine)
    board = store.create(PLAN)
    first = store.board(board).revision  # type: ignore[union-attr]
    store.save(board, named("Second"), "renamed", based_on=first)
    store.restore(board, first)
    assert store.board(board).name == "Kept"  # type: ignore[union-attr]
    assert len(store.revisions(board).all()) == 3
    assert store.undo(board) and store.board(board).name == "Second"  # type: ignore[union-attr]
    assert store.restore(board, 999) is None


def test_removing_a_board_takes_its_log_and_no_other(engine: Engine) -> None:
    store = Store(engine)
    gone, stays = store.create(PLAN), store.create(named("Stays"))
    store.save(gone, named("x"), "x", based_on=store.board(gone).revision)  # type: ignore[union-attr]
    for board in (gone, stays):
        Build(engine, board).tick("a")
        Build(engine, board).write("a", "noticed", None)
    store.delete(gone)
    assert [board.id for board in store.boards()] == [stays]
    with engine.connect() as connection:
        for table in ("revision", "tick", "note"):
            assert connection.execute(text(f"SELECT count(*) FROM {table} WHERE board = {gone}")).scalar() == 0
    assert Build(engine, stays).notes()[0].text == "noticed"
    with pytest.raises(LaberintoError, match="no board"):
        store.revisions(gone).all()


def test_ticks_keep_their_first_time_and_can_be_taken_back(engine: Engine) -> None:
    build = Build(engine, Store(engine).create(PLAN))
    build.tick("slices.cut")
    first = build.ticks()["slices.cut"]
    build.tick("slices.cut")
    assert build.ticks() == {"slices.cut": first}
    build.untick("slices.cut")
    assert build.ticks() == {}


def test_a_note_is_only_erased_by_its_own_board(engine: Engine) -> None:
    store = Store(engine)
    mine, other = Build(engine, store.create(PLAN)), Build(engine, store.create(PLAN))
    mine.write("a", "", 31.9)
    other.erase(mine.notes()[0].id)
    assert mine.notes()[0].measured == 31.9
    mine.erase(mine.notes()[0].id)
    assert mine.notes() == []


def test_of_two_edits_at_once_exactly_one_is_kept(engine: Engine) -> None:
    store = Store(engine)
    board = store.create(PLAN)
    base = store.board(board).revision  # type: ignore[union-attr]
    start = Barrier(4)

    def edit(number: int) -> bool:
        start.wait()
        try:
            store.save(board, named(f"edit {number}"), f"edit {number}", based_on=base)
        except StaleError:
            return False
        return True

    with ThreadPoolExecutor(4) as pool:
        kept = list(pool.map(edit, range(4)))
    assert kept.count(True) == 1
    assert [line.words for line in store.revisions(board).all()] == [f"edit {kept.index(True)}", "started"]


def test_variants_follow_the_edits_made_on_them(engine: Engine) -> None:
    store = Store(engine)
    board = store.create(PLAN)

    def head() -> int:
        return store.board(board).revision  # type: ignore[union-attr]

    def name() -> str:
        return store.board(board).plan.name  # type: ignore[union-attr]

    store.save(board, named("wide"), "wide", based_on=head())
    store.pin(board, "A")
    store.save(board, named("narrow"), "narrow", based_on=head())  # A stays as it was pinned
    store.pin(board, "B")
    assert store.switch(board, "A") and name() == "wide"
    store.save(board, named("wider"), "wider", based_on=head())
    assert store.switch(board, "B") and name() == "narrow"
    store.undo(board)
    assert name() == "wide" and store.switch(board, "A") and name() == "wider"  # edits go with the one switched to
    assert store.switch(board, "B") and name() == "wide"  # the undo was B's
    assert not store.switch(board, "C")
    store.unpin(board, "B")
    view = store.board(board)
    assert view is not None and [letter for letter, _ in view.variants] == ["A"] and view.variant == ""
    assert {line.letters for line in store.revisions(board).all()} == {"A", ""}
    store.delete(board)
    assert store.board(board) is None


def test_the_list_tells_of_each_board_what_the_board_itself_does(engine: Engine) -> None:
    store = Store(engine)
    first, second, third = store.create(PLAN, order_for="Ada"), store.create(PLAN), store.create(PLAN)
    start = store.board(first).revision  # type: ignore[union-attr]
    store.pin(first, "B")
    saved = store.save(first, named("c"), "third", based_on=start)
    assert saved == store.board(first) and saved.revision > start
    store.pin(first, "A")
    store.undo(first)  # now there is something to do again, of this board alone
    listed = store.boards()
    assert [view.id for view in listed] == [first, third, second]  # the last changed first
    assert listed == [store.board(view.id) for view in listed]
    assert [view.can_redo for view in listed] == [True, False, False]
    assert listed[0].variants == (("A", saved.revision), ("B", start)) and listed[1].variants == ()
    with pytest.raises(LaberintoError, match="no board"):
        store.save(99, PLAN, "nothing", based_on=1)


def test_history_tells_what_came_since_and_keeps_names(engine: Engine) -> None:
    store = Store(engine)
    board, other = store.create(PLAN), store.create(PLAN)
    first = store.board(board).revision  # type: ignore[union-attr]
    second = store.save(board, named("b"), "second", based_on=first).revision
    store.save(board, named("c"), "third", based_on=second)
    assert [line.words for line in store.revisions(board).since(first)] == ["second", "third"]
    assert store.revisions(board).name(second, "before the flood")
    assert not store.revisions(other).name(second, "not mine")
    assert [line.name for line in store.revisions(board).all()] == ["", "before the flood", ""]
    assert [plan.name for plan in store.revisions(board).ancestors()] == ["c", "b", "Kept"]
    assert store.revisions(board).plan_at(second) == named("b") and store.revisions(other).plan_at(second) is None


def test_a_plan_is_read_once_and_no_more_are_held_than_there_is_room_for(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(plans, "_held", LRUCache(3))
    text = plans.text_of(PLAN)
    assert plans.plan_of(text) is PLAN
    others = [plans.text_of(named(name)) for name in ("a", "b")]
    assert plans.plan_of(text) is PLAN  # asked for, so it is not the next to go
    plans.text_of(named("c"))
    fresh = plans.plan_of(others[0])
    assert fresh.name == "a" and len(plans._held) == 3
    assert plans.plan_of(text) is PLAN
