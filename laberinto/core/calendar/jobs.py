"""From a plan to jobs: what is done in one go, how long hands take, what it keeps, and how long the wood then waits.

A job covers the steps of the bench from one wait to the next, so a tick there is what ends it. What is done for several
panels at one setting is one job, as it is one step. Where a board is made several times its hands' work is as many
times as long, and its glue-ups stand beside each other as jobs of their own.
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from itertools import groupby

from ..analysis.glueups import clamped, clamps_for
from ..instructions import Frame, GlueUp
from ..plan.model import OFFCUT
from ..plan.simulate import Simulation, StageResult
from ..shop import Shop
from ..stages import Gluing, Rest
from ..steps import Step, steps
from ..timber.cost import hands_on
from ..units import Lengths
from .model import STEP, After, Busy, Held, Job, steps_up

AT_ONCE = 120
"""Minutes after which a job that can be left off and gone on with another day is cut in two."""

RISKY_REST = 24 * 60
"""Minutes to which a rest off the clamps can be cut at a risk: the moisture of the glue is still in the wood, and what
warps later shows on the finished board. Two days are the least that is usual."""

LEEWAY = 40
"""Minutes that oil or wax may stay on longer than it should, or half as long again where that is more."""

_WIPE = 0.4
"""Share of a coat's minutes that goes into wiping it off."""


@dataclass(frozen=True, slots=True)
class Jobs:
    """What is left to do on a board, what it still holds, and which of the jobs are begun. ``said`` are sentences on
    what of it asks for more than the shop has."""

    jobs: tuple[Job, ...]
    busy: tuple[Busy, ...]
    begun: frozenset[str]
    said: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class _Over:
    """What comes before: a job, or the minute at which it was done; then how long to wait, and what could be spared."""

    job: str
    done: int | None
    wait: int
    spare: int

    def after(self) -> After:
        """The same as what a job waits for."""
        return After(self.job, self.wait, None, self.spare)


@dataclass(frozen=True, slots=True)
class _Part:
    """Steps from one wait to the next."""

    steps: tuple[Step, ...]
    wait: int
    """Minutes of all waits behind it."""
    hold: int
    """Those in the clamps."""
    spare: int


def jobs_of(
    board: int,
    sim: Simulation,
    shop: Shop,
    ticks: Mapping[str, int] | None = None,
    lengths: Lengths | None = None,
    counted: Mapping[str, int] | None = None,
    timers: Mapping[str, int] | None = None,
) -> Jobs:
    """The jobs of a board; ``ticks`` says when each done step was ticked, in minutes of the calendar, ``counted`` how
    many pieces of a step are done that is not, ``timers`` when the timer of a wait that runs at the bench ends, by its
    label: the wood waits no shorter than that."""
    return _Maker(board, sim, shop, ticks or {}, lengths or Lengths(), counted or {}, timers or {}).made()


