"""Simulate: act out a plan on real solids, stage by stage.

Each stage's outcome is remembered under a key made of its parameters and the keys of what it took, so
that after an edit only the stages that follow from it are cut again.
"""

from __future__ import annotations

import hashlib
import logging
from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass, field, replace
from functools import partial
from threading import Lock

import numpy as np
from cachetools import LRUCache

from ..errors import FaultError, StageError, TooManyCellsError
from ..geometry.joints import Joint
from ..solid import Cells, apart, empty
from ..solid.memo import Memo, UnderWay
from ..stages import Bench, Cause, Mill, Outcome, Pieces, Skipped, Stage
from ..woods import LIBRARY, Library, Wood
from ..woods.strips import Strip
from .model import OFFCUT, Plan

log = logging.getLogger(__name__)

REMEMBERED = 1024
"""How many stage outcomes are kept."""

REMEMBERED_BYTES = 360_000_000
"""How much room they may take together."""

GUESSED_BYTES = 100_000_000
"""How much room those may take that nobody has asked for yet: so that what was asked for is not forgotten for them. One
build of five thousand blocks takes some seventy million."""

BETWEEN_BOARDS = 25.0
"""Boards that are shown together lie so far apart, mm."""

MOST_IN_ALL = 200_000
"""Cells that all stages of one plan may hold together: some 600 MB. A board of ten thousand takes about 70,000."""


@dataclass(frozen=True, slots=True)
class StageResult:
    """What one stage did: wood taken (or milled) and left in mm³, and the first piece's width, length and
    thickness in mm. ``wood_key`` names the wood as it lies: stages that move none of it share it. ``key`` names all
    that the result depends on."""

    stage: Stage
    outcome: Outcome
    wood_in: float
    volume: float
    size: tuple[float, float, float]
    wood_key: str
    key: str = ""
    memos: _Memos = field(default_factory=lambda: _Memos(), init=False, repr=False, compare=False)
    """What was worked out of the plans that end in this result."""

    @property
    def pieces(self) -> Pieces:
        """What the stage leaves."""
        return self.outcome.pieces


@dataclass(frozen=True, slots=True)
class Simulation:
    """A plan acted out. ``strips`` are all strips by number, ``results`` one for each stage in order."""

    plan: Plan
    woods: Mapping[str, Wood]
    strips: tuple[Strip, ...]
    results: tuple[StageResult, ...]
    memo: Memo = field(default_factory=Memo, repr=False, compare=False)
    """What was worked out once from this build. Whoever acts out the same plan again has the same one."""

    @classmethod
    def of(cls, plan: Plan, results: tuple[StageResult, ...], woods: Mapping[str, Wood] = LIBRARY) -> Simulation:
        """From what ``attempt`` gave where nothing stopped it."""
        strips = tuple(strip for result in results for strip in result.outcome.strips)
        return cls(plan, woods, strips, results, results[-1].memos.of(plan, woods))

    def __getitem__(self, stage_id: str) -> StageResult:
        return self.results[self.plan.index(stage_id.removesuffix(OFFCUT))]

    def taken(self, source: str) -> Pieces:
        """The pieces, or with the suffix the offcuts, that go by a source's name."""
        return _taken(source, {source.removesuffix(OFFCUT): self[source]})

    def slices(self, stage_id: str) -> list[int]:
        """How many pieces each source of a stage gives, in the order of its sources."""
        return [len(self.taken(name)) for name in self.plan.stage(stage_id).sources]

    @property
    def board(self) -> StageResult:
        """The last stage's result: the board as it leaves the bench."""
        return self.results[-1]

    @property
    def boards(self) -> list[Cells]:
        """What the plan ends in: mostly one board, each in its own frame."""
        return [self.board.pieces[number] for number in range(len(self.board.pieces))]

    def whole(self) -> Cells:
        """The finished board to be shown or written into a file; several are laid beside each other."""
        pieces = self.board.pieces
        return pieces[0] if len(pieces) == 1 else apart(pieces.cells, 0, BETWEEN_BOARDS)

    @property
    def milled(self) -> float:
        """mm³ of strips at the start."""
        return sum(strip.volume for strip in self.strips)

    def waste(self) -> dict[Cause, float]:
        """mm³ lost by cause over the whole plan."""
        total = dict.fromkeys(Cause, 0.0)
        for result in self.results:
            for cause, volume in result.outcome.waste.items():
                total[cause] += volume
        # offcuts that a later stage took up again are no waste
        for result in self.results:
            for name in result.stage.sources:
                if name.endswith(OFFCUT):
                    total[Cause.OFFCUT] -= self[name.removesuffix(OFFCUT)].outcome.offcuts.volume()
        return total

    def joints(self) -> list[Joint]:
        """Every glue line of the build."""
        return [joint for result in self.results for joint in result.outcome.joints]

    def wood_volumes(self, cells: Cells) -> dict[str, float]:
        """mm³ by wood in some cells."""
        by_strip = np.bincount(cells.strip, cells.volumes()).tolist()
        total: dict[str, float] = {}
        for strip in np.unique(cells.strip).tolist():
            wood = self.strips[strip].wood
            total[wood] = total.get(wood, 0.0) + by_strip[strip]
        return total


