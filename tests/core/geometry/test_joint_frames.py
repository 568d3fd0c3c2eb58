"""Joints seen from both sides: one plane, one direction, and frames that carry one strip's coordinates to the other's."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings

from laberinto.core.geometry.joints import Joint, joints_between
from laberinto.core.geometry.polygons import middles
from laberinto.core.plan.model import Plan
from laberinto.core.plan.simulate import simulate
from laberinto.core.solid import Cells, boxes, join
from tests.core.strategies import plans

QUARTER = np.array([[0.0, 0, 1], [0, 1, 0], [-1, 0, 0]])
"""A quarter roll about the fibres (y)."""

UPRIGHT = np.array([[1.0, 0, 0], [0, 0, -1], [0, 1, 0]])
"""Fibres stood up: y becomes z."""


def world(joint: Joint, side: int) -> tuple[np.ndarray, np.ndarray]:
    """Middles and normals of one side of each contact, at the bench."""
    cell = joint.cells.cell_of_face()[joint.faces[:, side]]
    rot, move = joint.cells.rot[cell], joint.cells.move[cell]
    places = np.einsum("kij,kj->ki", rot, joint.places[:, side]) + move
    return places, np.einsum("kij,kj->ki", rot, joint.normals[:, side])


@settings(max_examples=25)
@given(plans())
def test_both_sides_of_a_joint_lie_in_one_plane_and_look_one_way(plan: Plan) -> None:
    for joint in simulate(plan).joints():
        (one, out), (other, back) = world(joint, 0), world(joint, 1)
        assert np.allclose(out, back, atol=1e-6)  # the second side's normal is given as the first sees it
        assert np.allclose((one * out).sum(axis=1), (other * out).sum(axis=1), atol=1e-5)
        assert joint.area == pytest.approx(joint.areas.sum())
        assert 0 <= joint.mixed <= joint.area + 1e-9


@settings(max_examples=25)
@given(plans())
def test_what_carries_one_strip_to_the_other_is_a_rotation(plan: Plan) -> None:
    for joint in simulate(plan).joints():
        across = joint.across
        assert np.allclose(across @ across.transpose(0, 2, 1), np.eye(3), atol=1e-9)
        assert np.allclose(np.linalg.det(across), 1.0)
        carried = np.einsum("kij,kj->ki", across, joint.normals[:, 0])
        assert np.allclose(carried, joint.normals[:, 1], atol=1e-6)
        angles = joint.fibre_angles()
        assert ((angles >= 0) & (angles <= 90)).all()
        assert np.allclose(np.cos(np.radians(angles)), np.abs(across[:, 1, 1]), atol=1e-6)


def side_by_side(turn: np.ndarray) -> Joint:
    """Two cubes of 20 that meet at x = 20, the second turned in its place."""
    cubes = boxes(np.full((2, 3), 20.0), np.arange(2))
    first, second = cubes.of_piece(0), cubes.take(np.array([1])).turned(turn)
    second = second.moved(np.array([20.0, 0, 0]) - second.bounds()[0])
    (joint,) = joints_between(join([first, second.as_piece(1)]), np.array([1.0, 0, 0]))
    return joint


@pytest.mark.parametrize(
    ("turn", "fibres", "into", "mixed"),
    [
        # as it lies: fibres run along each other and along the joint
        (np.eye(3), 0.0, (0.0, 0.0), 0.0),
        # rolled: fibres still along each other; the joint lies on another of the strip's faces
        (QUARTER, 0.0, (0.0, 0.0), 0.0),
        # stood up: fibres cross at a right angle, and both still run along the joint
        (UPRIGHT, 90.0, (0.0, 0.0), 0.0),
        # turned a quarter on the bench: its end meets the first one's side, all 400 mm² of it
        (np.array([[0.0, -1, 0], [1, 0, 0], [0, 0, 1]]), 90.0, (0.0, 90.0), 400.0),
    ],
)
def test_grain_at_a_joint_by_hand(turn: np.ndarray, fibres: float, into: tuple[float, float], mixed: float) -> None:
    joint = side_by_side(turn)
    assert joint.area == pytest.approx(400.0) and joint.mixed == pytest.approx(mixed)
    assert joint.fibre_angles().tolist() == pytest.approx([fibres], abs=1e-6)
    assert joint.into()[0].tolist() == pytest.approx(list(into), abs=1e-6)


def test_the_middle_of_a_face_is_the_mean_of_its_corners() -> None:
    """Of a box of 2 × 4 × 6: half-way up its sides, and its ends; asked for again it is not worked out again."""
    box: Cells = boxes(np.array([[2.0, 4, 6]]), np.zeros(1, np.int64))
    found = middles(box)
    assert found.tolist() == [[0, 2, 3], [2, 2, 3], [1, 0, 3], [1, 4, 3], [1, 2, 0], [1, 2, 6]]
    assert middles(box) is found