class _Maker:
    def __init__(
        self,
        board: int,
        sim: Simulation,
        shop: Shop,
        ticks: Mapping[str, int],
        lengths: Lengths,
        counted: Mapping[str, int],
        timers: Mapping[str, int],
    ) -> None:
        self.timers = timers
        self.board, self.sim, self.shop, self.ticks, self.counted = board, sim, shop, ticks, counted
        self.todo = steps(sim, lengths, shop, ticked=ticks)
        self.jobs: list[Job] = []
        self.busy: list[Busy] = []
        self.begun: set[str] = set()
        self.said: list[str] = []
        self.over: dict[str, list[_Over]] = {}

    def made(self) -> Jobs:
        """All of them, in the order of the steps."""
        goes = {go: list(mine) for go, mine in groupby(self.todo, key=lambda step: step.stages)}
        for go, mine in goes.items():
            before = [over for name in go for over in self._before(name, set(go))]
            over = self._go(go, mine, before)
            self.over |= dict.fromkeys(go, over)
        return Jobs(self._last(), tuple(self.busy), frozenset(self.begun), tuple(self.said))

    def _before(self, stage: str, besides: set[str]) -> list[_Over]:
        """What must be over before a stage: that of its sources, or of theirs where they have no steps of their own."""
        found: list[_Over] = []
        for source in self.sim.plan.stage(stage).sources:
            name = source.removesuffix(OFFCUT)
            if name not in besides:
                found += self.over[name] if name in self.over else self._before(name, besides)
        return found

    def _go(self, go: tuple[str, ...], mine: Sequence[Step], before: list[_Over]) -> list[_Over]:
        """The jobs of what is done in one go; what is over after them."""
        parts = list(_parts(mine, self.sim[go[0]]))
        working = [part for part in parts if part.steps]
        minutes = sum(hands_on(self.sim, self.sim[name], self.shop)[0] for name in go) / max(len(working), 1)
        for part in parts:
            if part.steps:
                before = self._part(go[0], part, minutes, before)
            else:  # nothing but a wait: it is added to those before it
                before = [replace(over, wait=over.wait + part.wait, spare=over.spare + part.spare) for over in before]
        return before

    def _part(self, stage: str, part: _Part, minutes: float, before: list[_Over]) -> list[_Over]:
        keys = tuple(key for step in part.steps for key in step.keys)
        done = [self.ticks[key] for key in keys if key in self.ticks]
        result = self.sim[stage]
        held = self._held(result, part)
        if len(done) == len(keys):
            end = max(done)
            timed = max((self.timers[one.wait_label] - end for one in part.steps if one.wait_label in self.timers),
                        default=0)  # fmt: skip
            hold = max(part.hold, timed)
            if held and end + hold > 0:  # of a batch all stand beside each other
                self.busy += [Busy((end, end + hold), held)] * self.sim.plan.times
            return [_Over("", end, part.wait + hold - part.hold, part.spare)]
        name = f"{self.board}.{part.steps[0].key}"
        share = sum(self._share(step) for step in part.steps) / len(part.steps)
        minutes *= 1 - share
        waits = tuple(over.after() for over in before if over.done is None)
        earliest = max([0, *(over.done + over.wait for over in before if over.done is not None)])
        times = self.sim.plan.times
        first = Job(
            name, self.board, stage, _title(part), 0, waits, held, part.hold if held else 0, result.stage.machine,
            _setup(part, result), earliest + -earliest % STEP, None, 0, keys,
        )  # fmt: skip
        if share:
            self.begun.add(name)
        if isinstance(result.stage, Gluing):
            made = [self._again(first, at, times, minutes) for at in range(times)]
            self.jobs += made
            return [_Over(job.id, None, part.wait, part.spare) for job in made]
        soak = sum(long for step in part.steps for _, long in step.timers)
        pieces = [*self._divided(first, minutes * times * ((1 - _WIPE) if soak else 1))]
        if soak:
            least = steps_up(soak)
            pieces.append(replace(
                first, id=f"{name}~wipe", title=f"Wipe off: {first.title}", minutes=steps_up(minutes * times * _WIPE),
                after=(After(pieces[-1].id, least, least + max(LEEWAY, steps_up(least / 2))),), earliest=0,
            ))  # fmt: skip
        self.jobs += pieces
        return [_Over(pieces[-1].id, None, part.wait, part.spare)]

    def _share(self, step: Step) -> float:
        """How much of a step is done: of its ticks, or as its pieces are counted."""
        ticked = sum(key in self.ticks for key in step.keys) / len(step.keys)
        return max(ticked, min(self.counted.get(step.key, 0) / step.pieces, 1.0) if step.pieces else 0.0)

    @staticmethod
    def _again(job: Job, at: int, times: int, minutes: float) -> Job:
        """One of several glue-ups that are the same."""
        if times == 1:
            return replace(job, minutes=max(steps_up(minutes), STEP))
        return replace(
            job,
            id=f"{job.id}~{at + 1}",
            minutes=max(steps_up(minutes), STEP),
            title=f"{job.title}, {at + 1} of {times}",
        )

    @staticmethod
    def _divided(job: Job, minutes: float) -> Iterator[Job]:
        """A job as it is, or in parts that follow each other where it is long."""
        count = max(math.ceil(minutes / AT_ONCE), 1)
        each = max(steps_up(minutes / count), STEP)
        before = job.after
        for at in range(count):
            name = job.id if count == 1 else f"{job.id}~part{at + 1}"
            title = job.title if count == 1 else f"{job.title}, {at + 1} of {count}"
            yield replace(
                job, id=name, title=title, minutes=each, after=before, earliest=job.earliest if at == 0 else 0
            )
            before = (After(name),)

    def _held(self, result: StageResult, part: _Part) -> Held:
        """Clamps and room of a glue-up. One that asks for more clamps than there are gets all of them, and that is
        said."""
        stage, shop = result.stage, self.shop
        if not isinstance(stage, Gluing) or not part.hold:
            return Held()
        told = [one.clamping for step in part.steps for one in step.does if isinstance(one, GlueUp | Frame)]
        need = max((len(one.clamps) for one in told), default=clamps_for(result, shop))
        wide = max((one.opens for one in told), default=clamped(result)[1])
        there, _ = shop.clamps_that_open_to(wide)
        if need > there:
            self.said.append(
                f"{_title(part)}: {need} clamps are wanted and the shop has {there} that open so far; the calendar "
                "takes all of them."
            )
            need = there
        usual_do = wide <= shop.clamp_reach or not (shop.long_clamps and shop.long_reach > shop.clamp_reach)
        usual = min(need, shop.clamps) if usual_do else 0
        return Held(usual, need - usual, 1)

    def _last(self) -> tuple[Job, ...]:
        """The jobs, with what the wood waits after those that nothing comes after."""
        behind = {after.job for job in self.jobs for after in job.after}
        ends = {over.job: over.wait for several in self.over.values() for over in several if over.done is None}
        return tuple(job if job.id in behind else replace(job, then=steps_up(ends.get(job.id, 0))) for job in self.jobs)


def _parts(mine: Sequence[Step], result: StageResult) -> Iterator[_Part]:
    """Steps cut behind each wait; a wait that is a step of its own belongs to what is before it."""
    working: list[Step] = []
    waits: list[Step] = []
    for step in mine:
        if _only_waits(step, result):
            waits.append(step)
            continue
        if any(one.wait_hours for one in working) or waits:
            yield _part(working, waits)
            working, waits = [], []
        working.append(step)
    yield _part(working, waits)


def _part(working: Sequence[Step], waits: Sequence[Step]) -> _Part:
    hold = sum(steps_up(step.wait_hours * 60) for step in working)
    rest = sum(steps_up(step.wait_hours * 60) for step in waits)
    return _Part(tuple(working), hold + rest, hold, max(rest - RISKY_REST, 0))


def _only_waits(step: Step, result: StageResult) -> bool:
    return isinstance(result.stage, Rest) or step.key.endswith(".rest")


def _title(part: _Part) -> str:
    """What a job is called: the step that is waited for, else the first."""
    return next((step.heading for step in part.steps if step.wait_hours or step.timers), part.steps[0].heading)


def _setup(part: _Part, result: StageResult) -> str:
    """The machine and the number it is set to, where it has one."""
    setting = next((step.setting for step in part.steps if step.setting), "")
    return f"{result.stage.machine}, {setting}" if setting and result.stage.machine else ""
