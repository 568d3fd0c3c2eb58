"""Arrange for me: what edges show, the proven optimum against brute force, locks, seeds and candidates."""

from __future__ import annotations

from itertools import pairwise, permutations, product

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from laberinto.core.edits import rows as row_edits
from laberinto.core.errors import InputError
from laberinto.core.geometry.rotations import Lie
from laberinto.core.judging.arrange import Progress, Wish, arrange_for_me
from laberinto.core.judging.arrange.edges import LIES, edges_of
from laberinto.core.judging.arrange.exact import (
    Row,
    best_path,
    mirrored_costs_the_same,
    path_cost,
    turned_costs_the_same,
)
from laberinto.core.judging.arrange.search import Board
from laberinto.core.judging.scores import Scored
from laberinto.core.patterns import Alternating
from laberinto.core.plan.simulate import Simulation, simulate
from laberinto.core.stages import Arrange, Rule
from laberinto.demo.chaos import tidewrack
from tests.core.stages.test_stages import run


def cheapest(cost: np.ndarray) -> float:
    n = len(cost)
    return min(
        sum(cost[i, a, j, b] for (i, a), (j, b) in pairwise(zip(order, lies, strict=True)))
        for order in permutations(range(n))
        for lies in product(range(4), repeat=n)
    )


@given(st.integers(2, 4), st.integers(0, 999))
@settings(max_examples=8)
def test_the_proven_optimum_is_that_of_brute_force(n: int, seed: int) -> None:
    cost = np.random.default_rng(seed).integers(0, 40, (n, 4, n, 4)).astype(float)
    start = [(k + 1, Lie.AS_CUT) for k in range(n)]
    found = best_path(cost, start)
    assert found.proven
    assert found.cost == pytest.approx(cheapest(cost)) == pytest.approx(path_cost(cost, found.rows))
    assert sorted(number for number, _ in found.rows) == list(range(1, n + 1))


@given(st.integers(0, 999))
@settings(max_examples=5)
def test_locked_rows_stay_and_the_rest_is_as_good_as_it_can_be(seed: int) -> None:
    cost = np.random.default_rng(seed).integers(0, 40, (4, 4, 4, 4)).astype(float)
    locked: dict[int, Row] = {1: (3, Lie.FLIP)}
    found = best_path(cost, [(k + 1, Lie.AS_CUT) for k in range(4)], locked)
    assert found.rows[1] == (3, Lie.FLIP)
    others = [
        path_cost(cost, rows)
        for order in permutations((1, 2, 4))
        for lies in product(LIES, repeat=3)
        for rows in [[(order[0], lies[0]), (3, Lie.FLIP), (order[1], lies[1]), (order[2], lies[2])]]
    ]
    assert found.cost == pytest.approx(min(others))


@pytest.fixture(scope="module")
def chaos() -> Simulation:
    return simulate(tidewrack())


def rows_of(sim: Simulation) -> Arrange:
    stage = sim.plan.stage("rows")
    assert isinstance(stage, Arrange)
    return stage


@given(order=st.permutations(range(1, 14)), lies=st.lists(st.sampled_from(LIES), min_size=13, max_size=13))
@settings(max_examples=6)
def test_what_edges_say_of_a_joint_is_what_the_glued_face_shows(order: list[int], lies: list[Lie]) -> None:
    """Same wood along the joints between rows, added up over the neighbours, is the length of such seams on the
    simulated face along the lines where rows meet."""
    sim = simulate(tidewrack())
    rows = list(zip(order, lies, strict=True))
    laid = simulate(row_edits.lay_out(sim.plan, "rows", rows, "").plan)
    edges = edges_of(sim, rows_of(sim))
    same = path_cost(edges.same_wood(), rows)
    board = Scored(Simulation(laid.plan, laid.woods, laid.strips, laid.results[: laid.plan.index("board") + 1]))
    heights = np.cumsum([float(laid["rows"].pieces[k].size()[1]) for k in range(13)])[:-1]
    joints = board.seams.joints()
    level = np.abs(joints.ends[:, 0, 1] - joints.ends[:, 1, 1]) < 1e-6
    between = level & (np.abs(joints.ends[:, 0, 1][:, None] - heights[None]) < 1e-3).any(axis=1)
    alike = np.array([board.woods[a] == board.woods[b] for a, b in joints.pair])
    assert same == pytest.approx(float(joints.lengths[between & alike].sum()), abs=0.05)


