"""Arrange: slices stand up, take their order and their turn. This is where the pattern is made."""

from __future__ import annotations

from dataclasses import replace
from enum import StrEnum
from typing import ClassVar, Literal

import numpy as np
from pydantic import Field

from ..errors import StageError
from ..turns import Lie
from .base import Bench, Outcome, Pieces, Stage
from .fields import choice


class Rule(StrEnum):
    """How slices are turned, row by row."""

    AS_CUT = "as-cut"
    FLIP = "flip-every-other"
    END_FOR_END = "end-for-end-every-other"

    @property
    def label(self) -> str:
        return {
            "as-cut": "all as cut",
            "flip-every-other": "flip every other",
            "end-for-end-every-other": "turn every other end for end",
        }[self.value]

    def lie(self, row: int) -> Lie:
        """How the slice in a row (counted from 0) lies under this rule."""
        if row % 2 == 0:
            return Lie.AS_CUT
        return {"as-cut": Lie.AS_CUT, "flip-every-other": Lie.FLIP, "end-for-end-every-other": Lie.END_FOR_END}[
            self.value
        ]


class Arrange(Stage):
    """Stand slices up in rows. ``rule`` turns them row by row; ``order`` lists slice numbers (from 1) in
    row order, or is empty for as cut; ``turned`` gives single slices a lie of their own, by slice number."""

    title: ClassVar[str] = "Arrange"
    verb: ClassVar[str] = "Stand up and arrange the slices"

    kind: Literal["arrange"] = "arrange"
    rule: Rule = choice(Rule.FLIP, label="Turn slices", help="Applied row by row; single slices may differ.")
    order: tuple[int, ...] = Field(default=(), max_length=400)
    turned: dict[int, Lie] = Field(default_factory=dict)

    def rows(self, slices: int) -> list[tuple[int, Lie]]:
        """Slice number (from 1) and lie for every row; needs no wood.

        Numbers in ``order`` beyond the slices there are fall out, missing ones follow at the end, so a
        change of count keeps what was arranged.
        """
        order = [number for number in self.order if 1 <= number <= slices]
        order += [number for number in range(1, slices + 1) if number not in set(order)]
        return [(number, self.turned.get(number, self.rule.lie(row))) for row, number in enumerate(order)]

    def run(self, pieces: Pieces, bench: Bench) -> Outcome:
        if len(set(self.order)) != len(self.order):
            twice = next(n for n in self.order if self.order.count(n) > 1)
            raise StageError(self.id, f"Slice {twice} is laid twice.", "Give each slice one row.", "order")
        rows = self.rows(len(pieces))
        row_of = np.zeros(len(rows), np.int64)
        row_of[[number - 1 for number, _ in rows]] = np.arange(len(rows))
        cells = replace(pieces.cells, piece=row_of[pieces.cells.piece])
        laid = cells.turned_each(np.stack([lie.turn.matrix for _, lie in rows])).settled()
        return Outcome(Pieces(laid), turns=tuple(lie.value for _, lie in rows))
