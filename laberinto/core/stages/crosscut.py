"""Crosscut: a panel becomes slices, square to its length."""

from __future__ import annotations

from dataclasses import replace
from typing import ClassVar, Literal

import numpy as np

from ..errors import StageError
from ..solid import Cells, Floats, join, slabs
from .base import Bench, Cause, Outcome, Pieces, Stage
from .fields import millimetres, whole


def length_needed(squaring: float, slices: int, slice_: float, kerf: float) -> float:
    """Panel length that n slices use up: squaring cut + n × (slice + kerf), mm."""
    return squaring + slices * (slice_ + kerf)


class Crosscut(Stage):
    """Square one end, then cut ``count`` slices of ``slice`` mm to a stop. What is left is an offcut."""

    title: ClassVar[str] = "Crosscut"
    verb: ClassVar[str] = "Crosscut into slices"

    kind: Literal["crosscut"] = "crosscut"
    slice: float = millimetres(
        42.0, label="Slice", help="Finished thickness plus what flattening takes.", least=8, most=200
    )
    count: int = whole(10, label="Slices", help="Each becomes one row of the face.", least=1, most=200)
    kerf: float = millimetres(3.0, label="Kerf", help="What the blade turns to dust at each cut.", least=0.5, most=8)
    squaring: float = millimetres(
        5.0, label="Squaring cut", help="Off the first end, kerf included.", least=0, most=100
    )

    def run(self, pieces: Pieces, bench: Bench) -> Outcome:
        slices: list[Cells] = []
        offcuts: list[Cells] = []
        kerf = 0.0
        for number in range(len(pieces)):
            panel = pieces[number]
            self._check_length(float(panel.size()[1]))
            cells, slab = slabs(panel, np.array([0.0, 1.0, 0.0]), self._boundaries())
            kept = (slab % 2 == 0) & (slab > 0) & (slab <= 2 * self.count)
            cut = cells.take(kept)
            slices.append(replace(cut, piece=slab[kept] // 2 - 1 + number * self.count))
            kerf += cells.take(slab % 2 == 1).volume()
            ends = (cells.take(slab == end) for end in (0, 2 * self.count + 2))
            offcuts += [end for end in ends if len(end)]
        left = join([part.as_piece(i) for i, part in enumerate(offcuts)])
        return Outcome(Pieces(join(slices).settled()), left, {Cause.KERF: kerf, Cause.OFFCUT: left.volume()})

    def _boundaries(self) -> Floats:
        """Where the blade begins and ends at each cut, mm from the panel's end: odd slabs are kerf."""
        starts = self.squaring + np.arange(self.count) * (self.slice + self.kerf) + self.slice
        cuts = np.concatenate([[self.squaring - min(self.kerf, self.squaring)], starts])
        ends = np.concatenate([[self.squaring], starts + self.kerf])
        return np.stack([cuts, ends], axis=1).ravel()

    def _check_length(self, panel: float) -> None:
        needed = length_needed(self.squaring, self.count, self.slice, self.kerf)
        if needed <= panel + 1e-9:
            return
        fit = int((panel - self.squaring + 1e-9) // (self.slice + self.kerf))
        raise StageError(
            self.id,
            f"The panel is {{panel}} long, but {self.count} slices of {{slice}} with {{kerf}} cuts and a "
            "squaring cut of {squaring} need {needed}: {short} too short.",
            "Make the panel {short} longer" + (f", or cut {fit} slices." if fit > 0 else "."),
            "count", panel=panel, slice=self.slice, kerf=self.kerf, squaring=self.squaring, needed=needed,
            short=needed - panel,
        )  # fmt: skip
