"""Groove: a channel for juice, all round or in open runs."""

from __future__ import annotations

import math
from enum import StrEnum
from itertools import pairwise
from typing import Annotated, ClassVar, Literal

import numpy as np
from pydantic import Field, model_validator

from ..errors import StageError
from ..fields.spec import choice, listed, millimetres, number
from ..geometry.cutters import circle, round_profile, run_along, vee_profile
from ..geometry.outlines import rounded_rectangle
from ..solid import Floats, Tool
from .carving import Carving, Surface, middle, surface_height

Coordinate = Annotated[float, Field(ge=-3000, le=3000)]


MOST_POINTS = 40
"""Points of all runs of one groove together, so that it is carved while one waits."""


Run = Annotated[tuple[tuple[Coordinate, Coordinate], ...], Field(min_length=2, max_length=MOST_POINTS)]


class Path(StrEnum):
    """Where the middle of the groove runs."""

    RING = "ring"
    CIRCLE = "circle"
    RUNS = "runs"

    @property
    def label(self) -> str:
        return {"ring": "all round, along the edges", "circle": "a circle", "runs": "open runs"}[self.value]


class Corners(StrEnum):
    """How the router is guided, which makes the corners of a ring."""

    INSIDE = "inside-template"
    OUTSIDE = "outside-template"

    @property
    def label(self) -> str:
        return {"inside-template": "inside a template: square turns", "outside-template": "round a template: arcs"}[
            self.value
        ]


class Bit(StrEnum):
    """Section of the groove."""

    ROUND = "round"
    VEE = "vee"

    @property
    def label(self) -> str:
        return {"round": "round nose", "vee": "vee"}[self.value]


class Groove(Carving):
    """Rout a groove ``depth`` mm deep. Its middle runs ``inset`` mm inside the edges as a closed ring or a circle, or
    along ``runs``: lists of (x, y) points in mm from the near left corner; runs that leave the board are open-ended.
    A round bit of ``width`` mm, or a vee of ``angle`` degrees. Inside a template the ring turns square; guided round
    one it turns in arcs of ``corner_radius``."""

    title: ClassVar[str] = "Groove"
    verb: ClassVar[str] = "Rout a groove"
    drawn: ClassVar[tuple[tuple[str, str, str], ...]] = (("runs", "path", "runs"),)

    kind: Literal["groove"] = "groove"
    path: Path = choice(Path.RING, label="Path", help="Of the groove's middle.")
    inset: float = millimetres(20.0, label="Inset", help="From the edge to the groove's middle.", least=3, most=500)
    runs: tuple[Run, ...] = listed(
        "runs", label="Open runs", help="From the near left corner: 20 × 0, 20 × 200; 60 × 0, 60 × 200.",
        max_length=20,
    )  # fmt: skip
    corners: Corners = choice(Corners.OUTSIDE, label="Corners", help="How the router is guided.")
    corner_radius: float = millimetres(15.0, label="Corner radius", help="Of the arcs.", least=1, most=400)
    bit: Bit = choice(Bit.ROUND, label="Bit", help="Section of the groove.")
    width: float = millimetres(
        12.0, label="Bit width", help="Of a round nose; its radius is half of it.", least=2, most=60
    )
    angle: float = number(90.0, label="Vee angle", help="Between the flanks of a vee.", least=30, most=150, unit="°")
    depth: float = millimetres(6.0, label="Depth", help="At the groove's deepest.", least=0.5, most=60)
    face: Surface = choice(Surface.TOP, label="In", help="Which face is worked.")

    @model_validator(mode="after")
    def _has_path(self) -> Groove:
        if bool(self.runs) != (self.path is Path.RUNS):
            raise ValueError("give runs exactly where the path is “runs”")
        if (points := sum(len(run) for run in self.runs)) > MOST_POINTS:
            raise ValueError(f"the runs have {points} points; a groove may have {MOST_POINTS} in all")
        for run in self.runs:
            if any(math.dist(a, b) < 0.1 for a, b in pairwise(run)):
                raise ValueError("a run holds the same point twice")
        return self

    @property
    def top_width(self) -> float:
        """Width of the groove at the surface, mm."""
        if self.bit is Bit.VEE:
            return 2 * self.depth * math.tan(math.radians(self.angle) / 2)
        r = self.width / 2
        return self.width if self.depth >= r else 2 * math.sqrt(r * r - (r - self.depth) ** 2)

    @property
    def idle(self) -> frozenset[str]:
        """Runs lie where they are drawn, only a ring round a template has arcs, and each bit has its own measure."""
        ring, arcs = self.path is Path.RING, self.corners is Corners.OUTSIDE
        placed = {"inset"} if self.path is Path.RUNS else set()
        turns = set() if ring and arcs else {"corner_radius"} if ring else {"corners", "corner_radius"}
        return frozenset(placed | turns | {"angle" if self.bit is Bit.ROUND else "width"})

    def tools(self, low: Floats, high: Floats) -> list[Tool]:
        self.check_floor(self.depth, low, high, "A groove")
        profile = (
            round_profile(self.width / 2, self.depth) if self.bit is Bit.ROUND else vee_profile(self.angle, self.depth)
        )
        surface, up = surface_height(self.face, low, high), self.face.up
        if self.path is Path.RUNS:
            return [t for run in self.runs for t in run_along(np.array(run) + low[:2], profile, surface, up)]
        narrow = float((high - low)[:2].min())
        if self.inset + self.top_width / 2 >= narrow / 2:
            raise StageError(
                self.id,
                "A groove {inset} from the edges leaves nothing within on a board {narrow} across.",
                "Keep the inset under {most}.",
                "inset", inset=self.inset, narrow=narrow, most=max(narrow / 2 - self.top_width / 2, 0.0),
            )  # fmt: skip
        return run_along(self.ring(low, high), profile, surface, up, closed=True)

    def ring(self, low: Floats, high: Floats) -> Floats:
        """The middle of a closed groove on a board with this box, corners (k, 2) anticlockwise, mm."""
        if self.path is Path.CIRCLE:
            return circle(float((high - low)[:2].min()) / 2 - self.inset, *(float(v) for v in middle(low, high)))
        return rounded_rectangle(low[:2] + self.inset, high[:2] - self.inset, self.bend(low, high))

    def bend(self, low: Floats, high: Floats) -> float:
        """The radius of the arcs at the corners of its middle, of a circle its own; 0 where it turns square, mm."""
        within = float((high - low)[:2].min()) / 2 - self.inset
        if self.path is Path.CIRCLE:
            return within
        return 0.0 if self.corners is Corners.INSIDE else min(self.corner_radius, within)
