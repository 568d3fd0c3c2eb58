"""What is remembered: of stages, bounded; of cells, true after every move."""

from __future__ import annotations

from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from dataclasses import replace
from threading import Event

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from laberinto.core.errors import StageError
from laberinto.core.geometry.faces import Side, face_of
from laberinto.core.geometry.rotations import TURNS, Turn
from laberinto.core.patterns import Alternating
from laberinto.core.plan.model import Plan
from laberinto.core.plan.simulate import StageResult, _Memory, at_hand, attempt, prepare, room, simulate
from laberinto.core.solid import Cells
from laberinto.core.solid.memo import UnderWay
from laberinto.core.wanted import while_wanted
from tests.core.strategies import plans


def fresh(cells: Cells) -> Cells:
    """The same cells with nothing worked out before."""
    return replace(cells, known=np.full(len(cells), np.nan))


@given(
    plans(), st.lists(st.one_of(st.sampled_from(TURNS), st.tuples(*[st.floats(-90, 90)] * 3)), min_size=1, max_size=5)
)
def test_what_is_known_of_cells_stays_true_however_they_are_moved(plan: Plan, moves: list) -> None:
    cells = simulate(plan, remember=False).board.pieces[0]
    for move in moves:
        cells.world()
        cells.world_planes()  # so that there is something to carry along
        cells = cells.turned(move.matrix) if isinstance(move, Turn) else cells.moved(move)
    again = fresh(cells)
    assert np.allclose(cells.world(), again.world(), atol=1e-9)
    for mine, theirs in zip(cells.world_planes(), again.world_planes(), strict=True):
        assert np.allclose(mine, theirs, atol=1e-9)
    assert cells.volumes() == pytest.approx(again.volumes(), rel=1e-9)
    assert face_of(cells, Side.TOP).areas().sum() == pytest.approx(face_of(again, Side.TOP).areas().sum())


@given(plans())
def test_volumes_that_cuts_work_out_are_those_of_the_solids(plan: Plan) -> None:
    for result in simulate(plan, remember=False).results:
        cells = result.pieces.cells
        assert cells.volumes() == pytest.approx(fresh(cells).volumes(), rel=1e-9, abs=1e-6)


def results() -> list[StageResult]:
    return list(simulate(Alternating(strips=6, slices=5).plan("Kept"), remember=False).results)


def test_the_oldest_results_go_when_there_are_too_many() -> None:
    memory, kept = _Memory(count=3, most=10**9), results()[:5]
    for number, result in enumerate(kept):
        memory.put(str(number), result)
    assert [memory.get(str(n)) is not None for n in range(5)] == [False, False, True, True, True]


def test_and_when_they_take_too_much_room_but_the_last_stays() -> None:
    """With room for two and a half the two latest stay; one result larger than the room stays alone."""
    rows = next(result for result in results() if len(result.pieces.cells) == 30)
    memory = _Memory(count=99, most=int(2.5 * room(rows)))
    for number in range(4):
        memory.put(str(number), rows)
        memory.put(str(number), rows)  # putting it twice counts once
    assert [memory.get(str(n)) is not None for n in range(4)] == [False, False, True, True]
    assert memory.held == 2 * room(rows)
    small = _Memory(count=99, most=10)
    small.put("a", rows)
    small.put("b", rows)
    assert small.get("a") is None and small.get("b") is rows


def test_a_guess_takes_no_room_from_what_was_asked_for() -> None:
    rows = next(result for result in results() if len(result.pieces.cells) == 30)
    memory = _Memory(count=99, most=int(2.5 * room(rows)), guessed=int(1.5 * room(rows)))
    for asked in ("a", "b"):
        memory.put(asked, rows)
    for guess in ("c", "d"):
        assert memory.made(guess, lambda: rows, guess=True) is rows
    assert memory.held == 3 * room(rows) and memory.get("c") is None
    assert memory.get("d", guess=True) is rows and memory.get("a") is not None
    assert memory.get("d") is rows  # asked for, it takes the place of what was longest ago
    assert memory.held == 2 * room(rows) and memory.get("b") is None


