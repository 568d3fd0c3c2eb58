"""Arranging what lies in a glue-up, by hand: order, turns, shifts and dry joints."""

from __future__ import annotations

import pytest

from laberinto.core.edits import pieces, rows, set_parameters
from laberinto.core.errors import InputError
from laberinto.core.geometry.rotations import Pose, Spin, Turn
from laberinto.core.patterns import FAMILIES
from laberinto.core.plan.model import Plan
from laberinto.core.plan.simulate import simulate
from laberinto.core.stages import Arrange, Glue
from laberinto.core.units import Lengths

MM = Lengths()
END = Turn(spin=Spin.END_FOR_END)
ROLL = Turn(Pose.QUARTER_ROLL)


def plan() -> Plan:
    """Six strips of two woods."""
    return FAMILIES["alternating"](strips=6, slices=4).plan("Hands")


def marks(of: Plan, stage: str = "panel") -> list[str]:
    return [piece.name.mark for piece in pieces.laid(of, stage)]


def glue(of: Plan) -> Glue:
    stage = of.stage("panel")
    assert isinstance(stage, Glue)
    return stage


def test_pieces_move_together_and_take_their_turns_along() -> None:
    turned = pieces.turn(plan(), "panel", [1], END).plan
    moved = pieces.move(turned, "panel", [1, 3], 0)
    assert marks(moved.plan) == ["2", "4", "1", "3", "5", "6"]
    assert moved.words == "strip 2, strip 4 moved to place 1"
    assert [piece.turn.name for piece in pieces.laid(moved.plan, "panel")][:2] == ["end for end", "as it lies"]
    assert glue(moved.plan).order == (2, 4, 1, 3, 5, 6) and glue(moved.plan).turned == {1: "end for end"}
    back = pieces.move(pieces.move(moved.plan, "panel", [0], 2).plan, "panel", [0], 3).plan
    assert glue(back).order == (), "what lies as it came is no order of its own"


def test_a_shuffled_row_becomes_an_order_once_a_hand_moves_one() -> None:
    shuffled = set_parameters(plan(), "panel", {"shuffle": "7", "reverse": "yes"}, MM).plan
    before = marks(shuffled)
    swapped = pieces.swap(shuffled, "panel", [0, 5]).plan
    assert marks(swapped) == [before[5], *before[1:5], before[0]]
    assert glue(swapped).shuffle is None and not glue(swapped).reverse
    with pytest.raises(InputError, match="exactly two"):
        pieces.swap(plan(), "panel", [0, 1, 2])


def test_turns_add_up_and_what_the_rule_gives_is_no_exception() -> None:
    rolled = plan()
    for _ in range(4):
        rolled = pieces.turn(rolled, "panel", [2], ROLL).plan
    assert rolled == plan(), "four quarter rolls are none"
    ruled = set_parameters(plan(), "panel", {"turns": "as it lies; end for end"}, MM).plan
    assert glue(pieces.turn(ruled, "panel", [1], END).plan).turned == {2: "as it lies"}


def test_shifts_and_dry_joints_are_kept_by_place_and_taken_back() -> None:
    shifted = pieces.shift(plan(), "panel", [4], -12.5).plan
    assert glue(shifted).shifted == {5: -12.5} and glue(pieces.shift(shifted, "panel", [4], 12.5).plan).shifted == {}
    dry = pieces.dry(shifted, "panel", [1, 3]).plan
    assert glue(dry).dry == (2, 4) and len(simulate(dry)["panel"].pieces) == 3
    assert glue(pieces.dry(dry, "panel", [1]).plan).dry == (4,)
    with pytest.raises(InputError, match="no joint"):
        pieces.dry(plan(), "panel", [5])
    assert glue(pieces.clear(dry, "panel", [4]).plan).shifted == {}
    done = pieces.reset(pieces.move(dry, "panel", [0], 3).plan, "panel").plan
    assert glue(done) == glue(plan()).model_copy(update={"dry": (2, 4)})


def test_lots_alternate_and_a_place_that_is_none_is_refused() -> None:
    """Mortar between bricks: rows of two panels in turn, by their names."""
    brick = FAMILIES["brick"]().plan("Bricks")
    assert marks(brick, "board")[:4] == ["A1", "B1", "A2", "B2"]
    with pytest.raises(InputError, match="There is no place 30"):
        pieces.dry(brick, "board", [29])
    with pytest.raises(InputError, match="is no place"):
        set_parameters(plan(), "panel", {"dry": "2, x"}, MM)
    assert glue(set_parameters(plan(), "panel", {"dry": "2 4", "shifts": "0, -15"}, MM).plan).shifts == (0, -15)


def test_a_plan_that_stops_half_way_still_lists_what_it_can() -> None:
    """An order that names too few pieces lists none until it is mended; slices of a panel that is too short go by number."""
    wrong = set_parameters(plan(), "panel", {"order": "1, 2"}, MM).plan
    assert pieces.laid(wrong, "panel") == []
    brick = FAMILIES["brick"]().plan("Bricks")
    short = set_parameters(brick, "mortar-slices", {"count": "150"}, MM).plan
    arrange = short.stage("rows")
    assert isinstance(arrange, Arrange)
    found = rows.marks_of(short, arrange)
    assert found[:2] == ["1", "2"] and found[10] == "11" and len(found) == 10 + 150