def test_turned_half_round_a_board_costs_the_same_and_mirrored_only_a_straight_one(chaos: Simulation) -> None:
    aslant = edges_of(chaos, rows_of(chaos)).same_wood() * 10
    assert turned_costs_the_same(aslant) and not mirrored_costs_the_same(aslant)
    checker = simulate(Alternating(strips=6, slices=6).plan("x"))
    straight = edges_of(checker, rows_of(checker)).same_wood() * 10
    assert turned_costs_the_same(straight) and mirrored_costs_the_same(straight)


def test_neighbour_aims_are_proven_and_better_than_what_hands_did(chaos: Simulation) -> None:
    told: list[Progress] = []
    found = arrange_for_me(
        chaos, rows_of(chaos), {"woods": Wish.AVOID}, progress=lambda p: told.append(p) or True, work=30
    )
    costs = [candidate.cost for candidate in found]
    assert found[0].proven and costs == sorted(costs) and costs[0] < told[0].best.cost
    assert len(found) == 3 and len({candidate.rows for candidate in found}) == 3


def test_the_wish_can_be_turned_round(chaos: Simulation) -> None:
    """Bands that are to meet share more wood along the joints than those to be kept apart."""
    edges = edges_of(chaos, rows_of(chaos)).same_wood()
    apart, meet = (
        arrange_for_me(chaos, rows_of(chaos), {"woods": wish}, work=0.5)[0] for wish in (Wish.AVOID, Wish.SEEK)
    )
    assert path_cost(edges, meet.rows) > 1.5 * path_cost(edges, apart.rows)


def test_the_same_seed_searches_the_same_way_and_another_does_not(chaos: Simulation) -> None:
    wishes = {"repetition": Wish.AVOID, "balance": Wish.AVOID}
    one, again, other = (
        arrange_for_me(chaos, rows_of(chaos), wishes, {0: (5, Lie.FLIP)}, seed=seed, steps=60) for seed in (4, 4, 5)
    )
    assert one == again != other
    assert one[0].bound is None


def test_a_proven_answer_is_the_same_every_time(chaos: Simulation) -> None:
    one, again = (arrange_for_me(chaos, rows_of(chaos), {"woods": Wish.AVOID}, work=30) for _ in range(2))
    assert one == again and one[0].proven and [c.bound for c in one] == [one[0].cost] * 3


def test_locked_rows_are_left_alone_by_the_search(chaos: Simulation) -> None:
    rows = rows_of(chaos).rows(13)
    locked = {0: rows[0], 6: rows[6]}
    found = arrange_for_me(chaos, rows_of(chaos), {"repetition": Wish.AVOID}, locked, steps=80)
    assert all(candidate.rows[at] == row for candidate in found for at, row in locked.items())


def test_a_search_that_is_stopped_gives_the_best_so_far(chaos: Simulation) -> None:
    asked = 0

    def told(_progress: Progress) -> bool:
        nonlocal asked
        asked += 1
        return asked < 2

    found = arrange_for_me(chaos, rows_of(chaos), {"woods": Wish.AVOID, "balance": Wish.AVOID}, progress=told)
    assert found and asked <= 3


def test_a_checker_asked_to_keep_its_woods_apart_is_a_checker() -> None:
    """Slices of a palindrome-free two-wood row: laid as cut all joints meet their own wood; the best has none."""
    sim = simulate(Alternating(strips=6, slices=6).plan("x").with_stage(
        Alternating(strips=6, slices=6).plan("x").stage("rows").model_copy(update={"rule": Rule.AS_CUT})))  # fmt: skip
    best = arrange_for_me(sim, rows_of(sim), {"woods": Wish.AVOID})[0]
    assert best.cost == pytest.approx(0) and best.proven


def test_a_flat_layout_is_kept_by_the_rule_alone() -> None:
    plan = Alternating(strips=6, slices=4).plan("x")
    laid = row_edits.lay_out(plan, "rows", [(1, Lie.AS_CUT), (2, Lie.FLIP), (3, Lie.AS_CUT), (4, Lie.FLIP)], "")
    assert laid.plan == plan
    other = row_edits.lay_out(plan, "rows", [(2, Lie.AS_CUT), (1, Lie.AS_CUT), (3, Lie.AS_CUT), (4, Lie.FLIP)], "").plan
    assert other.stage("rows").turned == {1: Lie.AS_CUT} and other.stage("rows").order == (2, 1, 3, 4)
    with pytest.raises(InputError, match="other slices"):
        row_edits.lay_out(plan, "rows", [(1, Lie.AS_CUT)], "")


