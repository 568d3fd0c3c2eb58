"""Pages and forms: what they answer, above all when what is sent is wrong."""

from __future__ import annotations

import io
import json
import re
from typing import Any

import pytest
from pypdf import PdfReader

from laberinto.core.patterns import Alternating
from laberinto.store import Store

from .conftest import Visitor


def stage(store: Store, board: int, name: str) -> Any:
    view = store.board(board)
    assert view is not None
    return view.plan.stage(name)


def edit(visitor: Visitor, store: Store, board: int, op: str, stage_id: str = "strips", **values: Any) -> Any:
    revision = store.board(board).revision  # type: ignore[union-attr]
    return visitor.post(f"/boards/{board}/edit", htmx=True, op=op, stage=stage_id, revision=revision, **values)


def test_an_empty_shop_says_what_to_do_first(visitor: Visitor) -> None:
    page = visitor.get("/").get_data(as_text=True)
    assert "No boards yet" in page and 'href="/boards/new"' in page


def test_one_press_makes_a_good_board(visitor: Visitor, store: Store) -> None:
    page = visitor.get("/boards/new/alternating").get_data(as_text=True)
    values = dict(re.findall(r'name="(\w+)" value="([^"]*)"', page.split('class="new-fields"')[1]))
    answer = visitor.post("/boards/new/alternating", **values, light="beech", dark="plum")
    assert answer.status_code == 303
    (made,) = store.boards()
    assert made.name == "Tidewrack"
    # 10 × 30 − 6, 13 × 30 − 6
    assert "294 × 384 × 38 mm" in visitor.get(answer.headers["Location"]).get_data(as_text=True)


@pytest.mark.parametrize(
    ("field", "typed", "says"),
    [
        ("strips", "9", "Take 8 or 10"),
        ("strip_width", "thirty", "not a length"),
        ("thickness", "", "missing"),
        ("name", "", "missing"),
        ("name", "x" * 81, "longer than 80"),
        ("dark", "beech", "same wood"),
        ("dark", "plywood", "no wood called"),
        ("length", "2 m", "short of 2000 mm"),
        ("panel_length", "500", "more than this"),
        ("row", "400", "outside 8 mm to 120 mm"),
    ],
)
def test_the_new_board_form_says_what_is_wrong_beside_the_field(
    visitor: Visitor, store: Store, field: str, typed: str, says: str
) -> None:
    good = {
        "name": "A", "light": "beech", "dark": "plum", "strips": "10", "strip_width": "30", "row": "30", "slices": "13",
        "thickness": "38", "panel_length": "", "width": "", "length": "",
    }  # fmt: skip
    answer = visitor.post("/boards/new/alternating", **(good | {field: typed}))
    page = answer.get_data(as_text=True)
    assert answer.status_code == 422
    error = re.search(rf'id="n-{field}-error" role="alert">([^<]*)', page)
    assert error and says in error[1]
    assert typed in page
    assert store.boards() == []


def test_an_edit_is_kept_as_a_revision_and_drawn(visitor: Visitor, store: Store, board: int) -> None:
    answer = edit(visitor, store, board, "parameters", "slices", count="4", edited="count")
    assert answer.status_code == 200
    assert stage(store, board, "slices").count == 4
    assert "174 × 114 × 38 mm" in answer.get_data(as_text=True)
    assert [line.words for line in store.revisions(board).all()] == ["Crosscut: slices 6 → 4", "started"]


