"""What saws, planers and sanders take, in one place: stages, patterns, cut plans and the shop all begin from it."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from .spec import millimetres


@dataclass(frozen=True, slots=True)
class Allowances:
    """All in mm: the blade's ``kerf``; the ``squaring`` cut, kerf included; what flattening takes off each face of a
    ``panel`` and of a ``board`` of end grain; what trimming takes off each ``edge``; the ``rough`` oversize in length,
    width and thickness. The defaults are those of a small shop, from general trade practice."""

    kerf: float = 3.0
    squaring: float = 5.0
    flatten_panel: float = 1.5
    flatten_board: float = 2.0
    edge: float = 3.0
    rough_length: float = 20.0
    rough_width: float = 3.0
    rough_thickness: float = 3.0

    def flattening(self, *, on_end: bool) -> float:
        """Off each face: end grain is sanded further than a planer takes a panel."""
        return self.flatten_board if on_end else self.flatten_panel


USUAL = Allowances()
"""Where no shop says otherwise."""


def saw_kerf(*, help: str = "What the blade turns to dust at each cut.") -> Any:
    """The parameter of whatever saws: every one allows the same blades."""
    return millimetres(USUAL.kerf, label="Kerf", help=help, least=0.5, most=8)
