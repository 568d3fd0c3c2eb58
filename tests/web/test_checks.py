"""Checks as one list, what is let stand, and the bill."""

from __future__ import annotations

import pytest

from laberinto.core.patterns import Alternating
from laberinto.core.plan.simulate import simulate
from laberinto.core.rules import Severity, check
from laberinto.store import Store

from .conftest import Visitor


@pytest.fixture
def wide(store: Store) -> int:
    """A panel of 420 mm: wider than the planer and the drum."""
    return store.create(Alternating(strips=14).plan("Pierhead"))


def test_the_list_shows_every_finding_once_and_one_press_settles(visitor: Visitor, store: Store, wide: int) -> None:
    board = store.board(wide)
    assert board is not None
    found = check(simulate(board.plan))
    page = visitor.get(f"/boards/{wide}/checks").get_data(as_text=True)
    told = [c for c in found if c.severity is not Severity.NOTE]
    assert f"{len(told)} things to look at" in page and ("Good to know" in page) == (len(told) < len(found))
    assert all(page.count(f'id="{c.key}"') == 1 for c in found)
    assert "Make it two sub-panels, parted behind strip 7" in page
    visitor.post(f"/boards/{wide}/checks/settle", key="too_wide.panel-flat", which="0")
    page = visitor.get(f"/boards/{wide}/checks").get_data(as_text=True)
    assert 'id="too_wide.panel-flat"' not in page and 'id="too_wide.board-flat"' in page
    after = store.board(wide)
    assert after is not None and after.words.endswith("made as sub-panels")
    visitor.post(f"/boards/{wide}/checks/settle", key="too_wide.panel-flat")  # sent twice: nothing more happens
    assert store.board(wide) == after


def test_a_finding_is_let_stand_with_a_reason_and_speaks_again_when_it_changes(
    visitor: Visitor, store: Store, wide: int
) -> None:
    key = "too_wide.panel-flat"
    empty = visitor.post(f"/boards/{wide}/checks/stand", key=key, reason="  ")
    assert empty.status_code == 422 and "Say in a few words" in empty.get_data(as_text=True)
    assert visitor.post(f"/boards/{wide}/checks/stand", key=key, reason="x" * 201).status_code == 422
    assert "mark-caution" in visitor.get(f"/boards/{wide}").get_data(as_text=True)
    visitor.post(f"/boards/{wide}/checks/stand", key=key, reason="planed at the yard")
    visitor.post(f"/boards/{wide}/checks/stand", key="too_wide.board-flat", reason="planed at the yard")
    page = visitor.get(f"/boards/{wide}/checks").get_data(as_text=True)
    assert "Because: planed at the yard" in page
    assert "mark-caution" not in visitor.get(f"/boards/{wide}").get_data(as_text=True)
    steps = visitor.get(f"/boards/{wide}/steps").get_data(as_text=True)
    assert "Left so: planed at the yard" in steps  # it stays in the steps, with its reason
    board = store.board(wide)
    assert board is not None
    store.save(wide, Alternating(strips=16).plan("Pierhead"), "wider", based_on=board.revision)
    again = visitor.get(f"/boards/{wide}/checks").get_data(as_text=True)
    assert "At 480 mm" in again and "Because" not in again
    visitor.post(f"/boards/{wide}/checks/stand", key=key, reason="still")
    visitor.post(f"/boards/{wide}/checks/stand", key=key, again="yes")
    assert "Because" not in visitor.get(f"/boards/{wide}/checks").get_data(as_text=True)


def test_a_caution_stands_at_its_step(visitor: Visitor, wide: int) -> None:
    steps = visitor.get(f"/boards/{wide}/steps").get_data(as_text=True)
    at = steps.index('id="stage-panel-flat"')
    assert at < steps.index("wider than your thickness planer takes") < steps.index('id="stage-slices"')


def test_the_bill_is_itemised_and_follows_lots_and_shop(visitor: Visitor, wide: int) -> None:
    page = visitor.get(f"/boards/{wide}/cost").get_data(as_text=True)
    assert "the yard today" in page and "All hours" in page
    visitor.post("/timber/lines", lines="2 beech planks 2000 x 180 x 52, 30.00")
    page = visitor.get(f"/boards/{wide}/cost").get_data(as_text=True)
    assert "your lots" in page and "€ 1.60" in page  # 30 for 18.72 litres
    visitor.post("/shop", **shop_form(visitor, currency="kr", rate="400"))
    assert "kr 400 an hour" in visitor.get(f"/boards/{wide}/cost").get_data(as_text=True)


def shop_form(visitor: Visitor, **changes: str) -> dict[str, str]:
    from laberinto.core.edits.parameters import shown
    from laberinto.core.shop import Shop
    from laberinto.core.units import Lengths

    shop = Shop()
    return {name: shown(spec, getattr(shop, name), Lengths()) for name, spec in Shop.specs().items()} | changes
