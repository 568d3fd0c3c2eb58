"""Where things live: the line at the top, the palette, now, record, paper and what if; boards put away and removed."""

from __future__ import annotations

import re
from datetime import UTC, datetime, timedelta

import pytest
from flask import Flask

from laberinto.core.glossary import BY_KEY, WORDS, found_in
from laberinto.core.patterns import FAMILIES, Alternating
from laberinto.core.plan.model import read_plan
from laberinto.core.plan.simulate import simulate
from laberinto.core.steps import steps
from laberinto.drawing.words import DRAWN, drawing
from laberinto.store import KEPT, Shelf, Store
from laberinto.web.app.places import BESIDE, OF_BOARD, OF_SHOP

from .conftest import Visitor


def test_every_place_is_there_and_says_where_one_is(app: Flask, visitor: Visitor, board: int) -> None:
    """Each page of a board stands open in its own group, and in no other; none has a second row of tabs."""
    with app.test_request_context():
        of_board = {place.key: place.address(board) for group in OF_BOARD for place in group.places}
        others = [place.address() for place in (*OF_SHOP, *BESIDE)]
    for key, address in of_board.items():
        page = visitor.get(address).get_data(as_text=True)
        nav = re.findall(r'<nav class="board-nav".*?</nav>', page)
        assert len(nav) == 1 and nav[0].count('aria-current="page"') + nav[0].count("aria-current=page") == 1, key
        group = next(group for group in OF_BOARD if group.holds(key))
        assert all(f">{place.words}<" in nav[0] for place in group.places)
        assert nav[0].count('class="nav-closed"') == len(OF_BOARD) - 1
    for address in others:
        assert visitor.get(address).status_code == 200


def test_the_palette_knows_every_board_page_stage_and_pattern(visitor: Visitor, store: Store, board: int) -> None:
    other = store.create(FAMILIES["weave"]().plan("Tide Table"), order_for="The pilots")
    entries = visitor.get(f"/palette.json?board={board}").get_json()
    words = [entry["words"] for entry in entries]
    plan = store.board(board)
    assert plan is not None
    assert [w for w in words if w == "Tide Table"] and {f.title for f in FAMILIES.values()} <= set(words)
    assert [entry["about"] for entry in entries if entry["words"] == "Mill the strips"] == ["Shoal, stage 1"]
    assert {f"/boards/{board}?stage={stage.id}" for stage in plan.plan.stages} <= {e["href"] for e in entries}
    elsewhere = visitor.get("/palette.json").get_json()
    assert not any("stage" in entry["href"] for entry in elsewhere) and any(
        entry["href"] == f"/boards/{other}" and "pilots" in entry["about"] for entry in elsewhere
    )
    for entry in entries:
        assert visitor.get(entry["href"]).status_code == 200, entry


def test_a_board_put_away_or_removed_comes_back(visitor: Visitor, store: Store, board: int) -> None:
    for shelf, says in ((Shelf.ARCHIVE, "was put away"), (Shelf.REMOVED, "was removed")):
        answer = visitor.post(f"/boards/{board}/shelf", to=shelf.value)
        assert answer.status_code == 303 and says in visitor.get(answer.headers["Location"]).get_data(as_text=True)
        assert store.boards() == [] and [b.id for b in store.boards(shelf)] == [board]
        assert "Shoal" in visitor.get(f"/?shelf={shelf.value}").get_data(as_text=True)
        assert "Bring it back there" in visitor.get(f"/boards/{board}").get_data(as_text=True)
        visitor.post(f"/boards/{board}/shelf", to="bench")
        assert [b.id for b in store.boards()] == [board]
    assert visitor.post(f"/boards/{board}/shelf", to="loft").status_code == 422


def test_what_was_removed_is_deleted_after_its_time_and_not_before(store: Store, board: int) -> None:
    store.put(board, Shelf.REMOVED)
    soon = datetime.now(UTC) + KEPT - timedelta(hours=1)
    assert store.clear(soon) == 0 and store.board(board) is not None
    assert store.clear(soon + timedelta(hours=2)) == 1 and store.board(board) is None


def test_now_shows_what_is_on_the_bench_what_rests_and_what_is_done(visitor: Visitor, store: Store, board: int) -> None:
    assert "Nothing is on the bench" in visitor.get("/now").get_data(as_text=True)
    view = store.board(board)
    assert view is not None
    simulate(view.plan)
    todo = steps(simulate(view.plan))
    glued = next(k for k, step in enumerate(todo) if step.wait_hours)
    for step in todo[: glued + 1]:
        store.build(board).tick(step.key)
    page = visitor.get("/now").get_data(as_text=True)
    assert "Resting, about" in page and todo[glued + 1].heading in page
    for step in todo[glued + 1 :]:
        store.build(board).tick(step.key)
    page = visitor.get("/now").get_data(as_text=True)
    assert "Finished" in page and f"/boards/{board}/record" in page
    record = visitor.get(f"/boards/{board}/record").get_data(as_text=True)
    assert f"{len(todo)} steps" not in record and all(step.heading in record for step in todo)


def test_the_record_keeps_what_was_measured(visitor: Visitor, store: Store, board: int) -> None:
    assert "Not begun" in visitor.get(f"/boards/{board}/record").get_data(as_text=True)
    view = store.board(board)
    assert view is not None
    step = next(step for step in steps(simulate(view.plan)) if step.measure)
    assert step.measure
    store.build(board).write(step.key, "a shake in the third", step.measure + 0.4)
    page = visitor.get(f"/boards/{board}/record").get_data(as_text=True)
    assert "a shake in the third" in page and f"{step.measure + 0.4:g} mm" in page and f"{step.measure:g} mm" in page


