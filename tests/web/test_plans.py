"""Plans of every kind of stage can be opened, walked and built in the application."""

from __future__ import annotations

import io
import json
import re
from typing import Any

import pytest

from laberinto.demo.framed import shoal
from laberinto.store import Store

from .conftest import Visitor


def stages(*middle: dict[str, Any]) -> list[dict[str, Any]]:
    strips = [{"wood": wood, "width": 25} for wood in ("ash", "elm", "plum", "ash", "elm", "plum", "ash", "elm")]
    return [{"id": "s", "kind": "mill", "thickness": 28, "length": 500, "strips": strips}, *middle]


def framed() -> list[dict[str, Any]]:
    return [stage.model_dump(mode="json", by_alias=True) for stage in shoal().stages]


PLANS: dict[str, list[dict[str, Any]]] = {
    "chaos": stages(
        {"id": "g1", "kind": "glue", "from": "s"},
        {"id": "f1", "kind": "flatten", "from": "g1", "each_face": 1},
        {"id": "r1", "kind": "rip", "from": "f1", "width": 22, "skew": 4},
        {"id": "g2", "kind": "glue", "from": "r1", "shuffle": 3, "turns": ["as it lies", "quarter roll"]},
        {"id": "f2", "kind": "flatten", "from": "g2", "to": 18},
        {"id": "c", "kind": "crosscut", "from": "f2", "slice": 40, "count": 6, "squaring": 20},
        {"id": "a", "kind": "arrange", "from": "c", "turned": {"2": "other-end-up", "3": "end-for-end"}},
        {"id": "b", "kind": "glue", "from": "a", "across": "length"},
        {"id": "bf", "kind": "flatten", "from": "b", "to": 36, "method": "drum-sander"},
        {"id": "t", "kind": "trim", "from": "bf", "edge": 6},
    ),
    "diamonds": stages(
        {"id": "g1", "kind": "glue", "from": "s"},
        {"id": "r", "kind": "rip", "from": "g1", "width": 28},
        {"id": "p", "kind": "profile", "from": "r", "section": "diamond", "rest_on": 1, "kerf": 2},
        {"id": "q", "kind": "turn", "from": "p", "turns": ["as it lies", "quarter roll"]},
        {"id": "g2", "kind": "glue", "from": "q"},
        {"id": "c", "kind": "crosscut", "from": "g2", "slice": 40, "count": 8},
        {"id": "a", "kind": "arrange", "from": "c", "rule": "end-for-end-every-other"},
        {"id": "b", "kind": "glue", "from": "a", "across": "length", "shifts": [0, 9]},
    ),
    "mortar": stages(
        {"id": "g1", "kind": "glue", "from": "s"},
        {"id": "thin", "kind": "resaw", "from": "g1", "width": 12},
        {"id": "st", "kind": "crosscut", "from": "thin", "slice": 40, "count": 4},
        {"id": "up", "kind": "turn", "from": "st", "turns": ["stand up"]},
        {"id": "b", "kind": "glue", "from": "up", "across": "length"},
        {"id": "w", "kind": "wax", "from": "b"},
    ),
    "framed and routed": framed(),
}


@pytest.mark.parametrize("name", PLANS)
def test_a_plan_can_be_walked_from_end_to_end(visitor: Visitor, store: Store, name: str) -> None:
    data = json.dumps({"format": "laberinto-plan", "version": 1, "name": name, "stages": PLANS[name]})
    answer = visitor.post("/boards/open", plan=(io.BytesIO(data.encode()), "plan.json"))
    assert answer.status_code == 303, answer.get_data(as_text=True)
    (board,) = store.boards()
    home = visitor.get("/").get_data(as_text=True)
    assert name in home and "<svg" in home
    for stage in board.plan.stages:
        for view in ("face", "stage"):
            page = visitor.get(f"/boards/{board.id}?stage={stage.id}&view={view}")
            assert page.status_code == 200
            assert stage.verb in page.get_data(as_text=True)
    steps = visitor.get(f"/boards/{board.id}/steps").get_data(as_text=True)
    assert steps.count('class="step-number"') >= len(board.plan.stages)
    assert visitor.get(f"/boards/{board.id}/build").status_code == 200


def test_a_knot_is_kept_by_the_browser_only_under_its_own_wood(visitor: Visitor, board: int) -> None:
    page = visitor.get(f"/boards/{board}").get_data(as_text=True)
    (src,) = set(re.findall(r'class="knot-wood"[^>]*><image href="([^"]+)"', page))
    assert "immutable" in visitor.get(src).headers["Cache-Control"]
    assert "immutable" not in visitor.get(src.replace("wood=", "wood=0")).headers.get("Cache-Control", "")


def test_a_groove_is_edited_and_what_does_not_fit_stands_beside_its_field(visitor: Visitor, store: Store) -> None:
    board = store.create(shoal())
    view = store.board(board)
    assert view is not None
    form = {"op": "parameters", "stage": "groove", "edited": "depth", "revision": view.revision}
    page = visitor.post(f"/boards/{board}/edit", htmx=True, **form, depth="39").get_data(as_text=True)
    assert "leaves no floor in wood 40 mm thick" in page and "Keep it to 37 mm or less" in page
    assert "as it last could be built" in page and "mark-fault" in page
    after = store.board(board)
    assert after is not None and after.can_undo
    form["revision"] = after.revision
    page = visitor.post(f"/boards/{board}/edit", htmx=True, **form, depth="7,5").get_data(as_text=True)
    after = store.board(board)
    assert after is not None and after.revision != view.revision
    assert after.plan.stage("groove").depth == 7.5  # type: ignore[attr-defined]
    assert "leaves no floor" not in page
