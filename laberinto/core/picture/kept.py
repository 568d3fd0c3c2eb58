"""Whether cells that must stay as they are let rows share few panels at all, by CP-SAT."""

from __future__ import annotations

from collections.abc import Sequence

from ..solid import Ints
from .kinds import Kind


def kept_apart(kinds: Sequence[Kind], k: int, *, even: bool) -> list[tuple[Ints, int]] | None:
    """Panels, k at most, with which every kind can be made without changing a cell that must stay, and a kind that is
    made from each; None where there is no such way."""
    from ortools.sat.python import cp_model  # takes a while to load, and only this needs it

    model = cp_model.CpModel()
    panels, count = range(min(k, len(kinds))), len(kinds[0].letters)
    heights = sorted({kind.height for kind in kinds})
    # in which panel a kind is, as it lies or end for end, and what a panel has in a column; behind these, its height
    lies = [[[model.new_bool_var("") for _ in range(2 if even else 1)] for _ in panels] for _ in kinds]
    has: dict[tuple[int, int], dict[int, cp_model.IntVar]] = {
        (panel, column): {} for panel in panels for column in range(count + 1)
    }
    for kind, mine in zip(kinds, lies, strict=True):
        model.add_exactly_one(way for panel in mine for way in panel)
        for panel in panels:
            for flip, way in enumerate(mine[panel]):
                wants = [(count - 1 - at if flip else at, int(kind.letters[at])) for at in kind.kept]
                for column, what in [*wants, (count, heights.index(kind.height))]:
                    there = has[panel, column]
                    model.add_implication(way, there.setdefault(what, model.new_bool_var("")))
    for choices in has.values():
        model.add_at_most_one(choices.values())
    solver = cp_model.CpSolver()
    solver.parameters.num_workers = 2
    solver.parameters.random_seed = 1
    if solver.solve(model) not in (cp_model.OPTIMAL, cp_model.FEASIBLE):
        return None
    out = []
    for panel in panels:
        members = [n for n, mine in enumerate(lies) if any(solver.value(way) for way in mine[panel])]
        if members:
            letters = kinds[members[0]].letters.copy()
            for column in range(count):
                for what, one in has[panel, column].items():
                    if solver.value(one):
                        letters[column] = what
            out.append((letters, members[0]))
    return out
