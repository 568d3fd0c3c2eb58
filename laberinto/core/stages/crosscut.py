"""Crosscut: a panel becomes slices, square to its length."""

from __future__ import annotations

from typing import ClassVar, Literal

from ..errors import StageError
from ..solid import Cells, Plane, empty, join, saw
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
    slice: float = millimetres(42.0, label="Slice", help="Finished thickness plus what flattening takes.", least=8, most=200)
    count: int = whole(10, label="Slices", help="Each becomes one row of the face.", least=1, most=200)
    kerf: float = millimetres(3.0, label="Kerf", help="What the blade turns to dust at each cut.", least=0.5, most=8)
    squaring: float = millimetres(5.0, label="Squaring cut", help="Off the first end, kerf included.", least=0, most=100)

    def run(self, pieces: Pieces, bench: Bench) -> Outcome:
        slices: list[Cells] = []
        offcuts: list[Cells] = []
        kerf = 0.0
        for number in range(len(pieces)):
            rest = pieces[number]
            self._check_length(float(rest.size()[1]))
            at = self.squaring
            if self.squaring > 0:
                blade = min(self.kerf, self.squaring)
                cut = saw(rest, Plane.across(1, self.squaring - blade), blade)
                offcuts.append(cut.before)
                kerf, rest = kerf + cut.dust, cut.beyond
            for _ in range(self.count):
                cut = saw(rest, Plane.across(1, at + self.slice), self.kerf)
                slices.append(cut.before.at_origin().as_piece(len(slices)))
                kerf, rest = kerf + cut.dust, cut.beyond
                at += self.slice + self.kerf
            offcuts.append(rest)
        left = join([part.as_piece(i) for i, part in enumerate(p for p in offcuts if len(p))]) if offcuts else empty()
        return Outcome(Pieces(join(slices)), left, {Cause.KERF: kerf, Cause.OFFCUT: left.volume()})

    def _check_length(self, panel: float) -> None:
        needed = length_needed(self.squaring, self.count, self.slice, self.kerf)
        if needed <= panel + 1e-9:
            return
        fit = int((panel - self.squaring + 1e-9) // (self.slice + self.kerf))
        cure = f"Make the panel {needed - panel:.1f} mm longer" + (f", or cut {fit} slices." if fit > 0 else ".")
        raise StageError(
            self.id,
            f"The panel is {panel:.1f} mm long, but {self.count} slices of {self.slice:.1f} mm with {self.kerf:.1f} mm cuts "
            f"and a squaring cut of {self.squaring:.1f} mm need {needed:.1f} mm: {needed - panel:.1f} mm too short.",
            cure,
            "count",
        )