PLANS = 12
"""Of so many plans that end in the same result, what was worked out is kept: other names, another number of times."""


class _Memos:
    """Memos of builds by plan and library of woods, the last few. They live as long as the result that they end in,
    which follows from all that was done before it."""

    def __init__(self) -> None:
        self._kept: tuple[tuple[Plan, Mapping[str, Wood], int, Memo], ...] = ()

    def of(self, plan: Plan, woods: Mapping[str, Wood]) -> Memo:
        """The memo for this plan, or for one that says the same, with these woods as they are now."""
        state = woods.state if isinstance(woods, Library) else 0
        for kept in self._kept:
            if kept[0] == plan and kept[1] is woods and kept[2] == state:
                return kept[3]
        memo = Memo()
        self._kept = ((plan, woods, state, memo), *self._kept[: PLANS - 1])
        return memo


def room(result: StageResult) -> int:
    """Bytes that a result may come to take, with all that is worked out from its cells where they lie."""
    if result.wood_key != result.key:
        return 0  # the wood of the stage before it
    return sum(cells.most_bytes for cells in (result.pieces.cells, result.outcome.offcuts))


class _Memory:
    """Results by content, shared by all threads: at most ``count`` of them, and at most ``most`` bytes. One that is
    larger than that is kept alone. What is only a ``guess`` has ``guessed`` bytes of its own until it is asked for."""

    def __init__(self, count: int, most: int, guessed: int = 0) -> None:
        self._kept = _room_for(count, most)
        self._guessed = _room_for(count, guessed or most)
        self._under_way = UnderWay()
        self._lock = Lock()

    @property
    def held(self) -> int:
        """Bytes that the results kept may come to take."""
        with self._lock:
            return sum(room(result) for kept in (self._kept, self._guessed) for result in kept.values())

    def get(self, key: str, guess: bool = False) -> StageResult | None:
        with self._lock:
            if key in self._guessed and not guess:
                self._kept[key] = self._guessed.pop(key)  # somebody asks for it
            return self._kept.get(key) or self._guessed.get(key)

    def put(self, key: str, value: StageResult, guess: bool = False) -> None:
        with self._lock:
            if key not in self._kept:
                (self._guessed if guess else self._kept)[key] = value

    def made(self, key: str, make: Callable[[], StageResult], guess: bool = False) -> StageResult:
        """The result kept under ``key``, made where there is none, by one thread for all that ask."""

        def keep() -> StageResult:
            result = make()
            self.put(key, result, guess)
            return result

        return self._under_way.share(key, lambda: self.get(key, guess), keep)


