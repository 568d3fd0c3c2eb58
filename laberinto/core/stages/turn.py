"""Turn: pieces take another of the 24 ways to lie."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from ..fields.spec import listed
from ..geometry.rotations import turn_named
from .base import Bench, Outcome, Pieces, Stage
from .glue import TurnName


class Turned(Stage):
    """Turn every piece; several ``turns`` repeat over the pieces in order."""

    title: ClassVar[str] = "Turn"
    verb: ClassVar[str] = "Turn the pieces"

    kind: Literal["turn"] = "turn"
    turns: tuple[TurnName, ...] = listed(
        "turns", label="Turns", help="Over the pieces in turn: as it lies; quarter roll.",
        default=("quarter roll",), min_length=1, max_length=40,
    )  # fmt: skip

    def run(self, pieces: Pieces, bench: Bench) -> Outcome:
        names = [self.turns[i % len(self.turns)] for i in range(len(pieces))]
        matrices = np.stack([turn_named(name).matrix for name in names])
        return Outcome(Pieces(pieces.cells.turned_each(matrices).settled()), turns=tuple(names))