@pytest.mark.parametrize(
    ("op", "where", "values", "check"),
    [
        ("strip-move", "strips", {"at": 0, "to": 2}, lambda s: [x.mark for x in s.strips] == [2, 3, 1, 4, 5, 6]),
        ("strip-wood", "strips", {"at": 1, "wood": "elm"}, lambda s: s.strips[1].wood == "elm"),
        ("strip-width", "strips", {"at": 1, "width-1": '1"'}, lambda s: s.strips[1].width == 25.4),
        ("strip-double", "strips", {"at": 5}, lambda s: len(s.strips) == 7),
        ("strip-remove", "strips", {"at": 5}, lambda s: len(s.strips) == 5),
        ("strip-add", "strips", {}, lambda s: [x.wood for x in s.strips[-2:]] == ["plum", "beech"]),
        ("strip-face-over", "strips", {"at": 3}, lambda s: s.strips[3].turned == "face-over"),
        ("row-move", "rows", {"at": 5, "to": 0}, lambda s: s.order == (6, 1, 2, 3, 4, 5)),
        ("row-flip", "rows", {"at": 0}, lambda s: s.turned == {1: "flip"}),
        ("row-other-end-up", "rows", {"at": 1}, lambda s: s.turned == {2: "end-for-end"}),
        ("row-flip", "rows", {"at": "0,2"}, lambda s: s.turned == {1: "flip", 3: "flip"}),
        ("row-swap", "rows", {"at": "0,5"}, lambda s: s.order == (6, 2, 3, 4, 5, 1)),
        ("strip-drag", "strips", {"at": 0, "mm": "33.2"}, lambda s: s.strips[0].width == 33.0),
        ("strip-letter", "strips", {"at": "0,2", "letter": "b"}, lambda s: s.strips[2].wood == "plum"),
        ("strip-sawn", "strips", {"at": 1, "sawn": "rift"}, lambda s: s.strips[1].sawn == "rift"),
        ("rings-alternate", "strips", {}, lambda s: s.strips[1].turned == "face-over"),
        ("lamination", "strips", {"line": "a 20, (b 30) x2"}, lambda s: [x.width for x in s.strips] == [20, 30, 30]),
        (
            "wood-replace",
            "strips",
            {"old": "plum", "new": "elm"},
            lambda s: {x.wood for x in s.strips} == {"beech", "elm"},
        ),
        ("stage-switch", "eased", {}, lambda s: s.skip),
    ],
)
def test_every_button_does_its_edit_and_undo_takes_it_back(
    visitor: Visitor, store: Store, board: int, op: str, where: str, values: dict[str, Any], check: Any
) -> None:
    before = store.board(board).plan  # type: ignore[union-attr]
    assert edit(visitor, store, board, op, where, **values).status_code == 200
    assert check(stage(store, board, where))
    visitor.post(f"/boards/{board}/undo", stage=where)
    assert store.board(board).plan == before  # type: ignore[union-attr]
    visitor.post(f"/boards/{board}/redo", stage=where)
    assert check(stage(store, board, where))


@pytest.mark.parametrize(
    ("op", "where", "values", "says"),
    [
        ("lamination", "strips", {"line": "beech 30, mdf 12", "edited": "line"}, "no wood called “mdf”"),
        ("strip-letter", "strips", {"at": 0, "letter": "q"}, "the palette has A, B"),
        ("strip-sawn", "strips", {"at": 0, "sawn": "askew"}, "flat, rift or quarter"),
        ("wood-replace", "strips", {"old": "oak", "new": "elm"}, "no oak in this board"),
        ("want", "strips", {"want-width": "half", "edited": "want-width"}, "“half” is not a length"),
        ("row-shift", "rows", {"at": 0, "by": "a bit", "edited": "by"}, "“a bit” is not a length"),
        ("row-swap", "rows", {"at": "0,1,2"}, "exactly two rows"),
        ("stage-insert", "strips", {"kind": "groove"}, "does not fit here"),
        ("stage-remove", "strips", {}, "begins with strips"),
        ("stage-switch", "strips", {}, "cannot be off"),
        ("parameters", "panel-flat", {"to": "half", "edited": "to"}, "“half” is not a length"),
        ("strip-width", "strips", {"at": 2, "width-2": "-4", "edited": "width-2"}, "is negative"),
        ("strip-wood", "strips", {"at": 2, "wood": "mdf", "edited": "wood-2"}, "no wood called “mdf”"),
        ("strip-remove", "strips", {"at": 77}, "There is no strip 78"),
        ("row-move", "strips", {"at": 0, "to": 1}, "arranges no slices"),
        ("strip-move", "strips", {"at": "x", "to": 1}, "reload the page"),
    ],
)
def test_an_edit_that_cannot_be_is_told_and_nothing_is_kept(
    visitor: Visitor, store: Store, board: int, op: str, where: str, values: dict[str, Any], says: str
) -> None:
    before = store.board(board)
    answer = edit(visitor, store, board, op, where, **values)
    assert answer.status_code == 422
    page = answer.get_data(as_text=True)
    assert says in page
    typed = next((v for k, v in values.items() if k == values.get("edited")), None)
    assert typed is None or f'value="{typed}"' in page
    assert store.board(board) == before


