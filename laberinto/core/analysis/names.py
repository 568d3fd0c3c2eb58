"""What every piece of a build is called, from the strip to the board: one name each, for cut list, steps, maps,
drawings and instructions alike.

Panels have letters. A strip is called after the panel it will lie in and its place there (A3), what is ripped or
sliced from a panel after it too, in order of cutting (bar B2, slice B5), and what is cut from that after it (A3/1).
The letter is left out where all pieces of a kind come from one panel. Rows keep the names of their slices.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from functools import partial

import numpy as np

from ..extensions import Registry
from ..plan.model import OFFCUT
from ..plan.simulate import Simulation, StageResult
from ..stages import Across, Arrange, Border, Crosscut, Glue, Gluing, Inlay, Mill, Resaw, Rip, Stage
from ..stages.border import BorderSide


@dataclass(frozen=True, slots=True)
class Name:
    """What a piece is, the letter of its panel, its number there, and the numbers of what was cut from it since."""

    noun: str
    letter: str = ""
    number: int | None = None
    cuts: tuple[int, ...] = ()

    @property
    def mark(self) -> str:
        """What is written on it: ``B5``, ``A3/1``; nothing on the only panel."""
        return self.letter + "/".join(str(n) for n in (self.number, *self.cuts) if n is not None)

    def __str__(self) -> str:
        return f"{self.noun} {self.mark}".strip()

    def cut(self, noun: str, number: int) -> Name:
        """The so-manieth piece cut from this one."""
        if self.number is None:
            return replace(self, noun=noun, number=number)
        return replace(self, noun=noun, cuts=(*self.cuts, number))


Names = dict[str, tuple[Name, ...]]
"""The names of what a plan's stages leave, by the name it is taken under (``id``, or ``id:offcut``)."""


@dataclass(slots=True)
class _Naming:
    """What is known while stages are named in order: the letters given away, and how many offcuts each has."""

    sim: Simulation
    names: Names
    letters: int = 0
    offcuts: int = 0

    def another_board(self, stage: Stage) -> bool:
        """Whether a board lies there already that this one is not made of."""
        plan, made_of = self.sim.plan, set[str]()
        waiting = [stage.id]
        while waiting:
            for source in plan.stage(waiting.pop()).sources:
                name = source.removesuffix(OFFCUT)
                if name not in waiting and name not in made_of:
                    waiting.append(name)
                if name == source:  # of what gave only its offcuts the pieces lie there still
                    made_of.add(name)
        return any(Name("board") in named for source, named in self.names.items() if source not in made_of)

    def letter(self) -> str:
        """The next letter."""
        self.letters += 1
        return letter(self.letters - 1)


