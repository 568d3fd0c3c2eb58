"""Graded bands: strip widths grow and shrink along the panel, so that flipping makes a path wander."""

from __future__ import annotations

from typing import ClassVar

import numpy as np

from ..errors import InputError
from ..fields.spec import millimetres, number, whole, wood
from ..plan.simulate import Simulation
from ..stages import Stage, StripSpec
from .closing import LEAST_CHANGE, still_rows
from .model import Family, Handles, Truth


class Bands(Family):
    """``bands`` strips, the narrowest at the edges and the widest ``peak`` percent of the way across."""

    key: ClassVar[str] = "bands"
    title: ClassVar[str] = "Wandering path"
    summary: ClassVar[str] = "Bands grow and shrink along the panel; every other slice flipped makes a path wander."
    handles: ClassVar[Handles] = Handles("bands", "slices", ("narrow", "wide"), ("row",))

    light: str = wood("sycamore", label="Light wood")
    dark: str = wood("elm", label="Dark wood")
    bands: int = whole(12, label="Bands", help="Strips across.", least=3, most=60)
    narrow: float = millimetres(10.0, label="Narrowest", help="Band.", least=4, most=100)
    wide: float = millimetres(42.0, label="Widest", help="Band.", least=6, most=200)
    peak: float = number(75, label="Widest at", help="Of the way across.", least=0, most=100, unit="%")
    row: float = millimetres(26.0, label="Row height", help="The panel's thickness once flat.", least=8, most=120)
    slices: int = whole(14, label="Slices", help="Each becomes one row.", least=2, most=100)

    @property
    def widths(self) -> list[float]:
        """Of the bands from the left, mm, to a tenth."""
        last = self.bands - 1
        top = self.peak / 100 * last
        shares = [i / top if i < top else (last - i) / (last - top) if i > top else 1.0 for i in range(self.bands)]
        return [round(self.narrow + (self.wide - self.narrow) * share, 1) for share in shares]

    @property
    def change(self) -> float:
        """Share of a row that shows the other wood once it is flipped."""
        ends = np.cumsum(self.widths)
        cuts = np.unique(np.concatenate([[0.0], ends, ends[-1] - ends]).round(6))
        middles = (cuts[1:] + cuts[:-1]) / 2
        here, there = (np.searchsorted(ends, at) % 2 for at in (middles, ends[-1] - middles))
        return float(np.diff(cuts)[here != there].sum() / ends[-1])

    def check(self) -> None:
        super().check()
        if self.wide <= self.narrow:
            raise InputError(
                "The widest band is no wider than the narrowest, {narrow}, so no path wanders. Make it {more} or more.",
                "wide", narrow=self.narrow, more=self.narrow + 2,
            )  # fmt: skip
        if self.change < LEAST_CHANGE:
            raise InputError(
                f"With the widest of {self.bands} bands at {self.peak:g} % each row reads nearly the same from both "
                f"ends, so flipping changes {self.change:.0%} of it. Put it elsewhere, or take {self.bands + 1} bands.",
                "peak",
            )

    def stages(self) -> list[Stage]:
        woods = (self.light, self.dark)
        strips = [StripSpec(wood=woods[i % 2], width=width, mark=i + 1) for i, width in enumerate(self.widths)]
        return [*self.laminate(strips, self.row, self.slices), *self.laid("flip-every-other"), *self.finished()]

    def truths(self, sim: Simulation) -> tuple[Truth, ...]:
        return (still_rows(sim, "board"),)
