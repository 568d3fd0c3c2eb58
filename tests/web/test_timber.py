"""The timber store's pages: typed lines, files, one lot, and nothing half-kept."""

from __future__ import annotations

from io import BytesIO

from PIL import Image

from laberinto.store import Store

from .conftest import Visitor

LINES = "3 beech planks 2400 x 190 x 52, 10.5 %, 39.00, long rack\nplum blank 640 x 130 x 52, shake 0-60 x 20-110"


def test_an_empty_store_says_what_to_do_and_lines_fill_it(visitor: Visitor, store: Store) -> None:
    assert "Nothing in the store yet" in visitor.get("/timber").get_data(as_text=True)
    read = visitor.post("/timber/read", lines=LINES + "\nbeach 1 x 2 x 3").get_data(as_text=True)
    assert "<b>3</b> beech planks" in read and "<mark>beach</mark>" in read and "Line 3" in read
    refused = visitor.post("/timber/lines", lines=LINES + "\nbeach 1 x 2 x 3")
    assert refused.status_code == 422 and "beach 1 x 2 x 3</textarea>" in refused.get_data(as_text=True)
    assert store.timber.lots() == []
    assert visitor.post("/timber/lines", lines="").status_code == 422
    assert visitor.post("/timber/lines", lines=LINES).status_code == 303
    page = visitor.get("/timber?added=2").get_data(as_text=True)
    assert "2 lots put in" in page and "<b>3 planks</b>" in page and "2400 × 190 × 52 mm" in page and "1 fault" in page
    assert "€ 39.00 each" in page and page.count('class="lot-picture"') == 2
    blanks = visitor.get("/timber?kind=blank").get_data(as_text=True)
    assert blanks.count('class="lot-picture"') == 1 and "No lots of this kind" in visitor.get(
        "/timber?kind=stave"
    ).get_data(as_text=True)


def test_a_lot_is_changed_in_its_fields_or_not_at_all(visitor: Visitor, store: Store) -> None:
    timber = store.timber
    visitor.post("/timber/lines", lines=LINES)
    plum = next(v for v in timber.lots() if v.lot.wood == "plum")
    page = visitor.get(f"/timber/{plum.id}").get_data(as_text=True)
    assert "shake 0 to 60 x 20 to 110" in page
    form = {
        "kind": "blank",
        "wood": "plum",
        "count": "2",
        "length": "640",
        "width": "130",
        "thickness": "5 cm",
        "defects": "knot 100 to 140 x 0 to 30",
    }
    assert visitor.post(f"/timber/{plum.id}", **form).status_code == 303
    now = timber.lot(plum.id)
    assert now is not None and (now.lot.count, now.lot.thickness, now.lot.defects[0].what) == (2, 50, "knot")
    for wrong, at in (
        ({"count": "many"}, "l-count-error"),
        ({"defects": "knot here"}, "Where does the knot lie"),
        ({"defects": "rack 2"}, "A fault is written"),
        ({"defects": "knot 1 to 900 x 0 to 9"}, "outside a piece"),
        ({"width": "wide"}, "l-width-error"),
    ):
        answer = visitor.post(f"/timber/{plum.id}", **{**form, **wrong})
        assert answer.status_code == 422 and at in answer.get_data(as_text=True), wrong
    assert timber.lot(plum.id) == now
    assert visitor.get("/timber/999").status_code == 404


def test_a_lot_taken_out_is_put_back_by_one_press(visitor: Visitor, store: Store) -> None:
    visitor.post("/timber/lines", lines=LINES)
    view = store.timber.lots()[0]
    answer = visitor.post(f"/timber/{view.id}/remove")
    page = visitor.get(answer.headers["Location"]).get_data(as_text=True)
    (thing,) = store.trash.all()
    assert f"Lot {view.id}: 3 beech plank was removed." in page and f'action="/trash/{thing.id}/back"' in page
    visitor.post(f"/trash/{thing.id}/back")
    assert view in store.timber.lots()
    twice = visitor.post(f"/trash/{thing.id}/back")
    assert twice.status_code == 422 and "put back or deleted meanwhile" in twice.get_data(as_text=True)


def test_a_photo_is_kept_small_and_what_is_none_is_refused(visitor: Visitor, store: Store) -> None:
    visitor.post("/timber/lines", lines=LINES)
    number = store.timber.lots()[0].id
    out = BytesIO()
    Image.new("RGB", (2400, 1200), "#c6925f").save(out, "PNG")
    out.seek(0)
    assert visitor.post(f"/timber/{number}/photo", photo=(out, "p.png")).status_code == 303
    kept = Image.open(BytesIO(visitor.get(f"/timber/{number}/photo.jpg").data))
    assert kept.size == (1280, 640) and kept.format == "JPEG"
    refused = visitor.post(f"/timber/{number}/photo", photo=(BytesIO(b"no picture"), "p.png"))
    assert refused.status_code == 422 and "not a picture" in refused.get_data(as_text=True)
    visitor.post(f"/timber/{number}/photo", remove="yes")
    assert visitor.get(f"/timber/{number}/photo.jpg").status_code == 404


def test_a_table_goes_out_and_in_and_bad_rows_are_asked_about(visitor: Visitor, store: Store) -> None:
    timber = store.timber
    visitor.post("/timber/lines", lines=LINES)
    data = visitor.get("/timber/lots.csv").data
    fresh = b"elm,900,90,30,1,plank\n"
    heading = b"wood,length,width,thickness,count,kind\n"
    assert visitor.post("/timber/csv", table=(BytesIO(heading + fresh), "t.csv")).status_code == 303
    assert len(timber.lots()) == 3
    asked = visitor.post("/timber/csv", table=(BytesIO(data), "t.csv")).get_data(as_text=True)
    assert "2 of 2 lots are in the store already" in asked and "Put in only" not in asked and len(timber.lots()) == 3
    visitor.post("/timber/csv", text=data.decode(), keep="all")
    assert len(timber.lots()) == 5
    more = data + b"plank,ash,1,900,90,30,,,,,,\n"
    asked = visitor.post("/timber/csv", table=(BytesIO(more), "t.csv")).get_data(as_text=True)
    assert "Put in only the 1 new" in asked and "Put all 3 in again" in asked
    visitor.post("/timber/csv", text=more.decode(), keep="new")
    assert len(timber.lots()) == 6
    bad = data + b"plank,beach,1,900,90,30,,,,,,\n"
    page = visitor.post("/timber/csv", table=(BytesIO(bad), "t.csv")).get_data(as_text=True)
    assert "1 row cannot be taken" in page and "Line 4" in page and "Put all 2 in again" in page
    assert len(timber.lots()) == 6
    wrong = b"wood,length,width,thickness\npear,900,90,30\nbeach,900,90,30\n"
    page = visitor.post("/timber/csv", table=(BytesIO(wrong), "t.csv")).get_data(as_text=True)
    assert "1 row cannot be taken" in page and "Keep the 1 good" in page
    visitor.post("/timber/csv", text=wrong.decode(), keep="all")
    assert len(timber.lots()) == 7
    assert visitor.post("/timber/csv").status_code == 422
    told = visitor.post("/timber/csv", table=(BytesIO(b"a,b\n1,2\n"), "t.csv")).get_data(as_text=True)
    # beside the button, where what is typed as lines puts no reading in its place
    assert "columns" in told.split('id="table-error"')[1].split("</p>")[0] and "input delay:250ms, load" not in told