def test_a_board_can_be_renamed_and_needs_a_name(visitor: Visitor, store: Store, board: int) -> None:
    assert edit(visitor, store, board, "rename", name="  Kelp   Line ").status_code == 200
    assert store.board(board).name == "Kelp Line"  # type: ignore[union-attr]
    answer = edit(visitor, store, board, "rename", name=" ", edited="name")
    assert answer.status_code == 422 and "1 to 80 characters" in answer.get_data(as_text=True)


def test_an_edit_from_a_page_grown_old_is_refused(visitor: Visitor, store: Store, board: int) -> None:
    old = store.board(board).revision  # type: ignore[union-attr]
    edit(visitor, store, board, "strip-double", at=0)
    answer = visitor.post(f"/boards/{board}/edit", htmx=True, op="strip-remove", stage="strips", at=0, revision=old)
    assert answer.status_code == 409
    assert "changed on another page" in answer.get_data(as_text=True)
    assert len(stage(store, board, "strips").strips) == 7


def test_an_odd_row_that_flipping_cannot_change_is_a_stop_on_the_thread(
    visitor: Visitor, store: Store, board: int
) -> None:
    page = edit(visitor, store, board, "strip-remove", at=5).get_data(as_text=True)
    assert "reads the same from both ends" in page and "Take 4 or 6 strips" in page
    knot = page.split('id="knot-rows"')[1].split("</a>")[0]
    assert "mark-stop" in knot


def test_units_change_every_number_on_the_page(visitor: Visitor, board: int) -> None:
    visitor.post("/preference", key="units", value="in32", back=f"/boards/{board}")
    page = visitor.get(f"/boards/{board}?stage=slices").get_data(as_text=True)
    # 42 mm is 1.6535 in and 174 mm is 219.2/32 in
    assert (
        "1.6535&#34;" in page and "6 27/32&#34; strong" in page and not re.search(r"\d mm", re.sub("<[^>]*>", "", page))
    )


def test_steps_show_settings_maps_and_cautions_and_print(visitor: Visitor, board: int) -> None:
    page = visitor.get(f"/boards/{board}/steps").get_data(as_text=True)
    assert "Follow the machine" in page and "never trapped between blade and fence" in page
    # two dry fits, two glue-ups in their clamps, the cuts, the rows and the face
    assert page.count('class="step-map ') == 7
    printed = visitor.printed(f"/boards/{board}/steps.pdf")
    assert printed.mimetype == "application/pdf"
    reader = PdfReader(io.BytesIO(printed.data))
    words = " ".join(p.extract_text() for p in reader.pages)
    assert "Shoal" in words and "Cut 6 slices to a stop" in words and "never trapped" in words


def test_the_log_ticks_measures_and_erases(visitor: Visitor, store: Store, board: int) -> None:
    build = store.build(board)
    visitor.post(f"/boards/{board}/build/tick", step="strips.rough")
    assert list(build.ticks()) == ["strips.rough"]
    visitor.post(f"/boards/{board}/build/note", step="panel-flat.flatten", text="A shade thick", measured="30,4")
    page = visitor.get(f"/boards/{board}/build?at=panel-flat.flatten").get_data(as_text=True)
    assert "A shade thick" in page and "0.4 mm over" in page
    visitor.post(f"/boards/{board}/build/erase", note=build.notes()[0].id)
    visitor.post(f"/boards/{board}/build/tick", step="strips.rough", done="no")
    assert (build.notes(), build.ticks()) == ([], {})


@pytest.mark.parametrize(
    ("text", "measured", "says"),
    [("", "", "Write what you measured"), ("x" * 2001, "", "takes 2000"), ("ok", "wide", "“wide” is not a length")],
)
def test_a_note_that_cannot_be_is_told_and_stays_typed(
    visitor: Visitor, store: Store, board: int, text: str, measured: str, says: str
) -> None:
    answer = visitor.post(
        f"/boards/{board}/build/note", step="strips.rough", at="strips.rough", text=text, measured=measured
    )
    page = answer.get_data(as_text=True)
    assert answer.status_code == 422 and says in page and text in page and measured in page
    assert store.build(board).notes() == []


def test_a_plan_saved_as_a_file_opens_as_the_same_board(visitor: Visitor, store: Store, board: int) -> None:
    saved = visitor.get(f"/boards/{board}/plan.json")
    assert 'filename="shoal.json"' in saved.headers["Content-Disposition"]
    answer = visitor.post("/boards/open", plan=(io.BytesIO(saved.data), "shoal.json"))
    assert answer.status_code == 303
    first, second = store.boards()
    assert first.plan == second.plan


BROKEN = json.loads(Alternating().plan("Broken").as_json())


