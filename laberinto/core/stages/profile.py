"""Profile: bevel rips that give pieces another section, such as a diamond."""

from __future__ import annotations

import math
from enum import StrEnum
from typing import Annotated, ClassVar, Literal

import numpy as np
from pydantic import Field, model_validator

from ..errors import StageError
from ..fields.allowances import saw_kerf
from ..fields.spec import choice, listed, whole
from ..solid import Cells, Floats, join, slabs
from .base import Bench, Cause, Outcome, Pieces, Stage, alike

Coordinate = Annotated[float, Field(ge=-2000, le=2000)]


class Section(StrEnum):
    """Sections with a name; each is drawn in the box round the piece's end."""

    DIAMOND = "diamond"
    TRIANGLE = "triangle"
    OWN = "own"

    @property
    def label(self) -> str:
        return {
            "diamond": "diamond through the middles of the sides",
            "triangle": "triangle, its point up",
            "own": "own corners",
        }[self.value]

    def corners(self, width: float, thickness: float) -> list[tuple[float, float]]:
        """(x, z) of the corners, anticlockwise seen from the near end, mm."""
        if self is Section.DIAMOND:
            return [(width / 2, 0), (width, thickness / 2), (width / 2, thickness), (0, thickness / 2)]
        return [(0, 0), (width, 0), (width / 2, thickness)]


class Profile(Stage):
    """Saw pieces along their length to a convex section: a named one, or the corners ``points`` as (x, z) in
    mm from the lower left of the near end, anticlockwise. ``rest_on`` lays the piece on that side afterwards
    (1 is the side from the first corner to the second); 0 leaves it."""

    title: ClassVar[str] = "Profile"
    verb: ClassVar[str] = "Saw to a section"
    drawn: ClassVar[tuple[tuple[str, str, str], ...]] = (("points", "section", "own"),)
    through: ClassVar[str] = "table saw"

    kind: Literal["profile"] = "profile"
    section: Section = choice(Section.DIAMOND, label="Section", help="What the end looks like afterwards.")
    points: tuple[tuple[Coordinate, Coordinate], ...] = listed(
        "points", label="Own corners", help="Across × up, anticlockwise: 0 × 0, 48 × 0, 24 × 40.",
        max_length=12,
    )  # fmt: skip
    rest_on: int = whole(
        0,
        label="Rest on side",
        help="1: from the first corner to the second; 0: as it is.",
        least=0,
        most=12,
    )
    kerf: float = saw_kerf()

    @model_validator(mode="after")
    def _convex(self) -> Profile:
        if bool(self.points) != (self.section is Section.OWN):
            raise ValueError("give corners exactly where the section is “own”")
        if self.points:
            p = np.array(self.points)
            if len(p) < 3:
                raise ValueError("a section needs at least three corners")
            a, b = np.roll(p, -1, axis=0) - p, np.roll(p, -2, axis=0) - np.roll(p, -1, axis=0)
            if not bool((a[:, 0] * b[:, 1] - a[:, 1] * b[:, 0] > 1e-9).all()):
                raise ValueError("the corners must run anticlockwise round a section that bulges nowhere inwards")
        if self.rest_on > self.sides:
            raise ValueError(f"the section has no side {self.rest_on} to rest on")
        return self

    @property
    def sides(self) -> int:
        """How many sides the section has."""
        return len(self.points) or len(self.section.corners(1.0, 1.0))

    @property
    def angled(self) -> bool:
        """Always: no section but a box is sawn square."""
        return True

    def run(self, pieces: Pieces, bench: Bench) -> Outcome:
        kept: list[Cells] = []
        offcuts: list[Cells] = []
        kerf = 0.0
        for number, some in alike(pieces, 0, 2):
            corners = self.corners(pieces[number])
            for side, (normal, offset) in enumerate(_sides(corners)):
                cut = slabs(some, normal, np.array([offset, offset + self.kerf]), np.array([0, 2]))
                some, offcut = cut.of(0), cut.of(2)
                kerf += float(cut.lost.sum())
                offcuts.append(offcut.replace(piece=offcut.piece * self.sides + side))
            if not len(some):
                raise StageError(self.id, "This section lies outside the wood.", "Move its corners.", "points")
            kept.append(some.turned(self._rest(corners)))
        left = join(offcuts)
        if len(left):
            left = left.replace(piece=np.unique(left.piece, return_inverse=True)[1]).settled()
        return Outcome(Pieces(join(kept).settled()), left, {Cause.KERF: kerf, Cause.OFFCUT: left.volume()})

    def corners(self, piece: Cells) -> Floats:
        """(x, z) of the section's corners in a piece, (k, 2) mm from the lower left of its near end, anticlockwise."""
        width, _, thickness = (float(v) for v in piece.size())
        return np.array(self.points or self.section.corners(width, thickness), float)

    def _rest(self, corners: Floats) -> Floats:
        """The roll about the length that brings the chosen side to the bottom."""
        if not self.rest_on:
            return np.eye(3)
        a, b = corners[self.rest_on - 1], corners[self.rest_on % len(corners)]
        angle = math.atan2(*(b - a)[::-1])
        c, s = math.cos(angle), math.sin(angle)
        return np.array([[c, 0.0, s], [0.0, 1.0, 0.0], [-s, 0.0, c]])


def _sides(corners: Floats) -> list[tuple[Floats, float]]:
    """The planes along the section's sides, each with the section below it: unit normal (3,) and offset, mm."""
    out = []
    for a, b in zip(corners, np.roll(corners, -1, axis=0), strict=True):
        run = (b - a) / np.linalg.norm(b - a)
        normal = np.array([run[1], 0.0, -run[0]])
        out.append((normal, float(normal[0] * a[0] + normal[2] * a[1])))
    return out
