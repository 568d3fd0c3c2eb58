"""Ways out of what was measured: each a small change to what is not done yet, acted out before it is offered."""

from __future__ import annotations

from bisect import bisect_left
from collections import Counter
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from itertools import accumulate

from ..analysis.figures import CutLine, figures
from ..errors import LaberintoError
from ..extensions import Registry
from ..plan.model import Plan
from ..plan.simulate import Simulation, StageResult, attempt, simulate
from ..plan.surgery import free_id, redirected
from ..rules import Severity, check
from ..shop import Shop
from ..stages import Arrange, Crosscut, Flatten, Glue, Method, Mill, Stage, Trim
from ..stages.crosscut import slices_in
from ..timber.cost import bill
from ..timber.needs import Need, need_of
from ..units import Lengths
from .measured import NEAR

LEAST_MORTAR = 3.0
"""No thinner mortar is sawn, mm."""


@dataclass(frozen=True, slots=True)
class Situation:
    """The build as it was planned, the plan with what was measured in it, the stage that was measured, and what of it
    is wood already."""

    planned: Simulation
    built: Plan
    stage: str
    done: frozenset[str]
    shop: Shop

    @property
    def results(self) -> tuple[StageResult, ...]:
        """How far the plan as it is can be done."""
        return attempt(self.built)[0]

    def open(self, *kinds: type[Stage], own: bool = False) -> Iterator[Stage]:
        """Stages of these kinds that are not done yet; the measured one only where its ``own`` is meant too."""
        for stage in self.built.stages:
            if isinstance(stage, kinds) and stage.id not in self.done and (own or stage.id != self.stage):
                yield stage

    def result(self, stage_id: str) -> StageResult | None:
        """What a stage gives as it is, where the wood gets there."""
        return next((r for r in self.results if r.stage.id == stage_id), None)

    def with_(self, *changed: Stage) -> Plan:
        """The plan with these stages in the place of theirs."""
        by_id = {stage.id: stage for stage in changed}
        return self.built.with_stages(by_id.get(stage.id, stage) for stage in self.built.stages)


Make = Callable[[Situation], Plan | None]


@dataclass(frozen=True, slots=True)
class Way:
    """A way out: what it is called, what it does, and the plan it makes (None where it does not apply)."""

    title: str
    does: str
    make: Make
    evens: bool = False
    """Whether it makes like what came out unlike: offered though the board may come out smaller."""


@dataclass(frozen=True, slots=True)
class WayOut:
    """A way out as it was acted out: how far the board is from the planned size (mm over width, length and thickness),
    what it takes more than the plan (rough wood in mm³, minutes of hands), and what it leaves to settle."""

    key: str
    way: Way
    plan: Plan
    sim: Simulation
    off: float
    wood: float
    minutes: float
    stops: int
    fresh: tuple[Need, ...] = ()
    """Rough strips that it takes from the store once more."""

    @property
    def rank(self) -> tuple[float, ...]:
        """Best first: nothing to settle, then near the planned size, then little work and wood."""
        return self.stops, round(self.off, 1), round(self.minutes), self.wood


def _as_it_is(s: Situation) -> Plan | None:
    return s.built


def _partners_down(s: Situation) -> Plan | None:
    """Panels that meet the measured one, flattened to what it has."""
    mine = s.built.stage(s.stage)
    if not isinstance(mine, Flatten) or mine.to is None:
        return None
    others = [
        flat.model_copy(update={"to": mine.to, "each_face": None})
        for flat in s.open(Flatten)
        if isinstance(flat, Flatten) and flat.to is not None and flat.to > mine.to + NEAR and _lies(s, flat.id)
    ]
    return s.with_(*others) if others else None


def _lies(s: Situation, stage_id: str) -> bool:
    found = s.result(stage_id) or next((r for r in s.planned.results if r.stage.id == stage_id), None)
    return found is not None and not found.pieces.cells.on_end


