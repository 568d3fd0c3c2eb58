"""Scores on the page, arranging, and cutting again."""

from __future__ import annotations

import re
import time

import pytest

from laberinto.core.judging.scores import SCORES
from laberinto.core.patterns.chaos import Chaos
from laberinto.demo.chaos import tidewrack
from laberinto.store import Store

from .conftest import Visitor


@pytest.fixture
def chaos(store: Store) -> int:
    return store.create(tidewrack())


def waited(visitor: Visitor, path: str, until: str, seconds: float = 60) -> str:
    """Ask again as the page does, until the answer holds what is waited for."""
    end = time.monotonic() + seconds
    while time.monotonic() < end:
        page = visitor.get(path).get_data(as_text=True)
        if until in page:
            return page
        time.sleep(0.1)
    raise AssertionError(f"{until} never came")


def test_every_score_is_shown_and_shows_where_it_comes_from(visitor: Visitor, chaos: int) -> None:
    page = visitor.get(f"/boards/{chaos}/judge").get_data(as_text=True)
    for key in SCORES:
        assert f'id="score-{key}"' in page
    lit = {key: visitor.get(f"/boards/{chaos}/judge?show={key}").get_data(as_text=True) for key in SCORES}
    for key in SCORES:
        assert "#e0352b" in lit[key] and "#e0352b" not in page
    assert lit["repetition"].count('fill="none" stroke="#') >= 2
    assert visitor.get(f"/boards/{chaos}/judge?show=nonsense").status_code == 200


def test_arrange_for_me_from_asking_to_using(visitor: Visitor, store: Store, chaos: int) -> None:
    place = f"/boards/{chaos}/judge/arrange"
    assert "wish-woods" in visitor.get(place).get_data(as_text=True)
    started = visitor.post(place, **{"wish-woods": "avoid", "seed": "3", "keep": "0"})
    assert started.status_code == 200
    page = waited(visitor, place, "use-1")
    assert "proven" in page or "short of the best" in page
    assert "most 0 %" not in page and "most 0.0 %" not in page
    assert re.search(r'name="keep" value="0" checked', page)
    rows = re.search(r'name="rows" value="([^"]+)"', page)
    assert rows
    assert rows[1].split()[0] == "4:as-cut"  # the first row was to stay: slice 4, as it lay
    laid = rows[1].split()
    used = visitor.post(f"{place}/use", rows=" ".join([laid[0], *reversed(laid[1:])]))
    assert used.status_code == 303 and "view=face" in used.headers["Location"]
    view = store.board(chaos)
    assert view and view.plan.stage("rows").order == tuple(
        int(row.split(":")[0]) for row in [laid[0], *reversed(laid[1:])]
    )
    assert store.revisions(chaos).all()[0].words == "arranged for me"


@pytest.mark.parametrize(
    ("asked", "says"),
    [
        ({"wish-woods": "ignore", "seed": "1"}, "Say for at least one"),
        ({"wish-woods": "avoid", "seed": "some"}, "is not a whole number"),
        ({"wish-woods": "avoid", "seed": "9999999"}, "is not a whole number"),
    ],
)
def test_what_cannot_be_arranged_is_said(visitor: Visitor, chaos: int, asked: dict[str, str], says: str) -> None:
    answer = visitor.post(f"/boards/{chaos}/judge/arrange", **asked)
    assert answer.status_code == 422 and says in answer.get_data(as_text=True)


def test_a_search_can_be_stopped_and_keeps_its_best(visitor: Visitor, chaos: int) -> None:
    place = f"/boards/{chaos}/judge/arrange"
    visitor.post(place, **{"wish-repetition": "avoid", "seed": "1"})
    visitor.post(f"{place}/cancel")
    assert "Searching" not in waited(visitor, place, "use-1")


def test_rows_of_another_board_are_refused(visitor: Visitor, store: Store, chaos: int) -> None:
    for rows, says in (("1:flip 2:flip", "made for other slices"), ("1:sideways", "lost its place")):
        answer = visitor.post(f"/boards/{chaos}/judge/arrange/use", rows=rows)
        assert answer.status_code == 422 and says in answer.get_data(as_text=True)
    view = store.board(chaos)
    assert view and view.plan == tidewrack()


def test_cut_again_is_charted_and_a_point_adopted(visitor: Visitor, store: Store) -> None:
    board = store.create(Chaos.of(passes=1).plan("Dunlin"))
    place = f"/boards/{board}/judge/again"
    page = visitor.get(f"{place}?seed=2").get_data(as_text=True)
    assert 'hx-trigger="load"' in page and "adopt-2" not in page  # looking begins nothing
    assert visitor.post(place, seed="2").headers["Location"] == f"{place}?seed=2"
    page = waited(visitor, f"{place}?seed=2", "adopt-2")
    assert "Cut it" in page or "Leave it" in page
    answer = visitor.post(f"{place}/adopt", passes="2", seed="2")
    assert answer.status_code == 303
    view = store.board(board)
    assert view and "again-rip-2" in [stage.id for stage in view.plan.stages]
    assert store.revisions(board).all()[0].words == "cut again, 2 times"
    for passes in ("0", "9", "x"):
        assert visitor.post(f"{place}/adopt", passes=passes, seed="2").status_code == 400


def test_a_board_with_nothing_to_arrange_says_so(visitor: Visitor, store: Store) -> None:
    plan = tidewrack()
    board = store.create(plan.model_copy(update={"stages": plan.stages[:3]}))
    assert "nothing to arrange" in visitor.get(f"/boards/{board}/judge").get_data(as_text=True)
    assert visitor.get(f"/boards/{board}/judge/arrange").status_code == 404
    assert visitor.get(f"/boards/{board}/judge/again").status_code == 404
