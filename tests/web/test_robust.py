"""One board never takes another page down: what cannot be worked out is told at its stage, and can be mended or removed."""

from __future__ import annotations

from typing import Any

import pytest

from laberinto.core.errors import FaultError, GeometryError, StageError
from laberinto.core.geometry.faces import Side, face_of
from laberinto.core.patterns import FAMILIES, Alternating
from laberinto.core.plan.model import Plan, read_plan
from laberinto.core.plan.simulate import MOST_IN_ALL, attempt
from laberinto.core.solid import Cells
from laberinto.core.stages import Trim
from laberinto.store import Store

from .conftest import Visitor

PAGES = ("", "/build", "/steps", "/checks", "/cost", "/wood", "/judge", "/size")


def all_off(plan: Plan) -> list[Plan]:
    """The plan with each stage switched off that can be."""
    found = []
    for stage in plan.stages:
        if len(stage.sources) == 1 and ":" not in stage.sources[0]:
            found.append(plan.with_stage(stage.model_copy(update={"skip": True})))
    return found


def test_every_page_opens_whatever_stage_is_switched_off(visitor: Visitor, store: Store) -> None:
    for plan in all_off(Alternating(strips=6, slices=6).plan("Half")):
        number = store.create(plan)
        for page in PAGES:
            assert visitor.get(f"/boards/{number}{page}").status_code in (200, 422), (plan, page)
        if attempt(plan)[1] is None:
            assert visitor.get(f"/boards/{number}/build").status_code == 200


@pytest.fixture
def failing(monkeypatch: pytest.MonkeyPatch) -> type[Exception]:
    """An engine that contradicts itself whenever something is trimmed."""

    def fail(*_: Any) -> Any:
        raise GeometryError("the kernel contradicts itself")

    monkeypatch.setattr(Trim, "run", fail)
    return GeometryError


def test_a_fault_of_the_engine_stays_at_its_stage(visitor: Visitor, store: Store, failing: type[Exception]) -> None:
    plan = Alternating(strips=6, slices=6, strip_width=30.77).plan("Faulty")
    results, error = attempt(plan)
    assert isinstance(error, FaultError) and error.stage == "trimmed" and isinstance(error.__cause__, failing)
    assert [result.stage.id for result in results][-1] == plan.stages[plan.index("trimmed") - 1].id
    number, other = store.create(plan), store.create(Alternating(strips=6, slices=6).plan("Sound").upto(3))
    page = visitor.get(f"/boards/{number}?stage=trimmed")
    assert page.status_code == 200 and "a fault of ours" in page.get_data(as_text=True)
    listed = visitor.get("/")
    assert listed.status_code == 200
    assert "a fault of ours" in visitor.get(f"/boards/{number}/card").get_data(as_text=True)
    assert visitor.get(f"/boards/{other}/card").status_code == 200
    view = store.board(number)
    assert view
    mended = visitor.post(f"/boards/{number}/edit", op="stage-remove", stage="trimmed", revision=view.revision)
    assert mended.status_code == 303 and visitor.get(f"/boards/{number}/build").status_code == 200


def test_a_face_that_cannot_be_drawn_leaves_the_list_standing(
    visitor: Visitor, store: Store, monkeypatch: pytest.MonkeyPatch
) -> None:
    def fail(_cells: Cells, _side: Side) -> None:
        raise ValueError("no face")

    store.create(Alternating().plan("Never drawn before"))
    monkeypatch.setattr("laberinto.web.app.drawn.face_of", fail)
    page = visitor.get("/")
    assert page.status_code == 200 and "cannot be shown here" in page.get_data(as_text=True)


