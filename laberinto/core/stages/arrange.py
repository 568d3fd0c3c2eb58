"""Arrange: slices stand up in rows, each lying as a rule or a person says."""

from __future__ import annotations

from collections.abc import Sequence
from enum import StrEnum
from itertools import chain, zip_longest
from typing import ClassVar, Literal

import numpy as np
from pydantic import Field

from ..errors import StageError
from ..fields.spec import choice, listed, whole
from ..geometry.rotations import Lie
from ..solid import join
from .base import Bench, Cause, Outcome, Pieces, Stage


class Rule(StrEnum):
    """How slices are turned, row by row."""

    AS_CUT = "as-cut"
    FLIP = "flip-every-other"
    END_FOR_END = "end-for-end-every-other"
    BOOK = "book-matched"
    PAIRS = "mirrored-pairs"

    @property
    def label(self) -> str:
        return {
            "as-cut": "all as cut",
            "flip-every-other": "flip every other",
            "end-for-end-every-other": "turn every other end for end",
            "book-matched": "book-match: every other on its other end",
            "mirrored-pairs": "mirrored pairs: as cut, flip, flip, as cut",
        }[self.value]

    @property
    def reverses(self) -> bool:
        """Whether it lays some rows the other way round, left for right."""
        return any(lie.reverses for lie in _CYCLES[self])

    def lie(self, row: int) -> Lie:
        """How the slice in a row (counted from 0) lies under this rule."""
        return _CYCLES[self][row % len(_CYCLES[self])]


_CYCLES: dict[Rule, tuple[Lie, ...]] = {
    Rule.AS_CUT: (Lie.AS_CUT,),
    Rule.FLIP: (Lie.AS_CUT, Lie.FLIP),
    Rule.END_FOR_END: (Lie.AS_CUT, Lie.END_FOR_END),
    Rule.BOOK: (Lie.AS_CUT, Lie.OTHER_END_UP),
    Rule.PAIRS: (Lie.AS_CUT, Lie.FLIP, Lie.FLIP, Lie.AS_CUT),
}


class Panels(StrEnum):
    """In which order slices of several panels are laid."""

    ALTERNATE = "alternate"
    IN_TURN = "in-turn"

    @property
    def label(self) -> str:
        return {"alternate": "alternate: A B A B", "in-turn": "one after the other: A A B B"}[self.value]


class Arrange(Stage):
    """Stand slices up in rows. Slices come from ``from`` and, where named, from the stages in ``with``; they are
    numbered from 1 through all of them. ``panels`` says how those of several panels alternate and ``shuffle`` (a seed)
    mixes them. ``without`` leaves slices out, ruined or kept as spares: they stay over. ``rule`` turns them row by row;
    ``order`` lists slice numbers in row order, or is empty for the rule's; ``turned`` gives single slices a lie of
    their own, by slice number."""

    title: ClassVar[str] = "Arrange"
    verb: ClassVar[str] = "Stand up and arrange the slices"

    seldom: ClassVar[tuple[str, ...]] = ("also", "order", "without")

    kind: Literal["arrange"] = "arrange"
    also: tuple[str, ...] = listed(
        "names", label="Taken with", help="Further stages whose slices are laid too.", alias="with", max_length=20
    )
    rule: Rule = choice(Rule.FLIP, label="Turn slices", help="Applied row by row; single slices may differ.")
    panels: Panels = choice(Panels.ALTERNATE, label="Slices of several panels", help="Which panel gives the next row.")
    shuffle: int | None = whole(
        None, label="Shuffle", help="Any number; the same number, the same order.", least=0, most=999_999
    )
    order: tuple[int, ...] = listed(
        "numbers", label="Order", help="Slice numbers from the far side; empty: the rule’s.", max_length=400
    )
    without: tuple[int, ...] = listed(
        "numbers", label="Left out", help="Slice numbers that are ruined, or kept as spares.", max_length=400
    )
    turned: dict[int, Lie] = Field(default_factory=dict)

    @property
    def sources(self) -> tuple[str, ...]:
        """The first panel’s slices, then those of the others."""
        return (self.source, *self.also) if self.source else ()

    def rows(self, slices: int | Sequence[int]) -> list[tuple[int, Lie]]:
        """Slice number (from 1) and lie for every row; needs no wood. ``slices`` is how many each panel gives.

        Numbers in ``order`` beyond the slices there are fall out, missing ones follow at the end, so a
        change of count keeps what was arranged.
        """
        by_rule = self.by_rule(slices)
        there = set(by_rule)
        order = [number for number in self.order if number in there]
        laid = set(order)
        order += [number for number in by_rule if number not in laid]
        return [(number, self.turned.get(number, self.rule.lie(row))) for row, number in enumerate(order)]

    def by_rule(self, slices: int | Sequence[int]) -> list[int]:
        """Slice numbers in row order before anybody moved one."""
        counts = [slices] if isinstance(slices, int) else list(slices)
        first = np.cumsum([1, *counts]).tolist()
        panels = [range(first[k], first[k] + count) for k, count in enumerate(counts)]
        laid = zip_longest(*panels) if self.panels is Panels.ALTERNATE else panels
        gone = set(self.without)
        order = [number for number in chain.from_iterable(laid) if number is not None and number not in gone]
        if self.shuffle is not None:
            order = [order[i] for i in np.random.default_rng(self.shuffle).permutation(len(order))]
        return order

    def run(self, pieces: Pieces, bench: Bench) -> Outcome:
        if len(set(self.order)) != len(self.order):
            twice = next(n for n in self.order if self.order.count(n) > 1)
            raise StageError(self.id, f"Slice {twice} is laid twice.", "Give each slice one row.", "order")
        pools = [pieces, *(bench.others[name] for name in self.also)]
        counts = [len(pool) for pool in pools]
        first = np.cumsum([0, *counts])
        slices = join([pool.cells.renumbered(int(first[k])) for k, pool in enumerate(pools)])
        rows = self.rows(counts)
        if not rows:
            raise StageError(self.id, "All slices are left out.", "Take one back.", "without")
        row_of = np.full(sum(counts), -1, np.int64)
        row_of[[number - 1 for number, _ in rows]] = np.arange(len(rows))
        row = row_of[slices.piece]
        cells = slices.replace(piece=row).take(row >= 0)
        laid = cells.turned_each(np.stack([lie.turn.matrix for _, lie in rows])).settled()
        turns = tuple(lie.value for _, lie in rows)
        over = self.left_out(counts)
        if not over:
            return Outcome(Pieces(laid), turns=turns)
        left = join([slices.of_piece(number - 1).as_piece(at) for at, number in enumerate(over)]).settled()
        return Outcome(Pieces(laid), left, {Cause.OFFCUT: left.volume()}, turns=turns)

    def left_out(self, slices: Sequence[int]) -> list[int]:
        """Numbers of the slices that are there and not laid."""
        return sorted(number for number in set(self.without) if number <= sum(slices))
