"""Crosscut: a panel becomes slices, square to its length."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

import numpy as np
from pydantic import Field

from ..errors import StageError
from ..fields.allowances import USUAL, saw_kerf
from ..fields.spec import listed, millimetres, number, whole
from ..geometry.sawing import blade, kerfs, reach, saw, turned_back
from ..solid import Cells, Floats, join
from ..units import plural
from .base import Bench, Cause, Outcome, Pieces, Stage

LEAST_SLICE, LONGEST_SLICE = 8.0, 1500.0
"""Shortest and longest piece that a crosscut leaves, mm."""


def length_needed(squaring: float, slices: int, slice_: float, kerf: float) -> float:
    """Panel length that n slices use up where something is left behind them: squaring cut + n × (slice + kerf), mm."""
    return squaring + slices * (slice_ + kerf)


def slices_in(length: float, slice_: float, kerf: float) -> int:
    """How many slices a length gives, mm; the last needs no cut behind it."""
    return int((length + kerf + 1e-9) // (slice_ + kerf))


class Crosscut(Stage):
    """Square one end, then cut ``count`` slices of ``slice`` mm to a stop. What is left is an offcut."""

    title: ClassVar[str] = "Crosscut"
    verb: ClassVar[str] = "Crosscut into slices"
    through: ClassVar[str] = "crosscut sled"

    kind: Literal["crosscut"] = "crosscut"
    slice: float = millimetres(
        42.0,
        label="Slice",
        help="Finished thickness plus what flattening takes.",
        least=LEAST_SLICE,
        most=LONGEST_SLICE,
    )
    count: int = whole(10, label="Slices", help="Each becomes one row of the face.", least=1, most=200)
    own: tuple[Annotated[float, Field(ge=LEAST_SLICE, le=LONGEST_SLICE)], ...] = listed(
        "lengths", label="Own thicknesses", help="In turn, such as 42, 41.2; the rest are as the slice.", max_length=200
    )
    kerf: float = saw_kerf()
    squaring: float = millimetres(
        USUAL.squaring, label="Squaring cut", help="Off the first end, kerf included.", least=0, most=100
    )
    skew: float = number(
        0.0, label="Skew", help="Blade turned from square; 0 for most boards.", least=-60, most=60, unit="°"
    )
    bevel: float = number(
        0.0, label="Bevel", help="Blade tilted from upright; 0 for most boards.", least=-60, most=60, unit="°"
    )

    @property
    def slices(self) -> tuple[float, ...]:
        """How thick each is, mm."""
        return (*self.own, *[self.slice] * (self.count - len(self.own)))[: self.count]

    @property
    def angled(self) -> bool:
        """Whether the blade is turned or tilted."""
        return bool(self.skew or self.bevel)

    def layout(self, piece: Cells) -> tuple[Floats, Floats]:
        """The blade's normal (3,) and where it runs along it (n+1, 2), mm, in one panel."""
        normal = blade(1, self.skew, self.bevel)
        start, _ = reach(piece, 1, normal)
        return normal, kerfs(piece, normal, start, list(self.slices), self.kerf, self.squaring)

    def remainder(self, piece: Cells) -> float:
        """What is left of a panel behind the last cut, along its shorter edge where the blade is turned or tilted, mm;
        0 where the panel ends with the last slice."""
        normal, runs = self.layout(piece)
        _, end = reach(piece, 1, normal)
        return max((end - float(runs[-1, 1])) / float(normal[1]), 0.0)

    def run(self, pieces: Pieces, bench: Bench) -> Outcome:
        normal = blade(1, self.skew, self.bevel)
        slices: list[Cells] = []
        offcuts: list[Cells] = []
        kerf = 0.0
        for number_ in range(len(pieces)):
            panel = pieces[number_]
            start, end = reach(panel, 1, normal)
            self._check_length(end - start)
            sawn = saw(panel, normal, start, list(self.slices), self.kerf, self.squaring)
            slices.append(sawn.slices.renumbered(number_ * self.count))
            offcuts += sawn.offcuts
            kerf += sawn.kerf
        cells = join(slices)
        if self.skew or self.bevel:
            cells = cells.turned(turned_back(1, self.skew, self.bevel))
        left = join([part.as_piece(i) for i, part in enumerate(offcuts)])
        waste = {Cause.KERF: kerf, Cause.OFFCUT: left.volume()}
        return Outcome(Pieces(cells.settled()), left, waste, parents=tuple(np.repeat(range(len(pieces)), self.count)))

    def _check_length(self, panel: float) -> None:
        # a slice that the panel ends with needs no cut behind it
        needed = self.squaring + sum(self.slices) + (self.count - 1) * self.kerf
        if needed <= panel + 1e-9:
            return
        fit = slices_in(panel - self.squaring, self.slice, self.kerf)
        raise StageError(
            self.id,
            f"The panel is {{panel}} long, but {self.count} slices of {{slice}} with {{kerf}} cuts and a "
            "squaring cut of {squaring} need {needed}: {short} too short.",
            "Make the panel {short} longer" + (f", or cut {plural(fit, 'slice')}." if fit > 0 else "."),
            "count", panel=panel, slice=self.slice, kerf=self.kerf, squaring=self.squaring, needed=needed,
            short=needed - panel,
        )  # fmt: skip
