"""The shop's profile: kept whole or not at all, taken over by new plans, checks, cut lists, and settled by a press."""

from __future__ import annotations

import re

import pytest

from laberinto.core.patterns import Alternating
from laberinto.core.plan.simulate import simulate
from laberinto.core.shop import SCHOOLS, Shop
from laberinto.store import Store

from .conftest import Visitor


def form(page: str) -> dict[str, str]:
    fields = dict(re.findall(r'<input id="s-\w+" name="(\w+)" value="([^"]*)"', page))
    fields |= re.findall(r'<select id="s-\w+" name="(\w+)".*?<option value="([\w-]+)" selected', page)
    return fields | dict(re.findall(r'type="radio" name="(\w+)" value="([\w-]+)" checked', page))


def test_the_profile_begins_as_a_usual_shop_with_reasons_on_both_sides(visitor: Visitor) -> None:
    page = visitor.get("/shop").get_data(as_text=True)
    assert sorted(form(page)) == sorted(Shop.model_fields)
    for school in SCHOOLS.values():
        for words, reason in school.answers.values():
            assert words.capitalize() in page and reason in page
    assert "· yours" not in page and "own" not in re.findall(r'class="shop-field( own)?"', page)


def test_a_new_plan_takes_its_numbers_from_the_shop(visitor: Visitor, store: Store) -> None:
    values = form(visitor.get("/shop").get_data(as_text=True))
    answer = visitor.post(
        "/shop",
        **(
            values
            | {
                "kerf": "2.4",
                "flatten_board": "3",
                "last_grit": "400",
                "feet": "four",
                "spread": "one",
                "rough_length": "40",
            }
        ),
    )
    assert answer.status_code == 303
    assert 'class="shop-field own"' in visitor.get("/shop").get_data(as_text=True)
    fields = visitor.get("/boards/new/alternating").get_data(as_text=True)
    board = dict(re.findall(r'<input id="n-(\w+)" name="\w+" value="([^"]*)"', fields))
    made = visitor.post("/boards/new/alternating", **board, light="beech", dark="plum")
    (view,) = store.boards()
    plan = view.plan
    assert plan.stage("slices").kerf == 2.4 and plan.stage("slices").slice == 38 + 2 * 3
    assert plan.stage("sanded").grits == (80, 120, 180, 220, 320, 400)
    assert plan.stage("feet").source == "eased" and plan.stage("panel").spread == "one"
    assert simulate(plan).board.size[2] == pytest.approx(38)
    # 5 + 13 × (44 + 2.4) + 60, up to five: 670, and 40 over
    steps = visitor.get(made.headers["Location"].split("?")[0] + "/steps").get_data(as_text=True)
    assert "710 × 33 × 36 mm" in steps


@pytest.mark.parametrize(
    ("change", "field", "says"),
    [
        ({"kerf": "blade"}, "kerf", "not a length"),
        ({"planer_width": "1200"}, "planer_width", "outside 100 mm"),
        ({"clamps": "1.5"}, "clamps", "whole number"),
        ({"open_time": ""}, "open_time", "missing"),
        ({"dry": "70"}, "damp", "damper than the driest"),
        ({"rate": "1200"}, "rate", "An hour goes from 0 to 1000."),
        ({"bits": "6, 9.5, wide"}, "bits", "“wide” is not a length"),
        ({"bits": "6, 120"}, "bits", "Router bits go from 0.5 mm to 100 mm each."),
    ],
)
def test_a_wrong_field_is_named_and_nothing_is_saved(
    visitor: Visitor, store: Store, change: dict[str, str], field: str, says: str
) -> None:
    values = form(visitor.get("/shop").get_data(as_text=True))
    answer = visitor.post("/shop", **(values | {"squaring": "7"} | change))
    page = answer.get_data(as_text=True)
    assert answer.status_code == 422 and "Nothing was saved" in page
    found = re.search(rf'id="s-{field}-error" role="alert">([^<]*)', page)
    assert (found and says in found[1]) or says in page
    assert form(page)["squaring"] == "7"  # what was typed is still there
    assert "shop" not in store.preferences()