def _room_for(count: int, most: int) -> LRUCache[str, StageResult]:
    return LRUCache(most, lambda result: min(max(room(result), most // count), most))


_memory = _Memory(REMEMBERED, REMEMBERED_BYTES, GUESSED_BYTES)


def simulate(plan: Plan, woods: Mapping[str, Wood] = LIBRARY, *, remember: bool = True) -> Simulation:
    """Act out ``plan``. Raises StageError, naming the stage and the cure, where it cannot be done."""
    results, error = attempt(plan, woods, remember=remember)
    if error is not None:
        raise error
    return Simulation.of(plan, results, woods)


def at_hand(plan: Plan, woods: Mapping[str, Wood] = LIBRARY) -> bool:
    """Whether the plan was acted out lately, so that it need not be cut again. A plan that cannot be built never is."""
    keys: dict[str, str] = {}
    milled = 0
    for given in plan.stages:
        _, keys[given.id] = _named(given, keys, milled, woods)
        found = _memory.get(keys[given.id])
        if found is None:
            return False
        milled += len(found.outcome.strips)
    return True


def _named(given: Stage, keys: Mapping[str, str], milled: int, woods: Mapping[str, Wood]) -> tuple[Stage, str]:
    """The stage as it is done, and its key; ``keys`` are those of the stages before it."""
    stage = Skipped(id=given.id, source=given.source) if given.skip else given
    below = "|".join(keys[name.removesuffix(OFFCUT)] + name for name in stage.sources)
    return stage, _key(stage, below, milled, woods)


def attempt(
    plan: Plan, woods: Mapping[str, Wood] = LIBRARY, *, remember: bool = True
) -> tuple[tuple[StageResult, ...], StageError | None]:
    """Act out as much of ``plan`` as can be done: the results so far, and what stopped it or None."""
    done: list[StageResult] = []
    try:
        for result in _acted(plan, woods, remember=remember):
            done.append(result)
    except StageError as error:
        return tuple(done), error
    return tuple(done), None


def prepare(plan: Plan, between: Callable[[], object] = lambda: None) -> Simulation | None:
    """Act a plan out that will likely be asked for, so that it is at hand by then. ``between`` is called after each
    stage. None where the plan cannot be built. Mostly done ``while_wanted``."""
    done: list[StageResult] = []
    try:
        for result in _acted(plan, LIBRARY, guess=True):
            done.append(result)
            between()
    except StageError:
        return None
    return Simulation.of(plan, tuple(done))


def _acted(
    plan: Plan, woods: Mapping[str, Wood], *, remember: bool = True, guess: bool = False
) -> Iterator[StageResult]:
    """Each stage's result in order. Raises StageError where one cannot be done."""
    keys: dict[str, str] = {}
    by_id: dict[str, StageResult] = {}
    milled = spent = 0
    for given in plan.stages:
        stage, key = _named(given, keys, milled, woods)
        keys[stage.id] = key
        taken = {name: _taken(name, by_id) for name in stage.sources}
        run = partial(_run, stage, by_id.get(stage.source or ""), taken, Bench(woods, milled), key)
        try:
            _afford(stage, spent, taken)
            result = _memory.made(key, run, guess) if remember else run()
        except StageError:
            raise
        except Exception as error:
            log.exception("stage “%s” (%s) failed", stage.id, stage.kind)
            raise FaultError(stage.id, error) from error
        milled += len(result.outcome.strips)
        spent += _held(result)
        by_id[stage.id] = result
        yield result


def _held(result: StageResult) -> int:
    """Cells that a stage adds to what a plan holds."""
    shared = result.wood_key != result.key
    return 0 if shared else len(result.pieces.cells) + len(result.outcome.offcuts)


def _afford(stage: Stage, spent: int, taken: Mapping[str, Pieces]) -> None:
    """Raise StageError where a stage, whatever it does with what it takes, would hold more cells than a plan may,
    before any of them is made."""
    coming = sum(len(pieces.cells) for pieces in taken.values()) if stage.shapes_wood else 0
    if spent + coming > MOST_IN_ALL:
        raise StageError(
            stage.id, f"Up to here the plan's stages hold {spent:,} blocks of wood together, and this one {coming:,} "
            f"more; one plan may hold {MOST_IN_ALL:,}.", "Take stages out, or cut fewer pieces.",
        )  # fmt: skip


def _taken(name: str, by_id: Mapping[str, StageResult]) -> Pieces:
    """The pieces, or with the suffix the offcuts, of an earlier stage."""
    outcome = by_id[name.removesuffix(OFFCUT)].outcome
    return Pieces(outcome.offcuts.settled()) if name.endswith(OFFCUT) and len(outcome.offcuts) else outcome.pieces


def _run(stage: Stage, source: StageResult | None, taken: Mapping[str, Pieces], bench: Bench, key: str) -> StageResult:
    """Do one stage and check its ledger."""
    names = stage.sources
    bench = replace(bench, others={name: taken[name] for name in names[1:]})
    try:
        outcome = stage.run(taken[names[0]] if names else Pieces(empty()), bench)
    except TooManyCellsError as error:
        raise StageError(stage.id, str(error), "Cut fewer pieces, or start from fewer strips.") from None
    if source and not stage.shapes_wood:
        return replace(source, stage=stage, outcome=outcome, wood_in=source.volume, key=key)
    if not len(outcome.pieces):
        raise StageError(stage.id, "This leaves no wood at all.", "Take less off, or move the cut.")
    milled = sum(strip.volume for strip in outcome.strips)
    wood_in = milled + sum(pieces.cells.volume() for pieces in taken.values())
    volume = outcome.pieces.cells.volume()
    outcome.check(stage.id, wood_in, volume)
    x, y, z = (float(v) for v in outcome.pieces[0].size())
    return StageResult(stage, outcome, wood_in, volume, (x, y, z), key, key)


def _key(stage: Stage, source_key: str, first_strip: int, woods: Mapping[str, Wood]) -> str:
    """A name for all that a stage's result depends on."""
    parameters = stage.model_dump_json()
    used = {spec.wood: hash(woods.get(spec.wood)) for spec in stage.strips} if isinstance(stage, Mill) else ""
    text = f"{parameters}|{source_key}|{first_strip}|{used}"
    return hashlib.blake2b(text.encode(), digest_size=16).hexdigest()
