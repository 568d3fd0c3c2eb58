"""What can be put in after a stage: each kind with a line on what it does, whether it fits the wood that lies there,
and good first values."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from ..patterns.model import GRITS, LEFT_TO_HOLD
from ..plan.simulate import StageResult
from ..shop import Shop
from ..stages import (
    Across,
    Arrange,
    Beside,
    Border,
    Cove,
    Crosscut,
    Ease,
    Feet,
    Fill,
    Flatten,
    Glue,
    Groove,
    Hollow,
    Inlay,
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
Brings = Callable[[StageResult, Shop, str], list[Values]]
Fits = Callable[[StageResult], bool]
First = Callable[[StageResult, Shop], Values]


@dataclass(frozen=True, slots=True)
class Offer:
    """A kind of stage that may follow: what it does in a line, what it needs, and its first values from the wood.

    What takes further wood ``brings`` the stages that make it, from the wood, the shop and the board's first wood. Each
    takes what the one before it leaves, and the last is taken with.
    """

    kind: type[Stage]
    does: str
    fits: Fits
    values: First = lambda _result, _shop: {}
    brings: Brings | None = None
    called: str = ""
    """What it is called where its kind is offered for several ends."""

    @property
    def kind_name(self) -> str:
        """The kind as a plan file has it."""
        return str(self.kind.model_fields["kind"].default)

    @property
    def name(self) -> str:
        """What a button asks for."""
        return self.called.lower().replace(" ", "-") or self.kind_name

    @property
    def title(self) -> str:
        """What it goes by."""
        return self.called or self.kind.title


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


def _lying_or_one(r: StageResult) -> bool:
    return _lying(r) or _one(r)


def _slices_lie(r: StageResult) -> bool:
    return _loose(r) and _lying(r)


def _any(_r: StageResult) -> bool:
    return True


def _across(r: StageResult, shop: Shop) -> Values:
    return {
        "across": Across.WIDTH if _lying(r) or isinstance(r.stage, Rip) else Across.LENGTH,
        "clamp_hours": 12 if _lying(r) else 24,
        "spread": shop.spread,
    }


def _flatten(r: StageResult, shop: Shop) -> Values:
    planed = _lying(r) and r.size[1] >= shop.planer_shortest
    off = shop.allowances.flattening(on_end=not _lying(r))
    return {"each_face": off, "method": "planer" if planed else "drum-sander"}


def _slices(r: StageResult, shop: Shop) -> Values:
    """As many slices for a board of 38 mm as a panel of this length gives, with a hand's breadth left to hold."""
    width = max(min(38.0 + 2 * shop.flatten_board, round(r.size[1] / 4)), 8.0)
    count = max(int((r.size[1] - shop.squaring - LEFT_TO_HOLD) // (width + shop.kerf)), 1)
    return {"slice": width, "count": count, "kerf": shop.kerf, "squaring": shop.squaring}


def _quarter(r: StageResult, shop: Shop) -> Values:
    return {"width": max(round(r.size[0] / 4, 0), 6.0), "kerf": shop.kerf}


def _thinner(r: StageResult, shop: Shop) -> Values:
    return {"width": round((r.size[2] - shop.kerf) / 2 - 0.5, 1), "kerf": shop.kerf}


def _kerf(_r: StageResult, shop: Shop) -> Values:
    return {"kerf": shop.kerf}


def _edge(_r: StageResult, shop: Shop) -> Values:
    return {"edge": shop.edge}


def _grits(_r: StageResult, shop: Shop) -> Values:
    return {"grits": [g for g in GRITS if g <= int(shop.last_grit)], "raise_grain": shop.raise_grain != "none"}


def _finish(_r: StageResult, shop: Shop) -> Values:
    return {"oil": shop.finish}


def _small(r: StageResult, share: float, most: float) -> float:
    size = min(most, share * min(r.size[0], r.size[1]))
    return round(size, 0 if size >= 10 else 1)


FRAME, FRAME_STRIP = 30.0, 60.0
"""Width of a border's pieces across the edge and along it, mm."""


def _frame(r: StageResult, shop: Shop, wood: str) -> list[Values]:
    """Pieces of end grain as high as the board and as many as its edges need, with one to spare for each."""
    wide, long, thick = r.size
    pieces = 2 * sum(math.ceil(side / FRAME_STRIP) + 1 for side in (long, wide + 2 * FRAME))
    each = math.ceil(pieces / 2)
    length = shop.squaring + each * (thick + shop.kerf) + LEFT_TO_HOLD
    strips = [{"wood": wood, "width": FRAME_STRIP, "sawn": "quarter", "count": 2}]
    return [
        {"kind": "mill", "thickness": FRAME, "length": math.ceil(length / 5) * 5.0, "strips": strips},
        {"kind": "crosscut", "slice": thick, "count": each, "kerf": shop.kerf, "squaring": shop.squaring},
        {"kind": "turn", "turns": ["stand up"]},
    ]


LINE = 6.0
"""Width of an inlaid strip, mm."""


def _lines(r: StageResult, _shop: Shop, wood: str) -> list[Values]:
    """Two strips, a little longer than the board and a little higher than their channel."""
    strips = [{"wood": wood, "width": LINE, "count": 2}]
    return [{"kind": "mill", "thickness": LINE + 2, "length": max(math.ceil(r.size[1]) + 10.0, 80.0), "strips": strips}]


def _thirds(r: StageResult, shop: Shop) -> Values:
    return {"at": [round(r.size[0] / 3), round(r.size[0] * 2 / 3)], "depth": LINE - 1, "spread": shop.spread}


GUARD = 30.0
"""Width of a strip that is glued on to be cut off again, mm."""


def _guards(r: StageResult, _shop: Shop, wood: str) -> list[Values]:
    """Two strips along the edges, as high as the board and as long."""
    strips = [{"wood": wood, "width": GUARD, "count": 2}]
    return [{"kind": "mill", "thickness": max(r.size[2], 3.0), "length": max(r.size[1], 80.0), "strips": strips}]


OFFERS: tuple[Offer, ...] = (
    Offer(Glue, "Set the loose pieces against each other and clamp them up.", _loose, _across),
    Offer(Glue, "Glue a strip to either side, such as a guard that is sawn off again once all is planed.", _one,
          lambda _r, shop: {"spread": shop.spread}, _guards, "Strips at the sides"),
    Offer(Flatten, "Bring both faces flat and parallel, by planer, drum sander or router sled.", _any, _flatten),
    Offer(JointEdge, "Make an edge straight and square.", _lying_or_one),
    Offer(Crosscut, "Square one end and cut slices to a stop; each becomes a row of end grain.", _any, _slices),
    Offer(Rip, "Rip along the length into strips, square, skewed or bevelled; a standing board too.", _any, _quarter),
    Offer(Resaw, "Saw through the thickness into thinner pieces.", _any, _thinner),
    Offer(Profile, "Saw strips to a diamond, a triangle or corners of your own, with a tilted blade.", _lying, _kerf),
    Offer(Arrange, "Stand the slices up in rows, flipped, turned and shifted as a rule says.", _slices_lie),
    Offer(Turned, "Roll or turn every piece onto another side or end.", _any),
    Offer(Beside, "Go on with further pieces too, unglued: a second board, offcuts.", _any),
    Offer(Trim, "Cut the four edges square, by an amount or to a size.", _one, _edge),
    Offer(Shape, "Round the corners, or cut a circle.", _one, lambda r, _shop: {"radius": _small(r, 0.1, 20)}),
    Offer(Groove, "Rout a juice groove round the face.", _roomy, lambda r, _shop: {"inset": _small(r, 0.12, 20)}),
    Offer(Well, "Rout a well into a corner of the face.", _roomy, lambda r, _shop: {
        "width": _small(r, 0.3, 60), "length": _small(r, 0.3, 60), "inset": _small(r, 0.1, 15),
        "radius": _small(r, 0.06, 10), "depth": round(min(10.0, r.size[2] / 3), 1)}),
    Offer(Hollow, "Hollow the face to a radius, as for a rocking knife.", _roomy,
          lambda r, _shop: {"depth": round(min(12.0, r.size[2] / 3), 1)}),
    Offer(Rabbet, "Cut a step under the edge, so that the board floats and lifts.", _roomy),
    Offer(Cove, "Rout finger coves along two edges, to lift it by.", _roomy, lambda r, _shop: {
        "length": _small(r, 0.4, 100), "radius": round(min(9.5, r.size[2] / 3), 1)}),
    Offer(Notch, "Cut a notch through an edge, for a handle or a bowl.", _roomy, lambda r, _shop: {
        "width": _small(r, 0.35, 90), "depth": _small(r, 0.1, 20)}),
    Offer(Border, "Frame it in end grain, with the strips and slices that the frame is made of.", _roomy,
          lambda _r, shop: {"spread": shop.spread}, _frame),
    Offer(Inlay, "Let strips of their own into the face.", _roomy, _thirds, _lines),
    Offer(Ease, "Chamfer or round over the edges.", _one, lambda r, _shop: {"size": min(2.0, round(r.size[2] / 6, 1))}),
    Offer(Feet, "Drill for four feet.", _roomy),
    Offer(Rest, "Let it rest, so that moisture from the glue leaves.", _any),
    Offer(Fill, "Fill hairlines and voids before sanding.", _one),
    Offer(Sand, "Sand through the grits.", _one, _grits),
    Offer(Oil, "Flood with oil, round by round.", _one, _finish),
    Offer(Wax, "Rub in wax and buff.", _one),
)  # fmt: skip


def fitting(result: StageResult) -> list[Offer]:
    """What may follow the wood as a stage leaves it."""
    return [offer for offer in OFFERS if offer.fits(result)]


def offer(kind: str) -> Offer | None:
    """The offer of a kind, or None."""
    return next((o for o in OFFERS if o.name == kind), None)
