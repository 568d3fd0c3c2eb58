"""The cut plan's numbers: for every piece the ways it can be laid out, the sections that fit, and what each is worth.

Lengths are whole tenths of a millimetre, those that must fit rounded up and those they must fit into rounded down;
worths are tenths of a mm³ of wood, weighed by the aim.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, field

from ..needs import Need
from .bins import Bin, ways
from .columns import Column, columns
from .model import Aim, PlankCut, Saw, Stock

BARELY = 1000.0
"""What taking a piece up costs on its own (mm³), so that of equal plans the one with fewer pieces wins."""

CENT = 1e6
"""What a hundredth of the shop's money weighs in the choice of what to buy."""


@dataclass(frozen=True, slots=True)
class Room:
    """One rectangle of sound wood: how long it is with the last kerf over its end, the ways to rip a section of it
    with their length and what comes back beside them, and what each tenth of a millimetre kept at the end is worth."""

    bin: Bin
    length: int
    columns: tuple[Column, ...]
    each: tuple[int, ...]
    back: tuple[int, ...]
    rest: int
    least: int
    kerf: int

    def kept(self, left: int) -> int:
        """How much of ``left`` comes back: all but the cut that parts it off, where that is worth keeping."""
        return left - self.kerf if self.rest and left - self.kerf >= self.least else 0


@dataclass(frozen=True, slots=True)
class Choice:
    """A piece: what it costs whole, what a mm³ of it that comes back is worth, and the ways to lay it out."""

    stock: Stock
    price: int
    gone: float
    ways: tuple[tuple[Room, ...], ...]

    def cost(self, plank: PlankCut) -> float:
        """What cutting it so costs, with the rests that come back taken off: mm³ as the aim weighs them, or money."""
        return self.price / 10 - self.gone * (plank.stock.lot.volume - plank.used)


@dataclass
class Task:
    """The strips of one wood and the pieces they may come from. ``missing`` is what a strip that finds no wood costs,
    more than any piece; ``complete`` whether every way to rip was listed."""

    needs: Sequence[Need]
    stock: Sequence[Stock]
    saw: Saw
    aim: Aim
    choices: list[Choice] = field(init=False)
    missing: int = field(init=False)
    complete: bool = field(default=True, init=False)

    def __post_init__(self) -> None:
        self._known: dict[tuple[object, ...], tuple[list[Column], bool]] = {}
        self._lengths = sorted({need.length for need in self.needs}, reverse=True)
        self.choices = [self._choice(piece) for piece in self.stock]
        self.missing = 2 * max((choice.price for choice in self.choices), default=1)

    def _choice(self, piece: Stock) -> Choice:
        begun, gone = weights(piece, self.aim)
        price = round(((begun + gone) * piece.lot.volume + BARELY) * 10)
        if piece.new and piece.lot.price is not None:  # what is bought is chosen by its price, then by its size
            price, gone = round(piece.lot.price * 100 * CENT + piece.lot.volume * 0.01), 0.0
        laid = [tuple(room for b in way if (room := self._room(piece, b, gone))) for way in ways(piece.lot, self.saw)]
        return Choice(piece, price, gone, tuple(way for way in laid if way))

    def _room(self, piece: Stock, space: Bin, gone: float) -> Room:
        saw, lot = self.saw, piece.lot
        kerf = up(saw.kerf)
        length = down(space.length) + kerf
        found = [
            column for each in self._lengths if up(each) + kerf <= length
            for column in self._columns(piece, each, space.width)
        ]  # fmt: skip
        back = []
        for column in found:
            over = space.width - column.width - saw.kerf
            back.append(
                round(column.length * over * lot.thickness * gone * 10) if saw.keeps(column.length, over) else 0
            )
        worth = round(space.width * lot.thickness * gone) if saw.keeps(space.length, space.width) else 0
        each = tuple(up(column.length) + kerf for column in found)
        return Room(space, length, tuple(found), each, tuple(back), worth, up(saw.keep_length), kerf)

    def _columns(self, piece: Stock, length: float, width: float) -> list[Column]:
        """Ripped sections, found once for all pieces of the same thickness and width."""
        key = (length, width, piece.lot.thickness, piece.lot.radius)
        if key not in self._known:
            self._known[key] = columns(self.needs, piece.lot, length, width, self.saw)
            self.complete &= self._known[key][1]
        return self._known[key][0]


def weights(piece: Stock, aim: Aim) -> tuple[float, float]:
    """What a mm³ of a piece costs for being begun at all, and for not coming back."""
    if aim is Aim.LEAST_NEW:
        return (0.0, 0.1) if piece.lot.kind.spare else (1.0, 0.1)
    if aim is Aim.OFFCUTS:
        return (0.0, 0.1) if piece.lot.kind.spare else (0.0, 1.0)
    return 0.0, 1.0


def up(mm: float) -> int:
    return math.ceil(mm * 10 - 1e-6)


def down(mm: float) -> int:
    return math.floor(mm * 10 + 1e-6)
