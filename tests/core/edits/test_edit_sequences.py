"""Any sequence of edits leaves a plan that reads back, is done as far as it goes, and can be taken back."""

from __future__ import annotations

from collections.abc import Callable, Sequence

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from laberinto.core.analysis.compare import differences
from laberinto.core.analysis.figures import figures
from laberinto.core.edits import Edit, lamination, rows, stages, strips, woods
from laberinto.core.edits.offers import OFFERS, fitting
from laberinto.core.errors import InputError, PlanError
from laberinto.core.geometry.rotations import Lie
from laberinto.core.patterns import Alternating
from laberinto.core.plan.model import Plan, read_plan
from laberinto.core.plan.simulate import Simulation, attempt, simulate
from laberinto.core.rules import check
from laberinto.core.stages import Arrange, Mill
from laberinto.core.stages.mill import StripTurn
from laberinto.core.steps import steps
from laberinto.core.units import Lengths
from laberinto.core.woods.strips import Sawn

PLAN = Alternating(strips=4, slices=4).plan("Walked")

Do = Callable[[Plan, str, list[int], int], Edit]
"""An edit of a plan at a stage, for some pieces, with a number to choose by."""

LINES = ("ash 20, elm 3x15", "(beech 30, plum 30) x2", "pear 120")

EDITS: dict[str, Do] = {
    "insert": lambda p, s, _at, n: stages.insert(p, s, OFFERS[n % len(OFFERS)].name),
    "remove": lambda p, s, _at, _n: stages.remove(p, s),
    "double": lambda p, s, _at, _n: stages.duplicate(p, s),
    "panel": lambda p, s, _at, _n: stages.second_panel(p, s),
    "later": lambda p, s, _at, _n: stages.move(p, s, later=True),
    "earlier": lambda p, s, _at, _n: stages.move(p, s, later=False),
    "switch": lambda p, s, _at, _n: stages.switch(p, s),
    "strips move": lambda p, s, at, n: strips.move(p, s, at, n),
    "strips remove": lambda p, s, at, _n: strips.remove(p, s, at),
    "strips add": lambda p, s, _at, _n: strips.add(p, s),
    "strips double": lambda p, s, at, _n: strips.duplicate(p, s, at),
    "strips wood": lambda p, s, at, n: strips.set_wood(p, s, at, ("ash", "plum", "elm")[n % 3]),
    "strips width": lambda p, s, at, n: strips.set_width(p, s, at, 10.0 + n),
    "strips turn": lambda p, s, at, n: strips.turn(p, s, at, list(StripTurn)[1 + n % 3]),
    "strips sawn": lambda p, s, at, n: strips.set_sawn(p, s, at, (None, *Sawn)[n % 4]),
    "strips heart": lambda p, s, at, n: strips.set_heart(p, s, at, up=bool(n % 2)),
    "rings": lambda p, s, _at, n: (strips.alternate_rings, strips.mirror_rings, strips.plain_rings)[n % 3](p, s),
    "line": lambda p, s, _at, n: lamination.lay(p, s, LINES[n % 3], Lengths()),
    "woods": lambda p, _s, _at, n: woods.replace_wood(p, woods.used(p)[0], ("ash", "holly")[n % 2]),
    "rows move": lambda p, s, at, n: rows.move(p, s, at, n),
    "rows swap": lambda p, s, at, _n: rows.swap(p, s, at),
    "rows turn": lambda p, s, at, n: rows.turn(p, s, at, list(Lie)[n % 4]),
    "rows shift": lambda p, s, at, n: rows.shift(p, s, at, n - 6.0),
    "rows rule": lambda p, s, _at, n: rows.shift_rule(p, s, (0.0, float(n)), n / 4),
    "rows clear": lambda p, s, at, _n: rows.clear(p, s, at),
    "rows reset": lambda p, s, _at, _n: rows.reset(p, s),
}

step = st.tuples(
    st.sampled_from(sorted(EDITS)), st.integers(0, 40), st.lists(st.integers(0, 5), min_size=1, max_size=3, unique=True),
    st.integers(0, 30),
)  # fmt: skip


def walked(plan: Plan, moves: Sequence[tuple[str, int, list[int], int]]) -> list[Plan]:
    """The plans a sequence of edits goes through; what is refused leaves the plan as it was."""
    out = [plan]
    for name, where, at, number in moves:
        stage = out[-1].stages[where % len(out[-1].stages)].id
        try:
            edit = EDITS[name](out[-1], stage, at, number)
        except (InputError, PlanError):
            continue
        assert edit.words or edit.plan == out[-1], f"{name} changed something and did not say what"
        out.append(edit.plan)
    return out


