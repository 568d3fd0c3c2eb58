"""A change of wood that is cut already is kept, said, and asked about: what was meant by it?"""

from __future__ import annotations

import pytest

from laberinto.core.edits.cut import CUT, anew, from_here
from laberinto.core.patterns import Alternating
from laberinto.core.plan.simulate import simulate
from laberinto.core.steps import steps
from laberinto.store import BoardView, Store

from .conftest import Visitor
from .test_studio import edit

ASKED = "This wood is cut."


def at(store: Store, board: int) -> BoardView:
    view = store.board(board)
    assert view is not None
    return view


@pytest.fixture
def cut(store: Store, board: int) -> int:
    """A board whose strips are milled, glued and flattened."""
    for step in steps(simulate(at(store, board).plan)):
        if step.stage in ("strips", "panel", "panel-flat"):
            store.build(board).tick(step.key)
    return board


def choose(visitor: Visitor, store: Store, board: int, choice: str) -> str:
    form = {"choice": choice, "revision": at(store, board).revision, "stage": "strips"}
    return visitor.post(f"/boards/{board}/cut", htmx=True, **form).get_data(as_text=True)


def test_what_is_not_cut_yet_is_changed_without_a_word(visitor: Visitor, store: Store, cut: int) -> None:
    page = edit(visitor, store, cut, "parameters", "slices", count="5", edited="count")
    assert ASKED not in page and not at(store, cut).words.endswith(CUT)


def test_a_change_of_milled_strips_is_said_and_outlives_a_reload(visitor: Visitor, store: Store, cut: int) -> None:
    page = edit(visitor, store, cut, "strip-width", "strips", at=0, **{"width-0": "25"})
    assert ASKED in page and "Steps of strips are ticked" in page
    assert ASKED in visitor.get(f"/boards/{cut}").get_data(as_text=True)
    assert CUT in visitor.get(f"/boards/{cut}/history").get_data(as_text=True)
    visitor.post(f"/boards/{cut}/undo")
    assert ASKED not in visitor.get(f"/boards/{cut}").get_data(as_text=True)


def test_plan_from_here_leaves_what_is_cut_as_it_was(visitor: Visitor, store: Store, cut: int) -> None:
    before = at(store, cut).plan
    for number, width in enumerate(("25", "26")):  # two in a row: both go
        edit(visitor, store, cut, "strip-width", "strips", at=number, **{f"width-{number}": width})
    assert ASKED not in choose(visitor, store, cut, "from-here")
    assert at(store, cut).plan == before and store.build(cut).ticks()


def test_made_anew_takes_back_the_ticks_of_all_that_comes_of_it(visitor: Visitor, store: Store, cut: int) -> None:
    edit(visitor, store, cut, "parameters", "panel-flat", to="28", edited="to")
    assert ASKED not in choose(visitor, store, cut, "anew")
    ticked = {key.partition(".")[0] for key in store.build(cut).ticks()}
    assert ticked == {"strips", "panel"} and at(store, cut).plan.stage("panel-flat").to == 28  # type: ignore[attr-defined]


def test_a_copy_takes_the_change_along_and_leaves_the_board(visitor: Visitor, store: Store, cut: int) -> None:
    before = at(store, cut).plan
    edit(visitor, store, cut, "strip-width", "strips", at=0, **{"width-0": "25"})
    choose(visitor, store, cut, "copy")
    made = next(board for board in store.boards() if board.id != cut)
    assert made.name == "Shoal 2" and made.plan.stage("strips").laid_out()[0].width == 25  # type: ignore[attr-defined]
    assert at(store, cut).plan == before and store.build(cut).ticks() and not store.build(made.id).ticks()


def test_of_a_change_to_several_stages_only_what_is_open_is_kept() -> None:
    plan = Alternating(strips=6, slices=6).plan("Mixed")
    wide = plan.stage("strips").model_copy(update={"thickness": 40.0})
    few = plan.stage("slices").model_copy(update={"count": 4})
    after = plan.with_stage(wide).with_stage(few)
    kept = from_here(plan, after, {"strips", "panel"})
    assert kept == plan.with_stage(few)
    assert from_here(plan, plan.with_stages(plan.stages[:-1]), {"strips"}) == plan
    assert "strips" not in anew(plan, {"panel-flat"}) and {"panel-flat", "slices", "board"} <= anew(
        plan, {"panel-flat"}
    )
