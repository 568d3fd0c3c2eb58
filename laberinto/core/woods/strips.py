"""Strips: one wood, one frame of grain. Every cell of a board comes from one."""

from __future__ import annotations

import hashlib
import math
import struct
from dataclasses import dataclass
from enum import StrEnum

from pydantic import BaseModel, ConfigDict, Field

from . import Tone, Wood


class Rings(BaseModel):
    """Where a strip sat in its tree, in the strip's own coordinates (mm from its corner).

    ``heart`` is the pith as (x across the width, z through the thickness); it may lie far outside the
    strip. ``spacing`` is the mean ring width in mm; ``seed`` picks the small irregularities. Beyond ``sapwood`` mm
    from the heart the wood is sapwood, paler than the heartwood; where it is None there is none.
    """

    model_config = ConfigDict(frozen=True, extra="forbid", allow_inf_nan=False)

    heart: tuple[float, float]
    spacing: float = Field(gt=0.2, lt=15)
    seed: int = Field(ge=0, lt=2**32)
    sapwood: float | None = Field(default=None, gt=0, lt=5000)


@dataclass(frozen=True, slots=True)
class Strip:
    """A strip: its number in the plan, the mark on its end, wood, size in mm, and rings. One that is taken as it grew
    or was bent has the size of the box round it, and its ``solid`` volume in mm³."""

    number: int
    mark: int
    wood: str
    width: float
    thickness: float
    length: float
    rings: Rings
    solid: float | None = None

    @property
    def volume(self) -> float:
        """mm³ before anything is cut from it."""
        return self.solid if self.solid is not None else self.width * self.thickness * self.length


class Sawn(StrEnum):
    """How a strip was sawn from its log: rings along its width, aslant, or standing on it."""

    FLAT = "flat"
    RIFT = "rift"
    QUARTER = "quarter"

    @property
    def heart(self) -> float:
        """Where the heart lies from the strip's middle, degrees: below, below to the left, or left."""
        return {"flat": 270.0, "rift": 225.0, "quarter": 180.0}[self.value]


def rings_for(
    wood: Wood, mark: int, width: float, thickness: float, sawn: Sawn | None = None, *, sapwood: bool = False
) -> Rings:
    """Rings for a strip that states none: as sawn from a log, drawn by wood and mark.

    The same wood and mark always give the same rings, so a strip keeps its face when it is moved. Where ``sawn`` is
    given the heart lies where that puts it, give or take a few degrees. With ``sapwood`` the corner that lay nearest to
    the bark is pale; woods that are light all through show no edge there.
    """
    # a digest is spread as evenly as random numbers are, and stays the same whatever library draws them
    digest = hashlib.blake2b(f"{wood.key}:{mark}".encode(), digest_size=24).digest()
    *numbers, seed = struct.unpack("<6I", digest)
    turned, far, wide, _, deep = (number / 2**32 for number in numbers)
    angle = math.tau * turned
    away = 20 + 90 * far
    if sawn is not None:
        angle = math.radians(sawn.heart + 16 * (angle / math.tau - 0.5))
        away += max(width, thickness) / 2
    heart = (width / 2 + away * math.cos(angle), thickness / 2 + away * math.sin(angle))
    pale = None
    if sapwood and wood.tone is not Tone.LIGHT:
        outermost = max(math.hypot(x - heart[0], z - heart[1]) for x in (0.0, width) for z in (0.0, thickness))
        pale = round(outermost - (0.06 + 0.14 * deep) * math.hypot(width, thickness), 2)
    return Rings(
        heart=(round(heart[0], 2), round(heart[1], 2)), spacing=round(wood.spacing * (0.8 + 0.45 * wide), 3),
        seed=seed, sapwood=pale,
    )  # fmt: skip
