"""What is written on the ends of strips, and how marks are read out."""

from __future__ import annotations

import re
from collections.abc import Iterable

from ..plan.simulate import Simulation
from ..stages import Mill
from .names import Name, names


def ends(sim: Simulation) -> dict[int, str]:
    """What stands on the end of each strip, by its number."""
    return sim.memo.once(_ends, sim)


def _ends(sim: Simulation) -> dict[int, str]:
    known = names(sim)
    return {
        strip.number: name.mark
        for result in sim.results
        if isinstance(result.stage, Mill)
        for name, strip in zip(known[result.stage.id], result.outcome.strips, strict=True)
    }


def turned(sim: Simulation) -> dict[int, str]:
    """How strips are turned in their panel, in words, by their number; those that lie as sawn are left out."""
    return sim.memo.once(_turned, sim)


def _turned(sim: Simulation) -> dict[int, str]:
    return {
        strip.number: spec.turned.words
        for result in sim.results
        if isinstance(result.stage, Mill)
        for strip, spec in zip(result.outcome.strips, result.stage.laid_out(), strict=True)
        if spec.turned.words
    }


def runs(marks: Iterable[str]) -> str:
    """Marks in order, runs written together: 1–4, 7, A3/1, B9."""
    out: list[list[tuple[str, int]]] = []
    for mark in sorted(set(marks), key=in_order):
        found = re.fullmatch(r"(.*?)(\d+)", mark)
        if found is None:
            raise ValueError(f"{mark} is no mark of a piece")
        before, number = found[1], int(found[2])
        if out and out[-1][-1] == (before, number - 1):
            out[-1].append((before, number))
        else:
            out.append([(before, number)])
    words = []
    for run in out:
        said = [f"{before}{number}" for before, number in run]
        words += [f"{said[0]}–{said[-1]}"] if len(run) > 2 else said
    return ", ".join(words)


def in_order(mark: str) -> tuple[int, str, tuple[int, ...]]:
    """What marks are sorted by: A9 comes before A10, and Z before AA."""
    letters = re.match(r"[A-Z]*", mark)
    assert letters is not None
    return len(letters[0]), letters[0], tuple(int(number) for number in re.findall(r"\d+", mark))


def these(names: Iterable[Name]) -> str:
    """Pieces as a sentence names them: strips A1–A4 and A7, the panel, bar 3."""
    marks: dict[str, list[str]] = {}
    for name in names:
        marks.setdefault(name.noun, []).append(name.mark)
    words = []
    for noun, mine in marks.items():
        if mine == [""]:
            words.append(f"the {noun}")
            continue
        numbered = all(mark[-1:].isdigit() for mark in mine)
        said = runs(mine) if numbered else ", ".join(sorted(mine, key=in_order))
        words.append(f"{noun}{'s' if len(mine) > 1 else ''} {said}")
    return " and ".join(words)