def test_a_board_of_which_nothing_can_be_drawn_can_be_removed(
    visitor: Visitor, store: Store, monkeypatch: pytest.MonkeyPatch
) -> None:
    plan = Alternating(strips=6, slices=6, strip_width=29.13).plan("Hopeless")
    number = store.create(plan)

    def fail(*_: Any) -> Any:
        raise StageError("strips", "There is no wood.", "Mill some.")

    monkeypatch.setattr(type(plan.stages[0]), "run", fail)
    page = visitor.get(f"/boards/{number}")
    assert page.status_code == 422 and "There is no wood." in page.get_data(as_text=True)
    assert ">Remove<" in page.get_data(as_text=True)
    assert visitor.get(f"/boards/{number}/plan.json").status_code == 200
    assert visitor.post(f"/boards/{number}/shelf", to="removed").status_code == 303
    assert visitor.post(f"/boards/{number}/delete").status_code == 303 and store.board(number) is None


def heavy(trims: int) -> Plan:
    """A plan of a few kB whose stages would each hold 19,200 cells: 160 strips, 120 slices, trimmed again and again."""
    stages: list[dict[str, Any]] = [
        {
            "id": "s",
            "kind": "mill",
            "thickness": 20,
            "length": 1500,
            "strips": [{"wood": "elm", "width": 6, "count": 160}],
        },
        {"id": "g", "kind": "glue", "from": "s"},
        {"id": "c", "kind": "crosscut", "from": "g", "slice": 9, "count": 120},
        {"id": "a", "kind": "arrange", "from": "c"},
        {"id": "b", "kind": "glue", "from": "a", "across": "length"},
    ]
    for number in range(trims):
        before = stages[-1]["id"]
        stages.append({"id": f"t{number}", "kind": "trim", "from": before, "edge": 0.01})
    return read_plan({"format": "laberinto-plan", "version": 1, "name": "Heavy", "stages": stages})


def test_a_plan_that_would_take_all_memory_is_refused_before_it_does(visitor: Visitor, store: Store) -> None:
    plan = heavy(180)
    results, error = attempt(plan, remember=False)
    assert error is not None and error.stage == "t7" and "200,000" in str(error) and "Take stages out" in str(error)
    assert sum(len(result.pieces.cells) for result in results) <= MOST_IN_ALL
    number = store.create(plan)
    assert visitor.get("/").status_code == 200
    page = visitor.get(f"/boards/{number}")
    assert page.status_code == 200 and "one plan may hold" in page.get_data(as_text=True)


def test_a_groove_over_ragged_rows_is_seen_from_every_side() -> None:
    """Runs that leave slivers so thin that shapes all but coincide, which an overlay cannot tell apart; what is seen
    covers the shadow once."""
    runs = {
        "alternating": ([[[14.8, 44.695], [13.919, 60.0]], [[33.088, 58.0], [7.827, 48.8], [34.067, 53.0]]], 6, 12),
        "weave": ([[[58.3, 6.835], [37.3, -2.3], [54.0, 8.572]]], 4, 6),
        "chevron": ([[[-2.724, 45.1], [18.548, 51.582]], [[7.6, 66.0], [0.0, 49.0]], [[20.9, 56.5], [8.0, 40.173], [2.2, 63.325]]], 6, 12),
    }  # fmt: skip
    for family, (points, depth, width) in runs.items():
        for shift in (0, 5, 10):
            data = FAMILIES[family]().plan("Grooved").as_dict()
            at = next(i for i, s in enumerate(data["stages"]) if s["kind"] == "glue" and s["across"] == "length")
            data["stages"][at]["shifts"] = [0, shift]
            data["stages"] = data["stages"][: at + 1]
            groove = {"id": "zg", "kind": "groove", "from": data["stages"][-1]["id"], "path": "runs", "runs": points}
            data["stages"].append({**groove, "depth": depth, "width": width})
            results, error = attempt(read_plan({**data, "pattern": None}))
            assert error is None
            piece = results[-1].pieces[0]
            plain = results[-2].pieces[0]
            for side in Side:
                seen, whole = (float(face_of(p, side).areas().sum()) for p in (piece, plain))
                assert seen <= whole + 0.1
            assert float(face_of(piece, Side.TOP).areas().sum()) == pytest.approx(
                float(face_of(plain, Side.TOP).areas().sum()), abs=0.1
            )
