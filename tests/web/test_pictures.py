"""Pictures and data that pages fetch: whole, kept by the browser only under their own wood, and refused in words."""

from __future__ import annotations

import json
import re
from io import BytesIO
from urllib.parse import parse_qs, urlsplit
from xml.etree import ElementTree

import pytest
import trimesh
from PIL import Image

from laberinto.core.patterns import Alternating
from laberinto.core.plan import Plan
from laberinto.core.simulate import simulate
from laberinto.store import BoardView, Store

from .conftest import Visitor

SVG = "{http://www.w3.org/2000/svg}"


@pytest.fixture
def view(store: Store, board: int) -> BoardView:
    found = store.board(board)
    assert found is not None
    return found


def test_every_knot_and_every_scene_is_a_picture(visitor: Visitor, view: BoardView) -> None:
    for stage in view.plan.stages:
        for kind in ("knots", "replay"):
            answer = visitor.get(f"/boards/{view.id}/{kind}/{stage.id}.svg")
            assert answer.status_code == 200 and answer.mimetype == "image/svg+xml"
            root = ElementTree.fromstring(answer.data)
            assert root.tag == f"{SVG}svg" and len(list(root.iter(f"{SVG}path"))) > 0, f"{kind} {stage.id}"
    assert visitor.get(f"/boards/{view.id}/replay/nowhere.svg").status_code == 404
    assert visitor.get(f"/boards/{view.id}/knots/rows.svg?finish=painted").status_code == 404
    frame = visitor.get(f"/boards/{view.id}/replay").get_data(as_text=True)
    assert f"/boards/{view.id}/replay/STAGE.svg" in frame and all(stage.id in frame for stage in view.plan.stages)


def test_the_face_as_data_holds_what_the_drawing_holds(visitor: Visitor, view: BoardView) -> None:
    sim = simulate(view.plan)
    address = f"/boards/{view.id}/face/trimmed?side=top&finish=oiled"
    data = json.loads(visitor.get(address).data)
    assert data["size"] == pytest.approx(list(sim["trimmed"].size[:2]), abs=0.01)
    text = json.dumps(data)
    assert "NaN" not in text and "/wood/" in text
    assert visitor.get(address.replace("top", "inside")).status_code == 404
    wood = sim["trimmed"].wood_key
    assert "immutable" in visitor.get(f"{address}&wood={wood}").headers["Cache-Control"]
    assert "immutable" not in visitor.get(f"{address}&wood=older").headers.get("Cache-Control", "")


def test_the_solid_has_a_part_for_each_wood_and_the_boards_size(visitor: Visitor, view: BoardView) -> None:
    sim = simulate(view.plan)
    answer = visitor.get(f"/boards/{view.id}/solid/waxed")
    assert answer.mimetype == "model/gltf-binary"
    scene = trimesh.load(BytesIO(answer.data), file_type="glb")
    assert len(scene.geometry) == len({strip.wood for strip in sim.strips})
    assert sorted(scene.extents) == pytest.approx(sorted(v / 1000 for v in sim.board.size), rel=1e-3) or sorted(
        scene.extents
    ) == pytest.approx(sorted(sim.board.size), rel=1e-3)
    sheets = json.loads(visitor.get(f"/boards/{view.id}/strips/waxed").data)["strips"]
    assert [sheet[1] for sheet in sheets] == [strip.width for strip in sim.strips]


def test_wood_is_painted_from_its_address_alone(visitor: Visitor, view: BoardView) -> None:
    """The bitmap of a strip's end has the strip's size at the scale asked for, and the same address paints the same."""
    sheets = json.loads(visitor.get(f"/boards/{view.id}/strips/waxed").data)["strips"]
    address, width, thickness = sheets[0]
    one, again = visitor.get(address), visitor.get(address)
    assert one.data == again.data and "immutable" in one.headers["Cache-Control"]
    scale = float(parse_qs(urlsplit(address).query)["p"][0].split(",")[-1])
    image = Image.open(BytesIO(one.data))
    assert image.size == (round(width * scale), round(thickness * scale))
    other = Image.open(BytesIO(visitor.get(sheets[1][0]).data))
    assert image.convert("L").resize((8, 8)).tobytes() != other.convert("L").resize((8, 8)).tobytes()