def test_ragged_slices_have_bare_edges() -> None:
    """A slice with a step shows no wood at the edge its thinner strip does not reach."""
    sim = run(
        {"id": "a", "kind": "mill", "thickness": 20, "length": 200, "strips": [{"wood": "ash", "width": 30}]},
        {"id": "b", "kind": "mill", "thickness": 26, "length": 200, "strips": [{"wood": "elm", "width": 30}]},
        {"id": "p", "kind": "glue", "from": "a", "with": ["b"]},
        {"id": "c", "kind": "crosscut", "from": "p", "slice": 30, "count": 2},
        {"id": "r", "kind": "arrange", "from": "c", "rule": "as-cut"},
        {"id": "g", "kind": "glue", "from": "r", "across": "length"},
    )
    edges = edges_of(sim, rows_of_named(sim, "r"))
    shown = {int(code) for code in np.concatenate([edges.far[0, 0], edges.near[0, 0]])}
    assert shown == {-1, 0, 1} and edges.length == pytest.approx(60)


def rows_of_named(sim: Simulation, name: str) -> Arrange:
    stage = sim.plan.stage(name)
    assert isinstance(stage, Arrange)
    return stage


def shifted(shifts: list[float], stagger: float = 0.0, skew: float = 0.0) -> Simulation:
    """Four slices, one each of four panels, glued row behind row with shifts."""
    stages: list[dict[str, object]] = []
    for name, woods in zip("abcd", ("elm ash elm", "ash elm ash", "elm elm ash", "ash ash elm"), strict=True):
        strips = [{"wood": wood, "width": width} for wood, width in zip(woods.split(), (30.0, 22.0, 41.0), strict=True)]
        stages += [
            {"id": f"{name}-s", "kind": "mill", "thickness": 25, "length": 200, "strips": strips},
            {"id": f"{name}-g", "kind": "glue", "from": f"{name}-s"},
            {"id": f"{name}-c", "kind": "crosscut", "from": f"{name}-g", "slice": 40, "count": 1, "bevel": skew},
        ]
    return run(
        *stages, {"id": "rows", "kind": "arrange", "from": "a-c", "with": ["b-c", "c-c", "d-c"], "rule": "as-cut"},
        {"id": "board", "kind": "glue", "from": "rows", "across": "length", "shifts": shifts, "stagger": stagger},
    )  # fmt: skip


def touching_alike(sim: Simulation, rows: list[Row] | tuple[Row, ...]) -> float:
    """Millimetres of one wood against itself along the joints between rows, read off the glued joints."""
    laid = simulate(row_edits.lay_out(sim.plan, "rows", rows, "").plan)
    total = 0.0
    for joint in laid["board"].outcome.joints:
        for (one, other), area in zip(joint.strips.tolist(), joint.areas.tolist(), strict=True):
            total += area / laid.board.size[2] if laid.strips[one].wood == laid.strips[other].wood else 0.0
    return total


@pytest.mark.parametrize(("shifts", "stagger"), [([0.0, 15.0], 0.0), ([], 11.0), ([0.0, 7.0, 21.0], 0.0), ([], 0.0)])
def test_shifts_of_the_glue_up_behind_are_reckoned_with(shifts: list[float], stagger: float) -> None:
    """What is called proven is beaten by none of the 6,144 ways to lay four slices."""
    sim = shifted(shifts, stagger)
    stage = rows_of(sim)
    board = Board(sim, stage, {"woods": Wish.AVOID})
    width, joints = board.edges.length, 3
    for seed in range(4):
        order = np.random.default_rng(seed).permutation(4) + 1
        rows = [(int(n), LIES[(seed + int(n)) % 4]) for n in order]
        assert board.total(rows) * width * joints == pytest.approx(touching_alike(sim, rows), abs=0.01)
    best = arrange_for_me(sim, stage, {"woods": Wish.AVOID})[0]
    every = (
        board.total(list(zip(order, lies, strict=True)))
        for order in permutations(range(1, 5))
        for lies in product(LIES, repeat=4)
    )
    least = min(every)
    assert best.bound is not None and best.bound <= least + 1e-9
    if best.proven:
        assert best.cost == pytest.approx(least)
    if len(shifts) < 2:  # every row as far from the last: one price for all joints, so the proof holds
        assert best.proven


def test_sides_that_lean_are_no_edges_of_the_face() -> None:
    """Slices sawn with the blade tilted stand with leaning sides; what meets are the ends of their faces."""
    straight, leaning = (edges_of(sim, rows_of(sim)) for sim in (shifted([]), shifted([], skew=12.0)))
    assert np.diff(np.concatenate([[0], np.cumsum(leaning.widths)])).sum() == pytest.approx(straight.length)
    assert (leaning.far != -1).all() and (leaning.near != -1).all()
    for lies in (0, 3):
        assert leaning.same_wood()[0, lies, 1, 0] == pytest.approx(straight.same_wood()[0, lies, 1, 0])
