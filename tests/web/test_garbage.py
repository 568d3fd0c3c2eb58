"""Whatever is sent to the studio, it answers with a page that says what is wrong, and nothing is half saved."""

from __future__ import annotations

import re

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from laberinto.core.plan.model import read_plan
from laberinto.store import Store
from laberinto.web.screens.board.operations import OPERATIONS

from .conftest import Visitor

junk = st.sampled_from(
    ["", "0", "-1", "3", "0,1", "99999999999999999999", "1e400", "nan", "inf", "½", "'; drop table board; --", "<b>x</b>",
     "a" * 500, "beech", "((((((((", "12,5", "𝟛", "\x00", "left"]
)  # fmt: skip
NAMES = ("at", "to", "mm", "by", "every", "further", "wood", "letter", "sawn", "line", "old", "new", "kind", "name",
         "width-0", "want-width", "slice", "count", "rule", "shuffle", "thickness", "known", "focus", "edited")  # fmt: skip


@settings(max_examples=5, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(st.data())
@pytest.mark.parametrize("op", sorted(OPERATIONS))
def test_junk_in_any_field_is_answered_and_keeps_the_board_whole(
    visitor: Visitor, store: Store, board: int, op: str, data: st.DataObject
) -> None:
    stage = data.draw(st.sampled_from(["strips", "rows", "slices", "board", "eased", "nowhere", ""]))
    form = {name: data.draw(junk, label=name) for name in data.draw(st.lists(st.sampled_from(NAMES), unique=True))}
    view = store.board(board)
    assert view is not None
    form.pop("known", None)
    answer = visitor.post(f"/boards/{board}/edit", htmx=True, op=op, stage=stage, revision=view.revision, **form)
    assert answer.status_code in (200, 409, 422), (op, stage, form)
    page = answer.get_data(as_text=True)
    assert "Something went wrong" not in page and "<b>x</b>" not in page
    after = store.board(board)
    assert after is not None and read_plan(after.plan.as_json()) == after.plan
    # a fault is told in words; what was refused is not saved
    if answer.status_code == 422:
        assert after.revision == view.revision
        assert re.search(r'role="alert"', page)
    if after.revision != view.revision:
        assert visitor.get(f"/boards/{board}").status_code == 200


@pytest.mark.parametrize(
    "path",
    ["pin", "unpin", "switch", "restore", "name-revision", "undo", "redo"],
)
@pytest.mark.parametrize("value", ["", "x", "99999", "-1", "'"])
def test_addresses_of_the_history_take_only_what_there_is(
    visitor: Visitor, store: Store, board: int, path: str, value: str
) -> None:
    before = store.board(board)
    answer = visitor.post(f"/boards/{board}/{path}", letter=value, to=value, name="x")
    assert answer.status_code in (303, 404)
    assert store.board(board) == before


@pytest.mark.parametrize(
    "path",
    ["knots/nowhere.svg?finish=raw", "knots/strips.svg?finish=gilded", "face/nowhere?finish=raw", "solid/nowhere?finish=raw",
     "strips/waxed?finish=gilded", "replay/nowhere.svg?finish=raw", "revisions/77.svg"],
)  # fmt: skip
def test_pictures_of_what_is_not_there_are_not_found(visitor: Visitor, board: int, path: str) -> None:
    assert visitor.get(f"/boards/{board}/{path}").status_code == 404
    assert visitor.get(f"/boards/99/{path}").status_code == 404
