"""The timber store: wood that is reserved is held, a booked cut leaves its offcuts, and undoing puts all back."""

from __future__ import annotations

from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

import pytest
from sqlalchemy import Engine
from sqlmodel import Session

from laberinto.core.errors import LaberintoError
from laberinto.core.patterns import Alternating
from laberinto.core.timber import Lot, Need
from laberinto.core.timber.cutting import CutPlan, Saw, Stock, cut
from laberinto.store import Acknowledgements, ShortageError, Store, Timber, open_database
from laberinto.store.tables import LotRow
from tests.empty import new_shop

PLANK = Lot.of(wood="beech", count=3, length=1200.0, width=150.0, thickness=52.0, price=30.0, place="rack 2")
NEED = [Need("beech", 600, 33, 36, 6)]
SAW = Saw(kerf=3, end=20, edge=4)


@pytest.fixture
def engine(tmp_path: Path) -> Engine:
    return open_database(new_shop(tmp_path))


@pytest.fixture
def timber(engine: Engine) -> Timber:
    return Timber(engine)


@pytest.fixture
def board(engine: Engine) -> int:
    return Store(engine).create(Alternating().plan("Shoal"))


def planned(timber: Timber, needs: list[Need] = NEED) -> CutPlan:
    stock = [Stock(view.lot, view.id, nth) for view in timber.lots() for nth in range(1, view.free + 1)]
    return cut(needs, stock, SAW, work=1)


def shelf(timber: Timber) -> list[tuple[int, str, int, int]]:
    return [(v.id, v.lot.kind.value, v.lot.count, v.free) for v in timber.lots()]


def test_lots_come_and_go_whole(timber: Timber) -> None:
    faulty = Lot.of(
        wood="elm",
        length=900.0,
        width=120.0,
        thickness=40.0,
        note="split",
        defects=({"what": "knot", "start": 1, "end": 9, "low": 2, "high": 8},),
    )
    one, two = timber.add([PLANK, faulty])
    assert [v.lot for v in timber.lots()] == [PLANK, faulty]
    timber.change(two, faulty.model_copy(update={"count": 0}))
    assert [v.id for v in timber.lots()] == [one] and [v.id for v in timber.lots(gone=True)] == [one, two]
    timber.set_photo(one, b"jpeg")
    assert timber.photo(one) == b"jpeg" and timber.lots()[0].photo
    timber.remove(one)
    assert timber.lots() == [] and timber.photo(one) is None
    with pytest.raises(LaberintoError, match="no lot"):
        timber.remove(one)


def test_a_cut_is_reserved_booked_and_taken_back(timber: Timber, board: int) -> None:
    (lot,) = timber.add([PLANK])
    plan = planned(timber)
    took = len(plan.planks)
    cut_id = timber.reserve(board, plan)
    assert shelf(timber) == [(lot, "plank", 3, 3 - took)]
    assert timber.cuts(board)[0].plan == plan and timber.cuts()[0].board_name == "Shoal"
    made = timber.book(cut_id)
    rests = [rest for plank in plan.planks for rest in plank.rests]
    after = timber.lots()
    assert sum(v.lot.count for v in after if v.id in made) == len(rests) > 0
    assert {v.left_over_from for v in after if v.id in made} == {"Shoal"}
    offcut = next(v.lot for v in after if v.id in made)
    share = offcut.length * offcut.width / (PLANK.length * PLANK.width)
    assert offcut.price == round(30 * share, 2) and (offcut.thickness, offcut.place) == (52, "rack 2")
    # wood in the store is less by what was taken for good
    before, now = 3 * PLANK.volume, sum(v.lot.volume * v.lot.count for v in after)
    assert before - now == pytest.approx(plan.used, rel=1e-3)  # offcuts are measured to a tenth
    timber.undo(cut_id)
    assert shelf(timber) == [(lot, "plank", 3, 3)] and timber.cuts() == []


