"""What was measured in the build log moves the plan, and one press takes a way out."""

from __future__ import annotations

import re
from io import BytesIO
from threading import Thread

from flask import Flask
from PIL import Image

from laberinto.core.patterns import Alternating
from laberinto.core.plan.simulate import simulate
from laberinto.core.steps import steps
from laberinto.core.timber import Lot
from laberinto.devices.bench import Instruments, Server
from laberinto.devices.hidden import of_store
from laberinto.store import Store

from .conftest import Visitor


def begun(store: Store) -> int:
    """A board of twelve rows of 32 whose panel has just been planed."""
    number = store.create(Alternating(row=32, slices=12, panel_length=650).plan("Ebb"))
    view = store.board(number)
    assert view is not None
    for step in steps(simulate(view.plan))[:6]:
        store.build(number).tick(step.key)
    return number


def test_a_thin_panel_and_the_row_that_mends_it(visitor: Visitor, store: Store) -> None:
    """358.8 for 378: 19.2 short; a thirteenth row makes 389.2."""
    board = begun(store)
    planned = store.board(board)
    assert planned is not None
    page = visitor.get(f"/boards/{board}/build?at=panel-flat.flatten").get_data(as_text=True)
    assert "Let the plan follow" in page and "Let the plan follow" not in visitor.get(
        f"/boards/{board}/build?at=strips.rough"
    ).get_data(as_text=True)
    # written down alone, it is a note and no more
    visitor.post(f"/boards/{board}/build/note", step="panel-flat.flatten", measured="30.4")
    assert store.board(board) == planned
    visitor.post(f"/boards/{board}/build/note", step="panel-flat.flatten", measured="30.4", follow="yes")
    built = store.board(board)
    assert built is not None and built.words == "as measured: thickness, flatten: 32 mm → 30.4 mm"
    record = visitor.get(f"/boards/{board}/record").get_data(as_text=True)
    assert "30.4 mm" in record and ">32 mm</td>" in record  # what was planned when it was measured
    assert f"/boards/{board}/build/ways" in visitor.get(f"/boards/{board}/build").get_data(as_text=True)
    assert "decide what now" in visitor.get("/now").get_data(as_text=True)
    assert "What now?" in visitor.get(f"/boards/{board}/bench").get_data(as_text=True)
    ways = visitor.get(f"/boards/{board}/build/ways").get_data(as_text=True)
    assert "19.2 mm shorter" in ways and re.findall(r"<h3>([^<]+)</h3>", ways)[0] == "Add a row"
    assert "294 × 389.2 × 38 mm" in ways and "11.2 mm off the planned size" in ways
    visitor.post(f"/boards/{board}/build/way", way="row-more", revision=str(built.revision))
    taken = store.board(board)
    assert taken is not None and taken.words == "way out: add a row"
    assert round(simulate(taken.plan).board.size[1], 6) == 389.2
    assert visitor.get(f"/boards/{board}/build/ways").get_data(as_text=True) == ""
    # and back, first the way, then the measurement
    store.undo(board)
    store.undo(board)
    assert store.board(board).plan == planned.plan  # type: ignore[union-attr]


def test_what_cannot_go_on_waits_with_its_ways_out(visitor: Visitor, store: Store) -> None:
    board = store.create(Alternating(slices=13, panel_length=650).plan("Spring Tide"))
    visitor.post(f"/boards/{board}/build/note", step="slices.cut", measured="48", follow="yes")
    page = visitor.get(f"/boards/{board}/build").get_data(as_text=True)
    assert "It cannot go on as planned" in page and f"/boards/{board}/build/ways" in page
    assert visitor.get(f"/boards/{board}/bench").location == f"/boards/{board}/build"
    assert "As many slices as it gives" in visitor.get(f"/boards/{board}/build/ways").get_data(as_text=True)
    visitor.post(f"/boards/{board}/build/way", way="as-many")
    assert "Spring Tide" in visitor.get(f"/boards/{board}/build").get_data(as_text=True)
    assert store.board(board).plan.stage("slices").count == 12  # type: ignore[union-attr]
    assert visitor.post(f"/boards/{board}/build/way", way="as-many").status_code == 404


