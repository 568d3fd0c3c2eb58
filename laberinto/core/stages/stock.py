"""Stock that is taken as it is: curved staves, boards with bark edges, pieces of a log."""

from __future__ import annotations

import math
from dataclasses import dataclass
from enum import StrEnum
from functools import lru_cache

import numpy as np

from ..geometry.arcs import rise
from ..solid import Cells, Floats, Plane, boxes, join, shave, split

CHORD = 0.25
"""A stave's curve is drawn of chords that stand off it by no more than this, mm."""

SIDES = 48
"""Of a log's section: tangents, which hold 0.14 % more than the round itself."""


class StockForm(StrEnum):
    """What strips are before anything is sawn from them."""

    SQUARED = "squared"
    STAVE = "stave"
    WANEY = "waney"
    LOG = "log"

    @property
    def label(self) -> str:
        return {
            "squared": "milled square", "stave": "curved staves, as they are",
            "waney": "bark-edged boards, as they are", "log": "pieces of a log, as they are",
        }[self.value]  # fmt: skip

    @property
    def noun(self) -> str:
        """What a list calls such pieces."""
        return {"squared": "strips", "stave": "staves", "waney": "bark-edged boards", "log": "of a log"}[self.value]

    @property
    def numbers(self) -> frozenset[str]:
        """The parameters that say how it is shaped."""
        return frozenset({
            "squared": (), "stave": ("radius",), "waney": ("wane", "waist", "taper", "both_edges"), "log": ("heart",),
        }[self.value])  # fmt: skip


SHAPING = frozenset(name for form in StockForm for name in form.numbers)
"""All parameters that shape some stock."""


@dataclass(frozen=True, slots=True)
class Stock:
    """How rough pieces are shaped. Lengths in mm.

    A stave is bent along its length, hollow side down, its outside to ``radius``; its fibres are taken to run
    straight. A bark-edged board is as wide as it says at its near end and on its lower face: ``waist`` narrower midway,
    ``taper`` narrower at its far end, and ``wane`` narrower at each bark edge on its upper face. A log is round, or
    oval, with its heart ``heart`` to the right of its middle.
    """

    form: StockForm = StockForm.SQUARED
    radius: float = 0.0
    wane: float = 0.0
    waist: float = 0.0
    taper: float = 0.0
    both_edges: bool = False
    heart: float = 0.0

    @property
    def as_is(self) -> bool:
        """Whether it is laid down as it is, nothing milled yet."""
        return self.form is not StockForm.SQUARED

    def narrowest(self, width: float) -> float:
        """Width that is left where a bark-edged board is narrowest, mm."""
        if self.form is not StockForm.WANEY:
            return width
        return width - max(self.waist, self.taper, 0.0) - self.wane * (2 if self.both_edges else 1)

    def height(self, length: float, thickness: float) -> float:
        """Of the box round a piece, mm."""
        if self.form is not StockForm.STAVE:
            return thickness
        return thickness + rise(self.radius - thickness, length)

    def bent(self, length: float) -> float:
        """How far a piece of this length is bent, and so how much thickness flattening both faces costs, mm."""
        return rise(self.radius, length) if self.form is StockForm.STAVE else 0.0

    def cells(self, width: float, length: float, thickness: float) -> Cells:
        """One piece, its box starting at the origin; like pieces are worked out once."""
        return _cells(self, width, length, thickness)

    def shaped(self, width: float, length: float, thickness: float) -> Cells:
        """One piece, worked out."""
        height = self.height(length, thickness)
        box = boxes(np.array([(width, length, height)]), np.zeros(1, np.int64))
        if self.form is StockForm.STAVE:
            return self._bent(box, length, thickness, height)
        if self.form is StockForm.WANEY:
            return self._bark_edged(box, width, length, thickness)
        return shave(box, _round(width, thickness))[0] if self.form is StockForm.LOG else box

    def _bent(self, box: Cells, length: float, thickness: float, height: float) -> Cells:
        parts = 2 * math.ceil(length / math.sqrt(8 * self.radius * CHORD) / 2)  # even, so that a corner is at the crown
        at = np.linspace(0.0, length, parts + 1)
        outside, inside = (
            height - self.radius + np.sqrt(radius**2 - (at - length / 2) ** 2)
            for radius in (self.radius, self.radius - thickness)
        )
        made = []
        for k, part in enumerate(_lengthwise(box, at[1:-1])):
            rise, hollow = ((z[k + 1] - z[k]) / (at[k + 1] - at[k]) for z in (outside, inside))
            made.append(shave(part, [
                _through((0.0, -rise, 1.0), (0.0, at[k], outside[k])),
                _through((0.0, hollow, -1.0), (0.0, at[k], inside[k])),
            ])[0])  # fmt: skip
        return join(made)

    def _bark_edged(self, box: Cells, width: float, length: float, thickness: float) -> Cells:
        share = 0.5 if self.both_edges else 1.0
        at = (0.0, length / 2, length)
        back = (0.0, self.waist * share, self.taper * share)
        made = []
        for k, part in enumerate(_lengthwise(box, np.array(at[1:-1]))):
            leans = (back[k + 1] - back[k]) / (at[k + 1] - at[k])
            edge = (1.0, leans, self.wane / thickness)
            planes = [_through(edge, (width - back[k], at[k], 0.0))]
            if self.both_edges:
                planes.append(_through((-1.0, *edge[1:]), (back[k], at[k], 0.0)))
            made.append(shave(part, planes)[0])
        return join(made)


MILLED = Stock()
"""What most strips are."""


@lru_cache(maxsize=64)
def _cells(stock: Stock, width: float, length: float, thickness: float) -> Cells:
    return stock.shaped(width, length, thickness)


def _lengthwise(box: Cells, stations: Floats) -> list[Cells]:
    """A piece crosscut at stations, without a kerf."""
    parts, rest = [], box
    for station in stations.tolist():
        part, rest = split(rest, Plane.across(1, station))
        parts.append(part)
    return [*parts, rest]


def _through(normal: tuple[float, float, float], point: tuple[float, float, float]) -> Plane:
    unit = np.array(normal) / np.linalg.norm(normal)
    return Plane(unit, float(unit @ np.array(point)))


def _round(width: float, thickness: float) -> list[Plane]:
    """Tangents to the oval that fills a section."""
    planes = []
    for k in range(SIDES):
        across, up = math.cos(math.tau * k / SIDES), math.sin(math.tau * k / SIDES)
        reach = math.hypot(width / 2 * across, thickness / 2 * up)
        planes.append(Plane(np.array([across, 0.0, up]), width / 2 * across + thickness / 2 * up + reach))
    return planes
