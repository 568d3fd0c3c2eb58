"""Pictures and data that pages fetch: whole, kept by the browser only under their own wood, and refused in words."""

from __future__ import annotations

import json
import re
from io import BytesIO
from xml.etree import ElementTree

import pytest
import trimesh
from PIL import Image

from laberinto.core.patterns import Alternating
from laberinto.core.plan.model import Plan
from laberinto.core.plan.simulate import simulate
from laberinto.drawing.knots import SIDE
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
        answer = visitor.get(f"/boards/{view.id}/replay/{stage.id}.svg")
        assert answer.status_code == 200 and answer.mimetype == "image/svg+xml"
        root = ElementTree.fromstring(answer.data)
        assert root.tag == f"{SVG}svg" and len(list(root.iter(f"{SVG}path"))) > 0, stage.id
    strand = Image.open(BytesIO(visitor.get(f"/boards/{view.id}/knots.webp").data))
    assert strand.size == (SIDE, SIDE * len(view.plan.stages))
    for at, stage in enumerate(view.plan.stages):
        assert strand.crop((0, at * SIDE, SIDE, (at + 1) * SIDE)).getbbox(), stage.id
    assert visitor.get(f"/boards/{view.id}/replay/nowhere.svg").status_code == 404
    assert visitor.get(f"/boards/{view.id}/replay/rows.svg?finish=painted").status_code == 404
    frame = visitor.get(f"/boards/{view.id}/replay").get_data(as_text=True)
    assert f"/boards/{view.id}/replay/STAGE.svg" in frame and all(stage.id in frame for stage in view.plan.stages)


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
    assert [sheet[4:] for sheet in sheets] == [[strip.width, strip.thickness] for strip in sim.strips]


def test_wood_is_painted_from_its_address_alone(visitor: Visitor, view: BoardView) -> None:
    """The end of each strip lies where it is said to, at the scale asked for; the same address paints the same."""
    found = json.loads(visitor.get(f"/boards/{view.id}/strips/waxed").data)
    one, again = visitor.get(found["atlas"]), visitor.get(found["atlas"])
    assert one.data == again.data and "immutable" in one.headers["Cache-Control"]
    image, finer = (Image.open(BytesIO(visitor.get(found["atlas"] + more).data)) for more in ("", "&fine=2"))
    assert finer.size == (2 * image.width, 2 * image.height)
    ends = []
    for x, y, wide, tall, width, thickness in found["strips"]:
        assert wide / width == pytest.approx(4, rel=0.01) and tall / thickness == pytest.approx(4, rel=0.01)
        assert x >= 0 and y >= 0 and x + wide <= image.width and y + tall <= image.height
        ends.append(
            image.crop((round(x), round(y), round(x + wide), round(y + tall))).convert("L").resize((8, 8)).tobytes()
        )
    assert len(set(ends)) == len(ends)


@pytest.mark.parametrize("change", ["&fine=9", "&fine=x", "&f=varnished"])
def test_what_no_atlas_can_be_is_not_painted(visitor: Visitor, view: BoardView, change: str) -> None:
    good = json.loads(visitor.get(f"/boards/{view.id}/strips/waxed").data)["atlas"]
    name, query = good.split("?")
    bad = f"{name}?{change[1:]}&{query}"
    assert visitor.get(bad).status_code == 404
    assert visitor.get(f"{name[:40]}.jpg?{query}").status_code == 404  # cut off


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
