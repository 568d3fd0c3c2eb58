"""Long grain: strips glued side by side along the board, on edge or flat, or one plank; its cousin of end grain stands
in every other pattern."""

from __future__ import annotations

import math
from enum import StrEnum
from typing import ClassVar

from ..errors import InputError
from ..fields.spec import choice, millimetres, whole, wood
from ..plan.simulate import Simulation
from ..stages import Flatten, Glue, Mill, Stage, StripSpec, Trim
from .model import Family, Handles, Truth, alternating

WIDEST_ON_EDGE = 90.0
"""Strips on edge are as high as the board is thick; no wider ones are glued so, mm."""


class Lies(StrEnum):
    """Which of their sides the strips show."""

    EDGE = "edge"
    FLAT = "flat"

    @property
    def label(self) -> str:
        return {"edge": "on edge: edge grain", "flat": "flat: face grain"}[self.value]

    @property
    def sawn(self) -> str:
        """How a strip that shows this side was sawn from the log."""
        return {"edge": "quarter", "flat": "flat"}[self.value]


class Along(Family):
    """``strips`` side by side along the board, planed on both faces and trimmed. On edge each is as wide across the
    board as a plank is thick; flat they are wide. One flat strip alone is a plank."""

    key: ClassVar[str] = "along"
    title: ClassVar[str] = "Long grain"
    summary: ClassVar[str] = "Strips glued side by side along the board: quicker than end grain, harder on knives."
    handles: ClassVar[Handles] = Handles(across="strips", pitch=("strip",), rise=("long",))

    light: str = wood("pear", label="Light wood")
    dark: str = wood("european-walnut", label="Dark wood")
    lies: Lies = choice(Lies.EDGE, label="Strips lie", help="Edge grain moves less and wears better.")
    strips: int = whole(9, label="Strips", help="Side by side.", least=1, most=60)
    strip: float = millimetres(28.0, label="Strip", help="Across the board.", least=10, most=400)
    long: float = millimetres(380.0, label="Length", help="Of the finished board.", least=100, most=1500)

    def check(self) -> None:
        if self.strips > 1:
            super().check()
        if self.lies is Lies.EDGE and self.strip > WIDEST_ON_EDGE:
            raise InputError(
                "Strips on edge are cut from planks {strip} thick, and few are thicker than {most}. Take {most} or "
                "less, or lay them flat.", "strip", strip=self.strip, most=WIDEST_ON_EDGE,
            )  # fmt: skip
        if self.lies is Lies.EDGE and self.strips == 1:
            raise InputError("One strip on edge is no board. Take two or more, or lay it flat.", "strips")

    def stages(self) -> list[Stage]:
        length = math.ceil((self.long + 2 * self.edge) / 5) * 5.0
        self.check_strips(length)
        each = {"width": self.strip, "sawn": self.lies.sawn}
        strips = alternating(self.strips, StripSpec(wood=self.light, **each), StripSpec(wood=self.dark, **each))
        thick = self.thickness + 2 * self.flatten_panel
        stages: list[Stage] = [Mill(id="strips", thickness=thick, length=length, strips=strips)]
        if self.strips > 1:
            stages.append(Glue(id="board", source="strips"))
        flat = Flatten(id="board-flat", source=stages[-1].id, to=self.thickness, method=self.flattener(length))
        width = self.strips * self.strip - 2 * self.edge
        return [*stages, flat, *self.dressed("board-flat", Trim(id="trimmed", width=width, length=self.long))]

    def truths(self, sim: Simulation) -> tuple[Truth, ...]:
        return (Truth("as long as asked", sim.board.size[1] - self.long),)
