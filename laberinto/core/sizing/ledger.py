"""How a board comes to its size, line by line, so that it can be checked by hand.

Every line is a sum over what a stage was given and what it takes: the terms add up to what it leaves.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass

from ..plan.simulate import Simulation, StageResult
from ..stages import Across, Crosscut, Flatten, Glue, Mill, Stage, Trim

SAME = 0.005
"""Lengths no further apart (mm) are written as one."""

_AXES = ("across", "along", "thick")


@dataclass(frozen=True, slots=True)
class Term:
    """So many times a length, mm, and what it is; negative where it is taken off."""

    count: int
    each: float
    what: str

    @property
    def total(self) -> float:
        """What it adds to the size, mm."""
        return self.count * self.each


@dataclass(frozen=True, slots=True)
class Line:
    """One sum: the stage, in which direction of its wood, the terms, and what they add up to, mm."""

    stage: str
    title: str
    direction: str
    terms: tuple[Term, ...]
    result: float
    what: str


def ledger(sim: Simulation) -> list[Line]:
    """All sums of a plan, stage by stage."""
    out: list[Line] = []
    for result in sim.results:
        if result.stage.skip:
            continue
        for kind, write in _WRITERS:
            if isinstance(result.stage, kind):
                out += write(sim, result)
                break
    return out


def _grouped(lengths: Iterable[float], what: str) -> tuple[Term, ...]:
    """Like lengths together, the first first."""
    counts: Counter[float] = Counter()
    for length in lengths:
        key = next((seen for seen in counts if abs(seen - length) < SAME), length)
        counts[key] += 1
    return tuple(Term(n, each, what) for each, n in counts.items())


def _line(result: StageResult, axis: int, terms: tuple[Term, ...], total: float, what: str) -> Line:
    rest = total - sum(term.total for term in terms)
    if abs(rest) > SAME * 4:  # shifted rows, or pieces that lie one above the other
        terms = (*terms, Term(1, rest, "shift" if rest > 0 else "overlap"))
    return Line(result.stage.id, result.stage.title, _AXES[axis], terms, total, what)


def _mill(sim: Simulation, result: StageResult) -> Iterator[Line]:
    strips = result.outcome.strips
    widths = _grouped((strip.width for strip in strips), "strips")
    yield _line(result, 0, widths, sum(strip.width for strip in strips), "strips side by side")


def _glue(sim: Simulation, result: StageResult) -> Iterator[Line]:
    stage = result.stage
    assert isinstance(stage, Glue)
    if len(result.pieces) != 1:
        return
    axis = {Across.WIDTH: 0, Across.LENGTH: 1, Across.THICKNESS: 2}[stage.across]
    given = [sim.taken(name).cells.piece_sizes() for name in stage.sources]
    sizes = [float(v) for found in given for v in found[:, axis]]
    what = {0: "pieces", 1: "rows", 2: "layers"}[axis]
    yield _line(result, axis, _grouped(sizes, what), result.size[axis], "glued")


def _flatten(sim: Simulation, result: StageResult) -> Iterator[Line]:
    yield from _taken(sim, result, 2, "flattening", "flat")


def _trim(sim: Simulation, result: StageResult) -> Iterator[Line]:
    for axis in (0, 1):
        yield from _taken(sim, result, axis, "trimming", "trimmed")


def _taken(sim: Simulation, result: StageResult, axis: int, what: str, left: str) -> Iterator[Line]:
    """What comes off two opposite sides alike."""
    assert result.stage.source is not None
    before = sim.taken(result.stage.sources[0]).cells.piece_sizes()[:, axis]
    thick, after = float(before.max()), result.size[axis]
    if thick - after > SAME:
        terms = (Term(1, thick, "before"), Term(2, -(thick - after) / 2, what))
        yield Line(result.stage.id, result.stage.title, _AXES[axis], terms, after, left)


def _crosscut(sim: Simulation, result: StageResult) -> Iterator[Line]:
    stage = result.stage
    assert isinstance(stage, Crosscut)
    long = float(sim.taken(stage.sources[0]).cells.piece_sizes()[:, 1].max())
    terms = [Term(1, stage.squaring, "squaring cut")] if stage.squaring else []
    terms += [*_grouped(stage.slices, "slices"), Term(stage.count, stage.kerf, "kerfs")]
    left = long - sum(term.total for term in terms)
    if abs(left) > SAME:
        terms.append(Term(1, left, "left to hold"))
    yield Line(stage.id, stage.title, "along", tuple(terms), long, "panel length")


def _other(sim: Simulation, result: StageResult) -> Iterator[Line]:
    """Any stage that leaves one piece of another size than it was given."""
    stage = result.stage
    if not stage.shapes_wood or stage.source is None or len(result.pieces) != 1:
        return
    given = sim.taken(stage.sources[0])
    if len(given) != 1:
        return
    before = given.cells.piece_sizes()[0]
    for axis in range(3):
        change = result.size[axis] - float(before[axis])
        if abs(change) > SAME:
            terms = (Term(1, float(before[axis]), "before"), Term(1, change, stage.title.lower()))
            yield Line(stage.id, stage.title, _AXES[axis], terms, result.size[axis], "left" if change < 0 else "made")


Writer = Callable[[Simulation, StageResult], Iterator[Line]]

_WRITERS: tuple[tuple[type[Stage], Writer], ...] = (
    (Mill, _mill),
    (Glue, _glue),
    (Flatten, _flatten),
    (Trim, _trim),
    (Crosscut, _crosscut),
    (Stage, _other),
)
"""The first kind that fits writes the lines."""
