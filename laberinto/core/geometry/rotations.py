"""The 24 ways a piece can lie, by name, as exact 0/±1 rotations.

Axes at the bench: x across the width, y along the length (away from you), z up. A turn is a *pose*,
which side of the lying piece comes to the top, followed by a *spin* about the vertical. Exact matrices
keep coplanar cuts exactly coplanar.
"""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from ..solid import Floats


class Pose(StrEnum):
    """Which side of the lying piece comes to the top."""

    AS_IT_LIES = "as it lies"
    QUARTER_ROLL = "quarter roll"
    FACE_OVER = "face over"
    THREE_QUARTER_ROLL = "three-quarter roll"
    STAND_UP = "stand up"
    STAND_ON_HEAD = "stand on its head"


class Spin(StrEnum):
    """How far the posed piece then turns about the vertical, anticlockwise from above."""

    NONE = "as it is"
    QUARTER = "quarter turn"
    END_FOR_END = "end for end"
    THREE_QUARTER = "three-quarter turn"


def _about(axis: int, quarters: int) -> Floats:
    """Rotation by quarter turns about a world axis, right-handed, in exact integers."""
    i, j = (axis + 1) % 3, (axis + 2) % 3
    step = np.zeros((3, 3))
    step[axis, axis], step[j, i], step[i, j] = 1.0, 1.0, -1.0
    matrix = np.eye(3)
    for _ in range(quarters % 4):
        matrix = step @ matrix
    return matrix + 0.0  # no negative zeros


_POSES = {
    Pose.AS_IT_LIES: _about(1, 0),
    Pose.QUARTER_ROLL: _about(1, 1),
    Pose.FACE_OVER: _about(1, 2),
    Pose.THREE_QUARTER_ROLL: _about(1, 3),
    Pose.STAND_UP: _about(0, 1),
    Pose.STAND_ON_HEAD: _about(0, 3),
}
_SPINS = {spin: _about(2, quarters) for quarters, spin in enumerate(Spin)}
_MATRICES = {(pose, spin): _SPINS[spin] @ _POSES[pose] + 0.0 for pose in Pose for spin in Spin}
for _matrix in _MATRICES.values():
    _matrix.setflags(write=False)  # all who ask get the same


@dataclass(frozen=True, slots=True)
class Turn:
    """One of the 24 turns. ``Turn(Pose.STAND_UP)`` puts end grain to the top."""

    pose: Pose = Pose.AS_IT_LIES
    spin: Spin = Spin.NONE

    @property
    def matrix(self) -> Floats:
        """The (3, 3) rotation."""
        return _MATRICES[self.pose, self.spin]

    @property
    def name(self) -> str:
        """The turn in words, e.g. ``stand up, end for end``."""
        if self.spin is Spin.NONE:
            return self.pose.value
        return self.spin.value if self.pose is Pose.AS_IT_LIES else f"{self.pose.value}, {self.spin.value}"

    def then(self, other: Turn) -> Turn:
        """This turn followed by ``other``, as the single turn that does both."""
        return _BY_MATRIX[(other.matrix @ self.matrix).tobytes()]


TURNS: tuple[Turn, ...] = tuple(Turn(pose, spin) for pose in Pose for spin in Spin)
"""All 24 turns."""

_BY_MATRIX = {(turn.matrix + 0.0).tobytes(): turn for turn in TURNS}


class Lie(StrEnum):
    """The four ways a standing slice can lie in its row: either end up, end for end or not."""

    AS_CUT = "as-cut"
    END_FOR_END = "end-for-end"
    OTHER_END_UP = "other-end-up"
    FLIP = "flip"

    @property
    def turn(self) -> Turn:
        """The turn that stands the flat slice up this way."""
        return Turn(Pose.STAND_UP).then(_LIES[self])

    @property
    def words(self) -> str:
        """What the maker does to the slice."""
        return _LIE_WORDS[self]

    @property
    def reverses(self) -> bool:
        """Whether the order of the strips along the row is reversed."""
        return self in (Lie.END_FOR_END, Lie.FLIP)

    def then(self, other: Lie) -> Lie:
        """This lie turned once more; the four form a group in which each undoes itself."""
        first, second = _LIES[self], _LIES[other]
        return next(lie for lie, turn in _LIES.items() if turn == first.then(second))


_LIES = {
    Lie.AS_CUT: Turn(),
    Lie.END_FOR_END: Turn(Pose.AS_IT_LIES, Spin.END_FOR_END),
    Lie.OTHER_END_UP: Turn(Pose.FACE_OVER, Spin.END_FOR_END),  # a half turn about the row
    Lie.FLIP: Turn(Pose.FACE_OVER),  # other end up and end for end
}
_LIE_WORDS = {
    Lie.AS_CUT: "stand up as cut",
    Lie.END_FOR_END: "stand up, then turn end for end",
    Lie.OTHER_END_UP: "stand up on the other end",
    Lie.FLIP: "stand up, flipped left to right (other end up)",
}


_BY_NAME = {turn.name: turn for turn in TURNS}


def turn_named(name: str) -> Turn:
    """The turn with this name, e.g. ``face over, end for end``; raises ValueError that lists them."""
    if name not in _BY_NAME:
        raise ValueError(f"there is no turn “{name}”; there are: {'; '.join(_BY_NAME)}")
    return _BY_NAME[name]
