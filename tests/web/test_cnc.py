"""The CNC page: what is asked stands in the address; the program as a file; carved here first."""

from __future__ import annotations

import re
from io import BytesIO
from urllib.parse import urlencode

import pytest
import trimesh
from PIL import Image

from laberinto.core.cnc.gcode import read
from laberinto.core.patterns import Alternating
from laberinto.core.stages import Cove, Groove, Rabbet, Well
from laberinto.store import Store
from laberinto.web.app.jobs import Jobs

from .conftest import Visitor


@pytest.fixture
def board(store: Store) -> int:
    """A board of 160 × 120 with a groove and a well."""
    plan = Alternating(strips=6, strip_width=30, row=30, slices=5, width=160, length=120).plan("Skerry")
    last = plan.stages[-1].id
    more = (Groove(id="gr", source=last, inset=15, width=12, depth=5), Well(id="we", source="gr", radius=8, depth=8,
                                                                             width=40, length=30, inset=30))  # fmt: skip
    return store.create(plan.model_copy(update={"stages": (*plan.stages, *more)}))


def asked(**more: object) -> str:
    return "?" + urlencode({"asked": "yes", "was": "top", "side": "top", "stage": ["gr", "we"], **more}, doseq=True)


def page(visitor: Visitor, address: str) -> str:
    return visitor.get(address).get_data(as_text=True)


def test_what_the_address_asks_is_drawn_and_written(visitor: Visitor, board: int) -> None:
    there = f"/boards/{board}/cnc"
    first = page(visitor, there)
    assert first.count('class="tool-way"') >= 2 and "never leave it alone" in first
    alone = page(visitor, there + asked(stage=["gr"], text="TIDELINE", clamps="0 × 40 × 20 × 30 × 15"))
    assert 'class="clamp"' in alone and "Mark: TIDELINE" in alone and "Well, 8 mm" not in alone
    answer = visitor.get(f"{there}/program.nc" + asked(stage=["gr"]))
    assert answer.headers["Content-Disposition"].endswith('skerry.nc"')
    text = answer.get_data(as_text=True)
    lowest = min(c.move.z for c in read(text) if c.move)
    assert lowest == -5 and "(Skerry: groove)" in text


@pytest.mark.parametrize(("wrong", "says"), [
    ({"clamps": "10 × 20"}, "is no clamp"), ({"clamps": "a × b × c × d × e"}, "is not a length"),
    ({"far_left": "1"}, "all four corners"), ({"far_left": "x", "far_right": "0", "near_left": "0", "near_right": "0"},
                                              "is not a length"),
    ({"stage": []}, "Choose at least one stage"),
])  # fmt: skip
def test_what_is_wrong_is_said_at_its_field_and_nothing_is_written(
    visitor: Visitor, board: int, wrong: dict[str, object], says: str
) -> None:
    there = f"/boards/{board}/cnc"
    assert says in page(visitor, there + asked(**wrong))
    assert visitor.get(f"{there}/program.nc" + asked(**wrong)).status_code == 422


def test_the_tool_table_is_kept_whole_or_not_at_all(visitor: Visitor, board: int) -> None:
    there = f"/boards/{board}/cnc/tools"
    rows = {"number": ["1", "2", ""], "kind": ["flat", "ball", "flat"], "diameter": ["8", "12", ""],
            "corner": ["0", "0", ""], "angle": ["90", "90", ""], "flutes": ["2", "2", ""], "reach": ["30", "30", ""],
            "holder": ["40", "40", ""]}  # fmt: skip
    assert visitor.post(there, **rows).status_code == 303
    shown = page(visitor, f"/boards/{board}/cnc" + asked())
    assert "T1 flat end 8 mm" in shown and "T5" not in shown
    for column, at, bad, says in (("diameter", 0, "wide", "is not a length"), ("number", 1, "1", "two tools 1"),
                                  ("flutes", 0, "40", "8"), ("angle", 1, "5", "too small")):  # fmt: skip
        wrong = {**rows, column: [bad if k == at else v for k, v in enumerate(rows[column])]}
        answer = visitor.post(there, **wrong)
        assert answer.status_code == 422 and says in answer.get_data(as_text=True), column
    assert "T1 flat end 8 mm" in page(visitor, f"/boards/{board}/cnc" + asked())
    visitor.post(there, **{**rows, "number": ["1", "", ""]})
    assert "no ball nose of 12 mm" in page(visitor, f"/boards/{board}/cnc" + asked())


def form() -> dict[str, object]:
    return {"asked": "yes", "was": "top", "side": "top", "stage": ["gr", "we"]}


