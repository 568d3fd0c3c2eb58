"""What is written on the ends of strips, and read in the cut list, the steps and the maps alike: each strip's place in
its panel from the left, after the panel's letter where there are several panels. What else lies in the clamps goes by
the number of its place there."""

from __future__ import annotations

import re
from collections.abc import Iterable

import numpy as np

from ..plan.model import OFFCUT
from ..plan.simulate import Simulation, StageResult
from ..stages import Gluing, Mill


def letter(at: int) -> str:
    """The letter of what is in a row, counted from 0: A to Z, then AA."""
    return chr(65 + at) if at < 26 else letter(at // 26 - 1) + chr(65 + at % 26)


def ends(sim: Simulation) -> dict[int, str]:
    """What stands on the end of each strip, by its number."""
    panels = [result for result in sim.results if isinstance(result.stage, Mill)]
    return {
        strip.number: (letter(panel) if len(panels) > 1 else "") + str(place)
        for panel, result in enumerate(panels)
        for place, strip in enumerate(result.outcome.strips, 1)
    }


def turned(sim: Simulation) -> dict[int, str]:
    """How strips are turned in their panel, in words, by their number; those that lie as sawn are left out."""
    return {
        strip.number: spec.turned.words
        for result in sim.results
        if isinstance(result.stage, Mill)
        for strip, spec in zip(result.outcome.strips, result.stage.laid_out(), strict=True)
        if spec.turned.words
    }


def places(sim: Simulation, result: StageResult) -> dict[int, str]:
    """What stands at each place of a glue-up, counted from 0: the mark of a strip where only strips lie there, else the
    number of the place, from 1."""
    laid, cells = result.outcome.laid, result.pieces.cells
    if laid is None:
        return {0: "1"}
    sources = [sim.plan.stage(name.removesuffix(OFFCUT)) for name in result.stage.sources]
    if not isinstance(result.stage, Gluing) or not all(isinstance(source, Mill) for source in sources):
        return {at: str(at + 1) for at in np.unique(laid).tolist()}
    known = ends(sim)
    there, first = np.unique(laid, return_index=True)
    return {at: known[int(cells.strip[cell])] for at, cell in zip(there.tolist(), first.tolist(), strict=True)}


def runs(marks: Iterable[str]) -> str:
    """Marks in order, runs written together: 1–4, 7, B9."""
    found = sorted({_parts(mark) for mark in marks})
    out: list[list[tuple[int, str, int]]] = []
    for mark in found:
        if out and mark[:2] == out[-1][-1][:2] and mark[2] == out[-1][-1][2] + 1:
            out[-1].append(mark)
        else:
            out.append([mark])
    words = []
    for run in out:
        said = [f"{panel}{place}" for _, panel, place in run]
        words += [f"{said[0]}–{said[-1]}"] if len(run) > 2 else said
    return ", ".join(words)


def _parts(mark: str) -> tuple[int, str, int]:
    found = re.fullmatch(r"([A-Z]*)(\d+)", mark)
    if found is None:
        raise ValueError(f"{mark} is no mark of a strip")
    return len(found[1]), found[1], int(found[2])
