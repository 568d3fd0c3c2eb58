"""The studio's addresses: plans that cannot be built for now, clashes, variants, comparisons, and data for the browser."""

from __future__ import annotations

import json
import re
from typing import Any

import numpy as np
import pytest
import trimesh

from bench.chaos import chaos
from laberinto.core.edits import set_parameters
from laberinto.core.edits.strips import set_width, widths
from laberinto.core.patterns import Alternating
from laberinto.core.plan.model import Plan
from laberinto.core.plan.simulate import at_hand, simulate
from laberinto.core.rules import check
from laberinto.core.units import Lengths
from laberinto.demo.staves import herring_barrel
from laberinto.store import Store
from laberinto.web.app.ahead import AHEAD, Onward

from .conftest import Visitor


def edit(visitor: Visitor, store: Store, board: int, op: str, stage: str, **values: Any) -> str:
    view = store.board(board)
    assert view is not None
    known = ",".join(s.id for s in view.plan.stages)
    form = {"op": op, "stage": stage, "revision": view.revision, "known": known, **values}
    return visitor.post(f"/boards/{board}/edit", htmx=True, **form).get_data(as_text=True)


def chosen(page: str) -> str:
    found = re.search(r'id="knot-([\w-]+)" data-stage="[\w-]+" aria-current=step', page)
    assert found
    return found[1]


def test_what_cannot_be_built_is_kept_told_at_its_knot_and_taken_back(
    visitor: Visitor, store: Store, board: int
) -> None:
    """Strips of 200 mm are too short for 6 slices of 42: the crosscut says so, the face stays, undo takes it back."""
    page = edit(visitor, store, board, "parameters", "strips", length="200", edited="length")
    assert "Crosscut cannot be done as it stands" in page and "The panel is 200 mm long" in page
    assert "174 × 174 × 38 mm" in page  # the last good face
    knot = page.split('id="knot-slices"')[1].split("</a>")[0]
    assert "mark-fault" in knot and "a fault here" in knot
    assert 'value="200"' in page
    again = visitor.get(f"/boards/{board}?stage=slices").get_data(as_text=True)
    assert "or cut 4 slices" in again
    for path in ("/", f"/boards/{board}/knots.webp", f"/boards/{board}/history"):
        assert visitor.get(path).status_code == 200
    assert visitor.get(f"/boards/{board}/steps").status_code == 422
    # mended from the other side: fewer slices fit
    mended = edit(visitor, store, board, "parameters", "slices", count="4", edited="count")
    assert "cannot be done" not in mended and "174 × 114 × 38 mm" in mended
    visitor.post(f"/boards/{board}/undo")
    visitor.post(f"/boards/{board}/undo")
    assert "174 × 174 × 38 mm" in visitor.get(f"/boards/{board}").get_data(as_text=True)


def test_a_clash_offers_the_difference_and_puts_mine_on_top(visitor: Visitor, store: Store, board: int) -> None:
    old = store.board(board).revision  # type: ignore[union-attr]
    edit(visitor, store, board, "strip-wood", "strips", at=0, wood="elm")
    mine = {"op": "parameters", "stage": "slices", "count": "5", "edited": "count"}
    answer = visitor.post(f"/boards/{board}/edit", htmx=True, revision=old, **mine)
    page = answer.get_data(as_text=True)
    assert answer.status_code == 409
    assert "Meanwhile: strip 1: wych elm." in page
    assert "crosscut: slices 6 → 5" in page and "30 mm shorter" in page
    form = page.split("Put mine on top")[0].rsplit("<form", 1)[1]
    values = dict(re.findall(r'name="([\w-]+)" value="([^"]*)"', form))
    values.pop("csrf_token", None)
    after = visitor.post(f"/boards/{board}/edit", htmx=True, **values)
    assert after.status_code == 200
    plan = store.board(board).plan  # type: ignore[union-attr]
    assert plan.stage("slices").count == 5 and plan.stage("strips").strips[0].wood == "elm"  # type: ignore[attr-defined]


