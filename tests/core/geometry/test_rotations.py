"""The 24 turns and the four lies of a slice."""

from itertools import product

import numpy as np
import pytest

from laberinto.core.geometry.rotations import TURNS, Lie, Pose, Spin, Turn
from laberinto.core.stages.mill import StripTurn


def test_the_24_turns_are_all_rotations_and_all_different() -> None:
    matrices = [turn.matrix for turn in TURNS]
    assert len({m.tobytes() for m in matrices}) == 24
    for m in matrices:
        assert set(np.unique(m)) <= {-1.0, 0.0, 1.0}
        assert np.linalg.det(m) == pytest.approx(1)
    assert len({turn.name for turn in TURNS}) == 24


def test_any_two_turns_are_one_turn() -> None:
    for first, second in product(TURNS, TURNS):
        assert (first.then(second).matrix == second.matrix @ first.matrix).all()


@pytest.mark.parametrize(
    ("turn", "length_goes", "up_comes_from"),
    [
        # bench axes: x width, y length (away), z up
        (Turn(Pose.STAND_UP), [0, 0, 1], [0, 1, 0]),
        (Turn(Pose.FACE_OVER), [0, 1, 0], [0, 0, -1]),
        (Turn(Pose.AS_IT_LIES, Spin.END_FOR_END), [0, -1, 0], [0, 0, 1]),
        (Turn(Pose.QUARTER_ROLL), [0, 1, 0], [-1, 0, 0]),
    ],
)
def test_turns_do_what_their_names_say(turn: Turn, length_goes: list[int], up_comes_from: list[int]) -> None:
    assert (turn.matrix @ [0, 1, 0]).tolist() == length_goes
    assert (turn.matrix @ np.array(up_comes_from)).tolist() == [0, 0, 1]


@pytest.mark.parametrize("kind", [Lie, StripTurn])
def test_lies_form_a_group_where_each_undoes_itself(kind: type) -> None:
    for one, other in product(kind, kind):
        assert one.then(other) is other.then(one)
    assert all(one.then(one) is next(iter(kind)) for one in kind)


def test_only_end_for_end_and_flip_reverse_the_row() -> None:
    for lie in Lie:
        reversed_ = (lie.turn.matrix @ [1, 0, 0])[0] == -1
        assert lie.reverses == reversed_
