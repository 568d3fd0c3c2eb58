"""Beside: pieces of several stages are gone on with together, unglued; so a plan may end in several boards."""

from __future__ import annotations

from typing import ClassVar, Literal

from ..fields.spec import listed
from ..geometry.rotations import Turn
from ..solid import join
from .base import Bench, Outcome, Pieces, Stage


class Beside(Stage):
    """Lay pieces of further stages beside those of the first: nothing is cut or glued, and whatever follows is done to
    each of them. Pieces come from ``from``, then from the stages in ``with``, in their order."""

    title: ClassVar[str] = "Beside"
    verb: ClassVar[str] = "Go on with these together"

    kind: Literal["beside"] = "beside"
    also: tuple[str, ...] = listed(
        "names", label="Together with", help="Stages whose pieces are gone on with too: board-2, slices:offcut.",
        alias="with", max_length=20,
    )  # fmt: skip

    @property
    def sources(self) -> tuple[str, ...]:
        """The first pieces, then those of ``with``."""
        return (self.source, *self.also) if self.source else ()

    def run(self, pieces: Pieces, bench: Bench) -> Outcome:
        parts = [pieces, *(bench.others[name] for name in self.also)]
        cells, first = [], 0
        for part in parts:
            cells.append(part.cells.renumbered(first))
            first += len(part)
        return Outcome(Pieces(join(cells)), turns=(Turn().name,) * first)
