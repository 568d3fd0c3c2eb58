"""Hollowed: a board with a bowl or a trough in its face for a curved knife."""

from __future__ import annotations

import math
from enum import StrEnum
from typing import ClassVar

from ..errors import InputError
from ..fields.spec import choice, millimetres, whole, wood
from ..geometry.cutters import FACET
from ..plan.simulate import Simulation
from ..stages import Hollow, Stage, StripSpec
from .model import Family, Handles, Truth, alternating

SHALLOWEST = 2.0
"""Depth of a hollow, mm."""

FLOOR = 12.0
"""Least wood left under a hollow, mm."""


class Form(StrEnum):
    """What the hollow is part of."""

    BOWL = "bowl"
    TROUGH = "trough"

    @property
    def label(self) -> str:
        return {"bowl": "a round bowl", "trough": "a trough from edge to edge"}[self.value]

    @property
    def cut(self) -> str:
        """As the stage calls it."""
        return {"bowl": "sphere", "trough": "cylinder-along"}[self.value]


class Hollowed(Family):
    """Squares flipped every other row, and a hollow whose radius exceeds that of the ``knife``: a bowl, or a trough
    that runs away from you."""

    key: ClassVar[str] = "hollowed"
    title: ClassVar[str] = "Hollowed"
    summary: ClassVar[str] = "A bowl or a trough in the face, a little flatter than the knife that rocks in it."
    handles: ClassVar[Handles] = Handles("strips", "slices", ("cell",), ("cell",), across_step=2)

    light: str = wood("pear", label="Light wood")
    dark: str = wood("bog-oak", label="Dark wood")
    form: Form = choice(Form.TROUGH, label="Hollow", help="What is cut out.")
    strips: int = whole(8, label="Strips", help="An even number.", least=2, most=40)
    cell: float = millimetres(32.0, label="Square", help="Side of each square.", least=10, most=100)
    slices: int = whole(8, label="Slices", help="Each becomes one row.", least=2, most=60)
    knife: float = millimetres(170.0, label="Knife radius", help="Of its curved edge.", least=50, most=800)
    depth: float = millimetres(14.0, label="Depth", help="Of the hollow in the middle.", least=SHALLOWEST, most=60)

    @property
    def radius(self) -> float:
        """Of the hollow: a tenth more than the knife's, so that the edge rocks."""
        return round(self.knife * 1.1, 1)

    @property
    def rim(self) -> float:
        """Radius of the hollow's rim, mm: the half chord of a rise of ``depth``."""
        return math.sqrt(max(2 * self.radius * self.depth - self.depth**2, 0.0))

    def check(self) -> None:
        super().check()
        self.even()
        if self.thickness < FLOOR + SHALLOWEST:
            raise InputError(
                "A board {thick} thick is too thin to be hollowed. Take {most} or more.", "thickness",
                thick=self.thickness, most=FLOOR + SHALLOWEST,
            )  # fmt: skip
        if self.thickness - self.depth < FLOOR:
            raise InputError(
                "A hollow {depth} deep leaves {left} of a board {thick} thick. Take {most} or less.", "depth",
                depth=self.depth, left=self.thickness - self.depth, thick=self.thickness, most=self.thickness - FLOOR,
            )  # fmt: skip
        room = min(self.strips, self.slices) * self.cell / 2 - self.edge
        if self.rim > room - 5:
            r, c = self.radius, room - 5
            most = math.floor((r - math.sqrt(max(r * r - c * c, 0.0))) * 10) / 10 if c > 0 else 0.0
            if most < SHALLOWEST:
                few = "strips" if self.strips <= self.slices else "slices"
                need = math.ceil(2 * (self.rim + 5 + self.edge) / self.cell)
                raise InputError(
                    f"This hollow is {{across}} across and does not fit a board of {{there}}. Take {need + need % 2} "
                    f"{few} or more, or larger squares.", few, across=2 * self.rim, there=2 * room,
                )  # fmt: skip
            raise InputError(
                "This hollow is {across} across and does not fit a board of {there}. Make it {most} deep or less.",
                "depth", across=2 * self.rim, there=2 * room, most=most,
            )  # fmt: skip

    def stages(self) -> list[Stage]:
        strips = alternating(
            self.strips, StripSpec(wood=self.light, width=self.cell), StripSpec(wood=self.dark, width=self.cell)
        )
        dish = Hollow(id="hollow", form=self.form.cut, radius=self.radius, depth=self.depth)  # fmt: skip
        return [*self.laminate(strips, self.cell, self.slices), *self.laid("flip-every-other"), *self.finished(dish)]

    def truths(self, sim: Simulation) -> tuple[Truth, ...]:
        """A cap of a sphere is gone, π depth² (3 radius − depth) / 3, or the segment of a circle all along, radius² ×
        (angle − sin angle) / 2; facets lie up to ``FACET`` off the curve, wherever there is a hollow."""
        gone = sim["trimmed"].volume - sim["hollow"].volume
        if self.form is Form.BOWL:
            true, over = math.pi * self.depth**2 * (3 * self.radius - self.depth) / 3, math.pi * self.rim**2
        else:
            angle = 2 * math.acos(1 - self.depth / self.radius)
            length = sim["trimmed"].size[1]
            true, over = self.radius**2 * (angle - math.sin(angle)) / 2 * length, 2 * self.rim * length
        off = max(abs(gone - true) - FACET * over, 0.0) / true
        return (Truth("hollow as deep and round as it should be", off, ""),)
