"""Ring chevron: one species; the rings of every strip lean the other way."""

from __future__ import annotations

from enum import StrEnum
from typing import ClassVar

import numpy as np

from ..errors import InputError
from ..fields.spec import choice, millimetres, whole, wood
from ..plan.simulate import Simulation
from ..stages import Stage, StripSpec
from ..stages.mill import StripTurn
from .model import Family, Handles, Truth, alternating


class Rows(StrEnum):
    """What the rows do to the arrows."""

    ARROWS = "arrows"
    DIAMONDS = "diamonds"

    @property
    def label(self) -> str:
        return {"arrows": "all point one way", "diamonds": "book-matched, to diamonds"}[self.value]


class RingChevron(Family):
    """Rift-sawn strips of one wood, every other turned end for end; hearts mirror each other in the joints."""

    key: ClassVar[str] = "rings"
    title: ClassVar[str] = "Ring chevron"
    summary: ClassVar[str] = "One wood only: the rings of neighbouring strips lean against each other."
    handles: ClassVar[Handles] = Handles("strips", "slices", ("strip_width",), ("row",), across_step=2)

    wood: str = wood("ash", label="Wood", help="One with rings that show.")
    rows: Rows = choice(Rows.DIAMONDS, label="Rows", help="How slices lie.")
    strips: int = whole(8, label="Strips", help="An even number, in pairs.", least=2, most=60)
    strip_width: float = millimetres(38.0, label="Strip width", help="Of every strip.", least=10, most=200)
    row: float = millimetres(38.0, label="Row height", help="The panel's thickness once flat.", least=8, most=120)
    slices: int = whole(9, label="Slices", help="Each becomes one row.", least=1, most=100)
    spacing: float = millimetres(4.0, label="Ring width", help="Wide rings show best.", least=1, most=12)

    def check(self) -> None:
        if self.strips % 2:
            raise InputError(
                f"{self.strips} strips leave one without a partner to lean against. Take {self.strips + 1}.", "strips"
            )

    def stages(self) -> list[Stage]:
        # sawn side by side from one plank: the heart lies below and to the left of each
        thick = self.row + 2 * self.flatten_panel
        rings = {"heart": [-self.strip_width * 0.75, -thick * 0.75], "spacing": self.spacing, "seed": 1}
        one = StripSpec(wood=self.wood, width=self.strip_width, rings=rings)
        strips = alternating(self.strips, one, one.model_copy(update={"turned": StripTurn.END_FOR_END}))
        rule = "book-matched" if self.rows is Rows.DIAMONDS else "as-cut"
        return [*self.laminate(strips, self.row, self.slices), *self.laid(rule), *self.finished()]

    def truths(self, sim: Simulation) -> tuple[Truth, ...]:
        """A strip's heart and the mirror image of its neighbour's in the joint between them are one point."""
        cells = sim["panel"].pieces[0]
        hearts = []
        for cell, number in enumerate(cells.strip):
            x, z = sim.strips[int(number)].rings.heart
            at = cells.rot[cell] @ np.array([x, 0.0, z]) + cells.move[cell]
            hearts.append((float(at[0]), float(at[2])))
        joints = np.cumsum([sim.strips[int(number)].width for number in cells.strip])
        off = [
            float(np.hypot(2 * joint - one[0] - other[0], one[1] - other[1]))
            for joint, one, other in zip(joints, hearts, hearts[1:], strict=False)
        ]
        return (Truth("hearts mirrored in the joints", max(off)),)