def test_what_is_held_cannot_be_taken_twice(timber: Timber, engine: Engine, board: int) -> None:
    (lot,) = timber.add([PLANK.model_copy(update={"count": 1})])
    plan = planned(timber, [Need("beech", 600, 33, 36, 2)])
    other = Store(engine).create(Alternating().plan("Other"))
    first = timber.reserve(board, plan)
    with pytest.raises(ShortageError, match=f"Lot {lot} no longer holds"):
        timber.reserve(other, plan)
    with pytest.raises(ShortageError, match="must be at least 1"):
        timber.change(lot, PLANK.model_copy(update={"count": 0}))
    with pytest.raises(ShortageError, match="is reserved for Shoal"):
        timber.remove(lot)
    again = timber.reserve(board, plan)  # a board that plans anew lets go of what it held
    assert again != first and len(timber.cuts()) == 1
    with pytest.raises(LaberintoError, match="meanwhile"):
        timber.book(first)


def test_offcuts_that_were_used_keep_a_cut_from_being_taken_back(timber: Timber, board: int) -> None:
    timber.add([PLANK])
    cut_id = timber.reserve(board, planned(timber))
    made = timber.book(cut_id)
    view = timber.lot(made[0])
    assert view is not None
    timber.change(made[0], view.lot.model_copy(update={"count": 0}))
    before = shelf(timber)
    with pytest.raises(ShortageError, match="used, reserved or changed"):
        timber.undo(cut_id)
    assert shelf(timber) == before


def test_two_that_reserve_the_last_plank_at_once_do_not_both_get_it(timber: Timber, engine: Engine) -> None:
    timber.add([PLANK.model_copy(update={"count": 1})])
    plan = planned(timber, [Need("beech", 600, 33, 36, 2)])
    boards = [Store(engine).create(Alternating().plan(f"B{k}")) for k in range(4)]

    def take(board: int) -> bool:
        try:
            timber.reserve(board, plan)
        except ShortageError:
            return False
        return True

    with ThreadPoolExecutor(4) as pool:
        assert sum(pool.map(take, boards)) == 1
    assert timber.lots()[0].free == 0


def test_a_board_that_goes_lets_go_of_its_wood(timber: Timber, engine: Engine, board: int) -> None:
    timber.add([PLANK])
    made = timber.book(timber.reserve(board, planned(timber)))
    Acknowledgements(engine, board).put("rule.stage", "why", "reason")
    Store(engine).delete(board)
    assert timber.cuts() == [] and timber.lot(made[0]) is not None and timber.lot(made[0]).left_over_from == ""  # type: ignore[union-attr]
    assert Acknowledgements(engine, board).all() == {}


def test_a_finding_is_let_stand_once_with_the_last_reason(engine: Engine, board: int) -> None:
    stand = Acknowledgements(engine, board)
    stand.put("thin.strips", "thin", "clamped with cauls")
    stand.put("thin.strips", "thinner", "still")
    assert {k: (s.why, s.reason) for k, s in stand.all().items()} == {"thin.strips": ("thinner", "still")}
    stand.remove("thin.strips")
    assert stand.all() == {}


def test_a_plan_is_cut_only_from_the_wood_it_was_laid_on(timber: Timber, board: int, engine: Engine) -> None:
    """A lot that shrank since cannot be reserved or booked: the strips would be of wood that is not there."""
    (number,) = timber.add([PLANK])
    plan = planned(timber)
    shorter = PLANK.model_copy(update={"length": 900.0})
    timber.change(number, shorter)
    with pytest.raises(ShortageError, match="was changed since"):
        timber.reserve(board, plan)
    timber.change(number, PLANK.model_copy(update={"place": "rack 9", "price": 1.0}))  # the wood is the same
    cut_id = timber.reserve(board, plan)
    with pytest.raises(ShortageError, match="reserved as they were"):
        timber.change(number, shorter)
    timber.change(number, PLANK.model_copy(update={"note": "by the door"}))
    with Session(engine) as session:  # past the guard, as an older Laberinto would have let it
        row = session.get(LotRow, number)
        assert row is not None
        row.length = 900.0
        session.add(row)
        session.commit()
    before = shelf(timber)
    with pytest.raises(ShortageError, match="was changed since"):
        timber.book(cut_id)
    assert shelf(timber) == before