def _count(s: Situation, by: int) -> Plan | None:
    """One slice more or less of every panel that is still to be cut."""
    cuts = [cut for cut in s.open(Crosscut, own=True) if isinstance(cut, Crosscut) and _rows_of(s, cut)]
    if not cuts or any(cut.count + by < 1 for cut in cuts):
        return None
    return s.with_(*(cut.model_copy(update={"count": cut.count + by}) for cut in cuts))


def _rows_of(s: Situation, cut: Crosscut) -> bool:
    """Whether slices become rows."""
    return any(cut.id in stage.sources and isinstance(stage, Arrange | Glue) for stage in s.built.stages)


def _as_many(s: Situation) -> Plan | None:
    """As many slices as the panels give, where fewer than planned come out of them."""
    changed: list[Stage] = []
    for cut in s.open(Crosscut, own=True):
        before = s.result(cut.source or "")
        if not isinstance(cut, Crosscut) or before is None or not _rows_of(s, cut):
            continue
        fit = slices_in(before.size[1] - cut.squaring, cut.slice, cut.kerf)
        if 1 <= fit < cut.count:
            changed.append(cut.model_copy(update={"count": fit}))
    return s.with_(*changed) if changed else None


def _row_more(s: Situation) -> Plan | None:
    return _count(s, 1)


def _row_less(s: Situation) -> Plan | None:
    return _count(s, -1)


def _slices_to_fit(s: Situation) -> Plan | None:
    """All slices that were planned, as thick as the panel gives; the board comes out thinner by as much."""
    changed: list[Stage] = []
    for cut in s.open(Crosscut):
        before = s.result(cut.source or "")
        if not isinstance(cut, Crosscut) or before is None or not _rows_of(s, cut):
            continue
        each = (before.size[1] - cut.squaring) / cut.count - cut.kerf
        if cut.slice - each > NEAR:
            changed.append(cut.model_copy(update={"slice": int(each * 10) / 10, "own": ()}))
    return _thinner(s, changed, min((cut.slice for cut in changed if isinstance(cut, Crosscut)), default=0.0))


def _thinner_board(s: Situation) -> Plan | None:
    """The board flattened to what slices of the measured thickness give."""
    cut = s.built.stage(s.stage)
    return _thinner(s, [], cut.slice) if isinstance(cut, Crosscut) else None


def _thinner(s: Situation, changed: list[Stage], slice_: float) -> Plan | None:
    """The last flattening to no more than a slice leaves once both faces are flat."""
    last = next((f for f in reversed(list(s.open(Flatten))) if isinstance(f, Flatten) and f.to is not None), None)
    if last is None or last.to is None or not slice_:
        return None
    most = round(slice_ - 2 * s.shop.flatten_board, 1)
    if most >= last.to - NEAR and not changed:
        return None
    return s.with_(*changed, last.model_copy(update={"to": min(last.to, most)}))


def _mortar_to_fit(s: Situation) -> Plan | None:
    """Between rows that came out thinner or thicker, mortar that makes up for it: the board keeps its length."""
    for glue in s.built.stages:
        built, planned = s.result(glue.id), next((r for r in s.planned.results if r.stage.id == glue.id), None)
        if not isinstance(glue, Glue) or built is None or planned is None:
            continue
        missing = planned.size[glue.across.axis] - built.size[glue.across.axis]
        laid = _laid(s, glue)
        if len(laid) < 2 or abs(missing) < NEAR:
            continue
        for name, count in laid.items():
            stock = _thickness_of(s, name)
            if stock is not None:
                stage, field, now = stock
                to = round(now + missing / count, 2)
                if to >= LEAST_MORTAR:
                    return s.with_(stage.model_copy(update={field: to}))
    return None


