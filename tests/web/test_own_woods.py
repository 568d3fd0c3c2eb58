"""Woods of the shop's own: figures, photos, files, and what is refused."""

from __future__ import annotations

import json
import re
from collections.abc import Iterator
from io import BytesIO

import numpy as np
import pytest
from flask import Flask
from PIL import Image

from laberinto.core.patterns import Alternating
from laberinto.core.plan.simulate import simulate
from laberinto.core.woods import LIBRARY
from laberinto.drawing import looks
from laberinto.store import Store
from laberinto.web.app import own
from laberinto.web.screens.steps.pdf import to_pdf

from .conftest import Visitor

FIGURES = {
    "name": "Harbour oak", "botanical": "Quercus robur", "density": "700", "tangential": "9.5", "radial": "5",
    "hardness": "5000", "spacing": "2,2", "ring": "0.4", "porosity": "ring-porous", "tone": "mid", "raw": "#a08060",
    "oiled": "#806040",
}  # fmt: skip


@pytest.fixture(autouse=True)
def _library(app: Flask) -> Iterator[None]:
    yield
    LIBRARY.take_in(())
    looks.keep({})


def picture(kind: str = "JPEG", size: tuple[int, int] = (120, 90), **more: object) -> BytesIO:
    rng = np.random.default_rng(1)
    out = BytesIO()
    Image.fromarray(rng.integers(90, 160, (size[1], size[0], 3), np.uint8)).save(out, kind, **more)
    out.seek(0)
    return out


def plain() -> BytesIO:
    """45 million pixels of one colour, in few bytes."""
    out = BytesIO()
    Image.new("L", (9000, 5000)).save(out, "PNG")
    return out


def test_a_new_wood_goes_into_a_board_and_out_again(visitor: Visitor, store: Store) -> None:
    assert visitor.post("/woods", **FIGURES).status_code == 303
    assert "Harbour oak" in visitor.get("/boards/new").get_data(as_text=True) or "harbour-oak" in LIBRARY
    board = store.create(Alternating(strips=4, slices=4, light="harbour-oak", dark="plum").plan("Any"))
    assert "Harbour oak" in visitor.get(f"/boards/{board}/record").get_data(as_text=True)
    before = simulate(store.board(board).plan)  # type: ignore[union-attr]
    visitor.post("/woods/harbour-oak", **FIGURES | {"density": "1000"})
    assert LIBRARY["harbour-oak"].density == 1000
    after = simulate(store.board(board).plan)  # type: ignore[union-attr]
    assert after.results[0].key != before.results[0].key  # nothing that was worked out with the old figures is shown
    refused = visitor.post("/woods/harbour-oak/remove")
    assert refused.status_code == 422 and "Harbour oak is in Any" in refused.get_data(as_text=True)
    store.delete(board)
    visitor.post("/woods/harbour-oak/remove")
    assert "harbour-oak" not in LIBRARY


def test_a_wood_of_the_library_is_changed_and_given_back(visitor: Visitor) -> None:
    ours = LIBRARY["plum"].density
    visitor.post("/woods/plum", **FIGURES | {"name": "Plum", "density": "900"})
    assert LIBRARY["plum"].density == 900 and "your own" in visitor.get("/woods").get_data(as_text=True)
    visitor.post("/woods/plum/remove")
    assert LIBRARY["plum"].density == ours


@pytest.mark.parametrize(
    ("field", "value", "says"),
    [
        ("name", "", "needs a name"),
        ("name", "Plum", "There is Plum already"),
        ("density", "heavy", "heavy"),
        ("density", "20", "Density goes from 100 to 1500 kg/m³"),
        ("spacing", "40", "15 mm"),
        ("raw", "brown", 'id="error-raw"'),
    ],
)
def test_figures_that_cannot_be_are_refused_at_their_field(visitor: Visitor, field: str, value: str, says: str) -> None:
    answer = visitor.post("/woods", **FIGURES | {field: value})
    page = answer.get_data(as_text=True)
    assert answer.status_code == 422 and says in page and f'id="error-{field}"' in page and not LIBRARY.own


def test_a_photo_changes_what_is_drawn_and_its_address(visitor: Visitor, store: Store) -> None:
    before = visitor.get("/woods/plum").get_data(as_text=True)
    sent = visitor.post("/woods/plum/end/photo", photo=(picture(), "end.jpg"))
    assert sent.status_code == 303 and LIBRARY["plum"].look and LIBRARY["plum"].raw != "#808080"
    after = visitor.get("/woods/plum").get_data(as_text=True)
    assert "data-corners" in after and "&amp;m=" in after and "&amp;m=" not in before
    look = LIBRARY["plum"].look
    form = {"corners": "0.1,0.1;0.9,0.2;0.8,0.9;0.1,0.8", "width": "60", "height": "40", "finish": "oiled"}
    assert visitor.post("/woods/plum/end/corners", **form).status_code == 303
    assert LIBRARY["plum"].look != look and store.woods.photos()["plum"]["end"].width == 60
    for wrong in ({"corners": "0,0;1,1;1,0;0,1"}, {"corners": "1;2"}, {"width": "0"}, {"finish": "wet"}):
        refused = visitor.post("/woods/plum/end/corners", **form | wrong)
        assert refused.status_code == 422 and 'id="error-end"' in refused.get_data(as_text=True)
    visitor.post("/woods/plum/end/photo", drop="yes")
    assert not LIBRARY["plum"].look