def letter(at: int) -> str:
    """The letter of what is in a row, counted from 0: A to Z, then AA."""
    return chr(65 + at) if at < 26 else letter(at // 26 - 1) + chr(65 + at % 26)


def names(sim: Simulation) -> Names:
    """What the pieces of each stage are called, in their order, and its offcuts too."""
    return sim.memo.once(_names, sim)


def _names(sim: Simulation) -> Names:
    naming = _Naming(sim, {})
    for result in sim.results:
        taken = [name for source in result.stage.sources for name in naming.names[source]]
        naming.names[result.stage.id] = NAMED.get(result.stage.kind, _as_before)(naming, result, taken)
        naming.names[result.stage.id + OFFCUT] = _left_over(naming, result)
    letters: dict[str, set[str]] = {}
    for named in naming.names.values():
        for name in named:
            letters.setdefault(name.noun, set()).add(name.letter)
    plain = {noun for noun, used in letters.items() if len(used) == 1}
    return {
        source: tuple(replace(name, letter="") if name.noun in plain else name for name in named)
        for source, named in naming.names.items()
    }


def slice_marks(sim: Simulation, arrange: Arrange) -> list[str]:
    """What is written on the slices that are laid in rows, by their number from 1 through all panels."""
    known = names(sim)
    return [name.mark for source in arrange.sources for name in known[source]]


def at_places(sim: Simulation, stage: Glue, known: Names | None = None) -> list[Name]:
    """What lies at each place of a glue-up: from the left, from the far side or from below."""
    known = known or names(sim)
    counts = dict(zip(stage.sources, sim.slices(stage.id), strict=True))
    return [known[source][number] for source, number in stage.positions(counts)]


def _left_over(naming: _Naming, result: StageResult) -> tuple[Name, ...]:
    """Pieces that a glue-up or a border does not take keep their names; what a saw leaves is numbered as it falls."""
    stage, sim = result.stage, naming.sim
    if isinstance(stage, Gluing):
        return tuple(naming.names[source][number] for source, number in spares(sim, stage))
    if isinstance(stage, Arrange):
        slices = [name for source in stage.sources for name in naming.names[source]]
        return tuple(slices[number - 1] for number in stage.left_out(sim.slices(stage.id)))
    first, naming.offcuts = naming.offcuts + 1, naming.offcuts + result.outcome.offcuts.pieces
    return tuple(Name("offcut", "", number) for number in range(first, naming.offcuts + 1))


def spares(sim: Simulation, stage: Gluing) -> list[tuple[str, int]]:
    """Source and number of each piece that a stage takes and does not glue, in the order of its offcuts."""
    pools = dict(zip(stage.sources, sim.slices(stage.id), strict=True))
    if isinstance(stage, Glue):
        laid = set(stage.positions(pools))
        return [(name, at) for name, count in pools.items() for at in range(count) if (name, at) not in laid]
    strips = [(name, at) for name in stage.sources[1:] for at in range(pools[name])]
    if isinstance(stage, Inlay):
        return strips[len(stage.at) :]
    assert isinstance(stage, Border)
    stock = [(name, at) for name, at in strips if name != stage.spline]
    used = {number for go in border_goes(sim, stage) for side in go for number in side.pieces}
    splines = [one for one in strips if one[0] == stage.spline][4:]
    return [one for number, one in enumerate(stock) if number not in used] + splines


def border_goes(sim: Simulation, stage: Border) -> tuple[tuple[BorderSide, ...], ...]:
    """The goes of a border, its pieces numbered through all the stock it takes."""
    stock = [
        (name, size) for name in stage.also if name != stage.spline for size in sim.taken(name).cells.piece_sizes()
    ]
    assert stage.source is not None
    return stage.goes(sim.taken(stage.source)[0].size(), stock)


def _as_before(_: _Naming, result: StageResult, taken: Sequence[Name]) -> tuple[Name, ...]:
    return tuple(taken[: len(result.pieces)])


def _milled(naming: _Naming, result: StageResult, _: Sequence[Name]) -> tuple[Name, ...]:
    mine = naming.letter()
    return tuple(Name("strip", mine, place) for place in range(1, len(result.pieces) + 1))


def _glued(naming: _Naming, result: StageResult, taken: Sequence[Name]) -> tuple[Name, ...]:
    """Strips of one lamination become the panel of its letter; all else that is glued gets the next letter."""
    stage, made = result.stage, len(result.pieces)
    assert isinstance(stage, Glue)
    letters = {name.letter for name in taken}
    fresh = len(letters) == 1 and all(name.noun == "strip" and not name.cuts for name in taken)
    if stage.across is Across.LENGTH and made == 1:
        return (Name("board", naming.letter() if naming.another_board(stage) else ""),)
    mine = letters.pop() if fresh else naming.letter()
    if made == 1:
        return (Name("panel", mine),)
    noun = "board" if stage.across is Across.LENGTH else "bar"
    return tuple(Name(noun, mine, number) for number in range(1, made + 1))


def _sawn(naming: _Naming, result: StageResult, taken: Sequence[Name], noun: str = "") -> tuple[Name, ...]:
    out = []
    for piece, count in enumerate(np.bincount(result.outcome.parents, minlength=len(taken)).tolist()):
        what = noun or ("bar" if taken[piece].number is None else taken[piece].noun)
        out += [taken[piece].cut(what, number) for number in range(1, count + 1)]
    return tuple(out)


def _laid(naming: _Naming, result: StageResult, taken: Sequence[Name]) -> tuple[Name, ...]:
    stage = result.stage
    assert isinstance(stage, Arrange)
    return tuple(taken[number - 1] for number, _ in stage.rows(naming.sim.slices(stage.id)))


_Namer = Callable[[_Naming, StageResult, Sequence[Name]], tuple[Name, ...]]
_OURS: dict[type[Stage], _Namer] = {
    Mill: _milled, Glue: _glued, Rip: _sawn, Resaw: _sawn, Crosscut: partial(_sawn, noun="slice"), Arrange: _laid,
}  # fmt: skip

NAMED: Registry[_Namer] = Registry("names", {kind.model_fields["kind"].default: named for kind, named in _OURS.items()})
"""How what a stage leaves is named, by its kind; all other stages leave names as they are."""
