"""Flatten: plane or sand both faces parallel, to a thickness or by an amount."""

from __future__ import annotations

from enum import StrEnum
from typing import ClassVar, Literal

import numpy as np
from pydantic import model_validator

from ..errors import StageError
from ..fields.spec import choice, millimetres, yes_no
from ..geometry.clear import clean_limit, sealed_if_full
from ..solid import Cells, Floats, join, slabs
from .base import LEAST_TO_PLANE, Bench, Cause, Outcome, Pieces, Stage, alike, cut_back


class Method(StrEnum):
    """What flattens the wood."""

    PLANER = "planer"
    DRUM_SANDER = "drum-sander"
    ROUTER_SLED = "router-sled"
    BELT_SANDER = "belt-sander"
    HAND_PLANE = "hand-plane"
    CNC = "cnc"

    @property
    def label(self) -> str:
        return {
            "planer": "thickness planer",
            "drum-sander": "drum sander",
            "router-sled": "router on a sled",
            "belt-sander": "belt sander by hand",
            "hand-plane": "hand plane",
            "cnc": "CNC router",
        }[self.value]


class FacePair(StrEnum):
    """The two faces that are flattened; a square stays one when both pairs lose the same."""

    TOP_BOTTOM = "top-bottom"
    LEFT_RIGHT = "left-right"

    @property
    def label(self) -> str:
        return {"top-bottom": "top and bottom", "left-right": "left and right edges"}[self.value]

    @property
    def axis(self) -> int:
        return 2 if self is FacePair.TOP_BOTTOM else 0


class Only(StrEnum):
    """Which of the two faces loses wood."""

    BOTH = "both"
    UPPER = "upper"
    LOWER = "lower"

    @property
    def label(self) -> str:
        return {"both": "both faces alike", "upper": "the upper or right one", "lower": "the lower or left one"}[
            self.value
        ]

    def shares(self) -> tuple[float, float]:
        """Of what comes off in all: below and above."""
        return {"both": (0.5, 0.5), "upper": (0.0, 1.0), "lower": (1.0, 0.0)}[self.value]


class Flatten(Stage):
    """Bring both faces flat and parallel: ``to`` a thickness in mm (equally from both faces), or
    ``each_face`` mm off either. Exactly one of the two is given. ``only`` takes all of it off one face, the other being
    the reference."""

    title: ClassVar[str] = "Flatten"
    verb: ClassVar[str] = "Flatten both faces"
    instead: ClassVar[tuple[tuple[str, str], ...]] = (("to", "each_face"),)

    kind: Literal["flatten"] = "flatten"
    to: float | None = millimetres(
        None, label="To thickness", help="Taken equally from both faces.", least=LEAST_TO_PLANE, most=150
    )
    each_face: float | None = millimetres(
        None, label="Or off each face", help="Leave empty when a thickness is given.", least=0.1, most=20
    )
    faces: FacePair = choice(FacePair.TOP_BOTTOM, label="Faces", help="Edges too where a section must stay square.")
    only: Only = choice(Only.BOTH, label="Take it off", help="One alone: the other is the reference.")
    level: bool = yes_no(
        False, label="Level first", help="Measure from the lowest spot, so that steps and hollows vanish."
    )
    method: Method = choice(Method.PLANER, label="With", help="What flattens it.")

    @model_validator(mode="after")
    def _one_of_two(self) -> Flatten:
        if (self.to is None) == (self.each_face is None):
            raise ValueError("give either a thickness to flatten to, or an amount off each face, not both")
        return self

    @property
    def machine(self) -> str:
        """By its method."""
        return self.method.label

    def run(self, pieces: Pieces, bench: Bench) -> Outcome:
        if self.level:
            return cut_back(pieces, Cause.FLATTENING, lambda piece: self._flattened(piece, piece))
        kept, gone, off = [], 0.0, np.zeros((len(pieces), 3, 2))
        for first, some in alike(pieces, self.faces.axis):
            left, lost, by = self._flattened(some, pieces[first])
            off[np.unique(some.piece)] = by
            kept.append(left)
            gone += lost
        return Outcome(Pieces(join(kept)), waste={Cause.FLATTENING: gone}, off=off)

    def _flattened(self, pieces: Cells, one: Cells) -> tuple[Cells, float, Floats]:
        """Pieces all as thick as ``one`` of them."""
        axis = self.faces.axis
        low, high = self._extent(one)
        below, above = self._off(high - low)
        ends = np.array([low + below, high - above])
        cut = slabs(pieces, np.eye(3)[axis], ends, np.array([1]))
        off = np.zeros((3, 2))
        off[axis] = np.abs(ends - [bound[axis] for bound in one.bounds()])
        return sealed_if_full(cut.cells.settled()), float(cut.lost.sum()), off

    def _extent(self, piece: Cells) -> tuple[float, float]:
        """From where to where the piece is measured, mm."""
        axis = self.faces.axis
        if not self.level:
            low, high = piece.bounds()
            return float(low[axis]), float(high[axis])
        low_, high_ = clean_limit(piece, axis, -1.0), clean_limit(piece, axis, 1.0)
        if low_ is None or high_ is None:
            raise StageError(
                self.id, f"There is no flat on the {self.faces.label} to level from.",
                "Turn the piece until a flat side lies there, or switch “Level first” off.", "level",
            )  # fmt: skip
        return low_, high_

    def _off(self, thickness: float) -> tuple[float, float]:
        """How much comes off below and above of a piece this thick, mm."""
        below, above = self.only.shares()
        if self.to is not None:
            if self.to > thickness + 1e-9:
                raise StageError(
                    self.id,
                    "The wood is only {thickness} thick here, so it cannot be flattened to {to}.",
                    "Flatten to {most} or less, or start {more} thicker.",
                    "to", thickness=thickness, to=self.to, most=thickness - 1, more=self.to - thickness + 1,
                )  # fmt: skip
            return (thickness - self.to) * below, (thickness - self.to) * above
        assert self.each_face is not None
        faces = 2 if self.only is Only.BOTH else 1
        left = thickness - faces * self.each_face
        if left < LEAST_TO_PLANE:
            raise StageError(
                self.id,
                "The wood is {thickness} thick; {off} off each face leaves {left}, {short} less than can be planed.",
                "Take at most {most} off each face, or mill thicker.",
                "each_face", thickness=thickness, off=self.each_face, left=max(left, 0.0), short=LEAST_TO_PLANE - left,
                most=max((thickness - LEAST_TO_PLANE) / faces, 0.0),
            )  # fmt: skip
        return faces * self.each_face * below, faces * self.each_face * above