def test_what_if_is_shown_beside_and_kept_as_a_variant(visitor: Visitor, store: Store, board: int) -> None:
    """Six strips of 30: 4 wider makes 24 of width; the kerf of one crosscut stage changes no size."""
    asked = {"wider": "4", "kerf": "1.5", "old": "beech", "new": "holly"}
    page = visitor.get(f"/boards/{board}/what-if", query_string=asked).get_data(as_text=True)
    assert "198 × 174 × 38 mm" in page and "24 mm wider" in page and "Keep it as a variant" in page
    before = store.board(board)
    assert before is not None and not before.variants
    assert visitor.post(f"/boards/{board}/what-if", **asked, revision=str(before.revision)).status_code == 303
    after = store.board(board)
    assert after is not None and [letter for letter, _ in after.variants] == ["A", "B"] and after.variant == "B"
    assert simulate(after.plan).board.size[0] == pytest.approx(198) and after.words.startswith(
        "what if: kerf of every cut"
    )
    store.switch(board, "A")
    assert store.board(board).plan == before.plan  # type: ignore[union-attr]


@pytest.mark.parametrize(
    ("asked", "says"),
    [
        ({"kerf": "thin"}, "“thin” is not a length"), ({"wider": "-40"}, "narrowest strip"),
        ({"thickness": "300"}, "150 mm"), ({"slice": "60"}, "It cannot be built so"),
    ],
)  # fmt: skip
def test_what_cannot_be_is_said_and_nothing_is_kept(
    visitor: Visitor, store: Store, board: int, asked: dict[str, str], says: str
) -> None:
    before = store.board(board)
    assert says in visitor.get(f"/boards/{board}/what-if", query_string=asked).get_data(as_text=True)
    assert visitor.post(f"/boards/{board}/what-if", **asked).status_code == 422
    assert store.board(board) == before


def test_every_word_has_its_drawing_and_is_explained_once_a_page(visitor: Visitor, board: int) -> None:
    assert set(DRAWN) == set(BY_KEY) and len(BY_KEY) == len(WORDS)
    page = visitor.get("/words").get_data(as_text=True)
    for word in WORDS:
        assert f'id="{word.key}"' in page and drawing(word.key) in page
        assert word.term in visitor.get(f"/words/{word.key}").get_data(as_text=True).lower()
    assert visitor.get("/words/unknown").status_code == 404
    said = re.findall(r'data-word="([^"]+)"', visitor.get(f"/boards/{board}/steps").get_data(as_text=True))
    assert said and len(said) == len(set(said))


def test_words_are_found_whole_and_the_longest_first() -> None:
    text = "Rip it, dry fit the strips; a dry joint stays, well."
    found = [(text[start:end], word.key) for start, end, word in found_in(text)]
    assert found == [("Rip", "rip"), ("dry fit", "dry-fit"), ("strips", "strip"), ("dry joint", "dry-joint")]


def test_which_board_compares_one_size(visitor: Visitor) -> None:
    page = visitor.get("/which-board").get_data(as_text=True)
    costs = [float(text.replace(" ", "")) for text in re.findall(r"<dt>Costs</dt><dd>€ ([\d .]+)</dd>", page)]
    assert len(costs) == 3 and costs == sorted(costs)  # a plank is cheapest, end grain dearest
    assert page.count('<section class="which-one"') == 3 and "300 × 400 × 38 mm" in page


def test_the_first_answers_are_kept_all_or_none(visitor: Visitor, store: Store) -> None:
    answers = {"planer_width": "330", "drum_width": "560", "sled_width": "600", "clamps": "8", "aim": "size"}
    wrong = visitor.post("/start", **(answers | {"clamps": "many"}))
    assert wrong.status_code == 422 and 'value="560"' in wrong.get_data(as_text=True)
    assert "shop" not in store.preferences()
    assert visitor.post("/start", **answers).headers["Location"].endswith("/boards/size")
    assert '"drum_width": 560.0' in store.preferences()["shop"]
    assert visitor.post("/start", **(answers | {"aim": "first"})).headers["Location"].endswith("/boards/new?tour=begin")


def test_a_batch_takes_its_wood_and_says_so(visitor: Visitor, store: Store, board: int) -> None:
    view = store.board(board)
    assert view is not None
    sent = {"op": "times", "edited": "times", "stage": "strips", "view": "face", "revision": str(view.revision)}
    assert "1 to 50 boards" in visitor.post(f"/boards/{board}/edit", **sent, times="0").get_data(as_text=True)
    visitor.post(f"/boards/{board}/edit", **sent, times="4")
    assert "4 boards are made of this plan" in visitor.get(f"/boards/{board}/steps").get_data(as_text=True)
    assert "A batch of 4" in visitor.get(f"/boards/{board}/cost").get_data(as_text=True)


def test_several_boards_are_looked_at_one_by_one(visitor: Visitor, store: Store) -> None:
    data = Alternating(strips=6, slices=6).plan("Pair").as_dict()
    next(stage for stage in data["stages"] if stage["id"] == "board")["dry"] = [4]
    pair = store.create(read_plan(data))
    first, second = (visitor.get(f"/boards/{pair}?piece={k}").get_data(as_text=True) for k in (0, 1))
    assert "174 × 114 × 38 mm" in first and "board 1 of 2" in first
    assert "174 × 54 × 38 mm" in second and "board 2 of 2" in second
    assert "The 2 boards of this plan" in visitor.get(f"/boards/{pair}/cost").get_data(as_text=True)
