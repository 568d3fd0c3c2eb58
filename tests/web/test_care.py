"""Care after a board has left: oiled again, cracked, repaired, and when it is due."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta

from laberinto.core.finish.care import Care, again_at
from laberinto.core.patterns import Alternating
from laberinto.core.plan.simulate import simulate
from laberinto.core.steps import steps
from laberinto.store import Store

from .conftest import Visitor


def finished(store: Store, days: float) -> int:
    """A board whose last step was ticked so many days ago."""
    plan = Alternating(strips=4, slices=4).plan("Skerry")
    board = store.create(plan)
    for step in steps(simulate(plan)):
        store.build(board).tick(step.key, datetime.now(UTC) - timedelta(days=days))
    return board


def section(page: str, heading: str) -> str:
    return page.split(f'<section aria-label="{heading}">')[-1].split("</section>")[0] if heading in page else ""


def test_mineral_oil_is_due_after_a_month_and_what_hardens_after_six() -> None:
    """30.44 days a month on average: from the first of March to the 31st; six months are 182.6 days."""
    first = datetime(2026, 3, 1, tzinfo=UTC)
    plain = Alternating(strips=4, slices=4).plan("Plain")
    assert again_at(plain, [first]) == first + timedelta(days=30.44) and again_at(plain, []) is None
    hard = Alternating(strips=4, slices=4, finish="wax-oil").plan("Hard")
    assert again_at(hard, [first, first + timedelta(days=9)]) == first + timedelta(days=9 + 6 * 30.44)


def test_a_dry_board_stands_in_now_until_it_is_oiled(visitor: Visitor, store: Store) -> None:
    board = finished(store, 33.44)  # three days more than a month of 30.44
    visitor.get(f"/boards/{board}")  # it is cut
    assert "Skerry" in section(visitor.get("/now").get_data(as_text=True), "To be oiled again")
    record = visitor.get(f"/boards/{board}/record").get_data(as_text=True)
    assert "Oiling it again is 3 days overdue" in record
    visitor.post(f"/boards/{board}/record/care", kind="cracked", text="A hairline at row 2")
    assert "Skerry" in section(visitor.get("/now").get_data(as_text=True), "To be oiled again")  # a crack is no oil
    visitor.post(f"/boards/{board}/record/care", kind="oiled", text="")
    now = visitor.get("/now").get_data(as_text=True)
    assert "To be oiled again" not in now and "Skerry" in section(now, "Finished")
    record = visitor.get(f"/boards/{board}/record").get_data(as_text=True)
    days = (datetime.now(UTC) + timedelta(days=30.44)).date() - datetime.now(UTC).date()
    assert "A hairline at row 2" in record and "Oiled again" in record and f"is due in {days.days} days" in record
    note = next(n for n in store.build(board).notes() if n.step == Care.OILED.key)
    visitor.post(f"/boards/{board}/record/care", erase=str(note.id))
    assert "3 days overdue" in visitor.get(f"/boards/{board}/record").get_data(as_text=True)
    assert visitor.post(f"/boards/{board}/record/care", kind="burnt").status_code in (400, 422)


def test_a_board_on_the_bench_asks_for_no_care(visitor: Visitor, store: Store, board: int) -> None:
    assert "Oiling it again" not in visitor.get(f"/boards/{board}/record").get_data(as_text=True)


def test_it_is_said_from_which_day_on_it_may_meet_food(visitor: Visitor, store: Store) -> None:
    """Mineral oil cures a day: oiled an hour ago, it may tomorrow; two days ago, it may already."""
    fresh, old = finished(store, 1 / 24), finished(store, 2)
    day = (datetime.now(UTC) - timedelta(hours=1) + timedelta(days=1)).strftime("%-d %B")
    assert f"It may meet food from {day} on" in visitor.get(f"/boards/{fresh}/record").get_data(as_text=True)
    assert "It may meet food from" not in visitor.get(f"/boards/{old}/record").get_data(as_text=True)
