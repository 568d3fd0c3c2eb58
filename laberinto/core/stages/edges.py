"""Work on a board's edges: finger coves, through notches and rabbets."""

from __future__ import annotations

import math
from enum import StrEnum
from typing import ClassVar, Literal

import numpy as np

from ..errors import StageError
from ..fields.spec import choice, millimetres
from ..geometry.cutters import CLEAR, Section, box, circle, facets, revolved, upright
from ..geometry.outlines import rounded_rectangle
from ..solid import Floats, Tool
from .carving import BoardEdge, Carving, Sides, Surface


class Height(StrEnum):
    """Where on the edge a cove's middle lies."""

    MIDDLE = "middle"
    UNDERSIDE = "underside"

    @property
    def label(self) -> str:
        return {"middle": "half way up the edge", "underside": "along the lower edge"}[self.value]


SHORTEST_COVE = 15.0
"""Shorter ones give fingers no hold, mm."""


class Cove(Carving):
    """Finger coves: a round channel of ``radius`` along the middle of an edge, ``length`` mm between its round ends, or
    ending ``ends`` mm from both ends of the edge, reaching ``depth`` mm in. Handle coves are no deeper than half the
    thickness."""

    title: ClassVar[str] = "Finger coves"
    verb: ClassVar[str] = "Rout finger coves"

    kind: Literal["cove"] = "cove"
    sides: Sides = choice(Sides.LEFT_RIGHT, label="Edges", help="Which edges get one.")
    at: Height = choice(Height.MIDDLE, label="At", help="Where the cove's middle lies.")
    length: float = millimetres(100.0, label="Length", help="Over all.", least=SHORTEST_COVE, most=1000)
    ends: float | None = millimetres(
        None, label="From the ends", help="Of the edge; given, it counts instead of the length.", least=1, most=1000
    )
    radius: float = millimetres(9.5, label="Radius", help="Of the bit.", least=2, most=40)
    depth: float = millimetres(8.0, label="Depth", help="Into the edge.", least=0.5, most=40)

    @property
    def idle(self) -> frozenset[str]:
        """The length, where its ends are given."""
        return frozenset({"length"} if self.ends is not None else set())

    def long(self, edge: float) -> float:
        """How long a cove is on an edge of this length, mm."""
        return self.length if self.ends is None else edge - 2 * self.ends

    def tools(self, low: Floats, high: Floats) -> list[Tool]:
        thickness = float(high[2] - low[2])
        if self.at is Height.MIDDLE and (opening := self._opening()) > thickness - 2:
            raise StageError(
                self.id, "A cove {opening} high does not fit an edge {thickness} thick.",
                "Take a smaller radius, or rout it along the underside.",
                "radius", opening=opening, thickness=thickness,
            )  # fmt: skip
        return [tool for side in self.sides.each for tool in self._on(side, low, high)]

    def _opening(self) -> float:
        r, d = self.radius, min(self.depth, self.radius)
        return 2 * math.sqrt(r * r - (r - d) ** 2)

    def _on(self, side: BoardEdge, low: Floats, high: Floats) -> list[Tool]:
        axis, run = side.axis, 1 - side.axis
        room = float(high[run] - low[run])
        length = self.long(room)
        if length < SHORTEST_COVE:
            raise StageError(
                self.id, f"{{ends}} from both ends leaves {{length}} of the {side.value} edge of {{room}}.",
                "Stay {most} or less from the ends.", "ends", ends=self.ends or 0.0, length=max(length, 0.0), room=room,
                most=(room - SHORTEST_COVE) / 2,
            )  # fmt: skip
        if length > room - 2:
            raise StageError(
                self.id, f"A cove {{length}} long does not fit the {side.value} edge of {{room}}.",
                "Keep it under {most}.", "length", length=length, room=room, most=room - 2,
            )  # fmt: skip
        out, along = np.zeros(3), np.zeros(3)
        out[axis], along[run] = side.outwards, 1.0
        centre = (low + high) / 2
        centre[axis] = (high if side.outwards > 0 else low)[axis] + side.outwards * (self.radius - self.depth)
        centre[2] = low[2] if self.at is Height.UNDERSIDE else centre[2]
        half = max(length / 2 - self.radius, 0.0)
        ends = [centre - along * half, centre + along * half]
        base = np.stack([out, np.array([0.0, 0.0, 1.0]), along])
        n = facets(self.radius)
        angle = np.arange(n // 2 + 1) * (2 * math.pi / n) - math.pi / 2
        ball = self.radius * np.stack([np.cos(angle), np.sin(angle)], axis=1)
        return [
            Section.of(circle(self.radius)).between(base, centre, np.stack([-along, along]), np.stack(ends)),
            *(revolved(ball, np.array([0.0, 0.0, 1.0]), end, n) for end in ends),
        ]


class Notch(Carving):
    """A notch through the whole thickness, ``width`` along an edge and ``depth`` into it, with inner corners of
    ``radius``; its middle lies ``shift`` mm from the edge's."""

    title: ClassVar[str] = "Notch"
    verb: ClassVar[str] = "Cut notches"

    kind: Literal["notch"] = "notch"
    sides: Sides = choice(Sides.LEFT_RIGHT, label="Edges", help="Which edges get one.")
    width: float = millimetres(90.0, label="Width", help="Along the edge.", least=4, most=1000)
    depth: float = millimetres(20.0, label="Depth", help="Into the board.", least=1, most=300)
    radius: float = millimetres(10.0, label="Corner radius", help="Of the inner corners.", least=0, most=300)
    shift: float = millimetres(0.0, label="Shift", help="From the middle of the edge.", least=-1000, most=1000)

    def tools(self, low: Floats, high: Floats) -> list[Tool]:
        out = []
        for side in self.sides.each:
            axis, run = side.axis, 1 - side.axis
            if self.depth > float(high[axis] - low[axis]) / 2:
                raise StageError(
                    self.id, "A notch {depth} deep cuts the board in two.", "Keep it to {most} or less.",
                    "depth", depth=self.depth, most=float(high[axis] - low[axis]) / 2,
                )  # fmt: skip
            near, far = np.zeros(2), np.zeros(2)
            middle = float(low[run] + high[run]) / 2 + self.shift
            near[run], far[run] = middle - self.width / 2, middle + self.width / 2
            edge = float((high if side.outwards > 0 else low)[axis])
            # the outer corners lie beyond the edge, so that only the inner ones are round in the wood
            reach = self.radius + CLEAR
            inner, outer = edge - side.outwards * self.depth, edge + side.outwards * reach
            near[axis], far[axis] = min(inner, outer), max(inner, outer)
            corners = rounded_rectangle(near, far, min(self.radius, self.width / 2, self.depth))
            out.append(upright(corners, float(low[2]) - CLEAR, float(high[2]) + CLEAR))
        return out


class Rabbet(Carving):
    """A step along edges, ``width`` mm in from the edge and ``depth`` mm from the face: under a board that sits over
    a sink, or on top."""

    title: ClassVar[str] = "Rabbet"
    verb: ClassVar[str] = "Cut a rabbet"

    kind: Literal["rabbet"] = "rabbet"
    sides: Sides = choice(Sides.LEFT_RIGHT, label="Edges", help="Which edges get one.")
    width: float = millimetres(15.0, label="Width", help="In from the edge.", least=1, most=300)
    depth: float = millimetres(10.0, label="Depth", help="From the face.", least=0.5, most=100)
    face: Surface = choice(Surface.BOTTOM, label="In", help="Which face is worked.")

    def tools(self, low: Floats, high: Floats) -> list[Tool]:
        self.check_floor(self.depth, low, high, "A rabbet")
        out = []
        for side in self.sides.each:
            axis = side.axis
            if self.width > float(high[axis] - low[axis]) / 2:
                raise StageError(
                    self.id, "A rabbet {width} wide meets its neighbour.", "Keep it under {most}.",
                    "width", width=self.width, most=float(high[axis] - low[axis]) / 2,
                )  # fmt: skip
            near, far = low - CLEAR, high + CLEAR
            if side.outwards > 0:
                near[axis] = high[axis] - self.width
            else:
                far[axis] = low[axis] + self.width
            if self.face is Surface.TOP:
                near[2] = high[2] - self.depth
            else:
                far[2] = low[2] + self.depth
            out.append(box(near, far))
        return out
