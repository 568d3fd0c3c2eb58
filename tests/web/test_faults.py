"""Pins on a board: where they come from, how they are mended, and what is refused."""

from __future__ import annotations

from io import BytesIO

import pytest
from PIL import Image

from laberinto.store import Store

from .conftest import Visitor


def png() -> BytesIO:
    out = BytesIO()
    Image.new("RGB", (40, 30), "tan").save(out, "PNG")
    out.seek(0)
    return out


def test_a_pin_knows_its_wood_and_is_mended(visitor: Visitor, store: Store, board: int) -> None:
    """Strip 1 stands at the left or the right end of a row; a spot near a corner is of one of the two."""
    page = visitor.get(f"/boards/{board}/faults?side=top&x=6&y=6").get_data(as_text=True)
    assert "At strip 1, slice 1" in page or "At strip 6, slice 1" in page
    sent = visitor.post(f"/boards/{board}/faults", side="top", x="6", y="6", fault="void", text="a finger wide")
    assert sent.status_code == 303
    (pin,) = store.pins(board).all()
    assert pin.wood in store.board(board).plan.strip_woods and pin.stage == "strips" and "slice 1" in pin.strip  # type: ignore[union-attr]
    page = visitor.get(f"/boards/{board}/faults").get_data(as_text=True)
    assert "Ways to mend it" in page and "plug" in page and f'href="#pin-{pin.id}"' in page
    visitor.post(
        f"/boards/{board}/faults/{pin.id}",
        text="a finger wide",
        mended="plugged",
        minutes="12,5",
        photo=(png(), "a.png"),
    )
    (pin,) = store.pins(board).all()
    assert (pin.mended, pin.minutes) == ("plugged", 12.5) and pin.photo is not None
    assert visitor.get(f"/boards/{board}/build/photo/{pin.photo}.jpg").mimetype == "image/jpeg"
    visitor.post(f"/boards/{board}/faults/{pin.id}", pull="yes")
    assert not store.pins(board).all()


@pytest.mark.parametrize(
    ("form", "says"),
    [
        ({"x": "9000", "y": "6"}, "no wood at that place"),
        ({"x": "six", "y": "6"}, "six"),
        ({"x": "6", "y": "6", "fault": "ghost"}, "lost its place"),
        ({"x": "6", "y": "6", "text": "x" * 401}, "401 characters"),
    ],
)
def test_a_bad_pin_is_refused_beside_its_field(
    visitor: Visitor, store: Store, board: int, form: dict[str, str], says: str
) -> None:
    answer = visitor.post(f"/boards/{board}/faults", **{"side": "top", "fault": "void", **form})
    assert answer.status_code == 422 and says in answer.get_data(as_text=True) and not store.pins(board).all()


def test_minutes_that_are_none_and_a_photo_that_is_none_change_nothing(
    visitor: Visitor, store: Store, board: int
) -> None:
    number = store.pins(board).put(0, "top", 6, 6, "chip")
    for form in ({"minutes": "soon"}, {"minutes": "-3"}, {"photo": (BytesIO(b"no picture"), "a.jpg")}):
        answer = visitor.post(f"/boards/{board}/faults/{number}", text="new", mended="done", **form)
        assert answer.status_code == 422
    (pin,) = store.pins(board).all()
    assert pin.text == pin.mended == "" and pin.photo is None
    assert visitor.post(f"/boards/{board}/faults/999", text="").status_code == 404
