"""Well: a flat-bottomed pocket, most often in a corner, where a groove drains to."""

from __future__ import annotations

from enum import StrEnum
from typing import ClassVar, Literal

import numpy as np

from ..errors import StageError
from ..fields.spec import choice, millimetres
from ..geometry.cutters import CLEAR, upright
from ..geometry.outlines import rounded_rectangle
from ..solid import Floats, Tool
from .carving import Carving, Surface, surface_height


class Place(StrEnum):
    """Where on the face, seen from above."""

    BACK_LEFT = "back-left"
    BACK_RIGHT = "back-right"
    FRONT_LEFT = "front-left"
    FRONT_RIGHT = "front-right"
    MIDDLE = "middle"

    @property
    def label(self) -> str:
        return {
            "back-left": "far left corner", "back-right": "far right corner", "front-left": "near left corner",
            "front-right": "near right corner", "middle": "middle",
        }[self.value]  # fmt: skip

    @property
    def pull(self) -> tuple[float, float]:
        """−1, 0 or 1 along x and y."""
        return {
            "back-left": (-1.0, 1.0), "back-right": (1.0, 1.0), "front-left": (-1.0, -1.0),
            "front-right": (1.0, -1.0), "middle": (0.0, 0.0),
        }[self.value]  # fmt: skip


class Well(Carving):
    """Rout a pocket ``width`` × ``length`` × ``depth`` mm with round corners, ``inset`` mm from the edges of a corner
    or in the middle. It must lie lower than a groove that drains into it."""

    title: ClassVar[str] = "Well"
    verb: ClassVar[str] = "Rout a well"

    kind: Literal["well"] = "well"
    place: Place = choice(Place.FRONT_RIGHT, label="Place", help="Seen from above.")
    inset: float = millimetres(15.0, label="Inset", help="From the edges to the well.", least=0, most=500)
    width: float = millimetres(60.0, label="Width", help="From left to right.", least=6, most=1000)
    length: float = millimetres(60.0, label="Length", help="From front to back.", least=6, most=1000)
    radius: float = millimetres(10.0, label="Corner radius", help="At least that of the bit.", least=1, most=500)
    depth: float = millimetres(10.0, label="Depth", help="Deeper than the groove.", least=0.5, most=100)
    face: Surface = choice(Surface.TOP, label="In", help="Which face is worked.")

    def tools(self, low: Floats, high: Floats) -> list[Tool]:
        self.check_floor(self.depth, low, high, "A well")
        size, room = np.array([self.width, self.length]), high[:2] - low[:2]
        for axis, name in ((0, "width"), (1, "length")):
            if size[axis] + 2 * self.inset > room[axis] + 1e-9:
                raise StageError(
                    self.id,
                    f"A well {{size}} in {name} and {{inset}} from the edges does not fit on {{room}}.",
                    "Keep it to {most} or less.",
                    name, size=float(size[axis]), inset=self.inset, room=float(room[axis]),
                    most=max(float(room[axis]) - 2 * self.inset, 0.0),
                )  # fmt: skip
        corners = self.outline(low, high)
        surface, up = surface_height(self.face, low, high), self.face.up
        floor, above = surface - up * self.depth, surface + up * CLEAR
        return [upright(corners, min(floor, above), max(floor, above))]

    def outline(self, low: Floats, high: Floats) -> Floats:
        """The pocket seen from above on a board with this box, corners (k, 2) anticlockwise, mm."""
        size, room = np.array([self.width, self.length]), high[:2] - low[:2]
        centre = (low[:2] + high[:2]) / 2 + np.array(self.place.pull) * (room / 2 - self.inset - size / 2)
        return rounded_rectangle(centre - size / 2, centre + size / 2, min(self.radius, float(size.min()) / 2))