def _laid(s: Situation, glue: Glue) -> dict[str, int]:
    """How many pieces of each source lie in a glue-up, through the arrangement before it where there is one."""
    counts = {r.stage.id: len(r.pieces) for r in s.results}
    arrange = s.built.stage(glue.source or "") if glue.source and glue.source in counts else None
    if isinstance(arrange, Arrange) and not glue.also:
        each = [counts.get(name, 0) for name in arrange.sources]
        ends = list(accumulate(each))
        rows = [number for number, _ in arrange.rows(each)]
        return Counter(arrange.sources[bisect_left(ends, number)] for number in rows)
    return Counter(
        name for name, _ in glue.positions({name: counts.get(name.partition(":")[0], 0) for name in glue.sources})
    )


def _thickness_of(s: Situation, name: str) -> tuple[Stage, str, float] | None:
    """The open stage that gives a source its thickness, with the parameter and its value."""
    at: Stage | None = s.built.stage(name.partition(":")[0])
    while at is not None:
        open_ = at.id not in s.done and at.id != s.stage
        if isinstance(at, Flatten) and at.to is not None:
            return (at, "to", at.to) if open_ else None
        if isinstance(at, Mill):
            return (at, "thickness", at.thickness) if open_ else None
        at = s.built.stage(at.source.partition(":")[0]) if at.source else None
    return None


def _strips_anew(s: Situation) -> Plan | None:
    """Strips that were ruined, or came out otherwise, milled once more as they were planned."""
    before = {stage.id: stage for stage in s.planned.plan.stages}
    mills = [m for m in s.built.stages if isinstance(m, Mill) and before.get(m.id, m) != m]
    again = [before[m.id] for m in mills]
    takers = [st for st in s.built.stages if isinstance(st, Glue) and {m.id for m in mills} & set(st.sources)]
    return s.with_(*again, *(before[st.id] for st in takers if st.id in before)) if again else None


def fresh(s: Situation) -> tuple[Need, ...]:
    """Rough strips that have to be cut once more for that: those of the plan that are not among what there is."""
    out: list[Need] = []
    for stage in s.built.stages:
        planned = next((p for p in s.planned.plan.stages if p.id == stage.id), None)
        if not isinstance(stage, Mill) or not isinstance(planned, Mill):
            continue
        there = stage.laid_out() if stage.thickness == planned.thickness else []
        gone = Counter(
            (spec.wood, spec.width, planned.length_of(spec)) for spec in planned.laid_out() if spec not in there
        )
        out += [
            need_of(CutLine(wood, wood, count, width, planned.thickness, length, (), s.shop.rough))
            for (wood, width, length), count in gone.items()
        ]
    return tuple(out)


def _flush(s: Situation) -> Plan | None:
    """Trimmed to the largest clean rectangle."""
    trims = [t for t in s.open(Trim) if isinstance(t, Trim) and not t.flush and t.only == "all"]
    return s.with_(trims[-1].model_copy(update={"flush": True, "width": None, "length": None})) if trims else None


def _as_it_comes(s: Situation) -> Plan | None:
    """No finished size that the wood cannot give: what is there after the edges are true."""
    trims = [t for t in s.open(Trim) if isinstance(t, Trim) and (t.width is not None or t.length is not None)]
    return s.with_(*(t.model_copy(update={"width": None, "length": None}) for t in trims)) if trims else None


def _level(s: Situation) -> Plan | None:
    """Where pieces of unequal thickness meet, the panel is levelled before it goes on."""
    for glue in s.open(Glue):
        made = s.result(glue.id)
        if not isinstance(glue, Glue) or made is None or not made.outcome.joints:
            continue
        heights = made.outcome.joints[0].cells.piece_sizes()[:, 2]
        taker = next((st for st in s.built.stages if glue.id in st.sources), None)
        if float(heights.max() - heights.min()) < NEAR:
            continue
        if isinstance(taker, Flatten):
            return s.with_(taker.model_copy(update={"level": True})) if not taker.level else None
        name = free_id({stage.id for stage in s.built.stages}, "levelled")
        method = Method.DRUM_SANDER if made.pieces.cells.on_end else Method.PLANER
        flat = Flatten(id=name, source=glue.id, each_face=0.2, level=True, method=method)
        stages = redirected(s.built.stages, glue.id, name)
        stages.insert(s.built.index(glue.id) + 1, flat)
        return s.built.with_stages(stages)
    return None


