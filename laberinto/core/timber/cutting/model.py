"""What a cut plan is made of. Lengths in mm from a piece's lower left corner: x along the grain, y across it."""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass
from enum import StrEnum

from ...fields.allowances import USUAL
from ...shop import Shop
from ..model import Lot
from ..needs import Need

NEAR = 0.002
"""A plan this near its bound, as a share, is good enough to stop."""


class Aim(StrEnum):
    """What counts when there is a choice."""

    LEAST_WASTE = "least-waste"
    LEAST_NEW = "least-new"
    OFFCUTS = "offcuts"

    @property
    def label(self) -> str:
        return {
            Aim.LEAST_WASTE: "least waste",
            Aim.LEAST_NEW: "fewest new planks begun",
            Aim.OFFCUTS: "offcuts and scraps first",
        }[self]


@dataclass(frozen=True, slots=True)
class Saw:
    """How wood is taken apart here, mm: the saw's kerf, what is cut off each end and edge of rough stock, how high it
    re-saws, and from what length and width a rest is worth keeping."""

    kerf: float = USUAL.kerf
    end: float = 20.0
    edge: float = 4.0
    resaw: float = 200.0
    keep_length: float = 200.0
    keep_width: float = 30.0

    @classmethod
    def of(cls, shop: Shop) -> Saw:
        """As the shop has it."""
        return cls(shop.kerf, shop.end_trim, shop.edge_trim, shop.resaw_height, shop.keep_length, shop.keep_width)

    def keeps(self, length: float, width: float) -> bool:
        """Whether a rest of this size goes back to the store."""
        return length >= self.keep_length and width >= self.keep_width


@dataclass(frozen=True, slots=True)
class Stock:
    """One piece to cut from: its lot, the lot's number in the store, and which of the lot it is. ``new`` where it
    would still have to be bought."""

    lot: Lot
    number: int
    nth: int = 1
    new: bool = False

    @property
    def name(self) -> str:
        return f"{self.number}.{self.nth}" if self.lot.count > 1 else f"{self.number}"


@dataclass(frozen=True, slots=True)
class Piece:
    """A strip, or as many as ``layers`` one above the other, ripped from a section: which need it serves (its place in
    the list), where it lies (mm) and its own length, which may be less than the section's."""

    need: int
    x: float
    y: float
    length: float
    width: float
    layers: int = 1
    rolled: bool = False
    """Whether the strip's thickness lies across the plank and its width in the plank's thickness."""


@dataclass(frozen=True, slots=True)
class Section:
    """A part crosscut from a piece: where it starts and ends along it, and between which edges it lies."""

    x: float
    length: float
    y: float
    width: float
    pieces: tuple[Piece, ...]


@dataclass(frozen=True, slots=True)
class Rest:
    """What is left over in one part and worth keeping."""

    x: float
    y: float
    length: float
    width: float


@dataclass(frozen=True, slots=True)
class PlankCut:
    """How one piece is cut."""

    stock: Stock
    sections: tuple[Section, ...]
    rests: tuple[Rest, ...]

    @property
    def used(self) -> float:
        """Wood taken from the store for good, mm³: the piece less the rests that go back."""
        lot = self.stock.lot
        return lot.volume - sum(rest.length * rest.width for rest in self.rests) * lot.thickness


@dataclass(frozen=True, slots=True)
class CutPlan:
    """The whole plan. ``cost`` is what the aim counts (mm³) and ``bound`` the least that it can be with these pieces;
    ``short`` says how many strips of which need find no wood; ``unsure`` where a longer search might still find some
    for them."""

    needs: tuple[Need, ...]
    planks: tuple[PlankCut, ...]
    short: dict[int, int]
    cost: float
    bound: float
    unsure: bool = False

    @property
    def gap(self) -> float:
        """How far the plan may be from the best, as a share of what it costs."""
        return max(self.cost - self.bound, 0.0) / self.cost if self.cost > 0 else 0.0

    @property
    def made(self) -> Counter[int]:
        """Strips cut for each need."""
        counted: Counter[int] = Counter()
        for plank in self.planks:
            for section in plank.sections:
                for piece in section.pieces:
                    counted[piece.need] += piece.layers
        return counted

    @property
    def used(self) -> float:
        """Wood taken for good, mm³."""
        return sum(plank.used for plank in self.planks)

    @property
    def strips(self) -> float:
        """Rough strips that come of it, mm³."""
        return sum(self.needs[at].volume / self.needs[at].count * n for at, n in self.made.items())
