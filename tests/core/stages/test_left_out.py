"""Slices that are ruined, or kept as spares, are not laid; what is left still makes the pattern."""

from __future__ import annotations

import pytest

from laberinto.core.analysis.names import names
from laberinto.core.asbuilt import Situation, ways_out
from laberinto.core.edits import leavings, rows
from laberinto.core.errors import InputError, StageError
from laberinto.core.judging.arrange import Wish, arrange_for_me
from laberinto.core.patterns import Alternating
from laberinto.core.patterns.closing import own_wood
from laberinto.core.plan.simulate import simulate
from laberinto.core.shop import Shop
from laberinto.core.stages import Cause
from laberinto.core.steps import steps
from tests.core.instructions.follower import ends_alike

PLAN = Alternating(strips=6, slices=6).plan("Six")


@pytest.mark.parametrize("row", [0, 2, 3, 5])
def test_a_checker_stays_one_whichever_slice_is_ruined(row: int) -> None:
    """Six rows of 30 less 6 are 174 long, five 144. A slice is 180 × 30 × 42 mm³."""
    made = rows.leave_out(PLAN, "rows", [row]).plan
    sim = simulate(made)
    assert sim.board.size[1] == pytest.approx(5 * 30 - 6)
    assert own_wood(sim, "board").holds
    assert sim["rows"].outcome.waste == {Cause.OFFCUT: pytest.approx(180 * 30 * 42)}
    assert [str(name) for name in names(sim)["rows:offcut"]] == [f"slice {row + 1}"]
    ends_alike(sim)
    said = next(step for step in steps(sim) if step.stage == "rows")
    assert f"Left out: slice {row + 1}." in said.lines
    back = rows.take_back(made, "rows", row + 1).plan
    assert simulate(back).board.size == simulate(PLAN).board.size
    with pytest.raises(InputError, match="lies in a row already"):
        rows.take_back(back, "rows", row + 1)


def test_what_hands_arranged_stays_with_its_slices() -> None:
    moved = rows.move(PLAN, "rows", [5], 0).plan
    assert [number for number, _ in moved.stage("rows").rows(6)] == [6, 1, 2, 3, 4, 5]  # type: ignore[attr-defined]
    made = rows.leave_out(moved, "rows", [0, 3]).plan
    assert [number for number, _ in made.stage("rows").rows(6)] == [1, 2, 4, 5]  # type: ignore[attr-defined]
    with pytest.raises(InputError, match="One row at least"):
        rows.leave_out(made, "rows", [0, 1, 2, 3])


def test_the_search_arranges_what_is_left() -> None:
    """Slices 2 and 5 left out: the best of four alternates still, and names none that is not there."""
    made = rows.leave_out(PLAN, "rows", [1, 4]).plan
    sim = simulate(made)
    best = arrange_for_me(sim, made.stage("rows"), {"woods": Wish.AVOID}, {0: sim.plan.stage("rows").rows(6)[0]})[0]  # type: ignore[arg-type, attr-defined]
    assert sorted(number for number, _ in best.rows) == [1, 3, 4, 6] and best.cost == pytest.approx(0)
    laid = rows.lay_out(made, "rows", best.rows, "").plan
    assert own_wood(simulate(laid), "board").holds


def test_a_slice_more_makes_up_for_a_ruined_one() -> None:
    """Of a panel of 360, 5 off and six slices of 45 leave 85: one more can be had."""
    plan = Alternating(strips=6, slices=6, panel_length=360).plan("Room")
    built = rows.leave_out(plan, "rows", [2]).plan
    done = frozenset({"strips", "panel", "panel-flat"})
    best = ways_out(Situation(simulate(plan), built, "rows", done, Shop()))[0]
    assert best.key == "row-more" and best.off == pytest.approx(0)


def test_spares_become_a_second_board_and_all_cannot_be_left_out() -> None:
    spared = rows.leave_out(PLAN, "rows", [4, 5]).plan
    both = simulate(leavings.second_board(spared, "rows", Shop()).plan)
    assert len(both.boards) == 2 and both.boards[1].size()[1] == pytest.approx(2 * 30 - 6)
    ends_alike(both)
    with pytest.raises(StageError, match="All slices are left out"):
        simulate(PLAN.with_stage(PLAN.stage("rows").model_copy(update={"without": tuple(range(1, 7))})))