@settings(max_examples=60)
@given(st.lists(step, min_size=1, max_size=7))
def test_any_sequence_of_edits_leaves_a_plan_that_reads_back_and_is_done_as_far_as_it_goes(
    moves: list[tuple[str, int, list[int], int]],
) -> None:
    for plan in walked(PLAN, moves):
        assert read_plan(plan.as_json()) == plan
        results, fault = attempt(plan)
        assert [r.stage.id for r in results] == [s.id for s in plan.stages[: len(results)]]
        assert (fault is None) == (len(results) == len(plan.stages))
        if fault is not None:
            assert fault.stage == plan.stages[len(results)].id and fault.say()


@settings(max_examples=30)
@given(st.lists(step, min_size=1, max_size=5))
def test_whatever_was_edited_can_be_weighed_checked_and_written_out(
    moves: list[tuple[str, int, list[int], int]],
) -> None:
    """Figures, checks, steps and differences never fail on a plan that can be built, and the wood adds up."""
    plan = walked(PLAN, moves)[-1]
    if attempt(plan)[1] is not None:
        return
    sim = simulate(plan)
    found = figures(sim)
    board = sim.board.pieces.cells.volume()
    offcuts = sum(line.volume for line in found.waste)
    assert board + offcuts == sim.milled or abs(board + offcuts - sim.milled) < 1e-6 * sim.milled
    assert all(finding.stage in {s.id for s in plan.stages} for finding in check(sim))
    skipped = {stage.id for stage in plan.stages if stage.skip}
    assert not [s for s in steps(sim) if s.stage in skipped]
    assert differences(sim, sim) == []
    assert bool(differences(simulate(PLAN), sim)) or plan.stages == PLAN.stages or same_board(sim)


def same_board(sim: Simulation) -> bool:
    """Whether edits cancelled out, or changed only what nobody decides by (marks, names of stages, ring turns)."""
    one, other = figures(simulate(PLAN)), figures(sim)
    return np.allclose([one.width, one.length, one.thickness], [other.width, other.length, other.thickness])


@settings(max_examples=10)
@given(st.lists(step, min_size=1, max_size=4), st.integers(0, 40))
def test_what_is_offered_after_any_edits_can_be_put_in(
    moves: list[tuple[str, int, list[int], int]], where: int
) -> None:
    """First values are read off the wood, so they suit it however it came to be."""
    plan = walked(PLAN, moves)[-1]
    results, _ = attempt(plan)
    result = results[where % len(results)]
    for offer in fitting(result):
        edit = stages.insert(plan, result.stage.id, offer.name)
        new = next(s for s in edit.plan.stages if s.id not in {old.id for old in plan.stages})
        as_far = edit.plan.model_copy(update={"stages": edit.plan.stages[: edit.plan.index(new.id) + 1]})
        _, fault = attempt(as_far)
        assert fault is None or fault.stage != new.id, f"{offer.name} after {result.stage.id}: {fault}"


@given(st.permutations(range(4)), st.lists(st.integers(0, 3), min_size=1, max_size=3, unique=True))
def test_rows_moved_together_stay_together(order: list[int], chosen: list[int]) -> None:
    """Wherever rows are moved to, they lie one behind the other in their old order, and no slice is lost."""
    stage = PLAN.stage("rows")
    assert isinstance(stage, Arrange)
    plan = PLAN.with_stage(stage.model_copy(update={"order": tuple(n + 1 for n in order)}))
    for to in range(5):
        moved = rows.move(plan, "rows", chosen, to).plan.stage("rows")
        assert isinstance(moved, Arrange)
        laid = [number for number, _ in moved.rows(4)]
        mine = [order[row] + 1 for row in sorted(chosen)]
        at = laid.index(mine[0])
        assert laid[at : at + len(mine)] == mine and sorted(laid) == [1, 2, 3, 4]
        assert at == min(to, 4 - len(mine))


@given(st.lists(st.integers(0, 3), min_size=1, max_size=3, unique=True), st.integers(0, 5))
def test_strips_moved_together_keep_their_rings(chosen: list[int], to: int) -> None:
    moved = strips.move(PLAN, "strips", chosen, to).plan
    stage = moved.stage("strips")
    assert isinstance(stage, Mill)
    marks = [spec.mark for spec in stage.laid_out()]
    assert sorted(marks, key=lambda mark: mark or 0) == [1, 2, 3, 4]
    before = {strip.mark: strip.rings for strip in simulate(PLAN).strips}
    assert {strip.mark: strip.rings for strip in simulate(moved).strips} == before