WAYS: Registry[Way] = Registry("ways", {
    "as-it-is": Way("Take it as it is", "Nothing is changed; the board comes out as the wood gives it.", _as_it_is),
    "partners": Way("Plane the other panels down too", "What meets it is flattened to the same.", _partners_down, True),
    "row-more": Way("Add a row", "One slice more of each panel, from what is left behind the last cut.", _row_more),
    "as-many": Way("As many slices as it gives", "Rows that cannot be had are left out.", _as_many),
    "row-less": Way("Leave a row out", "One slice less of each panel; the pattern ends a row sooner.", _row_less),
    "slices-fit": Way("Slice to what the panel gives", "All rows stay; the board becomes thinner.", _slices_to_fit),
    "thinner": Way("A thinner board", "Flattened to what these slices leave with both faces flat.", _thinner_board),
    "mortar": Way("Let the mortar make up for it", "Thin rows change; the board keeps its length.", _mortar_to_fit),
    "anew": Way("Mill what is missing anew", "Strips as they were planned, from fresh wood.", _strips_anew),
    "open": Way("Any size that comes", "Give up the finished size; the edges are only trued.", _as_it_comes),
    "flush": Way("Cut flush", "Trim to the largest clean rectangle, whatever size that is.", _flush),
    "level": Way("Level it after the glue-up", "Steps between unequal pieces are taken off the panel.", _level, True),
})  # fmt: skip
"""Every way out by its key. A new one is a function and a line here."""


def ways_out(s: Situation, lengths: Lengths | None = None) -> list[WayOut]:
    """All that apply and can be built, best first, no two alike."""
    before = _asks(s.planned, s.shop)
    found: list[WayOut] = []
    seen: set[str] = set()
    for key, way in WAYS.items():
        try:
            plan = way.make(s)
            if plan is None or (text := plan.as_json()) in seen:
                continue
            sim = simulate(plan)
        except LaberintoError:
            continue
        same = f"{[round(v, 2) for v in sim.board.size]} {sim.board.volume:.0f} {len(plan.stages)}"
        if same in seen:
            continue  # another way to the same board
        seen |= {text, same}
        off = sum(abs(a - b) for a, b in zip(sim.board.size, s.planned.board.size, strict=True))
        wood, minutes = (a - b for a, b in zip(_asks(sim, s.shop), before, strict=True))
        again = fresh(s) if key == "anew" else ()
        if again:  # what was milled once is wood and work already
            wood += sum(need.volume for need in again)
            minutes += sum(need.count for need in again) * s.shop.minutes_strip
        stops = sum(c.severity is Severity.STOP for c in check(sim, lengths or Lengths(), s.shop))
        found.append(WayOut(key, way, plan, sim, off, wood, minutes, stops, again))
    as_it_is = next((one for one in found if one.key == "as-it-is"), None)
    kept = [one for one in found if as_it_is is None or one is as_it_is or _helps(one, as_it_is)]
    return sorted(kept, key=lambda one: one.rank)


def _helps(one: WayOut, as_it_is: WayOut) -> bool:
    """Whether a way comes nearer to what was planned, or leaves less to settle."""
    return one.way.evens or one.stops < as_it_is.stops or one.off < as_it_is.off - NEAR


def _asks(sim: Simulation, shop: Shop) -> tuple[float, float]:
    """Rough wood in mm³ and minutes of hands."""
    return sum(line.rough for line in figures(sim, shop).woods), bill(sim, shop).hours * 60
