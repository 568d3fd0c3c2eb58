"""The reckoners' page: every one works as it opens, and wrong numbers stand at their field."""

from __future__ import annotations

from laberinto.core.reckoners import RECKONERS

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