def with_(path: list[Any], value: Any) -> bytes:
    data = json.loads(json.dumps(BROKEN))
    at = data
    for step in path[:-1]:
        at = at[step]
    at[path[-1]] = value
    return json.dumps(data).encode()


@pytest.mark.parametrize(
    ("data", "says"),
    [
        (b"", "No file was chosen"),
        (b"{", "This is not JSON"),
        (b"\xff\xfe\x00", "not a text file"),
        (with_(["version"], 9), "Update it"),
        (with_(["stages", 0, "strips", 2, "wood"], "mdf"), "no wood called “mdf”"),
        (with_(["stages", 0, "strips", 2, "width"], 0), "stages[0].strips[2].width"),
        (with_(["stages", 3, "count"], 99), "too short"),
    ],
)
def test_a_file_that_is_no_plan_gets_a_plain_page(visitor: Visitor, store: Store, data: bytes, says: str) -> None:
    answer = visitor.post("/boards/open", plan=(io.BytesIO(data), "plan.json"))
    page = answer.get_data(as_text=True)
    assert answer.status_code == 422
    assert says in page and "Traceback" not in page
    assert store.boards() == []


@pytest.mark.parametrize(
    "path",
    [
        "/nowhere", "/boards/99", "/boards/99/steps", "/boards/99/build", "/boards/x", "/wood/mdf/end.webp",
        "/wood/oak/end.webp?r=1,2&p=3", "/wood/oak/end.webp?r=1,1,2,3&p=0,0,0,4000,4000,40",
        "/wood/oak/end.webp?r=nan,1,2,3&p=0,0,0,10,10,4", "/wood/oak/end.webp?r=1,1,2,3&p=0,0,0,inf,10,4",
    ],
)  # fmt: skip
def test_an_unknown_address_is_a_plain_page(visitor: Visitor, path: str) -> None:
    answer = visitor.get(path)
    assert answer.status_code == 404
    assert "There is nothing at this address" in answer.get_data(as_text=True)


def test_unknown_buttons_and_preferences_are_refused(visitor: Visitor, board: int, store: Store) -> None:
    assert edit(visitor, store, board, "melt").status_code == 400
    assert visitor.post("/preference", key="units", value="cubits").status_code == 400
    assert visitor.post(f"/boards/{board}/build/tick", step="melt").status_code == 404
    assert visitor.post(f"/boards/{board}/restore", to="999").status_code == 404
    away = visitor.post("/preference", key="theme", value="dark", back="//elsewhere.example/")
    assert away.headers["Location"] == "/"


def test_a_form_without_its_token_changes_nothing(visitor: Visitor, store: Store, board: int) -> None:
    answer = visitor.client.post(f"/boards/{board}/delete")
    assert answer.status_code == 400 and "too old" in answer.get_data(as_text=True)
    assert store.board(board) is not None
    assert visitor.post(f"/boards/{board}/shelf", to="removed").status_code == 303
    assert visitor.post(f"/boards/{board}/delete").status_code == 303
    assert store.board(board) is None


def test_a_fault_of_ours_is_a_plain_page_too(
    app: Any, visitor: Visitor, board: int, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr("laberinto.web.screens.steps.figures", lambda _sim: 1 / 0)
    answer = visitor.get(f"/boards/{board}/steps")
    page = answer.get_data(as_text=True)
    assert answer.status_code == 500 and "on our side" in page and "ZeroDivision" not in page


def test_nothing_inline_is_allowed_or_used(visitor: Visitor, board: int) -> None:
    for path in ("/", "/boards/new", f"/boards/{board}", f"/boards/{board}/steps", f"/boards/{board}/build"):
        answer = visitor.get(path)
        policy = answer.headers["Content-Security-Policy"]
        assert "unsafe" not in policy and "default-src 'none'" in policy
        page = answer.get_data(as_text=True)
        assert not re.search(r"<script(?![^>]*src=)|\son\w+=|\sstyle=|<style", page)


def test_wood_is_painted_and_kept_by_the_browser(visitor: Visitor, board: int) -> None:
    page = visitor.get(f"/boards/{board}").get_data(as_text=True)
    href = re.search(r'href="(/wood/[^"]+)"', page)
    assert href
    answer = visitor.get(href[1].replace("&amp;", "&"))
    assert answer.status_code == 200 and answer.data[:2] == b"\xff\xd8"  # a JPEG file
    assert "immutable" in answer.headers["Cache-Control"]