def test_it_is_carved_on_the_simulated_machine_first(visitor: Visitor, board: int, store: Store, app: object) -> None:
    there = f"/boards/{board}/cnc"
    assert visitor.get(f"{there}/relief.glb").status_code == 404
    assert visitor.post(f"{there}/carve", **form()).status_code == 200
    jobs: Jobs = visitor.client.application.extensions["jobs"]
    job = jobs.get(("carve", board))
    assert job is not None and job.done.wait(120) and not job.failed
    said = page(visitor, f"{there}/carving")
    assert "Nothing gouged" in said and re.search(r"\b100\.0 % as planned", said) and "hx-trigger" not in said
    image = Image.open(BytesIO(visitor.get(f"{there}/deviation.png").data))
    assert image.size[0] / image.size[1] == pytest.approx(160 / 120, rel=0.02)
    scene = trimesh.load(BytesIO(visitor.get(f"{there}/relief.glb").data), file_type="glb")
    low, high = scene.bounds
    assert (high - low)[1] == pytest.approx(8e-3, abs=2e-4)  # as deep as the well, in metres
    assert "This was an earlier program" not in page(visitor, there + asked())
    assert "This was an earlier program" in page(visitor, there + asked(stage=["gr"]))


def test_a_clamp_in_the_way_stops_it_and_says_where(visitor: Visitor, board: int) -> None:
    there = f"/boards/{board}/cnc"
    visitor.post(f"{there}/carve", **form(), clamps="0 × 40 × 25 × 30 × 15")
    job = visitor.client.application.extensions["jobs"].get(("carve", board))
    assert job.done.wait(120)
    said = page(visitor, f"{there}/carving")
    assert re.search(r"The machine stopped\.</strong> Line \d+: the tool or its holder runs into a clamp", said)


def test_it_is_held_and_stopped_by_hand(visitor: Visitor, board: int) -> None:
    """Held from the first line on it waits; stopped it ends, and what was carved so far is shown."""
    there = f"/boards/{board}/cnc"
    assert visitor.post(f"{there}/say", what="hold").status_code == 404
    visitor.post(f"{there}/carve", **form())
    assert visitor.post(f"{there}/say", what="dance").status_code == 400
    visitor.post(f"{there}/say", what="hold")
    visitor.post(f"{there}/say", what="resume")
    visitor.post(f"{there}/say", what="stop")
    job = visitor.client.application.extensions["jobs"].get(("carve", board))
    assert job.done.wait(120) and not job.failed
    said = page(visitor, f"{there}/carving")
    assert "It was stopped by hand" in said or "as planned" in said  # it may have been through already


def test_nothing_to_carve_is_said(visitor: Visitor, store: Store) -> None:
    plan = Alternating(strips=4, slices=5).plan("Plain")
    plain = store.create(plan.model_copy(update={"stages": plan.stages[:2]}))
    assert "Nothing in this plan is done from above" in page(visitor, f"/boards/{plain}/cnc")
    answer = visitor.post(f"/boards/{plain}/cnc/carve", asked="yes", side="top")
    assert answer.status_code == 422 and "nothing to carve" in answer.get_data(as_text=True)


@pytest.mark.parametrize(
    "bad", ["", "0", "-1", "9e99", "nan", "1/0", "×", "1 × 2 × 3 × 4 × 5; ;;", "<b>", "x" * 5000, "½"]
)
def test_nothing_typed_breaks_the_page(visitor: Visitor, board: int, bad: str) -> None:
    """Whatever stands in any field of the address, the page answers and holds what was typed."""
    there = f"/boards/{board}/cnc"
    for name in ("side", "stage", "text", "clamps", "far_left", "was", "asked", "nonsense"):
        answer = visitor.get(there + asked(**{name: bad}))
        assert answer.status_code == 200, (name, bad)
        assert "<b>" not in answer.get_data(as_text=True).split("<main")[1].split("</main")[0] or bad != "<b>"
        assert visitor.get(f"{there}/program.nc" + asked(**{name: bad})).status_code in (200, 422)


def test_what_no_path_is_made_for_is_said(visitor: Visitor, store: Store, board: int) -> None:
    view = store.board(board)
    assert view is not None and "no path is made for it" not in page(visitor, f"/boards/{board}/cnc")
    more = (Rabbet(id="ra", source="we"), Cove(id="co", source="ra"))
    other = store.create(view.plan.model_copy(update={"stages": (*view.plan.stages, *more)}))
    told = page(visitor, f"/boards/{other}/cnc")
    assert "Rabbet is cut along the edges as the steps say: no path is made for it." in told
    assert "lie in the edges: not from above." in told