def test_a_reading_that_cannot_be_stands_beside_its_field(visitor: Visitor, store: Store) -> None:
    board = begun(store)
    before = store.board(board)
    answer = visitor.post(f"/boards/{board}/build/note", step="panel-flat.flatten", measured="2", follow="yes")
    assert answer.status_code == 422 and "That cannot be" in answer.get_data(as_text=True)
    assert store.board(board) == before


def test_a_ruined_slice_is_left_out_and_made_up_for(visitor: Visitor, store: Store) -> None:
    board = store.create(Alternating(strips=6, slices=6, panel_length=360).plan("Skerry"))
    view = store.board(board)
    assert view is not None
    sent = {"stage": "rows", "view": "stage", "revision": str(view.revision)}
    page = visitor.post(f"/boards/{board}/edit", op="row-out", at="2", **sent, htmx=True).get_data(as_text=True)
    assert "Left out:" in page and "Take slice 3 back" in page
    ways = visitor.get(f"/boards/{board}/build/ways").get_data(as_text=True)
    assert "30 mm shorter" in ways and re.findall(r"<h3>([^<]+)</h3>", ways)[0] == "Add a row"
    head = store.board(board)
    assert head is not None and head.words == "left out: slice 3"
    again = {"stage": "rows", "view": "stage", "revision": str(head.revision)}
    visitor.post(f"/boards/{board}/edit", op="row-back", number="3", **again)
    assert store.board(board).plan == view.plan  # type: ignore[union-attr]


def test_the_shop_says_what_comes_out(visitor: Visitor, store: Store) -> None:
    assert "Measure at a step" in visitor.get("/shop").get_data(as_text=True)
    board = begun(store)
    for off in (0.2, 0.3, 0.3, 0.4, 0.2):
        visitor.post(f"/boards/{board}/build/note", step="slices.cut", measured=f"{42 + off:g}")
    page = visitor.get("/shop").get_data(as_text=True)
    assert "5 readings, the middle one 0.3 mm over" in page and "Set it 0.3 mm smaller" in page


def test_one_piece_is_measured_and_a_wrong_number_stands_beside_its_field(visitor: Visitor, store: Store) -> None:
    board = begun(store)
    page = visitor.get(f"/boards/{board}/build?at=strips.rip").get_data(as_text=True)
    assert 'name="piece"' in page and "width of the strips (plan 30 mm)" in page
    note = {"step": "strips.rip", "quantity": "width", "follow": "yes"}
    answer = visitor.post(f"/boards/{board}/build/note", measured="28.8", piece="99", **note)
    assert answer.status_code == 422 and "from 1 to 10" in answer.get_data(as_text=True)
    assert not store.build(board).notes()  # nothing is half written down
    visitor.post(f"/boards/{board}/build/note", measured="28.8", piece="3", **note)
    kept = store.build(board).notes()[0]
    assert (kept.quantity, kept.piece, kept.measured, kept.planned) == ("width", 2, 28.8, 30)
    assert "width of the strips of piece 3" in store.board(board).words  # type: ignore[union-attr]
    page = visitor.get(f"/boards/{board}/build?at=strips.rip").get_data(as_text=True)
    assert "piece 3" in page and "1.2 mm under" in page


def test_readings_in_other_units_and_at_four_corners(visitor: Visitor, store: Store) -> None:
    """Corners of 31.8, 32.2, 32 and 32.4 and a middle of 31.6 are 32 in the middle of all: as planned, 0.8 apart."""
    board = begun(store)
    where = f"/boards/{board}/build/note"
    visitor.post(where, step="panel-flat.flatten", quantity="to", measured="31.8; 32.2; 32; 32.4; 31.6", follow="yes")
    kept = store.build(board).notes()[0]
    assert kept.measured == 32 and "0.8 mm apart" in kept.text and "flat, 31.6 mm is left" in kept.text
    assert store.board(board).words == "started"  # type: ignore[union-attr]
    visitor.post(where, step="strips.rough", quantity="moisture", measured="11.5 %")
    wet = store.build(board).notes()[0]
    assert (wet.measured, wet.unit, wet.planned) == (11.5, "%", None)
    assert "11.5 %" in visitor.get(f"/boards/{board}/record").get_data(as_text=True)
    refused = visitor.post(where, step="strips.rough", quantity="moisture", measured="140")
    assert refused.status_code == 422 and "from 0 to 100%" in refused.get_data(as_text=True)


