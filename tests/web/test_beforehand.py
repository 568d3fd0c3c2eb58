"""What is likely asked for next is answered before it is asked for, and never once something was saved since."""

from __future__ import annotations

import re
from collections.abc import Iterator

import pytest
from flask import Flask

from laberinto.store import Store
from laberinto.web.app.beforehand import Beforehand
from laberinto.web.screens.board import answer, beside

from .conftest import Visitor


@pytest.fixture
def beforehand(app: Flask, visitor: Visitor) -> Iterator[Beforehand[beside.Page, beside.Made]]:
    """Turned on, as it is where the shop is served, and with no rest."""
    visitor.get("/")  # a browser that knows the shop's cookie
    beside.init(app, rest=0.0)
    beforehand: Beforehand[beside.Page, beside.Made] = app.extensions["beforehand"]
    yield beforehand
    beforehand.rest()


@pytest.fixture
def made_late(monkeypatch: pytest.MonkeyPatch) -> list[str]:
    """The stages whose answers were made when they were asked for."""
    late: list[str] = []

    def spied(*args: object) -> object:
        late.append(args[1].stage)  # type: ignore[attr-defined]
        return workspace(*args)

    workspace = answer.workspace
    monkeypatch.setattr(answer, "workspace", spied)
    return late


def part(visitor: Visitor, board: int, stage: str, shown: dict[str, str] | None = None, **headers: str) -> str:
    headers |= {"HX-Request": "true"} | (shown or {})
    got = visitor.get(f"/boards/{board}?stage={stage}&view=face", headers=headers).get_data(as_text=True)
    return re.sub(r'name="(csrf_token|once)" value="[^"]*"', r'name="\1"', got)


def on_show(page: str) -> dict[str, str]:
    """What a page with this answer says of itself."""
    parts = re.findall(r'data-part="([^"]*)"', page)
    return {"X-Drawing": re.findall(r'data-drawing="([^"]*)"', page)[0], "X-Parts": " ".join(parts)}


def test_the_stages_beside_are_at_hand_as_they_would_be_made(
    visitor: Visitor, board: int, beforehand: Beforehand[beside.Page, beside.Made], made_late: list[str]
) -> None:
    """Next and before, each once, and each as it comes without any of this."""
    there = on_show(part(visitor, board, "panel-flat"))
    shown = on_show(part(visitor, board, "panel"))
    beforehand.rest()
    made_late.clear()
    ahead = part(visitor, board, "panel-flat", shown)
    beforehand.rest()
    back = part(visitor, board, "panel", there)
    beforehand.rest()
    assert made_late == []
    lines = {"X-Lines": "strips none"}  # the page of the strips says which lines it has, so its answer is its own
    strips = part(visitor, board, "strips", shown, **lines)
    assert made_late == ["strips"]
    visitor.client.application.extensions.pop("beforehand")
    assert ahead == part(visitor, board, "panel-flat", shown) and back == part(visitor, board, "panel", there)
    assert strips == part(visitor, board, "strips", shown, **lines)


def test_what_was_saved_since_is_seen(
    visitor: Visitor,
    store: Store,
    board: int,
    beforehand: Beforehand[beside.Page, beside.Made],
    made_late: list[str],
) -> None:
    """A plan, a preference or a tick: whatever is saved by anybody, nothing older is shown; nor what is meant for a
    page that shows another drawing, or for another browser."""

    def looked() -> dict[str, str]:
        """Look at the strips, until the stage beside them is at hand; what is on show then."""
        shown = on_show(part(visitor, board, "strips"))
        beforehand.rest()
        made_late.clear()
        return shown

    shown = looked()
    part(visitor, board, "panel", shown)
    assert made_late == []  # nothing was saved
    shown = looked()
    store.prefer("units", "in32")
    assert '"' in re.findall(r'class="panel-size">.*?</p>', part(visitor, board, "panel", shown))[0]
    assert made_late == ["panel"]
    shown, view = looked(), store.board(board)
    assert view is not None
    store.save(board, view.plan.model_copy(update={"name": "Another name"}), "renamed", based_on=view.revision)
    assert "Another name" in part(visitor, board, "panel", shown) and made_late == ["panel"]
    shown = looked()
    store.build(board).tick("a step")
    part(visitor, board, "panel", shown)
    assert made_late == ["panel"]
    part(visitor, board, "panel", {**looked(), "X-Drawing": "of another page"})
    assert made_late == ["panel"]
    shown = looked()
    visitor.client.set_cookie("another", "browser")
    part(visitor, board, "panel", shown)
    assert made_late == ["panel"]


def test_what_is_saved_while_the_server_rests_is_seen(
    visitor: Visitor,
    store: Store,
    board: int,
    beforehand: Beforehand[beside.Page, beside.Made],
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    """Between the answer that was looked at and those made after it; a stage that is taken out has none."""
    before, looked, last = [stage.id for stage in store.board(board).plan.stages][-3:]  # type: ignore[union-attr]

    def saved(_: float) -> None:
        view = store.board(board)
        assert view is not None
        plan = view.plan.model_copy(update={"name": "Another name", "stages": view.plan.stages[:-1]})
        store.save(board, plan, "renamed", based_on=view.revision)

    monkeypatch.setattr("laberinto.web.app.beforehand.sleep", saved)
    shown = on_show(part(visitor, board, looked))
    beforehand.rest()
    assert "Another name" in part(visitor, board, before, shown)
    assert "Mill the strips" in part(visitor, board, last, shown)  # what is not there is its first stage


def test_what_cannot_be_made_is_made_when_it_is_asked_for(
    visitor: Visitor,
    board: int,
    beforehand: Beforehand[beside.Page, beside.Made],
    made_late: list[str],
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    def fails(*_: object) -> None:
        raise RuntimeError("on purpose")

    monkeypatch.setattr(beside, "workspace", fails)
    shown = on_show(part(visitor, board, "panel"))
    beforehand.rest()
    assert "Flatten" in part(visitor, board, "panel-flat", shown) and made_late == ["panel", "panel-flat"]
