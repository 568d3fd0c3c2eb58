"""Brick: bricks and mortar in running bond, with end-grain mortar rows."""

from __future__ import annotations

import math
from typing import ClassVar

from ..errors import InputError
from ..fields.spec import millimetres, whole, wood
from ..plan.simulate import Simulation
from ..stages import Arrange, Glue, Mill, Stage, StripSpec
from .model import Family, Handles, Truth, alternating

MORTAR_STRIP = 80.0
"""Widest strip that mortar rows are glued up from, mm."""


class Brick(Family):
    """Strips: half a brick, mortar, brick, mortar, … brick; flipped every other course the joints fall half a pitch
    apart. Rows of mortar, made at the same setting as the mortar strips, lie between the courses."""

    key: ClassVar[str] = "brick"
    title: ClassVar[str] = "Brick"
    summary: ClassVar[str] = "Bricks with thin mortar: half a brick at one edge, so that a flip gives running bond."
    handles: ClassVar[Handles] = Handles("bricks", "courses", ("brick",), ("course",))

    light: str = wood("sycamore", label="Mortar wood")
    mid: str = wood("pear", label="Brick wood")
    brick: float = millimetres(54.0, label="Brick length", help="Across the board.", least=15, most=200)
    course: float = millimetres(26.0, label="Brick height", help="The panel's thickness once flat.", least=8, most=120)
    mortar: float = millimetres(6.0, label="Mortar", help="Strips and rows alike.", least=3, most=40)
    bricks: int = whole(5, label="Whole bricks", help="In a course, beside the half.", least=1, most=30)
    courses: int = whole(10, label="Courses", help="Rows of bricks.", least=2, most=60)

    @property
    def half(self) -> float:
        """Half a brick less half the mortar: the joints of two courses fall half a pitch apart."""
        return (self.brick - self.mortar) / 2

    def check(self) -> None:
        super().check()
        if self.mortar > min(self.brick, self.course) / 2:
            raise InputError(
                "Mortar of {mortar} is too thick for bricks of {brick} × {course}. Take {most} or less.", "mortar",
                mortar=self.mortar, brick=self.brick, course=self.course, most=min(self.brick, self.course) / 2,
            )  # fmt: skip

    def stages(self) -> list[Stage]:
        mortar = StripSpec(wood=self.light, width=self.mortar)
        brick = StripSpec(wood=self.mid, width=self.brick)
        strips = [
            brick.model_copy(update={"width": self.half, "mark": 1}),
            *alternating(2 * self.bricks, mortar, brick),
        ]
        width = self.half + self.bricks * (self.mortar + self.brick)
        count = math.ceil(width / MORTAR_STRIP)
        rows = self.courses - 1
        return [
            *self.laminate(
                [s.model_copy(update={"mark": i + 1}) for i, s in enumerate(strips)], self.course, self.courses
            ),
            Mill(
                id="mortar",
                thickness=self.mortar,
                length=self.panel_for(rows),
                strips=[StripSpec(wood=self.light, width=width / count, count=count, mark=101)],
            ),
            Glue(id="mortar-panel", source="mortar"),
            self.sliced("mortar-panel", rows, "mortar-slices"),
            # brick, mortar, brick, mortar: mirrored pairs flip every other course
            Arrange(id="rows", source="slices", also=["mortar-slices"], rule="mirrored-pairs", panels="alternate"),
            Glue(id="board", source="rows", across="length", clamp_hours=24),
            *self.finished(),
        ]

    def truths(self, sim: Simulation) -> tuple[Truth, ...]:
        """Joints of neighbouring courses lie half a pitch apart, and mortar is one thickness both ways."""
        strips = sim["strips"].outcome.strips
        pitch = strips[1].width + strips[2].width
        over = strips[2].width - strips[0].width
        rows = float(sim["mortar-slices"].size[2])
        return (
            Truth("half bricks on half the pitch", over - pitch / 2),
            Truth("mortar rows as thick as mortar strips", rows - strips[1].width),
        )