def test_a_photo_of_a_step_is_kept_small_shown_and_let_go(visitor: Visitor, store: Store) -> None:
    board = begun(store)
    picture = BytesIO()
    Image.new("RGB", (2600, 1300), "peru").save(picture, "PNG")
    where, step = f"/boards/{board}/build/photo", "panel-flat.flatten"
    visitor.post(where, step=step, photo=(BytesIO(picture.getvalue()), "panel.png"))
    (kept,) = store.build(board).photos()
    shown = visitor.get(f"/boards/{board}/build/photo/{kept.id}.jpg")
    assert Image.open(BytesIO(shown.data)).size == (1280, 640)
    assert f"photo/{kept.id}.jpg" in visitor.get(f"/boards/{board}/build?at={step}").get_data(as_text=True)
    other = store.create(Alternating().plan("Other"))
    assert visitor.get(f"/boards/{other}/build/photo/{kept.id}.jpg").status_code == 404
    bad = visitor.post(where, step=step, photo=(BytesIO(b"no picture"), "x.png"))
    assert bad.status_code == 422 and "not a picture" in bad.get_data(as_text=True)
    visitor.post(where, erase=str(kept.id))
    assert not store.build(board).photos()


def test_a_reading_is_taken_from_an_instrument_or_told_why_not(app: Flask, visitor: Visitor, store: Store) -> None:
    board = begun(store)
    page, where = f"/boards/{board}/build?at=panel-flat.flatten", f"/boards/{board}/build/device"
    asked = {"step": "panel-flat.flatten", "quantity": "to"}
    assert "Take a reading" not in visitor.get(page).get_data(as_text=True)
    assert visitor.post(where, **asked).status_code == 404  # none are connected
    server = Server(0, Instruments(of_store(store, 7)))
    Thread(target=server.serve_forever, kwargs={"poll_interval": 0.01}, daemon=True).start()
    app.config["DEVICES"] = server.server_address[1]
    assert "Take a reading" in visitor.get(page).get_data(as_text=True)
    first = visitor.post(where, **asked).get_json()
    assert abs(float(first["text"]) - 32) < 1.2 and "thickness gauge reads" in first["said"]
    # the wood is what it is: once the plan follows, the same panel reads the same, but for the instrument's own error
    visitor.post(f"/boards/{board}/build/note", **asked, measured=first["text"], follow="yes")
    again = visitor.post(where, **asked).get_json()
    assert abs(float(again["text"]) - float(first["text"])) < 0.15
    server.shutdown()
    server.server_close()
    gone = visitor.post(where, **asked)
    assert gone.status_code == 422 and "not connected" in gone.get_json()["said"]


def test_a_ruined_strip_is_milled_anew_from_a_lot_that_fits(visitor: Visitor, store: Store) -> None:
    """Six of 30 less one, 150 − 6 = 144 for 174. Anew: 20 over in length, 3 in width and thickness, from the beech."""
    board = store.create(Alternating(strips=6, slices=6, panel_length=360, light="beech").plan("Skerry"))
    beech, elm = (store.timber.add([Lot.of(wood=w, length=900, width=150, thickness=40)])[0] for w in ("beech", "elm"))
    view = store.board(board)
    assert view is not None
    store.build(board).tick("strips.rip")
    sent = {"stage": "strips", "view": "stage", "revision": str(view.revision)}
    page = visitor.post(f"/boards/{board}/edit", op="strip-out", at="2", **sent, htmx=True).get_data(as_text=True)
    assert "This wood is cut" not in page  # it is told, not changed
    assert store.board(board).words == "left out: strip 3 (beech)"  # type: ignore[union-attr]
    ways = visitor.get(f"/boards/{board}/build/ways").get_data(as_text=True)
    assert re.findall(r"<h3>([^<]+)</h3>", ways)[0] == "Mill what is missing anew"
    assert f"from lot {beech}" in ways and f"lot {elm}" not in ways and "1 × beech, rough" in ways
    assert "144 × " in ways and "As planned</figcaption>" in ways
    visitor.post(f"/boards/{board}/build/way", way="anew")
    assert store.board(board).plan == view.plan  # type: ignore[union-attr]


