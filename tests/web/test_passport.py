"""The passport and the care cards, as PDF."""

from __future__ import annotations

import json
from io import BytesIO

import pytest
from pypdf import PdfReader

from laberinto.core.patterns import Alternating
from laberinto.store import Store

from .conftest import Visitor


@pytest.fixture
def board(store: Store) -> int:
    return store.create(Alternating(strips=4, slices=4, dark="plum").plan("Net Loft"), order_for="The school kitchen")


def read(visitor: Visitor, address: str) -> list[str]:
    answer = visitor.printed(address)
    assert answer.status_code == 200 and answer.mimetype == "application/pdf"
    return [" ".join(page.extract_text().split()) for page in PdfReader(BytesIO(answer.data)).pages]


def test_a_passport_says_what_the_board_is_on_one_sheet(visitor: Visitor, board: int) -> None:
    """4 × 30 − 6 = 114 by 4 × 30 − 6, half plum."""
    assert "passport.pdf" in visitor.get(f"/boards/{board}/record").get_data(as_text=True)
    assert "passport.pdf" in visitor.get(f"/boards/{board}/paper").get_data(as_text=True)
    (page,) = read(visitor, f"/boards/{board}/record/passport.pdf")
    for words in ("Net Loft", "114 × 114 × 38 mm", "Prunus domestica", "50 %", "The school kitchen", "Never soak it"):
        assert words in page


def test_care_cards_are_four_on_a_sheet_with_their_backs(visitor: Visitor, board: int) -> None:
    front, back = read(visitor, f"/boards/{board}/record/care-card.pdf?paper=a4")
    assert front.count("Net Loft") == 4 and back.count("Never soak it") == 4
    size = PdfReader(BytesIO(visitor.printed(f"/boards/{board}/record/care-card.pdf?code=care&paper=a4").data)).pages[0]
    assert [round(float(v)) for v in size.mediabox[2:]] == [595, 842]


def test_the_mark_is_outlines_with_the_makers_name_and_the_number(visitor: Visitor, store: Store, board: int) -> None:
    store.prefer("shop", json.dumps({"maker": "Ebb & Flow", "capital": 9}))
    page = visitor.get(f"/boards/{board}/record").get_data(as_text=True)
    assert f"The mark: Ebb &amp; Flow, No. {board}, " in page
    drawn = visitor.get(f"/boards/{board}/record/mark.svg?save=1")
    assert drawn.mimetype == "image/svg+xml" and "attachment" in drawn.headers["Content-Disposition"]
    assert "mm" in drawn.get_data(as_text=True) and "<text" not in drawn.get_data(as_text=True)


def test_first_and_last_stand_side_by_side(visitor: Visitor, store: Store, board: int) -> None:
    build = store.build(board)
    assert "first-and-last" not in visitor.get(f"/boards/{board}/record").get_data(as_text=True)
    first = build.keep_photo("strips.rip", b"1")
    build.keep_photo("sanded.sand", b"2")
    last = build.keep_photo("oiled.round-2", b"3")
    page = visitor.get(f"/boards/{board}/record").get_data(as_text=True)
    pair = page.split('class="first-and-last"')[1].split("<ol")[0]
    assert f"/photo/{first}.jpg" in pair and f"/photo/{last}.jpg" in pair and pair.count("<img") == 2
