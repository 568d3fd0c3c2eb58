"""Below the drawing: the numbers people decide by, and what they are wanted to be."""

from __future__ import annotations

from dataclasses import dataclass

from laberinto.core.analysis.figures import Figures
from laberinto.core.analysis.glueups import GLUE
from laberinto.core.woods import LIBRARY
from laberinto.store import BoardView

from ...app import present
from ..wood.view import short

NEAR_ENOUGH = 0.05
"""mm by which a size may miss what is wanted."""


@dataclass(frozen=True, slots=True)
class Want:
    """One of width, length and thickness: wanted as typed, wanted and actual in mm."""

    name: str
    typed: str
    mm: float | None
    there: float

    @property
    def off(self) -> float:
        """How much too large, mm; 0 where it is met or not asked for."""
        gap = 0.0 if self.mm is None else self.there - self.mm
        return gap if abs(gap) > NEAR_ENOUGH else 0.0

    @property
    def field(self) -> str:
        """What its field is called."""
        return f"want-{self.name}"


@dataclass(frozen=True, slots=True)
class Numbers:
    """The board's figures."""

    board: BoardView
    figures: Figures

    @property
    def wanted(self) -> list[Want]:
        """Width, length and thickness."""
        want, how = self.board.plan.wanted, present.lengths()
        return [
            Want(name, "" if (mm := getattr(want, name)) is None else how.field(mm), mm, getattr(self.figures, name))
            for name in ("width", "length", "thickness")
        ]

    @property
    def short_of(self) -> str:
        """The woods of which the store has too little."""
        return " and ".join(LIBRARY[each.wood].name.lower() for each in short(self.board))

    @property
    def glue_rates(self) -> dict[str, float]:
        """Glue in g/m² of joint, by how many faces are spread."""
        return {spread.value: grams for spread, grams in GLUE.items()}