def test_shifts_are_typed_for_every_other_row_or_as_they_repeat(visitor: Visitor, store: Store, board: int) -> None:
    """A comma alone is a decimal; a minus sign points to the left."""
    for typed, kept, shown in (("15", (0, 15), "15"), ("0; -10,5; 20", (0, -10.5, 20), "0; -10.5; 20"), ("0", (), "0")):
        page = edit(visitor, store, board, "rows-shift-rule", "rows", every=typed, further="0", edited="every")
        assert store.board(board).plan.stage("board").shifts == kept  # type: ignore[union-attr]
        assert f'name="every" value="{shown}"' in page
    assert "is not a length" in edit(visitor, store, board, "rows-shift-rule", "rows", every="half", further="0")


def test_an_edit_sent_twice_is_done_once(visitor: Visitor, store: Store, board: int) -> None:
    first = edit(visitor, store, board, "row-flip", "rows", at=0, token="t-1")
    again = edit(visitor, store, board, "row-flip", "rows", at=0, token="t-1")
    assert store.board(board).plan.stage("rows").turned == {1: "flip"}  # type: ignore[union-attr]
    assert "by hand" in first and "by hand" in again and len(store.revisions(board).all()) == 2


def test_an_edit_that_its_own_double_overtakes_is_no_clash(
    visitor: Visitor, store: Store, board: int, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Both were let in before either was saved: the later one finds the board changed, by itself."""
    old = store.board(board).revision  # type: ignore[union-attr]
    edit(visitor, store, board, "row-flip", "rows", at=0, token="t-2")
    answers = iter([False, True])
    monkeypatch.setattr(Store, "arrived", lambda *_: next(answers))
    late = {"op": "row-flip", "stage": "rows", "at": "0", "token": "t-2"}
    answer = visitor.post(f"/boards/{board}/edit", htmx=True, revision=old, **late)
    assert answer.status_code == 200 and "by hand" in answer.get_data(as_text=True)
    assert len(store.revisions(board).all()) == 2


def test_a_board_of_two_panels_is_built_from_strips_alone(visitor: Visitor, store: Store) -> None:
    """Strips, then glue, crosscut, a second panel, rows and glue: 8 slices of 30 mm stand as 240 mm."""
    lone = Alternating(strips=4, slices=4).plan("Groyne")
    board = store.create(lone.model_copy(update={"stages": lone.stages[:1]}))
    at = "strips"
    for kind in ("glue", "crosscut", "arrange", "glue"):
        at = chosen(edit(visitor, store, board, "stage-insert", at, kind=kind))
    assert at == "glue-2"
    edit(visitor, store, board, "parameters", "crosscut", count="4", edited="count")
    page = edit(visitor, store, board, "stage-panel", "glue")
    assert chosen(page) == "strips-2" and "knot-panel" in page
    edit(visitor, store, board, "lamination", "strips-2", line="elm 60, ash 60")
    plan = store.board(board).plan  # type: ignore[union-attr]
    sim = simulate(plan)
    assert sim.board.size == pytest.approx((120, 8 * 33, 42))
    assert next(line.words for line in store.revisions(board).all()) == "laminated anew: 2 strips, 120 mm"
    gone = edit(visitor, store, board, "stage-remove", "strips-2")
    assert chosen(gone) == "crosscut" or chosen(gone) == "strips"


def test_variants_are_pinned_switched_and_compared(visitor: Visitor, store: Store, board: int) -> None:
    visitor.post(f"/boards/{board}/pin", letter="A")
    edit(visitor, store, board, "parameters", "slices", count="4", edited="count")
    visitor.post(f"/boards/{board}/pin", letter="B")
    (_, a), (_, b) = store.board(board).variants  # type: ignore[union-attr]
    page = visitor.get(f"/compare?one={board}.{a}&other={board}.{b}").get_data(as_text=True)
    assert "crosscut: slices 6 → 4" in page and "60 mm shorter" in page and "variant B" in page
    shown = visitor.post(f"/boards/{board}/switch", htmx=True, letter="A").get_data(as_text=True)
    assert "174 × 174 × 38 mm" in shown
    assert visitor.post(f"/boards/{board}/switch", letter="F").status_code == 404
    assert visitor.post(f"/boards/{board}/pin", letter="AB").status_code == 404
    visitor.post(f"/boards/{board}/unpin", letter="A")
    assert [letter for letter, _ in store.board(board).variants] == ["B"]  # type: ignore[union-attr]


def test_two_boards_side_by_side(visitor: Visitor, store: Store, board: int) -> None:
    other = store.create(Alternating(dark="elm", strips=8, slices=6).plan("Ladder"))
    page = visitor.get(f"/compare?one={board}&other={other}").get_data(as_text=True)
    assert "60 mm wider" in page and "no plum any more" in page and "wych elm comes in, 4 strips" in page
    same = visitor.get(f"/compare?one={board}&other={board}").get_data(as_text=True)
    assert "Nothing is different" in same
    for wrong in ("99", "x", f"{board}.999", f"{board}.x"):
        assert visitor.get(f"/compare?one={wrong}").status_code == 404


def test_a_state_gets_a_name_and_a_face(visitor: Visitor, store: Store, board: int) -> None:
    revision = store.board(board).revision  # type: ignore[union-attr]
    visitor.post(f"/boards/{board}/name-revision", to=revision, name=" As ordered ")
    assert "As ordered" in visitor.get(f"/boards/{board}/history").get_data(as_text=True)
    assert visitor.post(f"/boards/{board}/name-revision", to=revision, name="x" * 61, htmx=True).status_code == 422
    face = visitor.get(f"/boards/{board}/revisions/{revision}.svg")
    assert face.data.startswith(b"<svg") and "immutable" in face.headers["Cache-Control"]
    assert visitor.get(f"/boards/{board}/revisions/999.svg").status_code == 404


def test_the_line_is_read_as_it_is_typed(visitor: Visitor, board: int) -> None:
    good = visitor.get(f"/boards/{board}/lamination?line=beech 30, b 2x10").get_data(as_text=True)
    assert good.count("<rect") == 3 and "50 mm" in good
    bad = visitor.get(f"/boards/{board}/lamination?line=beech 30, mdf 12").get_data(as_text=True)
    assert "<mark>mdf</mark>" in bad and "no wood called" in bad


def test_only_what_fits_is_offered(visitor: Visitor, board: int) -> None:
    after_strips = visitor.get(f"/boards/{board}/offers?stage=strips").get_data(as_text=True)
    after_trim = visitor.get(f"/boards/{board}/offers?stage=trimmed").get_data(as_text=True)
    assert 'data-kind="glue"' in after_strips and 'data-kind="groove"' not in after_strips
    assert 'data-kind="groove"' in after_trim and 'data-kind="glue"' not in after_trim


def test_the_wanted_size_is_held_against_the_finished_one(visitor: Visitor, store: Store, board: int) -> None:
    page = edit(visitor, store, board, "want", "strips", **{"want-width": "174", "want-length": "200"})
    assert "Finished, not as wanted" in page and "26 mm short" in page and ">met<" in page
    assert store.board(board).plan.wanted.length == 200  # type: ignore[union-attr]


@pytest.mark.parametrize("view", ["stage", "face", "under", "edges", "round"])
def test_every_view_draws(visitor: Visitor, board: int, view: str) -> None:
    page = visitor.get(f"/boards/{board}?stage=slices&view={view}").get_data(as_text=True)
    assert f'id="view-{view}" data-key="' in page and 'class="drawing"' in page


def test_the_solid_for_the_turntable_is_the_board(visitor: Visitor, store: Store, board: int, tmp_path: Any) -> None:
    """Metres and Y up: 174 × 38 × 174 mm, with a strip for every corner that the list of strips knows."""
    answer = visitor.get(f"/boards/{board}/solid/waxed?finish=oiled")
    path = tmp_path / "board.glb"
    path.write_bytes(answer.data)
    scene = trimesh.load(path)
    assert scene.extents == pytest.approx([0.174, 0.038, 0.174], abs=1e-6)
    sheets = json.loads(visitor.get(f"/boards/{board}/strips/waxed?finish=oiled").data)["strips"]
    numbers = np.concatenate([part.vertex_attributes["_STRIP"] for part in scene.geometry.values()])
    assert numbers.max() < len(sheets) and sheets[0][4:] == [30, 33]


def test_every_stage_can_be_acted_out(visitor: Visitor, store: Store, board: int) -> None:
    frame = visitor.get(f"/boards/{board}/replay").get_data(as_text=True)
    plan = store.board(board).plan  # type: ignore[union-attr]
    for stage in plan.stages:
        assert f'data-stage="{stage.id}"' in frame
        scene = visitor.get(f"/boards/{board}/replay/{stage.id}.svg?finish=oiled").get_data(as_text=True)
        acts = re.findall(r'data-act="(\w+)"', scene)
        assert acts, stage.id
    rows = visitor.get(f"/boards/{board}/replay/rows.svg?finish=oiled").get_data(as_text=True)
    assert rows.count('data-act="rise"') == 6 and rows.count('data-flip="yes"') == 3


def test_strips_are_laid_down_as_staves_with_their_curve_asked_for(visitor: Visitor, store: Store, board: int) -> None:
    before = visitor.get(f"/boards/{board}?stage=strips").get_data(as_text=True)
    assert 'name="stock"' in before and 'name="radius"' not in before
    page = edit(visitor, store, board, "parameters", "strips", stock="stave", edited="stock")
    assert 'name="radius"' in page and 'name="wane"' not in page and "Lay down the stock as it is" in page
    edit(visitor, store, board, "parameters", "strips", radius="1500", edited="radius")
    found = store.board(board).plan.stage("strips")  # type: ignore[union-attr]
    assert found.stock == "stave" and found.radius == 1500  # type: ignore[attr-defined]
    refused = edit(visitor, store, board, "parameters", "strips", radius="100", edited="radius")
    assert "cannot be bent to a radius of 100 mm" in refused
    broken = visitor.get(f"/boards/{board}?stage=panel").get_data(as_text=True)
    assert "no glue can hold them" in broken  # round faces, before anything flattens them


def test_what_is_taken_as_it_is_is_told_on_every_page(visitor: Visitor, store: Store) -> None:
    """1760 − √(1760² − 145²) is 5.98 over 290 mm: staves of 27 come flat at 21."""
    barrel = store.create(herring_barrel())
    steps = visitor.get(f"/boards/{barrel}/steps").get_data(as_text=True)
    assert "outside radius of 1760 mm" in steps and "on both faces 21 mm is left" in steps
    assert "nails and stones" in steps
    wood = visitor.get(f"/boards/{barrel}/wood").get_data(as_text=True)
    assert "Taken as it is" in wood and "290 × 95 × 27 mm" in wood and "Plan the cuts" not in wood


def test_of_many_findings_elsewhere_the_gravest_stand_on_the_page(visitor: Visitor, store: Store) -> None:
    plan = chaos(20)
    number = store.create(plan)
    found = [c for c in check(simulate(plan)) if c.severity != "note" and c.stage != "strips"]
    assert len(found) > 4
    page = visitor.get(f"/boards/{number}?stage=strips").get_data(as_text=True)
    told = re.findall(r'class="check-link"\s+href="[^"]*stage=([\w-]+)', page)
    assert told == [c.stage for c in found[:4]]
    assert f'href="/boards/{number}/checks">{len(found) - 4} more on Checks</a>' in page


def test_a_drawing_the_page_shows_already_is_left_out(visitor: Visitor, store: Store, board: int) -> None:
    """By its name, which changes with what it shows and comes back with it; a whole page always has it."""

    def part(stage: str, shown: str = "", **headers: str) -> str:
        headers |= {"HX-Request": "true", "X-Drawing": shown}
        return visitor.get(f"/boards/{board}?stage={stage}&view=face", headers=headers).get_data(as_text=True)

    def name(page: str) -> str:
        return page.split('data-drawing="')[1].split('"')[0]

    first = part("strips")
    again = part("panel", name(first))
    assert 'id="painting"' in first and 'id="painting"' not in again and "data-on-show" in again
    assert name(again) == name(first) and len(again) < len(first)
    edit(visitor, store, board, "strip-wood", "strips", at=0, wood="elm")
    other = part("panel", name(first))
    assert 'id="painting"' in other and name(other) != name(first)
    visitor.post(f"/boards/{board}/undo")
    assert name(part("panel")) == name(first)
    visitor.post("/preference", key="units", value="in32", back="/")  # its sizes are written otherwise
    assert name(part("panel")) != name(first)
    whole = visitor.get(f"/boards/{board}", headers={"X-Drawing": name(first)}).get_data(as_text=True)
    assert 'id="painting"' in whole


def test_parts_the_page_shows_already_are_left_out(visitor: Visitor, store: Store, board: int) -> None:
    """Until something is said otherwise in one; where the page is by now is not said, only sent along."""

    def parts(page: str) -> dict[str, str]:
        """The names of the parts that were sent, by their places."""
        return dict(re.findall(r'id="([^"]+)" class="[^"]*" data-part="([^"]+)"', page))

    first = visitor.get(f"/boards/{board}?stage=panel").get_data(as_text=True)
    shown = parts(first)
    assert {"board-menu", "thread-strips", "thread-rows", "palette", "why-waste"} <= set(shown)

    def again(stage: str = "panel", view: str = "face") -> set[str]:
        """The places of the parts that are sent to who has all of the first page; the others are only named."""
        headers = {"HX-Request": "true", "X-Parts": " ".join(shown.values())}
        page = visitor.get(f"/boards/{board}?stage={stage}&view={view}", headers=headers).get_data(as_text=True)
        sent, kept = parts(page), re.findall(r'id="([^"]+)"[^>]* data-same>', page)
        assert sorted({*sent, *kept, "board-menu"}) == sorted(shown) and not set(sent) & set(kept)
        assert not set(sent.values()) & set(shown.values())
        return set(sent)

    assert again() == set() and again("panel-flat") == {"thread-panel", "thread-panel-flat"}
    assert "thread-panel" in again(view="edges") and not again(view="edges") & {"board-menu", "why-waste"}
    whole = visitor.get(f"/boards/{board}?stage=panel", headers={"X-Parts": " ".join(shown.values())})
    assert parts(whole.get_data(as_text=True)) == shown
    edit(visitor, store, board, "rename", "panel", name="Another name")
    assert again() == {"board-menu"}
    wrong = visitor.post(
        f"/boards/{board}/edit", htmx=True, op="times", times="none", edited="times", stage="panel", revision=2
    )
    menu = parts(wrong.get_data(as_text=True))["board-menu"]  # what is wrong stands at its field, in the menu
    shown |= parts(visitor.get(f"/boards/{board}?stage=panel").get_data(as_text=True))
    assert menu != shown["board-menu"] and again() == set()
    edit(visitor, store, board, "strip-wood", "strips", at=0, wood="elm")
    assert again() >= {"palette", "why-wood", "thread-panel"} and "board-menu" not in again()
    visitor.post(f"/boards/{board}/pin", letter="A")
    assert "board-menu" in again()


def test_lines_the_page_shows_already_are_left_out(visitor: Visitor, store: Store, board: int) -> None:
    """By name and stage: all but the one that was turned over, and never under another stage."""

    def lines(page: str) -> list[str]:
        return re.findall(r'<li id="strip-\d+"[^>]*>', page)

    def part(stage: str, shown: str) -> str:
        headers = {"HX-Request": "true", "X-Lines": shown}
        return visitor.get(f"/boards/{board}?stage={stage}", headers=headers).get_data(as_text=True)

    first = lines(part("strips", ""))
    names = " ".join(re.findall(r'data-name="(\w+)"', "".join(first)))
    assert all("data-same" in line for line in lines(part("strips", f"strips {names}")))
    assert lines(part("strips", f"another {names}")) == first
    edit(visitor, store, board, "strip-face-over", "strips", at=1)
    again = lines(part("strips", f"strips {names}"))
    assert [at for at, line in enumerate(again) if "data-same" not in line] == [1]


def test_what_is_typed_is_at_hand_before_the_field_is_left(visitor: Visitor, store: Store, board: int) -> None:
    before = store.board(board)

    def typed(width: str, op: str = "strip-width") -> int:
        form = {"op": op, "stage": "strips", "at": "1", "width-1": width, "view": "face"}
        return visitor.post(f"/boards/{board}/edit/ahead", **form).status_code

    coming = set_width(before.plan, "strips", [1], 28.43).plan
    assert [typed(""), typed("28.43 oak"), typed("28.43", "strip-remove")] == [204, 204, 400]
    AHEAD.rest()
    assert not at_hand(coming)
    assert typed("28.43") == 204
    AHEAD.rest()
    assert at_hand(coming) and store.board(board).revision == before.revision
    edit(visitor, store, board, "strip-face-over", "strips", at=1)
    AHEAD.wanted = coming, lambda _: None
    visitor.post(f"/boards/{board}/undo", htmx=True)
    assert AHEAD.wanted is None  # nobody comes to it any more


def test_a_figure_goes_by_steps_and_the_next_is_at_hand(
    visitor: Visitor, store: Store, board: int, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Typed or not, one strip's width or a stage's figure; no further than it may; and worked out before it is asked
    for, unless another edit came."""
    ahead = Onward(rest=0.0)
    monkeypatch.setitem(visitor.client.application.extensions, "onward", ahead)

    def step(stage: str, by: int, op: str = "parameters", **form: Any) -> Plan:
        edit(visitor, store, board, op, stage, view="face", steps=by, **form)
        now = store.board(board)
        assert now is not None
        return now.plan

    plan = step("strips", 1, "strip-width", **{"at": 1, "width-1": "28.43"})
    assert widths(plan, "strips")[1] == 29.43
    plan = step("strips", 1, "strip-width", **{"at": 1, "width-1": "29.43"})
    ahead.rest()
    third = set_width(plan, "strips", [1], 31.43).plan
    assert at_hand(third)
    assert step("strips", 1, "strip-width", **{"at": 1, "width-1": "30.43"}) == third
    ahead.rest()
    assert (
        step("strips", -1000, "strip-width", **{"at": 1, "width-1": "31.43"}) == set_width(third, "strips", [1], 3).plan
    )
    plan = step("slices", -1, edited="kerf", kerf="3")
    assert plan == set_parameters(plan, "slices", {"kerf": "2"}, Lengths()).plan
    ahead.rest()
    assert at_hand(set_parameters(plan, "slices", {"kerf": "1"}, Lengths()).plan)
    assert "is not a length" in edit(visitor, store, board, "parameters", "slices", edited="kerf", kerf="wide", steps=1)
    edit(visitor, store, board, "strip-width", "strips", at=1, **{"width-1": "41"})  # typed, and far from what it was
    edit(visitor, store, board, "strip-width", "strips", at=1, **{"width-1": "42.5"})
    ahead.rest()
    assert [at_hand(set_width(plan, "strips", [1], width).plan) for width in (44, 79, 3)] == [True, False, True]
    ahead.wanted = third, lambda _: None
    edit(visitor, store, board, "strip-face-over", "strips", at=1)
    assert ahead.wanted is None
