"""A glue-up gone through against the clock: its page, what it says, and that it is noted."""

from __future__ import annotations

import pytest

from laberinto.core.patterns import Alternating
from laberinto.store import Store

from .conftest import Visitor


@pytest.fixture
def board(store: Store) -> int:
    return store.create(Alternating(strips=6, slices=6).plan("Skerry"))


def test_the_bench_leads_to_it_and_its_page_names_every_piece(visitor: Visitor, board: int) -> None:
    bench = visitor.get(f"/boards/{board}/bench?at=panel.dry").get_data(as_text=True)
    assert f'href="/boards/{board}/rehearse/panel"' in bench
    page = visitor.get(f"/boards/{board}/rehearse/panel").get_data(as_text=True)
    assert page.count("<li data-by") == 6 and "5 joints" in page and "open for 10:00" in page and "by 2:00" in page
    assert f'href="/boards/{board}/rehearse/board"' in visitor.get(f"/boards/{board}/bench?at=board.dry").get_data(True)
    for none in ("slices", "gone"):
        assert visitor.get(f"/boards/{board}/rehearse/{none}").status_code == 404


def test_what_it_took_is_told_and_noted(visitor: Visitor, store: Store, board: int) -> None:
    slow = visitor.post(f"/boards/{board}/rehearse/panel", laid="630.4", clamped="800").get_data(as_text=True)
    assert "0:30 too slow for the open time" in slow and "126 s a joint" in slow
    (note,) = store.build(board).notes()
    assert note.step == "panel.dry" and note.text == (
        "Rehearsed: all laid after 10:30, clamps on after 13:20; too slow for this glue."
    )
    well = visitor.post(f"/boards/{board}/rehearse/panel", laid="60", clamped="95").get_data(as_text=True)
    assert "It can be done: 9:00 of the open time would be left" in well
    late = visitor.post(f"/boards/{board}/rehearse/panel", laid="60", clamped="960").get_data(as_text=True)
    assert "The clamps are on 1:00 too late" in late


@pytest.mark.parametrize(
    ("laid", "clamped"), [("", ""), ("nan", "5"), ("90", "60"), ("-1", "5"), ("1", "1e9"), ("x", "y")]
)
def test_times_that_cannot_be_are_not_noted(
    visitor: Visitor, store: Store, board: int, laid: str, clamped: str
) -> None:
    assert visitor.post(f"/boards/{board}/rehearse/panel", laid=laid, clamped=clamped).status_code == 303
    assert not store.build(board).notes()
