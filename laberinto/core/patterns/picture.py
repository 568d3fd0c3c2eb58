"""Picture: slices of several panels, taken in a planned order, draw anything that can be drawn in rows."""

from __future__ import annotations

from typing import Any, ClassVar

import numpy as np
from pydantic import Field

from ..errors import InputError
from ..fields.spec import wood
from ..geometry.faces import Side, face_of
from ..picture import LETTERS, Picture, panels
from ..picture.grid import MOST_SIDE
from ..plan.simulate import Simulation
from ..stages import Arrange, Glue, Stage, StripSpec
from ..stages.mill import MOST_WIDTH
from .model import Family, Handles, Truth

SAIL = (
    "AAAAAAAAAAAA", "AAAAABAAAAAA", "AAAABBACAAAA", "AAABBBACCAAA", "AABBBBACCCAA", "ABBBBBACCCCA", "AAAAAAAAAAAA",
    "ABBBBBBBBBBA", "AABBBBBBBBAA", "AAAAAAAAAAAA",
)  # fmt: skip
"""A boat under sail."""

MOST_PANELS = 24
STRIP = 120.0
"""A wider run of one wood is glued up from several strips, mm."""


class Pictured(Family):
    """The face as a grid: ``rows`` of letters for the woods, column ``widths`` and row ``heights`` in mm."""

    key: ClassVar[str] = "picture"
    title: ClassVar[str] = "Picture"
    summary: ClassVar[str] = "Slices of several panels in a planned order: keys, letters, a boat, or your own drawing."
    handles: ClassVar[Handles] = Handles(pitch=("widths",), rise=("heights",))

    light: str = wood("sycamore", label="Wood A")
    dark: str = wood("plum", label="Wood B")
    mid: str = wood("robinia", label="Wood C")
    more: tuple[str, ...] = Field(default=(), max_length=len(LETTERS) - 3)
    rows: tuple[str, ...] = Field(default=SAIL, min_length=1, max_length=MOST_SIDE)
    widths: tuple[float, ...] = Field(default=(24.0,) * 12, max_length=MOST_SIDE)
    heights: tuple[float, ...] = Field(default=(24.0,) * 10, max_length=MOST_SIDE)

    @property
    def picture(self) -> Picture:
        """The grid; raises InputError where it is none."""
        woods = (self.light, self.dark, self.mid, *self.more)
        return Picture.of(rows=self.rows, woods=woods, widths=self.widths, heights=self.heights)

    @classmethod
    def drawn(cls, picture: Picture, **values: Any) -> Pictured:
        """The family that makes a picture; it has three woods or more, the third perhaps unused."""
        woods = picture.woods if len(picture.woods) > 2 else (*picture.woods, picture.woods[0])
        return cls.of(
            light=woods[0], dark=woods[1], mid=woods[2], more=woods[3:], rows=picture.rows, widths=picture.widths,
            heights=picture.heights, **values,
        )  # fmt: skip

    def check(self) -> None:
        made = panels(self.picture)
        if len(made) > MOST_PANELS:
            raise InputError(
                f"This picture needs {len(made)} panels; up to {MOST_PANELS} can be planned. Let “at most” find a "
                "picture that needs fewer.", "rows",
            )  # fmt: skip
        if len({self.picture.wood(r, c) for r in range(len(self.rows)) for c in range(len(self.widths))}) < 2:
            raise InputError("The whole picture is of one wood. Paint some cells with another.", "rows")

    def stages(self) -> list[Stage]:
        made = panels(self.picture)
        stages: list[Stage] = []
        number_of: dict[int, int] = {}
        turned: dict[str, str] = {}
        count = 0
        for at, panel in enumerate(made, 1):
            strips = [
                StripSpec(wood=wood, width=width / parts)
                for wood, width in panel.strips
                for parts in (_parts(width),)
                for _ in range(parts)
            ]
            marked = [strip.model_copy(update={"mark": at * 100 + k}) for k, strip in enumerate(strips, 1)]
            stages += self.laminate(marked, panel.height, len(panel.rows), f"panel-{at}")
            for row, flipped in panel.rows:
                count += 1
                number_of[row] = count
                if flipped:
                    turned[str(count)] = "flip"
        sources = [f"panel-{at}-slices" for at in range(1, len(made) + 1)]
        return [
            *stages,
            Arrange(
                id="rows",
                source=sources[0],
                also=sources[1:],
                rule="as-cut",
                panels="in-turn",
                order=[number_of[row] for row in range(len(self.rows))],
                turned=turned,
            ),
            Glue(id="board", source="rows", across="length", clamp_hours=24),
            *self.finished(edge=0),
        ]

    def truths(self, sim: Simulation) -> tuple[Truth, ...]:
        """Cells of the board that show another wood in their middle than the picture has there."""
        picture = self.picture
        face = face_of(sim["board"].pieces[0], Side.TOP)
        low = np.stack([face.points[a:b].min(axis=0) for a, b in zip(face.ptr, face.ptr[1:], strict=False)])
        high = np.stack([face.points[a:b].max(axis=0) for a, b in zip(face.ptr, face.ptr[1:], strict=False)])
        wrong = 0
        tops = np.cumsum([0.0, *picture.heights])
        lefts = np.cumsum([0.0, *picture.widths])
        for row in range(len(picture.rows)):
            for column in range(len(picture.widths)):
                middle = np.array([lefts[column] + lefts[column + 1], tops[row] + tops[row + 1]]) / 2
                hit = np.flatnonzero(((low < middle) & (middle < high)).all(axis=1))
                # a strip's own joint may run through the middle; either side will do
                shown = {sim.strips[int(face.strip[k])].wood for k in hit} or {""}
                beside = ((low <= middle + 1e-6) & (middle - 1e-6 <= high)).all(axis=1)
                shown |= (
                    {sim.strips[int(face.strip[k])].wood for k in np.flatnonzero(beside)} if not len(hit) else set()
                )
                wrong += picture.wood(row, column) not in shown
        return (Truth("cells that show another wood", float(wrong), "cells"),)


def _parts(width: float) -> int:
    """Strips that a run of one wood is glued up from."""
    return max(1, -int(-width // min(STRIP, MOST_WIDTH)))
