"""Tools of a router: what their tip leaves, and how fast they go in which wood.

Chip loads and depths are plain limits from general practice with small routers; the data sheet of the tool and the
manual of the machine have the last word.
"""

from __future__ import annotations

import math
from collections.abc import Iterable
from enum import StrEnum
from typing import Self

import numpy as np
from pydantic import BaseModel, ConfigDict, Field, model_validator

from ..solid import Floats


class ToolKind(StrEnum):
    """The shape of a tip."""

    FLAT = "flat"
    BALL = "ball"
    VEE = "vee"
    BOWL = "bowl"

    @property
    def label(self) -> str:
        return {"flat": "flat end", "ball": "ball nose", "vee": "V", "bowl": "bowl, with round corners"}[self.value]


class Tool(BaseModel):
    """A tool by its ``number``: diameter, of a bowl bit the radius of its corners, of a V the angle between its flanks
    (degrees), how many edges it has, how long these are, and how wide what holds it is, mm."""

    model_config = ConfigDict(frozen=True, extra="forbid", allow_inf_nan=False)

    number: int = Field(ge=1, le=99, title="Tool")
    kind: ToolKind = Field(title="Kind")
    diameter: float = Field(ge=0.5, le=120, title="Diameter")
    corner: float = Field(0.0, ge=0, le=60, title="Corner radius")
    angle: float = Field(90.0, ge=20, le=170, title="Angle")
    flutes: int = Field(2, ge=1, le=8, title="Edges")
    reach: float = Field(25.0, ge=1, le=200, title="Cutting length")
    holder: float = Field(40.0, ge=4, le=150, title="Holder")

    @model_validator(mode="after")
    def _round(self) -> Self:
        if self.kind is ToolKind.BOWL and not 0 < self.corner <= self.diameter / 2:
            raise ValueError("a bowl bit has corners with a radius of half its diameter at most")
        return self

    @property
    def radius(self) -> float:
        """Half its diameter, mm."""
        return self.diameter / 2

    def rise(self, out: Floats) -> Floats:
        """How far its edge lies above its tip, mm, at distances from its axis (mm) within its radius."""
        if self.kind is ToolKind.BALL:
            return np.asarray(self.radius - np.sqrt(np.maximum(self.radius**2 - out**2, 0.0)))
        if self.kind is ToolKind.VEE:
            return np.asarray(out / math.tan(math.radians(self.angle) / 2))
        if self.kind is ToolKind.BOWL:
            past = np.maximum(out - (self.radius - self.corner), 0.0)
            return np.asarray(self.corner - np.sqrt(np.maximum(self.corner**2 - past**2, 0.0)))
        return np.zeros_like(out)

    @property
    def name(self) -> str:
        """As a header says it."""
        more = {ToolKind.VEE: f" {self.angle:g}°", ToolKind.BOWL: f", corners {self.corner:g}"}.get(self.kind, "")
        return f"T{self.number} {self.kind.label} {self.diameter:g} mm{more}"


USUAL: tuple[Tool, ...] = (
    Tool(number=1, kind=ToolKind.FLAT, diameter=6.0, reach=45.0, holder=40.0),
    Tool(number=2, kind=ToolKind.BALL, diameter=12.0, reach=32.0, holder=40.0),
    Tool(number=3, kind=ToolKind.VEE, diameter=12.0, angle=90.0, reach=6.0, holder=40.0),
    Tool(number=4, kind=ToolKind.BOWL, diameter=19.0, corner=6.0, reach=16.0, holder=40.0),
    Tool(number=5, kind=ToolKind.FLAT, diameter=25.0, flutes=3, reach=12.0, holder=40.0),
    Tool(number=6, kind=ToolKind.BALL, diameter=10.0, reach=28.0, holder=40.0),
)
"""A small table to begin with."""


class ToolError(ValueError):
    """No tool of the table can do a thing; ``mm`` fills the lengths in."""

    def __init__(self, words: str, **mm: float) -> None:
        super().__init__(words)
        self.mm = mm


def fitting(tools: Iterable[Tool], kind: ToolKind, *, most: float = 1e9, exactly: float | None = None) -> Tool:
    """The widest tool of a kind up to ``most`` mm, or the one of ``exactly`` so much. Raises ToolError in words."""
    some = [tool for tool in tools if tool.kind is kind and tool.diameter <= most + 1e-6]
    if exactly is not None:
        some = [tool for tool in some if abs(tool.diameter - exactly) < 0.01]
    if not some:
        size = " of {size}" if exactly is not None else " of {size} or less" if most < 1e9 else ""
        raise ToolError(f"the tool table has no {kind.label}{size}: add one", size=exactly or most)
    return max(some, key=lambda tool: tool.diameter)


CHIP: tuple[tuple[float, float, float], ...] = (
    (3000, 0.012, 0.6), (6000, 0.010, 0.5), (9000, 0.008, 0.4), (1e9, 0.006, 0.3),
)  # fmt: skip
"""Up to which side hardness (N): chip per edge and depth of a pass, both as shares of the tool's diameter."""

LEAST_CHIP, MOST_CHIP = 0.02, 0.25
"""A chip thinner than this (mm) only rubs and burns; a thicker one is too much for a small spindle."""


class Speeds(BaseModel):
    """Spindle in turns a minute, feed and plunge in mm/min, depth of a pass in mm."""

    model_config = ConfigDict(frozen=True)

    spindle: int
    feed: float
    plunge: float
    depth: float


def speeds(tool: Tool, hardness: float, spindle: int, fastest: float) -> Speeds:
    """For a wood of this side hardness (N) at a spindle speed, no faster than the machine feeds (mm/min): turns ×
    edges × chip."""
    _, chip, deep = next(row for row in CHIP if hardness <= row[0])
    wide = tool.diameter if tool.kind is not ToolKind.VEE else tool.diameter / 2
    thick = min(max(chip * wide, LEAST_CHIP), MOST_CHIP)
    feed = min(spindle * tool.flutes * thick, fastest)
    return Speeds(
        spindle=spindle, feed=round(feed), plunge=round(feed / 3), depth=round(min(deep * wide, tool.reach), 2)
    )
