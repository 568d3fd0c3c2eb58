"""From a wanted size to a pattern's numbers: counts and lengths that make a board of just that size, or nearly.

How a family's size follows from its numbers is measured on simulated boards: a side is p + q·n + r·u + t·n·u for n
pieces and lengths u times as large (cells grow, mortar and kerfs stay, half a brick is there once, trimming is
constant). Every proposal is then simulated itself, and what it says of its size is that board's.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass
from enum import StrEnum
from typing import Any

from ..errors import LaberintoError
from ..patterns import Family
from ..plan.model import Plan
from ..plan.simulate import Simulation, simulate
from ..stages import Trim

EXACT = 0.01
"""A size this near (mm) is met."""

STRETCH = 1.1
MOST_TRIED = 6
MOST_COUNT = 100
NOTHING = 1e-3
"""A length that changes a side by less (mm) has nothing to do with it."""

WIDEST, NARROWEST = 1.9, 0.52
"""How much larger or smaller a length may be made than it stands."""


@dataclass(frozen=True, slots=True)
class Want:
    """A finished size, mm."""

    width: float
    length: float
    thickness: float


class Kind(StrEnum):
    """How a proposal comes to its size: by its numbers alone, or by trimming more than usual off a larger board."""

    MADE = "made"
    TRIMMED = "trimmed"


@dataclass(frozen=True, slots=True)
class Proposal:
    """A board near a wanted size: the family with its numbers, the plan, and the simulated board. ``off`` is how much
    wider, longer and thicker it is than wanted, mm; ``cut`` how much is trimmed off either side across and along."""

    kind: Kind
    family: Family
    plan: Plan
    sim: Simulation
    off: tuple[float, float, float]
    cut: tuple[float, float]

    @property
    def exact(self) -> bool:
        """Whether it comes out as wanted."""
        return max(abs(v) for v in self.off) < EXACT

    @property
    def changes(self) -> dict[str, Any]:
        """The numbers by name."""
        return {name: self.family.value(name) for name in self.family.handles.names}


@dataclass(frozen=True, slots=True)
class Side:
    """p + q·n + r·u + t·n·u."""

    p: float
    q: float
    r: float
    t: float

    def size(self, n: int, u: float) -> float:
        return self.p + self.q * n + (self.r + self.t * n) * u

    def slope(self, n: int) -> float:
        """How much a side of n pieces grows with u."""
        return self.r + self.t * n

    def stretch(self, size: float, n: int) -> float:
        """The u that makes ``size`` of n pieces."""
        return (size - self.p - self.q * n) / self.slope(n) if self.slope(n) > NOTHING else math.inf

    def count(self, size: float, u: float) -> float:
        each = self.q + self.t * u
        return (size - self.p - self.r * u) / each if each > 0 else math.inf


@dataclass(frozen=True, slots=True)
class _Try:
    n: int
    m: int
    u: float
    v: float


def propose(family: Family, want: Want, held: frozenset[str] = frozenset(), name: str = "Sized") -> list[Proposal]:
    """Boards of this family near a wanted size, the nearest first: one that is made so where its numbers allow it,
    else the two nearest; and one that is trimmed to it. Numbers named in ``held`` stay as they are.

    Raises LaberintoError where the family cannot be built with this thickness at all.
    """
    start = free(family.changed(thickness=want.thickness))
    hands = start.handles
    sides = measured(start, name)
    near: list[_Near] = []
    for one in _tries(start, sides, want, held):
        off = sides[0].size(one.n, one.u) - want.width, sides[1].size(one.m, one.v) - want.length
        try:
            made = start.changed(**_numbers(start, one))
            made.plan(name)
        except LaberintoError:
            continue
        if made not in [other.family for other in near]:
            near.append(_Near(off, one, made))
        if _worst(off) < EXACT or len(near) >= MOST_TRIED:
            break
    near.sort(key=lambda other: _worst(other.off))  # of those equally near, the more promising stay in front
    out: list[Proposal] = []
    for found in _two(near):
        proposal = _made(found.family, want, name)
        if proposal and not proposal.exact and not hands.tied:
            proposal = _corrected(start, found.one, proposal, sides, want, held, name)
        out += [proposal] if proposal else []
        if proposal and proposal.exact:
            break
    out.sort(key=lambda p: _worst(p.off[:2]))
    if not (out and out[0].exact) and hands.across:
        trimmed = _trimmed(start, sides, want, held, name)
        out += [trimmed] if trimmed else []
    return out


def free(family: Family) -> Family:
    """The family with no finished width or length asked of it."""
    fields = type(family).model_fields
    asked = {field: None for field in ("width", "length") if field in fields and getattr(family, field) is not None}
    return family.changed(**asked) if asked else family


def _worst(off: Iterable[float]) -> float:
    """The largest, mm, without the rounding of its sums, so that equals are equal."""
    return round(max(abs(v) for v in off), 6)


@dataclass(frozen=True, slots=True)
class _Near:
    """Numbers with how much wider and longer than wanted they should come out."""

    off: tuple[float, float]
    one: _Try
    family: Family


def _two(near: Sequence[_Near]) -> list[_Near]:
    """The nearest, and the nearest of those that are larger where it is smaller, or the other way round."""
    if len(near) < 2:
        return list(near)
    under = max(near[0].off) < EXACT
    return [near[0], next((other for other in near[1:] if (max(other.off) < EXACT) != under), near[1])]


def _corrected(
    start: Family, one: _Try, proposal: Proposal, sides: tuple[Side, Side], want: Want, held: frozenset[str], name: str
) -> Proposal:
    """A proposal whose lengths are corrected by how much it came out off, where that is nearer."""
    hands = start.handles
    lengths = []
    for side, n, u, off, fields in (
        (sides[0], one.n, one.u, proposal.off[0], hands.pitch), (sides[1], one.m, one.v, proposal.off[1], hands.rise),
    ):  # fmt: skip
        free_to = not held & set(fields) and side.slope(n) > NOTHING
        lengths.append(u - off / side.slope(n) if free_to else u)
    try:
        again = _made(start.changed(**_numbers(start, _Try(one.n, one.m, *lengths))), want, name)
    except LaberintoError:
        return proposal
    return again if again and _worst(again.off) < _worst(proposal.off) else proposal


def scaled(value: Any, factor: float) -> Any:
    """A length, or each of several, made larger."""
    if isinstance(value, tuple):
        return tuple(scaled(v, factor) for v in value)
    return round(float(value) * factor, 4)


def _numbers(family: Family, one: _Try) -> dict[str, Any]:
    hands = family.handles
    out = {field: scaled(family.value(field), one.u) for field in hands.pitch}
    out |= {field: scaled(family.value(field), one.v) for field in hands.rise}
    out |= {hands.across: one.n} if hands.across else {}
    return out | ({hands.along: one.m} if hands.along else {})


def measured(family: Family, name: str) -> tuple[Side, Side]:
    """How width and length follow from the numbers, from five boards: as it stands, one step more across, one step
    more along, and both with larger lengths."""
    hands = family.handles
    n, m = _counts(family)
    n1, m1 = n + (hands.across_step if hands.across else 0), m + (hands.along_step if hands.along else 0)
    first = _size_of(family, _Try(n, m, 1.0, 1.0), name)
    counted = [_size_of(family, one, name) for one in dict.fromkeys((_Try(n1, m, 1.0, 1.0), _Try(n, m1, 1.0, 1.0)))]
    u, wider, more = _stretched(family, (n, m), (n1, m1), name)
    out = []
    for axis, count, step in ((0, n, n1 - n), (1, m, m1 - m)):
        grows = (wider[axis] - first[axis]) / (u - 1)  # with u, as it stands: r + t·n
        each = (counted[axis][axis] - first[axis]) / step if step else 0.0
        each_wider = (more[axis] - wider[axis]) / step if step else 0.0
        t = (each_wider - each) / (u - 1)
        q = each - t
        r = grows - t * count
        out.append(Side(first[axis] - q * count - r - t * count, q, r, t))
    return out[0], out[1]


def _size_of(family: Family, one: _Try, name: str) -> tuple[float, float, float]:
    return simulate(family.changed(**_numbers(family, one)).plan(name)).board.size


def _stretched(
    family: Family, now: tuple[int, int], more: tuple[int, int], name: str
) -> tuple[float, tuple[float, float, float], tuple[float, float, float]]:
    """By what lengths were made larger, or smaller where larger cannot be built, and the sizes with both counts."""
    for factor in (STRETCH, 1 / STRETCH):
        try:
            sizes = [_size_of(family, _Try(n, m, factor, factor), name) for n, m in (now, more)]
            return factor, sizes[0], sizes[1]
        except LaberintoError as error:
            last = error
    raise last


def _counts(family: Family) -> tuple[int, int]:
    hands = family.handles
    return (family.value(hands.across) if hands.across else 1, family.value(hands.along) if hands.along else 1)


def _choices(
    side: Side, size: float, now: int, step: int, *, count_held: bool, length_held: bool
) -> list[tuple[int, float]]:
    """Counts with how much their lengths stretch to make a size; the likest to the board as it stands first."""
    if count_held and length_held:
        return [(now, 1.0)]
    if count_held:
        return [(now, side.stretch(size, now))]
    if length_held or abs(side.slope(now)) < NOTHING:
        at = side.count(size, 1.0)
        if not math.isfinite(at):
            return [(now, 1.0)]
        low = max(now + math.floor((at - now) / step + 1e-9) * step, 1)
        return sorted(((n, 1.0) for n in (low, low + step) if n >= 1), key=lambda c: abs(c[0] - at))
    first = now % step or step
    all_of_them = [(n, side.stretch(size, n)) for n in range(first, MOST_COUNT + 1, step)]
    good = [(n, u) for n, u in all_of_them if NARROWEST <= u <= WIDEST]
    return sorted(good, key=lambda c: abs(math.log(c[1])))


def _tries(family: Family, sides: tuple[Side, Side], want: Want, held: frozenset[str]) -> Iterator[_Try]:
    """Numbers to try, the most promising first."""
    hands = family.handles
    n, m = _counts(family)
    across, along = sides
    pitch_held, rise_held = bool(held & set(hands.pitch)), bool(held & set(hands.rise))
    n_held = not hands.across or hands.across in held
    m_held = not hands.along or hands.along in held
    if not hands.tied:
        rows = _choices(along, want.length, m, hands.along_step, count_held=m_held, length_held=rise_held)
        columns = _choices(across, want.width, n, hands.across_step, count_held=n_held, length_held=pitch_held)
        pairs = [(i + j, c, r) for i, c in enumerate(columns[:6]) for j, r in enumerate(rows[:6])]
        for _, (cn, u), (rm, v) in sorted(pairs, key=lambda p: p[0]):
            yield _Try(cn, rm, u, v)
        return
    columns = _choices(across, want.width, n, hands.across_step, count_held=n_held, length_held=pitch_held)
    rows = _choices(along, want.length, m, hands.along_step, count_held=m_held, length_held=pitch_held)
    tries: dict[_Try, float] = {}
    for cn, u in columns:
        for rm, v in rows:
            for both in dict.fromkeys((u, v)):
                if NARROWEST <= both <= WIDEST or n_held or m_held:
                    off = max(abs(across.size(cn, both) - want.width), abs(along.size(rm, both) - want.length))
                    # a millimetre off weighs as much as lengths a fiftieth larger or smaller
                    tries[_Try(cn, rm, both, both)] = (off if off > EXACT else 0.0) + 50 * abs(math.log(both))
    yield from sorted(tries, key=lambda one: tries[one])


def _made(family: Family, want: Want, name: str) -> Proposal | None:
    """The board that these numbers make, or None where they make none."""
    try:
        plan = family.plan(name)
        sim = simulate(plan)
    except LaberintoError:
        return None
    return Proposal(Kind.MADE, family, plan, sim, _off(sim, want), _taken_off(sim))


def _off(sim: Simulation, want: Want) -> tuple[float, float, float]:
    width, length, thickness = sim.board.size
    return width - want.width, length - want.length, thickness - want.thickness


def _taken_off(sim: Simulation) -> tuple[float, float]:
    """What the last trim takes off either side, across and along, mm."""
    trim = next((r for r in reversed(sim.results) if isinstance(r.stage, Trim)), None)
    if trim is None or trim.stage.source is None:
        return 0.0, 0.0
    before = sim[trim.stage.source].size
    return (before[0] - trim.size[0]) / 2, (before[1] - trim.size[1]) / 2


def _cut_to(family: Family, want: Want, name: str, sim: Simulation) -> Proposal | None:
    """A larger board with its last trim set to the wanted size. Where later stages take more off, or none trims, there
    is no such board."""
    trim = next((r for r in reversed(sim.results) if isinstance(r.stage, Trim)), None)
    if trim is None:
        return None
    fields = type(family).model_fields
    if {"width", "length"} <= fields.keys():
        family = family.changed(width=want.width, length=want.length)
        plan = family.plan(name)
    else:
        over = sim.board.size[0] - trim.size[0], sim.board.size[1] - trim.size[1]
        sizes = {"width": want.width - over[0], "length": want.length - over[1]}
        plan = family.plan(name).with_stage(trim.stage.model_copy(update=sizes))
    cut = simulate(plan)
    return Proposal(Kind.TRIMMED, family, plan, cut, _off(cut, want), _taken_off(cut))


def _trimmed(family: Family, sides: tuple[Side, Side], want: Want, held: frozenset[str], name: str) -> Proposal | None:
    """The smallest board that covers the wanted size, trimmed to it."""
    hands = family.handles
    n, m = _counts(family)
    for extra in range(4):
        cn = n if hands.across in held else _covering(sides[0], want.width, n, hands.across_step, extra)
        rm = m if hands.along in held else _covering(sides[1], want.length, m, hands.along_step, extra)
        try:
            grown = family.changed(**_numbers(family, _Try(cn, rm, 1.0, 1.0)))
            sim = simulate(grown.plan(name))
            if sim.board.size[0] >= want.width - EXACT and sim.board.size[1] >= want.length - EXACT:
                return _cut_to(grown, want, name, sim)
        except LaberintoError:
            continue
    return None


def grown(family: Family, sides: tuple[Side, Side], want: Want) -> Family:
    """The family with the most pieces that stay within a size, its lengths as they are. Raises InputError."""
    hands = family.handles
    n, m = _counts(family)
    if not hands.across:
        u = min(sides[0].stretch(want.width, 1), sides[1].stretch(want.length, 1))
        return family.changed(**_numbers(family, _Try(1, 1, u, u)))
    cn = _covering(sides[0], want.width + EXACT, n, hands.across_step, -1)
    rm = _covering(sides[1], want.length + EXACT, m, hands.along_step, -1)
    return family.changed(**_numbers(family, _Try(cn, rm, 1.0, 1.0)))


def _covering(side: Side, size: float, now: int, step: int, extra: int) -> int:
    at = side.count(size, 1.0)
    steps = math.ceil((at - now) / step - 1e-9) + extra if math.isfinite(at) else extra
    return max(now + steps * step, now % step or step)
