"""What can be put in after a stage: each kind with a line on what it does, whether it fits the wood that lies there,
and good first values."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from ..simulate import StageResult
from ..stages import (
    Across,
    Arrange,
    Cove,
    Crosscut,
    Ease,
    Feet,
    Fill,
    Flatten,
    Glue,
    Groove,
    Hollow,
    JointEdge,
    Notch,
    Oil,
    Profile,
    Rabbet,
    Resaw,
    Rest,
    Rip,
    Sand,
    Shape,
    Stage,
    Trim,
    Turned,
    Wax,
    Well,
)  # fmt: skip

Values = dict[str, Any]
Fits = Callable[[StageResult], bool]


@dataclass(frozen=True, slots=True)
class Offer:
    """A kind of stage that may follow: what it does in a line, what it needs, and its first values from the wood."""

    kind: type[Stage]
    does: str
    fits: Fits
    values: Callable[[StageResult], Values] = lambda _result: {}

    @property
    def name(self) -> str:
        return str(self.kind.model_fields["kind"].default)


def _loose(r: StageResult) -> bool:
    return len(r.pieces) > 1


def _lying(r: StageResult) -> bool:
    return not r.pieces.cells.on_end


def _panel(r: StageResult) -> bool:
    return not _loose(r) and _lying(r)


def _board(r: StageResult) -> bool:
    return not _loose(r) and not _lying(r)


def _roomy(r: StageResult) -> bool:
    """A board large enough for grooves, wells and handles."""
    return _board(r) and min(r.size[:2]) >= 60 and r.size[2] >= 12


def _one(r: StageResult) -> bool:
    return not _loose(r)


def _slices_lie(r: StageResult) -> bool:
    return _loose(r) and _lying(r)


def _any(_r: StageResult) -> bool:
    return True


def _across(r: StageResult) -> Values:
    return {"across": Across.WIDTH if _lying(r) else Across.LENGTH, "clamp_hours": 12 if _lying(r) else 24}


def _flatten(r: StageResult) -> Values:
    return {"each_face": 1.0} if _lying(r) else {"each_face": 1.0, "method": "drum-sander"}


def _slices(r: StageResult) -> Values:
    """As many slices of 42 mm as a panel of this length gives, with a hand's breadth left to hold."""
    width = max(min(42.0, round(r.size[1] / 4)), 8.0)
    return {"slice": width, "count": max(int((r.size[1] - 5 - 60) // (width + 3)), 1)}


def _half(r: StageResult) -> Values:
    return {"width": max(round(r.size[0] / 4, 0), 6.0)}


def _thinner(r: StageResult) -> Values:
    return {"width": round(r.size[2] / 2 - 2, 1)}


def _small(r: StageResult, share: float, most: float) -> float:
    return round(min(most, share * min(r.size[0], r.size[1])), 1)


OFFERS: tuple[Offer, ...] = (
    Offer(Glue, "Set the loose pieces against each other and clamp them up.", _loose, _across),
    Offer(Flatten, "Bring both faces flat and parallel, by planer, drum sander or router sled.", _any, _flatten),
    Offer(JointEdge, "Make an edge straight and square.", _one),
    Offer(Crosscut, "Square one end and cut slices to a stop; each becomes a row of end grain.", _panel, _slices),
    Offer(Rip, "Rip along the fibres into strips, square, skewed or bevelled.", _lying, _half),
    Offer(Resaw, "Saw through the thickness into thinner pieces.", _lying, _thinner),
    Offer(Profile, "Saw strips to a diamond, rhombus or triangle with a tilted blade.", _lying),
    Offer(Arrange, "Stand the slices up in rows, flipped, turned and shifted as a rule says.", _slices_lie),
    Offer(Turned, "Roll or turn every piece; one of the 24 ways to lie.", _any),
    Offer(Trim, "Cut the four edges square, by an amount or to a size.", _one),
    Offer(Shape, "Round the corners, or cut a circle.", _one, lambda r: {"radius": _small(r, 0.1, 20)}),
    Offer(Groove, "Rout a juice groove round the face.", _roomy, lambda r: {"inset": _small(r, 0.12, 20)}),
    Offer(Well, "Rout a well into a corner of the face.", _roomy, lambda r: {
        "width": _small(r, 0.3, 60), "length": _small(r, 0.3, 60), "inset": _small(r, 0.1, 15),
        "radius": _small(r, 0.06, 10), "depth": round(min(10.0, r.size[2] / 3), 1)}),
    Offer(Hollow, "Hollow the face to a radius, as for a rocking knife.", _roomy,
          lambda r: {"depth": round(min(12.0, r.size[2] / 3), 1)}),
    Offer(Rabbet, "Cut a step under the edge, so that the board floats and lifts.", _roomy),
    Offer(Cove, "Rout finger coves along two edges, to lift it by.", _roomy, lambda r: {
        "length": _small(r, 0.4, 100), "radius": round(min(9.5, r.size[2] / 3), 1)}),
    Offer(Notch, "Cut a notch through an edge, for a handle or a bowl.", _roomy, lambda r: {
        "width": _small(r, 0.35, 90), "depth": _small(r, 0.1, 20)}),
    Offer(Ease, "Chamfer or round over the edges.", _one, lambda r: {"size": min(2.0, round(r.size[2] / 6, 1))}),
    Offer(Feet, "Drill for four feet.", _roomy),
    Offer(Rest, "Let it rest, so that moisture from the glue leaves.", _any),
    Offer(Fill, "Fill hairlines and voids before sanding.", _one),
    Offer(Sand, "Sand through the grits.", _one),
    Offer(Oil, "Flood with oil, round by round.", _one),
    Offer(Wax, "Rub in wax and buff.", _one),
)  # fmt: skip


def fitting(result: StageResult) -> list[Offer]:
    """What may follow the wood as a stage leaves it."""
    return [offer for offer in OFFERS if offer.fits(result)]


def offer(kind: str) -> Offer | None:
    """The offer of a kind, or None."""
    return next((o for o in OFFERS if o.name == kind), None)
