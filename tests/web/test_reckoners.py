"""The reckoners' page: every one works as it opens, and wrong numbers stand at their field."""

from __future__ import annotations

from laberinto.core.analysis.figures import figures
from laberinto.core.patterns import FAMILIES
from laberinto.core.plan.simulate import simulate
from laberinto.core.reckoners import RECKONERS
from laberinto.store import Store

from .conftest import Visitor


def test_every_reckoner_opens_with_an_answer(visitor: Visitor) -> None:
    for key, kind in RECKONERS.items():
        page = visitor.get(f"/reckoners/{key}").get_data(as_text=True)
        assert kind.formula in page and 'class="sum-figures"' in page and "<svg" in page
    assert visitor.get("/reckoners").status_code == 200
    assert visitor.get("/reckoners/astrology").status_code == 404


def test_a_sum_is_kept_in_its_address_and_follows_the_units(visitor: Visitor) -> None:
    page = visitor.get("/reckoners/arc?chord=240&rise=20").get_data(as_text=True)
    assert "370 mm" in page
    visitor.post("/preference", key="units", value="in16", back="/")
    page = visitor.get("/reckoners/arc?chord=10+in&rise=1+in").get_data(as_text=True)
    assert "13&#34;" in page or '13"' in page or "13″" in page


def test_what_is_wrong_stands_at_its_field(visitor: Visitor) -> None:
    page = visitor.get("/reckoners/arc?chord=100&rise=80").get_data(as_text=True)
    assert 'id="r-rise-error"' in page and "Take 50 mm or less" in page and "sum-figures" not in page
    assert "not a length" in visitor.get("/reckoners/arc?chord=wide").get_data(as_text=True)


def test_an_answer_goes_into_the_open_board(visitor: Visitor, store: Store) -> None:
    """A chord of 240 and a rise of 20 make a radius of 370; a stave leaves 26 − 8.04 = 17.9 once rounded down."""
    bowl = store.create(FAMILIES["hollowed"]().plan("Bowl"))
    page = visitor.get(f"/reckoners/arc?board={bowl}").get_data(as_text=True)
    assert "Into Bowl" in page and "Radius and depth of hollow, stage" in page and "Knife of hollow, stage" in page
    answer = visitor.post("/reckoners/arc", board=str(bowl), chord="240", rise="20", into="hollow.radius.depth")
    board = store.board(bowl)
    assert board is not None and answer.headers["Location"].startswith(f"/boards/{bowl}?stage=hollow")
    assert board.plan.stage("hollow").model_dump()["radius"] == 370
    assert board.words == "Arc from chord and rise, Hollow: radius 187 → 370, depth 14 → 20"
    visitor.post("/reckoners/stave", board=str(bowl), into="strips.thickness")
    assert store.board(bowl).plan.stage("strips").model_dump()["thickness"] == 17.9  # type: ignore[union-attr]


def test_what_no_stage_asks_for_becomes_a_note_in_the_log(visitor: Visitor, store: Store, board: int) -> None:
    page = visitor.get(f"/reckoners/wax?board={board}").get_data(as_text=True)
    assert "As a note in the build log" in page and "stage 1</button>" not in page
    answer = visitor.post("/reckoners/wax", board=str(board), oil="200", parts="4", into="note")
    assert answer.status_code == 303
    (note,) = store.build(board).notes()
    assert note.text == "Wax paste: wax 50 g, makes 250 g, as a soft paste"
    wrong = visitor.post("/reckoners/wax", board=str(board), oil="much", into="note")
    assert wrong.status_code == 422 and len(store.build(board).notes()) == 1
    assert visitor.post("/reckoners/wax", board="999", into="note").status_code == 422


def test_a_turntable_begins_with_the_open_board_and_takes_pounds(visitor: Visitor, store: Store, board: int) -> None:
    weight = figures(simulate(store.board(board).plan)).weight  # type: ignore[union-attr]
    assert f'value="{weight:.2f}'.rstrip("0") in visitor.get(f"/reckoners/turntable?board={board}").get_data(
        as_text=True
    )
    # 18 lb are 8.16 kg; a hand outside tips it with 8.16 × 75 ÷ (180 − 75) = 5.83 kg
    page = visitor.get("/reckoners/turntable?weight=18 lb&radius=180&bearing=75").get_data(as_text=True)
    assert "5.83 kg" in page
    assert "not a weight" in visitor.get("/reckoners/turntable?weight=18 stone").get_data(as_text=True)