@pytest.mark.parametrize(
    "change",
    [
        ("/beech/", "/cheese/"),  # no such wood
        ("/end.webp", "/front.webp"),  # no such section
        ("f=oiled", "f=varnished"),
        ("p=0,", "p=0,0,0,0,0,"),  # too many numbers
        (",5&", ",4000&"),  # a scale that nobody can look at
        ("r=", "r=nan,"),
        ("p=0,0,0,", "p=0,0,0,-"),  # negative width
    ],
)
def test_a_patch_that_cannot_be_is_not_painted(visitor: Visitor, change: tuple[str, str]) -> None:
    good = "/wood/beech/end.webp?r=5,40,2,7,0&p=0,0,0,30,30,5&f=oiled&v=3"
    assert visitor.get(good).status_code == 200
    bad = good.replace(*change)
    assert bad != good and visitor.get(bad).status_code == 404


def test_a_revisions_picture_is_kept_for_good(visitor: Visitor, store: Store, view: BoardView) -> None:
    address = f"/boards/{view.id}/revisions/{view.revision}.svg"
    answer = visitor.get(address)
    assert ElementTree.fromstring(answer.data).tag == f"{SVG}svg" and "immutable" in answer.headers["Cache-Control"]
    assert visitor.get(f"/boards/{view.id}/revisions/99999.svg").status_code == 404
    other = store.create(Alternating(strips=4, slices=4).plan("Other"))
    assert visitor.get(f"/boards/{other}/revisions/{view.revision}.svg").status_code == 404  # not that board's


def longer(plan: Plan) -> Plan:
    """The same with one slice more."""
    return Alternating(strips=6, slices=7).plan(plan.name)


def test_two_states_are_compared_in_words_and_to_one_scale(visitor: Visitor, store: Store, view: BoardView) -> None:
    store.save(view.id, longer(view.plan), "a slice more", based_on=view.revision)
    page = visitor.get(f"/compare?one={view.id}.{view.revision}&other={view.id}").get_data(as_text=True)
    assert page.count('class="thumb') == 2 and "as it stands" in page
    assert "slices 6 → 7" in page and "30 mm longer" in page
    boxes = re.findall(r'<svg[^>]*class="thumb[^>]*>', page)
    boxes = [re.findall(r'viewBox="([^"]+)"', box)[0].split()[2:] for box in boxes]
    assert len(boxes) == 2 and boxes[0] == boxes[1]  # the smaller one lies in a picture as large
    assert visitor.get(f"/compare?one={view.id}.77777&other={view.id}").status_code == 404
    assert visitor.get("/compare?one=first").status_code == 404


def test_what_cannot_be_compared_says_why(visitor: Visitor, store: Store, view: BoardView) -> None:
    flat = view.plan.stage("board-flat")
    broken = view.plan.with_stage(flat.model_copy(update={"to": 140.0, "each_face": None}))
    other = store.create(broken)
    page = visitor.get(f"/compare?one={view.id}&other={other}").get_data(as_text=True)
    assert "cannot be flattened to" in page and 'class="thumb' not in page
    cost = visitor.get(f"/boards/{other}/cost").get_data(as_text=True)
    assert "cannot be flattened to" in cost


def test_cost_follows_the_makers_prices(visitor: Visitor, store: Store, view: BoardView) -> None:
    """A lot in the store sets the price of its wood; the hourly rate of the shop sets the work's."""
    before = visitor.get(f"/boards/{view.id}/cost").get_data(as_text=True)
    assert "the yard today" in before and "Glue" in before and "Abrasives" in before
    answer = visitor.post("/timber/lines", lines="3 beech planks 2400 x 190 x 52, 10.5 %, 39.00, long rack")
    assert answer.status_code in (200, 303), answer.get_data(as_text=True)
    after = visitor.get(f"/boards/{view.id}/cost").get_data(as_text=True)
    assert "your lots" in after and after != before
