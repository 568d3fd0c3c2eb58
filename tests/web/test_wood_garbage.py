"""Whatever is sent to the timber, size, check, cost and reckoner pages is answered in words, and nothing is half kept;
a board that cannot be built says so on every page it has."""

from __future__ import annotations

import pytest
from hypothesis import HealthCheck, Phase, given, settings
from hypothesis import strategies as st

from laberinto.core.patterns import Alternating
from laberinto.core.reckoners import RECKONERS
from laberinto.store import Store

from .conftest import Visitor

junk = st.sampled_from(
    ["", "0", "-1", "3", "99999999999999999999", "1e400", "nan", "inf", "½", "'; drop table lot; --", "<b>x</b>",
     "a" * 500, "beech", "12,5", "𝟛", "\x00", "1/0", "knot 1 to 2 x 3 to 4", "knot 9 to 1 x 3 to 4"]
)  # fmt: skip
ADDRESSES: dict[str, tuple[str, ...]] = {
    "/timber/lines": ("lines",),
    "/timber/read": ("lines",),
    "/timber/csv": ("text", "keep"),
    "/timber/1": ("kind", "wood", "count", "length", "width", "thickness", "moisture", "price", "radius", "defects"),
    "/timber/1/photo": ("remove",),
    "/boards/size": ("family", "want-width", "want-length", "want-thickness", "n-strips", "was-strips", "hold", "pick"),
    "/boards/1/size": ("want-width", "want-length", "n-strip_width", "hold", "pick", "revision"),
    "/boards/1/wood/reserve": ("cut",),
    "/boards/1/wood/book": ("cut",),
    "/boards/1/wood/undo": ("cut",),
    "/boards/1/wood/bought": ("cut",),
    "/boards/1/checks/settle": ("key", "which"),
    "/boards/1/checks/stand": ("key", "reason", "again"),
    "/timber/boards": ("family",),
    **{
        f"/reckoners/{key}": ("board", "into", *(spec.name for spec in kind.specs())) for key, kind in RECKONERS.items()
    },
}


@settings(max_examples=5, phases=[Phase.generate], suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(st.data())
@pytest.mark.parametrize("path", sorted(ADDRESSES))
def test_junk_is_answered_and_what_is_refused_changes_nothing(
    visitor: Visitor, store: Store, board: int, path: str, data: st.DataObject
) -> None:
    timber = store.timber
    if not timber.lots(gone=True):
        visitor.post("/timber/lines", lines="2 beech planks 2000 x 180 x 52")
    form = {name: data.draw(junk, label=name) for name in ADDRESSES[path]}
    before, head = timber.lots(gone=True), store.board(board)
    answer = visitor.post(path, **form)
    page = answer.get_data(as_text=True)
    assert answer.status_code in (200, 303, 404, 409, 422), form
    assert "Something went wrong" not in page and "<b>x</b>" not in page
    if answer.status_code in (409, 422, 404):
        assert timber.lots(gone=True) == before and store.board(board) == head
    assert visitor.get("/timber").status_code == 200 and visitor.get("/boards/1/checks").status_code == 200


@settings(max_examples=12, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(
    st.dictionaries(
        st.sampled_from(["want-width", "n-row", "hold", "pick", "family", "thickness", "ratio", "lot", "go"]), junk
    )
)
def test_junk_in_an_address_is_answered(visitor: Visitor, board: int, query: dict[str, str]) -> None:
    for path in ("/boards/size", f"/boards/{board}/size", "/timber/boards", "/reckoners/arc", "/timber"):
        answer = visitor.get(path, query_string=query)
        assert answer.status_code in (200, 404), (path, query)
        assert "<b>x</b>" not in answer.get_data(as_text=True)


@pytest.mark.parametrize("page", ["size", "checks", "wood", "cost", "judge"])
def test_a_board_that_cannot_be_built_says_so(visitor: Visitor, store: Store, board: int, page: str) -> None:
    plan = Alternating(strips=6, slices=6).plan("Shoal")
    broken = plan.with_stage(plan.stage("slices").model_copy(update={"count": 40}))
    head = store.board(board)
    assert head is not None
    store.save(board, broken, "too many slices", based_on=head.revision)
    answer = visitor.get(f"/boards/{board}/{page}")
    text = answer.get_data(as_text=True)
    assert answer.status_code in (200, 422), page
    if page in ("checks", "wood", "cost"):
        assert "cannot be built" in text and "too short" in text
    for post in ("wood/plan", "checks/settle"):
        told = visitor.post(f"/boards/{board}/{post}", aim="least-waste", key="too_wide.strips")
        assert told.status_code in (303, 422) and "Something went wrong" not in told.get_data(as_text=True)


def test_everything_reads_in_inches(visitor: Visitor, store: Store, board: int) -> None:
    visitor.post("/preference", key="units", value="in16", back="/")
    assert (
        visitor.post("/timber/lines", lines="2 hard maple planks 96 x 7 1/2 x 2, knot 12 to 14 x 1 to 2").status_code
        == 303
    )
    (view,) = store.timber.lots()
    assert view.lot.length == pytest.approx(2438.4) and view.lot.defects[0].start == pytest.approx(304.8)
    page = visitor.get("/timber").get_data(as_text=True)
    assert (
        "96" in page
        and "7 1/2" in page
        and " bf" in page
        and " mm" not in page.split("<main")[1].split("timber-side")[0]
    )
    sizes = visitor.get(
        "/boards/size", query_string={"want-width": "12", "want-length": "16", "want-thickness": "1 1/2"}
    )
    assert "Just as wanted" in sizes.get_data(as_text=True)
    lot = visitor.get(f"/timber/{view.id}").get_data(as_text=True)
    assert 'value="96&#34;"' in lot or "value='96\"'" in lot or 'value="96&#34;"' in lot
    same = {
        "kind": "plank",
        "wood": "hard-maple",
        "count": "2",
        "length": '96"',
        "width": '7 1/2"',
        "thickness": '2"',
        "defects": "knot 12 to 14 x 1 to 2",
    }
    assert visitor.post(f"/timber/{view.id}", **same).status_code == 303
    (again,) = store.timber.lots()
    assert again.lot == view.lot
    bill = visitor.get(f"/boards/{board}/cost").get_data(as_text=True)
    assert " bf" in bill


@pytest.mark.parametrize("text", ["1e400", "nan", "-inf", "½", "12.5"])
def test_a_count_that_is_none_is_told_at_its_field(visitor: Visitor, store: Store, text: str) -> None:
    visitor.post("/timber/lines", lines="2 beech planks 2000 x 180 x 52")
    form = {"kind": "plank", "wood": "beech", "count": text, "length": "2000", "width": "180", "thickness": "52"}
    answer = visitor.post("/timber/1", **form)
    assert answer.status_code == 422 and 'id="l-count-error"' in answer.get_data(as_text=True)
    assert store.timber.lots()[0].lot.count == 2
    preview = visitor.post("/boards/new/alternating/preview", name="x", strips=text).get_data(as_text=True)
    assert 'id="n-strips-error"' in preview