@pytest.mark.parametrize(
    "bad", [BytesIO(b"no picture"), BytesIO(picture().getvalue()[:900]), plain()],
    ids=["no picture", "cut in half", "45 million pixels"],
)  # fmt: skip
def test_a_bad_photo_is_refused_and_changes_nothing(visitor: Visitor, store: Store, bad: BytesIO) -> None:
    to_pdf("<p>A printed page</p>")  # what prints would have half a picture pass for a whole one
    bad.seek(0)
    answer = visitor.post("/woods/plum/end/photo", photo=(bad, "a.jpg"))
    assert answer.status_code == 422 and 'id="error-end"' in answer.get_data(as_text=True)
    assert not LIBRARY.own and not store.woods.photos()


def test_a_photo_turned_by_its_metadata_stands_upright(visitor: Visitor, store: Store) -> None:
    """120 × 90 with orientation 6 is 90 × 120 to the eye, and nothing of the camera stays in it."""
    exif = Image.Exif()
    exif[0x0112], exif[0x010F] = 6, "a camera"
    visitor.post("/woods/plum/face/photo", photo=(picture(exif=exif), "a.jpg"))
    with Image.open(BytesIO(store.woods.photos()["plum"]["face"].jpeg)) as kept:
        assert kept.size == (90, 120) and not kept.getexif()


def test_a_wood_file_brings_it_to_another_shop(visitor: Visitor, store: Store) -> None:
    visitor.post("/woods", **FIGURES)
    visitor.post("/woods/harbour-oak/end/photo", photo=(picture(), "end.jpg"))
    text = visitor.get("/woods/harbour-oak/wood.json").get_data(as_text=True)
    own_ = visitor.post("/woods/open", file=(BytesIO(text.encode()), "a.wood.json"))
    assert own_.status_code == 422 and "already" in own_.get_data(as_text=True)
    visitor.post("/woods/harbour-oak/remove")
    taken = visitor.post("/woods/open", file=(BytesIO(text.encode()), "a.wood.json"))
    assert taken.status_code == 303, taken.get_data(as_text=True)
    assert LIBRARY["harbour-oak"].density == 700 and LIBRARY["harbour-oak"].look
    visitor.post("/woods/harbour-oak/remove")
    data = json.loads(text)
    for damaged in (
        text[: len(text) // 2], "{}", json.dumps(data | {"version": 9}),
        json.dumps(data | {"wood": data["wood"] | {"density": -1}}),
        json.dumps(data | {"photos": {"end": data["photos"]["end"] | {"jpeg": "!!"}}}),
        json.dumps(data | {"photos": {"end": data["photos"]["end"] | {"jpeg": "AAAA"}}}),
        json.dumps(data | {"photos": {"end": data["photos"]["end"] | {"corners": [[0, 0]]}}}),
    ):  # fmt: skip
        answer = visitor.post("/woods/open", file=(BytesIO(damaged.encode()), "a.wood.json"))
        assert answer.status_code == 422 and 'role="alert"' in answer.get_data(as_text=True)
        assert "harbour-oak" not in LIBRARY


def test_a_lot_gets_a_look_of_its_own(visitor: Visitor, store: Store) -> None:
    from laberinto.core.timber import Lot, LotKind

    (number,) = store.timber.add([Lot(kind=LotKind.PLANK, wood="plum", length=900, width=160, thickness=40)])
    store.timber.set_photo(number, picture().getvalue())
    assert f"/woods/new?like=plum&amp;lot={number}" in visitor.get(f"/timber/{number}").get_data(as_text=True)
    visitor.post("/woods", **FIGURES | {"name": "Plum, lot 1", "lot": str(number)})
    lot = store.timber.lot(number)
    assert lot is not None and lot.lot.wood == "plum-lot-1" and LIBRARY["plum-lot-1"].look
    own.take_in(store)
    assert LIBRARY["plum-lot-1"].name == "Plum, lot 1"


def test_makers_in_inches_read_and_type_their_own_units(visitor: Visitor, store: Store) -> None:
    """43.7 lb/ft³ are 700 kg/m³ (1 is 16.0185); 1000 lbf are 4448.2 N. What is left as it stands keeps its last digit."""
    visitor.post("/woods", **FIGURES)
    before = LIBRARY["harbour-oak"]
    store.prefer("units", "in32")
    page = visitor.get("/woods/harbour-oak").get_data(as_text=True)
    found = re.findall(r'name="(density|tangential|radial|hardness|spacing|ring)"[^>]*?value="([^"]*)"', page)
    typed = {name: text.replace("&#34;", '"') for name, text in found}
    assert "lb/ft³" in page and "lbf" in page and "kg/m³" not in page and typed["density"] == "43.7"
    visitor.post("/woods/harbour-oak", **FIGURES | typed)
    assert LIBRARY["harbour-oak"] == before
    visitor.post("/woods/harbour-oak", **FIGURES | typed | {"hardness": "1000", "density": "50"})
    now = LIBRARY["harbour-oak"]
    assert now.hardness == pytest.approx(4448.2, abs=0.1) and now.density == pytest.approx(800.92, abs=0.01)
    refused = visitor.post("/woods/harbour-oak", **FIGURES | typed | {"density": "700"}).get_data(as_text=True)
    assert "Density goes from 6.243 to 93.64 lb/ft³" in refused
    assert "lbf" in visitor.get("/woods").get_data(as_text=True)
