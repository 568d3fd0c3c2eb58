"""The row strip: paper as long as the board, on which slices are laid in order; and the cauls of a glue-up."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from ..analysis.names import at_places
from ..geometry.rotations import Lie, Turn, turn_named
from ..plan.model import OFFCUT
from ..stages import Across, Arrange, Glue
from . import gauges
from .model import Label, Line, Making, Stroke, Template, rectangle

WIDE = 90.0
"""Of the strip, mm."""

NAME, TURN = 0.16, 0.64
"""Where on its width the mark of a slice and its turn stand."""


def glued(made: Making) -> Iterator[Template]:
    """What helps to lay and press a glue-up."""
    yield from row_strip(made)
    yield from gauges.cauls(made)


def _lies(made: Making, stage: Glue) -> list[str]:
    """How each row's slice is stood up, in words, "" where as it was cut; nothing where no rows were arranged."""
    source = made.sim.plan.stage(stage.sources[0].removesuffix(OFFCUT))
    if not isinstance(source, Arrange) or stage.sequence or stage.order or stage.shuffle is not None or stage.reverse:
        return []
    lies = [lie for _, lie in source.rows(made.sim.slices(source.id))]
    return ["" if lie is Lie.AS_CUT else lie.value.replace("-", " ") for lie in lies]


def row_strip(made: Making) -> Iterator[Template]:
    """Of rows one behind the other: where each begins and ends as it comes out of the clamps, its mark, its turn."""
    stage = made.stage
    assert isinstance(stage, Glue)
    outcome = made.sim[stage.id].outcome
    if stage.across is not Across.LENGTH or len(outcome.pieces) != 1 or outcome.laid is None:
        return
    cells, known = outcome.pieces.cells, at_places(made.sim, stage)
    owner = cells.cell_of_vertex()
    along = cells.world()[:, 1] - cells.world()[:, 1].min()
    spans = []
    for place in range(len(known)):
        here = along[outcome.laid[owner] == place]
        spans.append((float(here.min()), float(here.max())))
    length = float(along.max())
    edges = sorted({round(at, 4) for span in spans for at in span if 0.01 < at < length - 0.01})
    labels, lies = [], _lies(made, stage)
    for place, (low, high) in enumerate(spans):
        middle = (low + high) / 2
        labels.append(Label((WIDE * NAME, middle), known[place].mark or str(place + 1)))
        turn = outcome.turns[place] if outcome.turns else ""
        words = [lies[place]] if place < len(lies) and lies[place] else []
        words += [turn] if turn and turn_named(turn) != Turn() else []
        if words:
            labels.append(Label((WIDE * TURN, middle), ", ".join(words)))
    yield Template(
        f"{stage.id}.rows", stage.id, "Row strip",
        (
            Stroke(Line.CUT, rectangle(0, 0, WIDE, length)),
            *(Stroke(Line.BOARD, np.array([[0.0, at], [WIDE, at]]), closed=False) for at in edges),
        ),
        (
            f"{made.mm(length)} long, as the rows come out of the clamps; the top of the strip is the far side.",
            "Lay it along the bench and set each slice against its place: one that is turned or out of order shows, "
            "and so does a row that came out too wide.",
        ),
        tuple(labels),
    )  # fmt: skip
