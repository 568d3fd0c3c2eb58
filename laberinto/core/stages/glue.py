"""Glue: loose pieces become one, side by side, in an order and with turns and shifts that rules give."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from enum import StrEnum
from itertools import cycle
from typing import Annotated, ClassVar, Literal

import numpy as np
from pydantic import AfterValidator, Field

from ..errors import StageError
from ..fields.spec import choice, listed, millimetres, whole, yes_no
from ..geometry.joints import Joint, joints_between, parts
from ..geometry.nesting import ALONG, distance
from ..geometry.rotations import Turn, turn_named
from ..solid import Cells, Ints, join
from .base import Bench, Cause, Outcome, Pieces
from .gluing import Gluing

MOST_PIECES = 2000


class Across(StrEnum):
    """Which way the pieces are set beside each other."""

    WIDTH = "width"
    LENGTH = "length"
    THICKNESS = "thickness"

    @property
    def label(self) -> str:
        return {
            "width": "side by side, left to right",
            "length": "row behind row",
            "thickness": "stacked, from below",
        }[self.value]

    @property
    def axis(self) -> int:
        return {"width": 0, "length": 1, "thickness": 2}[self.value]


TurnName = Annotated[str, AfterValidator(lambda name: turn_named(name).name)]
Shift = Annotated[float, Field(ge=-2000, le=2000)]


class Glue(Gluing):
    """Set pieces against each other and glue them. Along the length the first piece lies farthest away.

    Pieces come from ``from`` and, where named, from the stages in ``with``. ``sequence`` repeats their names
    (A B, or A mortar B mortar) until the next one has no piece left; without it they come one after the other.
    ``reverse``, ``shuffle`` (a seed) or ``order`` (positions from 1) rearrange them. ``turns`` and ``shifts``
    (mm across the joint) repeat along the row, ``stagger`` shifts each further by as much, and ``turned`` and
    ``shifted`` say otherwise for single positions. Joints numbered in ``dry`` get no glue, so that one clamp-up
    yields several pieces. Bevelled sides nest; unequal pieces keep their steps.
    """

    title: ClassVar[str] = "Glue-up"
    verb: ClassVar[str] = "Glue up"

    seldom: ClassVar[tuple[str, ...]] = ("order", "dry", "also", "sequence")

    kind: Literal["glue"] = "glue"
    across: Across = choice(Across.WIDTH, label="Set pieces", help="The way the pieces lie beside each other.")
    sequence: tuple[str, ...] = listed(
        "names", label="In turn", help="Stages whose pieces alternate, over and over: slices, mortar.", max_length=40
    )
    turns: tuple[TurnName, ...] = listed(
        "turns", label="Turns", help="Over the pieces in turn: as it lies; quarter roll.", max_length=40
    )
    shifts: tuple[Shift, ...] = listed(
        "lengths", label="Shifts", help="Over the pieces in turn, along the joint: 0, 15, -15.", max_length=40
    )
    stagger: float = millimetres(0.0, label="Each further by", help="Than the one before it.", least=-2000, most=2000)
    reverse: bool = yes_no(False, label="The other way round", help="Last piece first.")
    shuffle: int | None = whole(
        None, label="Shuffle", help="Any number; the same number, the same order.", least=0, most=2**32 - 1
    )
    order: tuple[int, ...] = listed(
        "numbers", label="Order", help="Numbers of the pieces as they come, each once.", max_length=MOST_PIECES
    )
    dry: tuple[int, ...] = listed(
        "numbers", label="Dry joints", help="No glue behind these places: 3, 6, 9.", max_length=MOST_PIECES
    )
    turned: dict[int, TurnName] = Field(default_factory=dict, max_length=MOST_PIECES)
    shifted: dict[int, Shift] = Field(default_factory=dict, max_length=MOST_PIECES)

    def run(self, pieces: Pieces, bench: Bench) -> Outcome:
        pools = {self.sources[0]: pieces, **bench.others}
        laid, spare = self._lay_out({name: len(pool) for name, pool in pools.items()})
        row = self.arranged(len(laid))
        ordered = [laid[i] for i in row]
        cells = _picked(pools, ordered)
        cells = cells.turned_each(np.stack([self.turn_at(at).matrix for at in range(len(row))])).settled()
        placed, joints = self._placed(cells, len(row))
        group = np.cumsum([0] + [position in self.dry for position in range(1, len(row))])
        joints = [j for j in joints if j.area > 0 and group[j.first] == group[j.second]]
        self._check_held(joints, group)
        whole = placed.regrouped(group[placed.piece]).settled()
        left = _picked(pools, spare)
        waste = {Cause.OFFCUT: left.volume()} if spare else {}
        turns = tuple(self.turn_at(at).name for at in range(len(row)))
        return Outcome(Pieces(whole), left, waste, tuple(joints), turns=turns, laid=placed.piece)

    def positions(self, counts: Mapping[str, int]) -> list[tuple[str, int]]:
        """Source and number (from 0) of the piece at each position: from the left, from the far side or from below.
        ``counts`` are the pieces of each source. Raises StageError where they cannot be laid so."""
        laid, _ = self._lay_out(counts)
        return [laid[at] for at in self.arranged(len(laid))]

    def _lay_out(self, pools: Mapping[str, int]) -> tuple[list[tuple[str, int]], list[tuple[str, int]]]:
        """Source and piece number before they are rearranged, and the pieces left over."""
        unknown = [name for name in self.sequence if name not in pools]
        if unknown:
            raise StageError(
                self.id, f"The sequence asks for “{unknown[0]}”, which this glue-up does not take.",
                f"Use {', '.join(pools)}, or add it to “with”.", "sequence",
            )  # fmt: skip
        waiting = {name: list(range(count)) for name, count in pools.items()}
        if not self.sequence:
            return [(name, number) for name in pools for number in waiting[name]], []
        laid: list[tuple[str, int]] = []
        for name in cycle(self.sequence):
            if not waiting[name]:
                break
            laid.append((name, waiting[name].pop(0)))
        return laid, [(name, number) for name, numbers in waiting.items() for number in numbers]

    def arranged(self, count: int) -> list[int]:
        """Which piece, from 0 before they are rearranged, lies at each position."""
        if not count:
            raise StageError(self.id, "There is no piece to glue.", "Name a stage that yields some.", "from")
        row = list(range(count))
        if self.order:
            if sorted(self.order) != list(range(1, count + 1)):
                raise StageError(
                    self.id, f"The order must name each of the {count} pieces once.", f"Use 1 to {count}.", "order"
                )
            row = [number - 1 for number in self.order]
        if self.shuffle is not None:
            row = [row[i] for i in np.random.default_rng(self.shuffle).permutation(count)]
        return row[::-1] if self.reverse else row

    def turn_at(self, at: int) -> Turn:
        """How the piece at a position (from 0) is turned."""
        if at + 1 in self.turned:
            return turn_named(self.turned[at + 1])
        return turn_named(self.turns[at % len(self.turns)]) if self.turns else Turn()

    def shift_at(self, at: int) -> float:
        """How far the piece at a position (from 0) is shifted across the joint, mm."""
        if at + 1 in self.shifted:
            return self.shifted[at + 1]
        return (self.shifts[at % len(self.shifts)] if self.shifts else 0.0) + self.stagger * at

    def _placed(self, cells: Cells, count: int) -> tuple[Cells, list[Joint]]:
        """Every piece against the one before it, and the joints between them.

        Box against box is right wherever faces then touch. Where none do, the sides are slanted and nest; what comes
        after such a one must clear all that stands out beside it, too.
        """
        axis = self.across.axis
        where = np.zeros((count, 3))
        where[:, 1 if axis == 0 else 0] = [self.shift_at(at) for at in range(count)]
        extents = cells.piece_sizes()[:, axis]
        steps = np.concatenate([[0.0], extents[1:] if axis == 1 else extents[:-1]])  # the length runs towards you
        way = -1.0 if axis == 1 else 1.0
        where[:, axis] = np.cumsum(way * steps)
        placed = cells.moved(where[cells.piece])
        along = way * np.eye(3)[axis]
        joints = joints_between(placed, along)
        loose = [joint.second for joint in joints if joint.second == joint.first + 1 and not joint.area]
        if not loose:
            return placed, joints
        level = where * (np.arange(3) != axis)

        def apart(first: int, second: int) -> float | None:
            one, other = (cells.of_piece(number).moved(level[number]) for number in (first, second))
            return distance(other, one, axis) if axis == 1 else distance(one, other, axis)

        for at in loose:
            nested = apart(at - 1, at)
            steps[at] = steps[at] if nested is None else nested
        gone = [0.0]  # how far along the row each piece begins
        for at in range(1, count):
            begins = gone[-1] + steps[at]
            for earlier in range(at - 2, -1, -1):
                box = extents[at] if axis == 1 else extents[earlier]
                if gone[earlier] + box > begins + ALONG and (clear := apart(earlier, at)) is not None:
                    begins = max(begins, gone[earlier] + clear)
            gone.append(begins)
        where[:, axis] = way * np.array(gone)
        placed = cells.moved(where[cells.piece])
        return placed, joints_between(placed, along)

    def _check_held(self, joints: Sequence[Joint], group: Ints) -> None:
        """Raise StageError where a piece touches no other that it is to be glued to, over any area."""
        whole = parts(joints, len(group))
        for number in range(int(group[-1]) + 1):
            mine = np.flatnonzero(group == number)
            apart = mine[whole[mine] != whole[mine[0]]]
            if len(apart):
                at = int(apart[0])
                raise StageError(
                    self.id, f"Pieces {at} and {at + 1} touch along an edge at most, so no glue can hold them.",
                    f"Shift or turn one of them until faces meet, or leave joint {at} dry.", "shifts",
                )  # fmt: skip


def _picked(pools: Mapping[str, Pieces], chosen: list[tuple[str, int]]) -> Cells:
    """The chosen pieces of all pools as one set, numbered in the order given."""
    parts = []
    for name, pool in pools.items():
        position = np.full(len(pool), -1, np.int64)
        mine = [(at, number_) for at, (source, number_) in enumerate(chosen) if source == name]
        position[[number_ for _, number_ in mine]] = [at for at, _ in mine]
        numbers = position[pool.cells.piece]
        parts.append(pool.cells.replace(piece=numbers).take(numbers >= 0))
    return join(parts)