def test_a_plan_is_at_hand_once_it_was_acted_out() -> None:
    plan = Alternating(strips=4, slices=4, strip_width=27.43).plan("At hand")
    assert not at_hand(plan)
    simulate(plan, remember=False)
    assert not at_hand(plan)
    simulate(plan)
    assert at_hand(plan)
    # another slice thickness asks for the slices and all that follows from them
    assert not at_hand(plan.with_stage(plan.stage("slices").model_copy(update={"slice": 41.7})))


def test_cells_of_other_pieces_keep_what_is_known_of_where_they_lie() -> None:
    row = simulate(Alternating(strips=4, slices=4).plan("Pieces"))["slices"].pieces.cells
    low, high = row.piece_bounds()
    world, (normals, offsets) = row.world(), row.world_planes()
    one = row.regrouped(np.zeros(len(row), np.int64))
    assert one.world() is world and one.world_planes()[0] is normals and one.world_planes()[1] is offsets
    assert one.pieces == 1 and row.pieces == 4
    assert np.allclose(one.piece_bounds()[0], low.min(axis=0)) and np.allclose(one.piece_bounds()[1], high.max(axis=0))


def test_the_room_that_is_counted_holds_all_that_is_worked_out() -> None:
    rows = next(result for result in results() if len(result.pieces.cells) == 30)
    cells = fresh(rows.pieces.cells)
    arrays = [getattr(cells, name) for name in ("verts", "faces", "edges", "rot", "move", "known")]
    arrays += [cells.world(), cells.cell_of_vertex(), cells.cell_of_face(), cells.cell_of_edge()]
    arrays += [*cells.world_planes(), *cells.cell_bounds(), *cells.bounds(), *cells.piece_bounds()]
    assert 0.6 * cells.most_bytes < sum(array.nbytes for array in arrays) <= cells.most_bytes


def test_what_will_be_asked_for_is_made_ready_and_given_up_in_the_midst_of_a_stage() -> None:
    plan = Alternating(strips=4, slices=4, strip_width=28.61).plan("Ahead")
    done = list[int]()

    def wanted() -> bool:
        return len(done) < 3

    with while_wanted(wanted):
        prepare(plan, lambda: done.append(len(done)))
        done.append(99)
    assert done == [0, 1, 2]
    assert not at_hand(plan) and at_hand(plan.upto(3)) and not at_hand(plan.upto(4))
    sim = prepare(plan)
    assert sim is not None and at_hand(plan)
    assert all(mine is theirs for mine, theirs in zip(sim.results, attempt(plan)[0], strict=True))
    trim = next(stage for stage in plan.stages if stage.kind == "trim")
    stopped = plan.model_copy(
        update={"stages": (*plan.stages, trim.model_copy(update={"id": "more", "width": 1900.0}))}
    )
    assert isinstance(attempt(stopped)[1], StageError) and prepare(stopped) is None


def test_two_who_want_the_same_have_it_made_once() -> None:
    """The second comes while the first is at it; where that fails, and was not kept, the second makes it itself."""
    kept, made, begun, go_on = dict[str, int](), list[str](), Event(), Event()
    shared = UnderWay()

    def make(name: str, *, fails: bool) -> Callable[[], int]:
        def it() -> int:
            made.append(name)
            begun.set()
            go_on.wait()
            if fails:
                raise ValueError(name)
            return kept.setdefault("it", len(made))

        return it

    with ThreadPoolExecutor(2) as hands:
        for fails, expected in ((True, ["first", "second"]), (False, ["first"])):
            kept.clear(), made.clear(), begun.clear(), go_on.clear()
            asked = Event()

            def find(asked: Event = asked) -> int | None:
                asked.set()
                return kept.get("it")

            first = hands.submit(shared.share, "it", lambda: kept.get("it"), make("first", fails=fails))
            begun.wait()
            second = hands.submit(shared.share, "it", find, make("second", fails=False))
            asked.wait()
            go_on.set()
            assert second.result() == len(expected) and made == expected
            assert isinstance(first.exception(), ValueError) is fails
