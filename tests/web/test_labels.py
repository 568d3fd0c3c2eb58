"""Labels: one for each piece, where it lies on the sheet, and what a sheet is like."""

from __future__ import annotations

from io import BytesIO

from pypdf import PdfReader

from laberinto.core.patterns import Alternating
from laberinto.store import Store

from .conftest import Visitor

PLAN = Alternating(strips=6, slices=5).plan("Skerry")
FORMAT = {"label_columns": "2", "label_rows": "4", "label_left": "5", "label_top": "10", "label_gap": "4",
          "label_gap_down": "2"}  # fmt: skip


def test_every_piece_has_a_label_and_used_ones_are_passed_over(visitor: Visitor, store: Store) -> None:
    """Six strips and five slices, twice as the board is made twice: 22, on sheets of 2 × 4 from the third label on."""
    board = store.create(PLAN.model_copy(update={"times": 2}))
    there = f"/boards/{board}/paper/labels"
    assert visitor.post(there, **FORMAT).status_code == 303
    pages = PdfReader(BytesIO(visitor.printed(f"{there}.pdf?paper=a4&first=3").data)).pages
    texts = [page.extract_text() for page in pages]
    assert [text.count("Skerry, rev.") for text in texts] == [6, 8, 8]
    assert sum(text.count("slice, after crosscut") for text in texts) == 10
    assert "on the upper side" in texts[2] and "on the near end" in texts[0]
    only = PdfReader(BytesIO(visitor.printed(f"{there}.pdf?paper=a4&stage=slices").data)).pages
    assert sum(page.extract_text().count("rev.") for page in only) == 10


def test_labels_lie_where_the_format_says(visitor: Visitor, store: Store) -> None:
    """A4 with side margins of 5 and a gap of 4 across two labels: each is (210 − 10 − 4) ÷ 2 = 98 wide, so the second
    begins at 5 + 98 + 4 = 107; four down with 10 and 2: (297 − 20 − 6) ÷ 4 = 67.75."""
    board = store.create(PLAN)
    visitor.post(f"/boards/{board}/paper/labels", **FORMAT)
    page = PdfReader(BytesIO(visitor.printed(f"/boards/{board}/paper/labels.pdf?paper=a4").data)).pages[0]
    places: dict[str, tuple[float, float]] = {}

    def seen(text: str, cm: list[float], tm: list[float], _font: object, size: float) -> None:
        if text.strip() in "123456" and text.strip() and text.strip() not in places:
            x = tm[4] * cm[0] + cm[4]
            places[text.strip()] = x * 25.4 / 72, (tm[5] * cm[3] + cm[5]) * 25.4 / 72

    page.extract_text(visitor_text=seen)
    assert abs(places["1"][0] - (5 + 3)) < 0.5 and abs(places["2"][0] - (107 + 3)) < 0.5  # 3 mm within the label
    assert abs(abs(places["1"][1] - places["3"][1]) - (67.75 + 2)) < 0.1


def test_a_format_that_cannot_be_is_said_at_its_field(visitor: Visitor, store: Store) -> None:
    board = store.create(PLAN)
    there = f"/boards/{board}/paper/labels"
    answer = visitor.post(there, **FORMAT | {"label_columns": "many"})
    assert answer.status_code == 422 and 'value="many"' in answer.get_data(as_text=True)
    visitor.post(there, **FORMAT | {"label_columns": "12", "label_rows": "30"})
    small = visitor.printed(f"{there}.pdf?paper=a4")
    assert small.status_code == 422 and "take no words" in small.get_data(as_text=True)
    assert visitor.printed(f"{there}.pdf?stage=no-such").status_code == 404


def test_the_page_says_where_marks_last(visitor: Visitor, store: Store) -> None:
    page = visitor.get(f"/boards/{store.create(PLAN)}/paper/labels").get_data(as_text=True)
    assert "1–6" in page and "near end, arrow to the upper side" in page and "lasts through “arrange”" in page
