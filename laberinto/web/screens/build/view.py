"""The build log's page, gathered from the steps and the notes."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta

from markupsafe import Markup

from laberinto.core.finish.oiling import area as faces
from laberinto.core.finish.uptake import Uptake
from laberinto.core.stages import Oil
from laberinto.core.steps import Step
from laberinto.drawing.bars import Group, bars
from laberinto.store import NoteView, PhotoView, in_utc
from laberinto.web.screens.steps import Sheet


@dataclass(frozen=True, slots=True)
class Entry:
    """One step with its tick and its notes."""

    number: int
    step: Step
    done: datetime | None
    notes: list[NoteView]
    photos: tuple[PhotoView, ...] = ()

    def off(self, note: NoteView) -> float | None:
        """How far a measurement is from what the plan says, in its unit."""
        planned = self.planned(note)
        return None if note.measured is None or planned is None else note.measured - planned

    def planned(self, note: NoteView) -> float | None:
        """What the plan said when something was measured; what it says now where that is not known."""
        return self.step.measure if note.planned is None and not note.quantity else note.planned


@dataclass(frozen=True, slots=True)
class Log:
    """All steps, and the one being worked on."""

    sheet: Sheet
    entries: list[Entry]
    current: Entry | None
    ready_at: datetime | None
    """When the wait of the last ticked step is over, if it is not yet."""

    def first_at(self, stage: str) -> str:
        """The key of a stage's first step; of the next stage that has one where this is switched off or has none."""
        plan = self.sheet.sim.plan
        steps, at = self.sheet.steps, plan.index(stage)
        mine = next((step.key for step in steps if stage in step.stages), None)
        after = (step.key for step in steps if plan.index(step.stage) >= at)
        return mine or next(after, steps[-1].key if steps else "")

    @property
    def uptake(self) -> list[str]:
        """What the weights say of the oil, where the step on show is one of oiling."""
        taken = self._taken
        return list(taken.words()) if taken else []

    @property
    def curve(self) -> Markup | None:
        """How much each round took up, as bars; None where fewer than two are known."""
        rounds = taken.rounds if (taken := self._taken) else ()
        if len(rounds) < 2:
            return None
        groups = [Group(f"round {at}", (grams,), "", f"{grams:.2g} g a dm²") for at, grams in enumerate(rounds, 1)]
        return Markup(bars(groups, label="Oil taken up, g a dm², round by round", wide=200.0))

    @property
    def _taken(self) -> Uptake | None:
        sim = self.sheet.sim
        if self.current is None or not isinstance(sim.plan.stage(self.current.step.stage), Oil):
            return None
        weighed = [
            note for entry in self.entries for note in entry.notes
            if note.quantity == "weight" and note.measured is not None and entry.step.stage == self.current.step.stage
        ]  # fmt: skip
        weights = [note.measured for note in sorted(weighed, key=lambda note: note.id) if note.measured is not None]
        return Uptake.of(weights, faces(sim))

    @property
    def done(self) -> int:
        """How many steps are ticked."""
        return sum(entry.done is not None for entry in self.entries)

    @property
    def is_next(self) -> bool:
        """Whether the step on show is the first one open."""
        first = next((entry for entry in self.entries if entry.done is None), None)
        return self.current is not None and self.current is first

    def hours_left(self, now: datetime | None = None) -> float:
        """Hours until the wood may be worked again."""
        return hours_until(self.ready_at, now)


def hours_until(ready_at: datetime | None, now: datetime | None = None) -> float:
    """Hours until a moment; 0 where it is over, or there is none."""
    now = now or datetime.now(UTC)
    return max(((ready_at or now) - now).total_seconds() / 3600, 0.0)


def ready_at(steps: Sequence[Step], ticks: Mapping[str, datetime], now: datetime | None = None) -> datetime | None:
    """When what was ticked last has rested, if something waits for it; None where nothing does."""
    open_ = next((at for at, step in enumerate(steps) if step.key not in ticks), None)
    waits = [at for at, step in enumerate(steps) if step.key in ticks and step.wait_hours]
    if open_ is None or not waits or waits[-1] != open_ - 1:
        return None
    done = ticks[steps[waits[-1]].key]
    ready = in_utc(done) + timedelta(hours=steps[waits[-1]].wait_hours)
    return ready if ready > (now or datetime.now(UTC)) else None


def log(sheet: Sheet, notes: list[NoteView], at: str = "", photos: Sequence[PhotoView] = ()) -> Log:
    """The log, showing the step called ``at``, or the first one open."""
    entries = [
        Entry(
            i,
            step,
            sheet.ticks.get(step.key),
            [n for n in notes if n.step == step.key],
            tuple(photo for photo in photos if photo.step == step.key),
        )
        for i, step in enumerate(sheet.steps, 1)
    ]
    open_ = next((entry for entry in entries if entry.done is None), None)
    chosen = next((entry for entry in entries if entry.step.key == at), open_)
    return Log(sheet, entries, chosen, ready_at(sheet.steps, sheet.ticks))
