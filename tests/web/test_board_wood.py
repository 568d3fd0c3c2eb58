"""A board's wood: short of one, bought, reserved, booked, and the offcuts in the store."""

from __future__ import annotations

import time

import pytest
from flask import Flask

from laberinto.core.patterns import Alternating
from laberinto.store import Store

from .conftest import Visitor


def planned(visitor: Visitor, app: Flask, board: int, aim: str = "least-waste") -> str:
    assert visitor.post(f"/boards/{board}/wood/plan", aim=aim).status_code == 200
    return settled(visitor, app, board)


def settled(visitor: Visitor, app: Flask, board: int) -> str:
    job = app.extensions["jobs"].get(("wood", board))
    assert job is not None and job.done.wait(30) and not job.failed and job.error is None
    return visitor.get(f"/boards/{board}/wood").get_data(as_text=True)


@pytest.fixture
def made(store: Store) -> int:
    return store.create(Alternating(light="beech", dark="plum").plan("Wanted"))


def test_short_of_one_wood_bought_reserved_booked_and_taken_back(
    visitor: Visitor, app: Flask, store: Store, made: int
) -> None:
    timber = store.timber
    visitor.post("/timber/lines", lines="2 beech planks 2000 x 180 x 52, 30.00\n1 plum plank 900 x 90 x 52, 20.00")
    first = visitor.get(f"/boards/{made}/wood").get_data(as_text=True)
    assert "No cuts planned yet" in first and "by volume enough" in first
    page = planned(visitor, app, made)
    assert "To buy" in page and "strips B of plum" in page and "Reserve these" in page
    assert visitor.post(f"/boards/{made}/wood/bought").status_code == 303
    page = settled(visitor, app, made)
    assert "To buy" not in page and "from the yard" in page
    assert visitor.post(f"/boards/{made}/wood/reserve").status_code == 303
    page = visitor.get(f"/boards/{made}/wood").get_data(as_text=True)
    assert "It is cut: book it" in page
    assert "reserved" in visitor.get("/timber").get_data(as_text=True)
    (cut,) = timber.cuts(made)
    before = {v.id: v.lot.count for v in timber.lots()}
    assert visitor.post(f"/boards/{made}/wood/book", cut=str(cut.id)).status_code == 303
    assert "Cut and booked" in visitor.get(f"/boards/{made}/wood").get_data(as_text=True)
    assert "over from Wanted" in visitor.get("/timber").get_data(as_text=True)
    assert visitor.post(f"/boards/{made}/wood/book", cut=str(cut.id)).status_code == 409
    assert visitor.post(f"/boards/{made}/wood/undo", cut=str(cut.id)).status_code == 303
    assert {v.id: v.lot.count for v in timber.lots()} == before


def test_a_plan_of_a_board_that_was_changed_is_not_reserved(
    visitor: Visitor, app: Flask, store: Store, made: int
) -> None:
    visitor.post("/timber/lines", lines="2 beech planks 2000 x 180 x 52\n2 plum planks 2000 x 180 x 52")
    planned(visitor, app, made)
    board = store.board(made)
    assert board is not None
    wider = Alternating(light="beech", dark="plum", strip_width=34).plan("Wanted")
    store.save(made, wider, "wider", based_on=board.revision)
    page = visitor.get(f"/boards/{made}/wood").get_data(as_text=True)
    assert "The board was changed since this was planned" in page and "Reserve these" not in page
    assert visitor.post(f"/boards/{made}/wood/reserve").status_code == 409
    assert store.timber.cuts() == []


def test_wood_that_went_meanwhile_is_told_of(visitor: Visitor, app: Flask, store: Store, made: int) -> None:
    visitor.post("/timber/lines", lines="1 beech plank 2000 x 180 x 52\n1 plum plank 2000 x 180 x 52")
    planned(visitor, app, made)
    timber = store.timber
    timber.remove(timber.lots()[0].id)
    answer = visitor.post(f"/boards/{made}/wood/reserve")
    assert answer.status_code == 409 and "no longer holds" in answer.get_data(as_text=True)


def test_a_search_can_be_ended_and_odd_requests_change_nothing(visitor: Visitor, app: Flask, made: int) -> None:
    visitor.post("/timber/lines", lines="9 beech planks 2000 x 180 x 52\n9 plum planks 2000 x 180 x 52")
    started = time.monotonic()
    visitor.post(f"/boards/{made}/wood/plan", aim="least-new")
    visitor.post(f"/boards/{made}/wood/cancel")
    job = app.extensions["jobs"].get(("wood", made))
    assert job.done.wait(10) and time.monotonic() - started < 20
    assert visitor.post(f"/boards/{made}/wood/plan", aim="luck").status_code == 400
    assert visitor.post(f"/boards/{made}/wood/book", cut="7").status_code == 409
    assert visitor.post(f"/boards/{made}/wood/undo", cut="x").status_code == 409
    assert visitor.get("/boards/99/wood").status_code == 404


def test_the_boards_page_warns_early_and_a_booked_cut_prices_the_bill(
    visitor: Visitor, app: Flask, store: Store, made: int
) -> None:
    assert "short of" not in visitor.get(f"/boards/{made}").get_data(as_text=True)  # nobody keeps a store here
    visitor.post("/timber/lines", lines="3 beech planks 2000 x 180 x 52, 30.00\nplum scrap 300 x 60 x 40, 5.00")
    assert "The store is short of plum" in visitor.get(f"/boards/{made}").get_data(as_text=True)
    visitor.post("/timber/lines", lines="3 plum planks 2000 x 180 x 52, 90.00")
    assert "short of" not in visitor.get(f"/boards/{made}").get_data(as_text=True)
    before = visitor.get(f"/boards/{made}/cost").get_data(as_text=True)
    assert "by the cut plan" not in before
    planned(visitor, app, made)
    visitor.post(f"/boards/{made}/wood/reserve")
    (cut,) = store.timber.cuts(made)
    used = sum(p.used for p in cut.plan.planks if p.stock.lot.wood == "plum") / 1e6
    bill = visitor.get(f"/boards/{made}/cost").get_data(as_text=True)
    assert bill.count("by the cut plan") == 2 and f"{used:.2f} l" in bill
    steps = visitor.get(f"/boards/{made}/steps").get_data(as_text=True)
    assert "Held for this board in the store: 1 × lot 1, beech plank" in steps and "lot 3, plum plank" in steps
    visitor.post(f"/boards/{made}/wood/book", cut=str(cut.id))
    assert "short of" not in visitor.get(f"/boards/{made}").get_data(as_text=True)  # its wood is cut already


@pytest.mark.parametrize("aim", ["least-waste", "least-new", "offcuts"])
def test_each_aim_is_planned_and_drawn(visitor: Visitor, app: Flask, made: int, aim: str) -> None:
    visitor.post(
        "/timber/lines",
        lines="2 beech planks 2000 x 180 x 52\n5 beech offcuts 700 x 90 x 40\n2 plum planks 1500 x 150 x 40",
    )
    page = planned(visitor, app, made, aim)
    assert f'value="{aim}" selected' in page
    assert page.count('class="drawing cut-drawing"') == page.count('class="plank"') > 0
    kinds = [word for word in ("beech plank", "beech offcut") if word in page]
    assert ("beech offcut" in kinds) if aim != "least-waste" else kinds
    assert "The saw's manual counts" in page or "The saw&#39;s manual counts" in page