def test_what_a_measurement_breaks_is_said(visitor: Visitor, store: Store) -> None:
    """Strips of which one is 8 narrow: it bends, which the others at 30 do not."""
    board = begun(store)
    note = {"step": "strips.rip", "quantity": "width", "follow": "yes"}
    visitor.post(f"/boards/{board}/build/note", measured="8", piece="3", **note)
    ways = visitor.get(f"/boards/{board}/build/ways").get_data(as_text=True)
    assert "Strips of 8 mm bend under a clamp" in ways


def test_the_shop_takes_over_the_kerf_that_its_saw_really_has(visitor: Visitor, store: Store) -> None:
    board = begun(store)
    for off in (0.2, 0.3, 0.3, 0.4, 0.2):
        visitor.post(f"/boards/{board}/build/note", step="slices.cut", quantity="kerf", measured=f"{3 + off:g}")
    assert "Reckon with 3.3 mm" in visitor.get("/shop").get_data(as_text=True)
    assert visitor.post("/shop/learn", field="planer_width").status_code == 404
    visitor.post("/shop/learn", field="kerf")
    assert '"kerf": 3.3' in store.preferences()["shop"]
    assert "Reckon with" not in visitor.get("/shop").get_data(as_text=True)
    assert visitor.post("/shop/learn", field="kerf").status_code == 404


def test_a_scale_says_when_another_round_of_oil_brings_nothing(visitor: Visitor, store: Store) -> None:
    """114 × 114 × 38 with both faces and four edges: (2 × 114² + 4 × 114 × 38) ÷ 10,000 = 4.332 dm². 8.7 g are 2 g a dm²,
    and 0.4 g less than a tenth of that."""
    board = store.create(Alternating(strips=4, slices=4).plan("Oiled"))
    for weight in ("0.4000", "0.4087"):
        visitor.post(f"/boards/{board}/build/note", step="oiled.dust", quantity="weight", measured=f"{weight} kg")
    page = f"/boards/{board}/build?at=oiled.round-2"
    assert "round by round: 2 g." in visitor.get(page).get_data(as_text=True)
    visitor.post(f"/boards/{board}/build/note", step="oiled.round-2", quantity="weight", measured="0.4091 kg")
    assert "Another round brings nothing" in visitor.get(page).get_data(as_text=True)
    assert "brings nothing" not in visitor.get(f"/boards/{board}/build?at=slices.cut").get_data(as_text=True)
    visitor.post(f"/boards/{board}/build/note", step="oiled.round-2", quantity="weight", measured="0.4 kg")
    assert "weighs less than before" in visitor.get(page).get_data(as_text=True)


def test_a_weight_and_heights_mean_the_same_to_a_maker_in_inches(app: Flask, visitor: Visitor, store: Store) -> None:
    """A scale's kilograms stay kilograms where pounds are typed, and are shown as pounds. Four widths are no face."""
    board = store.create(Alternating(strips=4, slices=4).plan("Inch"))
    store.prefer("units", "in16")
    server = Server(0, Instruments(of_store(store, 7)))
    Thread(target=server.serve_forever, kwargs={"poll_interval": 0.01}, daemon=True).start()
    app.config["DEVICES"] = server.server_address[1]
    asked = {"step": "oiled.dust", "quantity": "weight"}
    read = visitor.post(f"/boards/{board}/build/device", **asked).get_json()
    server.shutdown()
    server.server_close()
    visitor.post(f"/boards/{board}/build/note", **asked, measured=read["text"])
    (note,) = store.build(board).notes()
    assert read["text"] == f"{note.measured:.3f} kg" and "lb" in read["said"]
    assert " lb" in visitor.get(f"/boards/{board}/build?at=oiled.dust").get_data(as_text=True)
    widths = "1; 1 1/16; 1; 1 1/16"
    visitor.post(f"/boards/{board}/build/note", step="strips.rip", quantity="width", measured=widths)
    assert "wist" not in store.build(board).notes()[0].text