def test_back_to_the_usual(visitor: Visitor, store: Store) -> None:
    values = form(visitor.get("/shop").get_data(as_text=True))
    visitor.post("/shop", **(values | {"kerf": "2"}))
    assert visitor.post("/shop", reset="yes").status_code == 303
    assert form(visitor.get("/shop").get_data(as_text=True)) == values
    assert store.preferences()["shop"] == "{}"


def test_a_profile_of_another_version_falls_back_to_the_usual(visitor: Visitor, store: Store) -> None:
    for kept in ('{"hovercraft": 1}', "nonsense", "[1]"):
        store.prefer("shop", kept)
        assert visitor.get("/shop").status_code == 200 and visitor.get("/").status_code == 200


def test_a_check_of_the_shops_limits_is_settled_by_a_press(visitor: Visitor, store: Store, board: int) -> None:
    values = form(visitor.get("/shop").get_data(as_text=True))
    visitor.post("/shop", **(values | {"planer_width": "150"}))
    place = f"/boards/{board}?stage=panel-flat"
    page = visitor.get(place).get_data(as_text=True)
    assert "wider than your thickness planer takes (150 mm)" in page and "Use the drum sander" in page
    view = store.board(board)
    assert view
    ask = {"op": "remedy", "stage": "panel-flat", "key": "too_wide.panel-flat", "revision": view.revision, "which": 1}
    answer = visitor.post(f"/boards/{board}/edit", htmx=True, **ask)
    assert answer.status_code == 200 and "wider than your" not in answer.get_data(as_text=True)
    view = store.board(board)
    assert view and view.plan.stage("panel-flat").method == "drum-sander"
    assert view.words == "Flatten: with planer → drum-sander"
    # pressed again from a page that is behind, it changes nothing
    again = visitor.post(f"/boards/{board}/edit", htmx=True, **(ask | {"revision": view.revision}))
    assert again.status_code == 200 and store.board(board).revision == view.revision  # type: ignore[union-attr]


def test_what_was_never_said_follows_the_units_and_goes_back_with_them(visitor: Visitor, store: Store) -> None:
    """1/8" is 3.175 mm, 12" are 304.8; a board foot is 2.359737 litres, a square foot 9.290304 dm², so that 2 a board
    foot is 0.847552 a litre."""
    store.prefer("units", "in32")
    page = visitor.get("/shop").get_data(as_text=True)
    texts = {name: text.replace("&#34;", '"') for name, text in form(page).items()}
    assert (texts["kerf"], texts["planer_width"], texts["drum_bite"]) == ('1/8"', '12"', '1/64"')
    assert not re.search(r"\d mm|litre|dm²", re.sub(r"<header.*?</header>", "", page, flags=re.S))
    page = visitor.post("/shop", **(texts | {"bits": '1/4", 5'})).get_data(as_text=True).replace("&#34;", '"')
    assert 'Router bits go from 1/32" shy to 3 15/16" each.' in page
    assert visitor.post("/shop", **(texts | {"wood_price": "2", "bits": '1/4", 1/2'})).status_code == 303
    store.prefer("units", "mm")
    texts = form(visitor.get("/shop").get_data(as_text=True))
    assert (texts["kerf"], texts["planer_width"], texts["bits"]) == ("3", "310", "6.35, 12.7")
    assert float(texts["wood_price"]) == pytest.approx(0.847552, abs=1e-5)


def test_makers_in_inches_read_and_type_fahrenheit(visitor: Visitor, store: Store) -> None:
    """41 °F are 5 °C: too cold for a PVA glue, which wants 10, so 50 °F."""
    store.prefer("units", "in16")
    page = visitor.get("/shop").get_data(as_text=True)
    values = {name: text.replace("&#34;", '"') for name, text in form(page).items()}
    assert values["air"] == "68" and "°F" in page and "°C" not in page
    assert visitor.post("/shop", **(values | {"air": "41"})).status_code == 303
    assert form(visitor.get("/shop").get_data(as_text=True))["air"] == "41"
    refused = visitor.post("/shop", **(values | {"air": "140"})).get_data(as_text=True)
    assert "goes from 23 to 113 °F" in refused
    board = store.create(Alternating().plan("Cold"))
    said = visitor.get(f"/boards/{board}/checks").get_data(as_text=True)
    assert "It is 41 °F where you glue" in said and "wants 50 °F at least" in said
    store.prefer("units", "mm")
    assert form(visitor.get("/shop").get_data(as_text=True))["air"] == "5"
