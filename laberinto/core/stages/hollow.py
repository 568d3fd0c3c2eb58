"""Hollow: a dish for a curved knife, part of a sphere or of a cylinder."""

from __future__ import annotations

import math
from enum import StrEnum
from typing import Annotated, ClassVar, Literal

import numpy as np
from pydantic import Field

from ..errors import StageError
from ..fields.spec import choice, listed, millimetres
from ..geometry.cutters import CLEAR, Section, cap, facets
from ..solid import Floats, Tool
from .carving import Carving, Surface, middle, surface_height

Offset = Annotated[float, Field(ge=-2000, le=2000)]


class Form(StrEnum):
    """The surface of the hollow."""

    SPHERE = "sphere"
    CYLINDER_ALONG = "cylinder-along"
    CYLINDER_ACROSS = "cylinder-across"

    @property
    def label(self) -> str:
        return {
            "sphere": "sphere",
            "cylinder-along": "cylinder, along the length",
            "cylinder-across": "cylinder, across the width",
        }[self.value]


class Hollow(Carving):
    """Hollow a face to a ``radius``, ``depth`` mm deep in the middle, shifted by ``offset`` (x, y) from the board's.
    The radius must exceed that of the knife; across the hollow it measures 2 √(2 r d − d²)."""

    title: ClassVar[str] = "Hollow"
    verb: ClassVar[str] = "Hollow the face"

    kind: Literal["hollow"] = "hollow"
    form: Form = choice(Form.SPHERE, label="Form", help="Of the hollow's surface.")
    radius: float = millimetres(300.0, label="Radius", help="More than that of the knife.", least=20, most=3000)
    depth: float = millimetres(12.0, label="Depth", help="At its deepest.", least=0.5, most=100)
    knife: float | None = millimetres(None, label="Knife’s radius", help="Of the blade’s curve.", least=20, most=3000)
    offset: tuple[Offset, Offset] = listed(
        "point", label="Off the middle", help="To the right × away from you: 20 × -15.", default=(0.0, 0.0)
    )
    face: Surface = choice(Surface.TOP, label="In", help="Which face is worked.")

    @property
    def idle(self) -> frozenset[str]:
        """The knife is only held against it."""
        return frozenset({"knife"})

    @property
    def across(self) -> float:
        """How wide the hollow is at the surface, mm: twice the half chord of an arc of this rise."""
        return 2 * math.sqrt(max(2 * self.radius * self.depth - self.depth**2, 0.0))

    def tools(self, low: Floats, high: Floats) -> list[Tool]:
        self.check_floor(self.depth, low, high, "A hollow")
        if self.depth > self.radius:
            raise StageError(
                self.id, "A hollow {depth} deep is deeper than its radius of {radius}.", "Keep it to {radius} or less.",
                "depth", depth=self.depth, radius=self.radius,
            )  # fmt: skip
        surface, up = surface_height(self.face, low, high), self.face.up
        centre = np.array([*(middle(low, high) + np.array(self.offset)), surface])
        rise = np.array([0.0, 0.0, up])
        if self.form is Form.SPHERE:
            return [cap(self.radius, self.depth, rise, centre)]
        arc = self._arc()
        along = np.array([0.0, 1.0, 0.0] if self.form is Form.CYLINDER_ALONG else [1.0, 0.0, 0.0])
        section = np.concatenate([arc, (arc * [-1.0, 1.0])[:0:-1]])
        return [Section.of(section).endless(np.stack([np.cross(along, rise), rise, along]), centre)]

    def _arc(self) -> Floats:
        """From the deepest point outwards and up to just above the surface: (out, up), (m, 2)."""
        low, r = self.depth, self.radius
        step = 2 * math.pi / facets(r)
        end = math.acos(max((r - low - CLEAR) / r, 0.0))
        angle = np.linspace(0.0, end, max(math.ceil(end / step), 2) + 1)
        return np.stack([r * np.sin(angle), r - low - r * np.cos(angle)], axis=1)
