"""All boards added up: what was written down, what a bar opens, and the table."""

from __future__ import annotations

import csv
import io
from datetime import UTC, datetime

from laberinto.core.patterns import Alternating
from laberinto.core.plan.simulate import simulate
from laberinto.core.shop import Shop
from laberinto.core.steps import steps
from laberinto.core.timber.cost import bill
from laberinto.store import Store

from .conftest import Visitor

PLAN = Alternating(strips=4, slices=4, light="beech", dark="plum").plan("Any")


def finished(store: Store, name: str, month: int) -> int:
    board = store.create(PLAN.model_copy(update={"name": name}))
    for step in steps(simulate(PLAN)):
        store.build(board).tick(step.key, datetime(2026, month, 5, tzinfo=UTC))
    return board


def test_hours_and_money_are_set_against_the_plan_and_a_month_opens_its_boards(visitor: Visitor, store: Store) -> None:
    """Two boards, 4 and 6 hours; the plan says what ``bill`` says for either."""
    planned = bill(simulate(PLAN), Shop()).hours
    for name, month, hours in (("Reef", 3, "4"), ("Shoal", 5, "6")):
        board = finished(store, name, month)
        assert visitor.post(f"/boards/{board}/record/real", hours=hours, price="150,50").status_code == 303
    store.pins(board).put(0, "top", 5, 5, "void")
    page = visitor.get("/together").get_data(as_text=True)
    assert "10.0</dd>" in page and f"planned were {2 * planned:.1f}" in page and "301" in page
    assert all(f"<b>{chart}</b>" in page for chart in ("Hours", "Money", "An hour earned", "Waste", "Wood", "Faults"))
    march = visitor.get("/together?of=month:2026-03").get_data(as_text=True).split('id="boards"')[1]
    assert "Reef" in march and "Shoal" not in march
    void = visitor.get("/together?of=fault:void").get_data(as_text=True).split('id="boards"')[1]
    assert "Shoal" in void and "Reef" not in void
    assert visitor.get("/together?of=month:soon").status_code == visitor.get("/together?of=x").status_code == 200


def test_the_table_reads_back(visitor: Visitor, store: Store) -> None:
    board = finished(store, "=1+1", 3)
    visitor.post(f"/boards/{board}/record/real", hours="4", price="")
    (row,) = csv.DictReader(io.StringIO(visitor.get("/together/boards.csv").get_data(as_text=True)))
    assert (row["name"], row["finished"], row["hours taken"], row["price got"]) == ("'=1+1", "2026-03-05", "4", "")
    assert "Plum" in row["woods"]


def test_what_is_no_number_is_refused_and_an_empty_field_forgets(visitor: Visitor, store: Store) -> None:
    board = finished(store, "Reef", 3)
    refused = visitor.post(f"/boards/{board}/record/real", hours="many", price="9")
    assert refused.status_code == 422 and "many" in refused.get_data(as_text=True)
    assert visitor.post(f"/boards/{board}/record/real", hours="9999", price="").status_code == 422
    assert not store.shelf.last("-real.price")
    visitor.post(f"/boards/{board}/record/real", hours="5", price="9")
    visitor.post(f"/boards/{board}/record/real", hours="", price="9")
    assert store.shelf.last("-real.hours") == {} and store.shelf.last("-real.price") == {board: 9.0}


def test_nothing_begun_says_what_to_do_and_a_changed_board_is_added_up_anew(visitor: Visitor, store: Store) -> None:
    board = store.create(PLAN)
    assert "Nothing to add up yet" in visitor.get("/together").get_data(as_text=True)
    store.build(board).tick("strips.rough")
    before = visitor.get("/together").get_data(as_text=True)
    wide = Alternating(strips=10, slices=4, light="beech", dark="plum").plan("Any")
    store.save(board, wide, "wider", based_on=store.board(board).revision)  # type: ignore[union-attr]
    after = visitor.get("/together").get_data(as_text=True)
    hours = [f"{bill(simulate(plan), Shop()).hours:.1f}" for plan in (PLAN, wide)]
    assert hours[0] in before and hours[1] in after and hours[1] not in before.split('id="boards"')[1]
