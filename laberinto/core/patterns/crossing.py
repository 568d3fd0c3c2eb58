"""Crossing weave: bars of two laminations alternate, so that bands of one wood cross those of another."""

from __future__ import annotations

import math
from enum import StrEnum
from typing import ClassVar

from ..errors import InputError
from ..fields.spec import choice, wood
from ..plan.simulate import Simulation
from ..stages import Stage
from .model import Family, Handles, Truth
from .weave import LEAST_GROUND, SQRT2, Way, Weave


class Turns(StrEnum):
    """Which of the two laminations is rolled."""

    SECOND = "second"
    FIRST = "first"

    @property
    def label(self) -> str:
        return {"second": "the first falls, the second climbs", "first": "the second falls, the first climbs"}[
            self.value
        ]


class CrossingWeave(Weave):
    """Two laminations with a band each are cut to diamonds and planed on all four sides. Their bars alternate, one as
    it
    lies and the other rolled a quarter. Every other row is turned end for end, which sets each bar beside the other's
    and leaves its slant: all bands of one wood climb, all of the other fall, and they cross where four squares meet.
    Book-matched, bands of each wood run zigzag along the board."""

    key: ClassVar[str] = "crossing"
    title: ClassVar[str] = "Crossing weave"
    summary: ClassVar[str] = "Bars of two laminations alternate: bands of one wood climb, those of the other fall."
    handles: ClassVar[Handles] = Handles("bars", "rows", ("square", "band"), ("square", "band"), across_step=2)

    light: str = wood("holly", label="First band wood")
    mid: str = wood("european-cherry", label="Second band wood")
    dark: str = wood("bog-oak", label="Ground wood")
    way: Way = choice(Way.SAME, label="Turned", help="How rows follow each other.")
    turns: Turns = choice(Turns.SECOND, label="Slant", help="Which lamination is rolled a quarter.")

    @property
    def diamond(self) -> float:
        """Side of the diamond as it comes off the saw: the panel's planing is taken off the bars' other sides too, so
        that squares stay square."""
        return self.square + 2 * self.plane_sides + 2 * self.plane

    def check(self) -> None:
        Family.check(self)
        self.check_band()
        left = self.lamination[0][1] - (self.diamond - self.square) / SQRT2
        if left < LEAST_GROUND:
            raise InputError(
                "A band of {band} leaves {left} of ground beside it in squares of {square}. Make the squares larger, "
                "or take {most} or less.", "band", band=self.band, left=max(left, 0.0), square=self.square,
                most=max(math.floor(self.band - 2 * (LEAST_GROUND - left)), 1),
            )  # fmt: skip
        if self.bars % 2:
            raise InputError(
                f"{self.bars} bars of two laminations do not alternate at both edges, so a row turned end for end "
                f"sets like beside like. Take {self.bars - 1 if self.bars > 2 else 2} or {self.bars + 1}.", "bars",
            )  # fmt: skip

    def stages(self) -> list[Stage]:
        laid = self.lamination
        exchanged = [(self.mid if wood == self.light else wood, width) for wood, width in laid]
        # the panel is planed on its faces, so what lies beside them loses as much now: of a rolled bar, its own faces
        more = self.plane_sides + self.plane, self.plane_sides
        first, second = (more[::-1], more) if self.turns is Turns.FIRST else (more, more[::-1])
        one, from_one = self.diamonds(laid, self.bars // 2, *first, "a")
        other, from_other = self.diamonds(exchanged, self.bars // 2, *second, "b")
        turns = ["as it lies", "quarter roll"]
        if self.turns is Turns.FIRST:
            turns.reverse()
        rule = "book-matched" if self.way is Way.BOOK else "end-for-end-every-other"
        panel = self.from_bars(
            rule, source=from_one, also=[from_other], sequence=[from_one, from_other], turns=turns
        )  # fmt: skip
        return [*one, *other, *panel]

    def truths(self, sim: Simulation) -> tuple[Truth, ...]:
        """Bands meet at every joint, and cross where four squares do."""
        return self.meet(sim)
