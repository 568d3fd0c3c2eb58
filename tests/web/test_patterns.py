"""The gallery, the forms of the families, and a board's pattern changed later."""

from __future__ import annotations

import re

import pytest
from markupsafe import Markup

from laberinto.core.errors import LaberintoError
from laberinto.core.patterns import FAMILIES, Family
from laberinto.core.patterns.palettes import Palette, palettes
from laberinto.core.plan.model import Plan
from laberinto.core.woods import LIBRARY
from laberinto.store import Store
from laberinto.web.screens.patterns import routes

from .conftest import Visitor


def form(page: str) -> dict[str, str]:
    """What a browser would send of the new-board form."""
    fields = dict(re.findall(r'<input id="[^"]+" name="([\w-]+)" value="([^"]*)"', page))
    for name, inner in re.findall(r'<select id="[^"]+" name="([\w-]+)"[^>]*>(.*?)</select>', page, re.S):
        chosen = re.search(r'value="([^"]+)" selected', inner)
        assert chosen, name
        fields[name] = chosen[1]
    return fields


def test_the_gallery_shows_every_family_and_its_work(visitor: Visitor) -> None:
    page = visitor.get("/boards/new").get_data(as_text=True)
    cards = re.findall(r'<li class="family" id="family-(\w+)">(.*?)</li>', page, re.S)
    assert [key for key, _ in cards] == list(FAMILIES)
    for key, card in cards:
        assert FAMILIES[key].summary in card and "<svg" in card and "cuts" in card and "rosscut sled" in card
    assert page.rstrip().endswith("</html>")
    assert visitor.get("/boards/new/nonsense").status_code == 404


def test_the_gallery_goes_out_as_it_is_cut(visitor: Visitor, monkeypatch: pytest.MonkeyPatch) -> None:
    """Its head before any card is cut, with the cookie of its forms; then what was cut in a tenth of a second, where a
    card takes 0.06 s: two at a time, and not packed."""
    done: list[str] = []

    def noted(family: type[Family], palette: Palette | None) -> Markup:
        done.append(family.key)
        return Markup("<b>{}</b>").format("x" * 3000)

    monkeypatch.setattr(routes, "card", noted)
    monkeypatch.setattr(routes, "perf_counter", lambda: 5000 + 0.06 * len(done))
    answer = visitor.client.get("/boards/new", headers={"Accept-Encoding": "gzip, br, zstd"}, buffered=False)
    pieces = iter(answer.iter_encoded())
    first = next(pieces)
    assert b"<title>New board" in first and not done
    assert visitor.client.application.config["SESSION_COOKIE_NAME"] + "=" in answer.headers["Set-Cookie"]
    cards = [piece.count(b"<b>x") for piece in pieces]
    assert sum(cards) == len(FAMILIES) and set(cards[:-1]) == {2}


def test_palettes_show_their_woods_in_the_page_itself(visitor: Visitor, store: Store) -> None:
    """In the finish that the shop prefers, and with nothing on the page by the name of anything else."""
    for finish in ("oiled", "raw"):
        store.prefer("finish", finish)
        page = visitor.get("/boards/new").get_data(as_text=True)
        names = re.findall(r' id="([^"]+)"', page)
        assert len(names) == len(set(names))
        for palette in palettes(LIBRARY.values(), finish):
            for key in (palette.light, palette.mid, palette.dark):
                gradient = page.split(f'id="sample-{key}"')[1].split("</radialGradient>")[0]
                assert gradient.count(LIBRARY[key].colour(finish)) == 2


@pytest.mark.parametrize("palette", ["Strong", "Quiet", "Even"])
def test_a_palette_shows_every_family_in_its_woods(visitor: Visitor, palette: str) -> None:
    page = visitor.get(f"/boards/new/weave?palette={palette}").get_data(as_text=True)
    plain = form(visitor.get("/boards/new/weave").get_data(as_text=True))
    chosen = form(page)
    assert (chosen["light"], chosen["dark"]) != (plain["light"], plain["dark"])
    answer = visitor.post("/boards/new/weave/preview", palette=palette, **plain).get_data(as_text=True)
    assert form(answer)["dark"] == chosen["dark"]


