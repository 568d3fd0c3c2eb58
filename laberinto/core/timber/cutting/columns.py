"""Ways to rip one section: which strips lie side by side in it.

All that can be part of a best plan are listed where they are few; else those that fit the most wood are gathered by
filling sections at random, and then nothing is proven of the ones left out.
"""

from __future__ import annotations

import random
from collections.abc import Sequence
from dataclasses import dataclass

from ..model import Lot
from ..needs import Need
from .model import Saw

MOST = 1500
"""Ways listed for one length and width of section; from there on they are gathered."""

GATHERED = 260
"""So many are kept of those."""

_SLACK = 1e-6


@dataclass(frozen=True, slots=True)
class Option:
    """One way to get strips of a need from a piece: the width ripped (mm), how many lie one above the other, and
    whether the strip is rolled a quarter turn."""

    need: int
    width: float
    layers: int
    rolled: bool = False


@dataclass(frozen=True, slots=True)
class Column:
    """A ripped section: its length (mm), how many there are of each option, and the width they take with their kerfs
    between."""

    length: float
    options: tuple[tuple[Option, int], ...]
    width: float

    def yields(self, need: int) -> int:
        return sum(option.layers * n for option, n in self.options if option.need == need)


def options(needs: Sequence[Need], lot: Lot, length: float, saw: Saw) -> list[Option]:
    """How strips of these needs, of ``length`` or shorter, can be got from a piece of this lot."""
    thick = lot.flat(length)
    out: list[Option] = []
    for at, need in enumerate(needs):
        if need.length > length + _SLACK:
            continue
        found = []
        for width, height, rolled in ((need.width, need.thickness, False), (need.thickness, need.width, True)):
            layers = int((thick + saw.kerf + _SLACK) // (height + saw.kerf))
            if layers > 1 and (width > saw.resaw or lot.radius is not None):
                layers = 1
            if layers:
                found.append(Option(at, width, layers, rolled))
        # turned a quarter the same strip may take less width; equal or worse ways are left out
        found.sort(key=lambda o: (o.width / o.layers, o.rolled))
        out += [
            o for k, o in enumerate(found) if not any(p.width <= o.width and p.layers >= o.layers for p in found[:k])
        ]
    return out


def columns(
    needs: Sequence[Need], lot: Lot, length: float, width: float, saw: Saw
) -> tuple[list[Column], bool]:  # fmt: skip
    """Ways to rip a section of this length from a rectangle of this width, and whether they are all that matter."""
    there = options(needs, lot, length, saw)
    if not any(abs(needs[o.need].length - length) < _SLACK for o in there):
        return [], True  # a shorter section would do
    found = _listed(needs, there, length, width, saw)
    complete = len(found) <= MOST
    if not complete:
        found = _gathered(needs, there, width, saw)
    made = [Column(length, pattern, _taken(pattern, saw)) for pattern in found]
    return [c for c in made if any(abs(needs[o.need].length - length) < _SLACK for o, _ in c.options)], complete


Pattern = tuple[tuple[Option, int], ...]


def _taken(pattern: Pattern, saw: Saw) -> float:
    return sum((option.width + saw.kerf) * n for option, n in pattern) - saw.kerf


def _most(needs: Sequence[Need], option: Option) -> int:
    """No more than is asked for."""
    return -(-needs[option.need].count // option.layers)


def _listed(
    needs: Sequence[Need], there: Sequence[Option], length: float, width: float, saw: Saw
) -> list[Pattern]:  # fmt: skip
    """Every pattern that cannot take one strip more, or leaves a rest beside it that is kept; until there are too
    many. Any other is no better than one with a strip more."""
    ordered = sorted(there, key=lambda o: -o.width)
    found: list[Pattern] = []

    def fill(at: int, left: float, so_far: list[tuple[Option, int]]) -> None:
        if len(found) > MOST:
            return
        if at == len(ordered):
            used = dict(so_far)
            room = any(o.width + saw.kerf <= left + _SLACK and used.get(o, 0) < _most(needs, o) for o in ordered)
            if so_far and (not room or saw.keeps(length, left - saw.kerf)):
                found.append(tuple(so_far))
            return
        option = ordered[at]
        fits = min(int((left + _SLACK) // (option.width + saw.kerf)), _most(needs, option))
        for n in range(fits, -1, -1):
            fill(at + 1, left - n * (option.width + saw.kerf), [*so_far, (option, n)] if n else so_far)

    fill(0, width + saw.kerf, [])
    return found


def _gathered(needs: Sequence[Need], there: Sequence[Option], width: float, saw: Saw) -> list[Pattern]:
    """Patterns from filling the section in many orders, always the same ones; the fullest are kept."""
    dice = random.Random(1)
    found: set[Pattern] = set()
    for turn in range(8 * GATHERED):
        order = sorted(there, key=lambda o: -o.width) if turn == 0 else dice.sample(list(there), len(there))
        left, used = width + saw.kerf, {}
        for option in order:
            most = min(int((left + _SLACK) // (option.width + saw.kerf)), _most(needs, option))
            n = most if turn % 2 == 0 else dice.randint(0, most)
            if n:
                used[option] = n
                left -= n * (option.width + saw.kerf)
        if used:
            found.add(tuple(sorted(used.items(), key=lambda item: (-item[0].width, item[0].need, item[0].rolled))))
    fullest = sorted(found, key=lambda p: (-_taken(p, saw), [(o.need, n) for o, n in p]))
    singles = [((o, min(int((width + saw.kerf) // (o.width + saw.kerf)), _most(needs, o))),) for o in there]
    return [*fullest[:GATHERED], *(s for s in singles if s[0][1] and s not in found)]
