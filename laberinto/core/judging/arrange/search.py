"""Arrange for me: the order and turns of slices that suit chosen aims best.

Neighbour aims alone are solved exactly. With aims of the whole face a seeded search goes on from the exact answer:
simulated annealing over swapped, reversed and turned rows (Kirkpatrick, Gelatt and Vecchi 1983), always the same for
a seed.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from itertools import pairwise

import numpy as np

from ...errors import StageError
from ...geometry.faces import Side, face_of
from ...geometry.rotations import Lie
from ...plan.simulate import Simulation
from ...solid import Floats
from ...stages import Across, Arrange, Glue
from ..scores.model import light_of
from ..scores.raster import Raster, raster_of
from .aims import FACES, NEIGHBOURS, Wishes, face_cost, neighbour_cost, wanted
from .edges import ENDS, LIES, Edges, edges_of, slices_of
from .exact import Found, Row, best_path

STEPS = 900
"""Arrangements the seeded search looks at."""

ACROSS = 40
"""Samples across a slice."""

FILLING = 600
"""Arrangements looked at beside a proven one."""

KEPT = 3
"""Candidates to choose from."""

EVEN = 1e-9
"""Costs that differ by less are the same; the later one may bring its proof."""

MOST_SLICES = 60
"""More slices than this are not arranged: the exact part would not end."""


@dataclass(frozen=True, slots=True)
class Candidate:
    """An arrangement, what it costs (less is better; 0 is all that was wished), and the least any could cost where
    that is known."""

    rows: tuple[Row, ...]
    cost: float
    bound: float | None = None

    @property
    def proven(self) -> bool:
        """Whether no other order costs less."""
        return self.bound is not None and self.cost <= self.bound + 1e-6

    @property
    def gap(self) -> float | None:
        """How much better another could be, as a share."""
        if self.bound is None:
            return None
        return 0.0 if self.proven else (self.cost - self.bound) / self.cost


@dataclass(frozen=True, slots=True)
class Progress:
    """Where a search stands: share done, and the best so far."""

    share: float
    best: Candidate


class Board:
    """The slices of an arrangement, ready to be laid over and over."""

    def __init__(self, sim: Simulation, arrange: Arrange, wishes: Wishes) -> None:
        self.edges: Edges = edges_of(sim, arrange)
        if len(self.edges) > MOST_SLICES:
            raise StageError(
                arrange.id, f"{len(self.edges)} slices are more than can be arranged at once.",
                f"Up to {MOST_SLICES} can.",
            )  # fmt: skip
        self.wishes = wishes
        self.joints = max(len(self.edges) - 1, 1)
        shifts = _shifts(sim, arrange, len(self.edges))
        steps = [round(b - a, 6) for a, b in pairwise(shifts)]
        self._costs = {step: neighbour_cost(self.edges, wishes, step) for step in dict.fromkeys(steps or [0.0])}
        self._step_costs = [self._costs[step] for step in steps]
        self.alike = len(self._costs) == 1
        # where joints differ by how rows are shifted, the least that any of them costs is a bound for each
        self.cost: Floats = np.minimum.reduce(list(self._costs.values()))
        self.faced = wanted(FACES, wishes)
        self._strips, self._step, self._shift = _strips(sim, arrange) if self.faced else ([], 1.0, 1.0)

    def total(self, rows: Sequence[Row]) -> float:
        """What an arrangement costs: the mean over its joints, and what its face costs."""
        at = [(number - 1, LIES.index(lie)) for number, lie in rows]
        paid = (cost[i, a, j, b] for cost, ((i, a), (j, b)) in zip(self._step_costs, pairwise(at), strict=True))
        joints = float(sum(paid)) / self.joints
        if not self.faced:
            return joints
        light = np.concatenate([self._strips[number - 1][LIES.index(lie)] for number, lie in rows])
        return joints + face_cost(Raster(light, self._step), self._shift, self.wishes)


def arrange_for_me(
    sim: Simulation,
    arrange: Arrange,
    wishes: Wishes,
    locked: Mapping[int, Row] | None = None,
    *,
    seed: int = 1,
    work: float = 8.0,
    steps: int = STEPS,
    progress: Callable[[Progress], bool] = lambda progress: True,
) -> list[Candidate]:
    """The best arrangement under the wishes and up to two that differ from it, best first. ``locked`` keeps rows (from
    0) as they are; ``progress`` hears how it goes and answers whether to go on."""
    laid = arrange.rows(sim.slices(arrange.id))
    kept = sorted(number for number, _ in laid)  # the search counts slices through, without those left out
    if kept != list(range(1, len(kept) + 1)):
        within = {number: at for at, number in enumerate(kept, 1)}

        def back(found: Candidate) -> Candidate:
            return replace(found, rows=tuple((kept[at - 1], lie) for at, lie in found.rows))

        found = _best(
            sim, arrange, wishes, [(within[number], lie) for number, lie in laid],
            {row: (within[number], lie) for row, (number, lie) in (locked or {}).items()}, seed, work, steps,
            lambda heard: progress(Progress(heard.share, back(heard.best))),
        )  # fmt: skip
        return [back(candidate) for candidate in found]
    return _best(sim, arrange, wishes, laid, dict(locked or {}), seed, work, steps, progress)


def _best(
    sim: Simulation, arrange: Arrange, wishes: Wishes, laid: Sequence[Row], locked: Mapping[int, Row], seed: int,
    work: float, steps: int, progress: Callable[[Progress], bool],
) -> list[Candidate]:  # fmt: skip
    board, start = Board(sim, arrange, wishes), tuple(laid)
    pool = _Pool(Candidate(start, board.total(start)))
    going, bound = progress(Progress(0.0, pool.best)), None
    if going and wanted(NEIGHBOURS, wishes):
        going, bound = _exact(board, pool, start, locked, seed, work, progress)
    if going:  # with neighbours alone only for a few more to choose from
        _anneal(board, pool, locked, seed, steps if board.faced or not board.alike else FILLING, progress)
    pool.bounded(bound)
    return pool.candidates()


def _exact(
    board: Board, pool: _Pool, start: tuple[Row, ...], locked: Mapping[int, Row], seed: int, work: float,
    progress: Callable[[Progress], bool],
) -> tuple[bool, float | None]:  # fmt: skip
    """Whether to go on, and the least that any arrangement costs where that is known."""
    going = True

    def heard(rows: tuple[Row, ...], bound: float | None) -> bool:
        nonlocal going
        pool.add(Candidate(rows, board.total(rows), bound))
        going = progress(Progress(0.5 if board.faced else 0.9, pool.best))
        return going

    def bound_of(found: Found) -> float | None:
        """The least cost of any; what is proven is as good as its own, whatever was rounded on the way."""
        if board.faced:
            return None
        if found.proven and board.alike:
            return board.total(found.rows)
        return found.bound / board.joints

    found = best_path(
        board.cost, start, locked, work=work, seed=seed,
        progress=lambda found: heard(found.rows, bound_of(found)),
    )  # fmt: skip
    if going:
        heard(found.rows, bound_of(found))
    return going, bound_of(found)


def _anneal(
    board: Board, pool: _Pool, locked: Mapping[int, Row], seed: int, steps: int, progress: Callable[[Progress], bool]
) -> None:
    rng = np.random.default_rng(seed)
    rows, cost = list(pool.best.rows), pool.best.cost
    free = [at for at in range(len(rows)) if at not in locked]
    if len(free) < 2:
        return
    warm, cold = 0.08, 0.002
    for step in range(steps):
        heat = warm * (cold / warm) ** (step / steps)
        trial = _moved(rows, free, rng)
        other = board.total(trial)
        if other <= cost or rng.random() < math.exp((cost - other) / heat):
            rows, cost = trial, other
            pool.add(Candidate(tuple(rows), cost))
        if step % 25 == 0 and not progress(Progress(0.5 + 0.5 * step / steps, pool.best)):
            return


def _moved(rows: Sequence[Row], free: Sequence[int], rng: np.random.Generator) -> list[Row]:
    """The rows with two swapped, one turned, or a run of them reversed; only free ones are touched."""
    out = list(rows)
    one, other = sorted(rng.choice(len(free), 2, replace=False).tolist())
    kind = int(rng.integers(3))
    if kind == 0:
        out[free[one]], out[free[other]] = out[free[other]], out[free[one]]
    elif kind == 1:
        number, _ = out[free[one]]
        out[free[one]] = (number, LIES[int(rng.integers(4))])
    else:
        run = free[one : other + 1]
        for at, row in zip(run, [out[k] for k in reversed(run)], strict=True):
            out[at] = row
    return out


def _shifts(sim: Simulation, arrange: Arrange, count: int) -> list[float]:
    """How far each row lies to the right once it is glued, mm."""
    glue = next((stage for stage in sim.plan.stages if arrange.id in stage.sources), None)
    if not isinstance(glue, Glue) or glue.across is not Across.LENGTH:
        return [0.0] * count
    return [glue.shift_at(row) for row in range(count)]


class _Pool:
    """The best arrangements so far that differ in at least a third of their rows."""

    def __init__(self, first: Candidate) -> None:
        self._kept = [first]

    @property
    def best(self) -> Candidate:
        return self._kept[0]

    def add(self, candidate: Candidate) -> None:
        like = [kept for kept in self._kept if _alike(kept.rows, candidate.rows)]
        even = EVEN if candidate.bound is not None else -EVEN  # one that is as good must bring a proof to count
        if any(kept.cost < candidate.cost - even or kept == candidate for kept in like):
            return
        self._kept = [kept for kept in self._kept if kept not in like] + [candidate]
        self._kept = sorted(self._kept, key=lambda kept: kept.cost)[:KEPT]

    def bounded(self, bound: float | None) -> None:
        """No arrangement costs less than this; what holds of one holds of all."""
        self._kept = [replace(kept, bound=bound) for kept in self._kept]

    def candidates(self) -> list[Candidate]:
        return list(self._kept)


def _alike(one: Sequence[Row], other: Sequence[Row]) -> bool:
    """Whether two arrangements are much the same, the second perhaps mirrored."""
    mirrored = [(number, lie.then(Lie.FLIP)) for number, lie in other]
    least = max(len(one) / 3, 1)
    return any(sum(a != b for a, b in zip(one, rows, strict=True)) < least for rows in (other, mirrored))


def _strips(sim: Simulation, arrange: Arrange) -> tuple[list[list[Floats]], float, float]:
    """Each slice as rows of lightness, in all four lies; the step in mm, and the smallest shift that is a repeat."""
    slices = slices_of(sim, arrange)
    step = max(float(piece.size()[0]) for piece in slices) / ACROSS
    out = []
    for piece in slices:
        one, other = (
            raster_of(face, light_of(sim, face), ACROSS, step).light
            for face in (face_of(piece.turned(lie.turn.matrix).at_origin(), Side.TOP) for lie in ENDS)
        )
        lies = {
            Lie.AS_CUT: one, Lie.END_FOR_END: one[::-1, ::-1], Lie.OTHER_END_UP: other, Lie.FLIP: other[::-1, ::-1],
        }  # fmt: skip
        out.append([lies[lie] for lie in LIES])
    heights = [float(piece.size()[2]) for piece in slices]  # a slice lies flat here; stood up, that is its row
    return out, step, max(2 * step, float(np.median(heights)) / 2)