@pytest.mark.parametrize("key", sorted(FAMILIES.keys() - {"picture"}))
def test_each_family_makes_its_board_as_offered(visitor: Visitor, store: Store, key: str) -> None:
    values = form(visitor.get(f"/boards/new/{key}").get_data(as_text=True))
    answer = visitor.post(f"/boards/new/{key}", **values)
    assert answer.status_code == 303, key
    (made,) = store.boards()
    assert made.plan.pattern and made.plan.pattern.family == key
    page = visitor.get(answer.headers["Location"]).get_data(as_text=True)
    assert 'id="pattern"' in page


def test_one_more_pass_brings_its_fields_and_its_picture(visitor: Visitor) -> None:
    values = form(visitor.get("/boards/new/chaos").get_data(as_text=True))
    assert "skew-2" in values and "skew-3" not in values
    page = visitor.post("/boards/new/chaos/preview", **(values | {"passes": "3"})).get_data(as_text=True)
    assert form(page)["least-3"] == "26" and page.count("pass-picture") == 3
    wrong = visitor.post("/boards/new/chaos", **(values | {"bevel-1": "12"}))
    assert wrong.status_code == 422 and "Bevelled strips only nest" in wrong.get_data(as_text=True)


def test_what_is_wrong_stands_at_its_field_in_every_family(visitor: Visitor, store: Store) -> None:
    for key in sorted(FAMILIES.keys() - {"picture"}):
        values = form(visitor.get(f"/boards/new/{key}").get_data(as_text=True))
        answer = visitor.post(f"/boards/new/{key}", **(values | {"thickness": "thick"}))
        assert answer.status_code == 422
        assert re.search(r'id="n-thickness-error" role="alert">[^<]*not a length', answer.get_data(as_text=True)), key
    assert store.boards() == []


def test_a_boards_pattern_is_changed_on_the_board(visitor: Visitor, store: Store) -> None:
    values = form(visitor.get("/boards/new/brick").get_data(as_text=True))
    place = visitor.post("/boards/new/brick", **values).headers["Location"].split("?")[0]
    fields = visitor.get(f"{place}/pattern").get_data(as_text=True)
    assert 'name="pattern-mortar" value="6"' in fields and "Half bricks on half the pitch" in fields
    revision = store.boards()[0].revision
    ask = {"op": "pattern", "stage": "strips", "revision": revision}
    answer = visitor.post(f"{place}/edit", htmx=True, **ask, **{"pattern-bricks": "3"})
    assert answer.status_code == 200 and "198 × 308 × 38 mm" in answer.get_data(as_text=True)
    ask["revision"] = store.boards()[0].revision
    wrong = visitor.post(f"{place}/edit", htmx=True, **ask, **{"pattern-mortar": "30"})
    page = wrong.get_data(as_text=True)
    assert wrong.status_code == 422 and 'id="pattern" open' in page and "too thick for bricks" in page
    assert page.count("too thick for bricks") == 1


def test_a_board_without_a_pattern_has_none_to_change(visitor: Visitor, store: Store, board: int) -> None:
    values = form(visitor.get("/boards/new/brick").get_data(as_text=True))
    place = visitor.post("/boards/new/brick/bare", **values).headers["Location"].split("?")[0]
    assert 'id="pattern"' not in visitor.get(place).get_data(as_text=True)
    assert visitor.get(f"{place}/pattern").status_code == 404


def test_a_family_that_cannot_be_made_says_so_on_its_card_alone(
    visitor: Visitor, monkeypatch: pytest.MonkeyPatch
) -> None:
    def refuse(self: Family, name: str) -> Plan:
        raise LaberintoError("Nothing is left of it.")

    def fail(self: Family, name: str) -> Plan:
        raise ZeroDivisionError

    monkeypatch.setattr(FAMILIES["brick"], "plan", refuse)
    monkeypatch.setattr(FAMILIES["stairs"], "plan", fail)
    page = visitor.get("/boards/new").get_data(as_text=True)
    assert page.count("card-problem") == 2 and page.count('class="thumb') == len(FAMILIES) - 2
    assert "Nothing is left of it." in page and "could not be drawn" in page


def test_makers_in_inches_begin_with_fractions(visitor: Visitor) -> None:
    visitor.post("/preference", key="units", value="in16", back="/")
    for key in FAMILIES:
        form = visitor.get(f"/boards/new/{key}").get_data(as_text=True)
        assert not re.findall(r'<input id="[^"]+" name="[^"]+" value="\d*\.\d{3,}', form), key
        assert key == "picture" or "figures" in form, key
