"""Everything the board's page shows, gathered from one simulation."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from itertools import islice
from typing import Any

from markupsafe import Markup

from laberinto.core.analysis.figures import Figures, Row, figures, rows
from laberinto.core.analysis.glueups import GLUE
from laberinto.core.edits import lamination, shown
from laberinto.core.edits import rows as row_edits
from laberinto.core.edits import strips as strip_edits
from laberinto.core.edits import woods as wood_edits
from laberinto.core.edits.offers import Offer, fitting
from laberinto.core.errors import LaberintoError, StageError
from laberinto.core.fields import specs
from laberinto.core.plan.simulate import Simulation, StageResult, attempt, simulate
from laberinto.core.rules import Check
from laberinto.core.stages import Arrange, Glue, Mill, Stage
from laberinto.core.steps import steps
from laberinto.core.woods import LIBRARY
from laberinto.core.woods.tones import Contrast, contrast
from laberinto.store import VARIANTS, BoardView

from ...app import bitmaps, present
from ...app.fields import FieldView
from ...app.findings import findings
from ...app.thread import Knot, thread
from ..wood.view import short
from .views import VIEWS, Scene, draw, inset


@dataclass(frozen=True, slots=True)
class Looking:
    """Where on the page someone is: the chosen stage, and what is drawn."""

    stage: str
    view: str = "face"

    @classmethod
    def at(cls, board: BoardView, args: Mapping[str, str]) -> Looking:
        """From an address or a form, with anything unknown left out."""
        ids = [stage.id for stage in board.plan.stages]
        stage, view = args.get("stage", ""), args.get("view", "")
        return cls(stage if stage in ids else ids[0], view if view in VIEWS else "face")


@dataclass(slots=True)
class Fault:
    """What is wrong: at which field and stage, why, and what had been typed. ``kept`` where the edit was saved all the
    same, so that the plan waits to be mended; ``clash`` lists what another page did meanwhile."""

    field: str
    message: str
    typed: dict[str, str]
    stage: str = ""
    kept: bool = False
    clash: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True)
class Swatch:
    """A wood on the board's palette."""

    letter: str
    key: str
    name: str
    tone: str
    strip: int
    """Number of a strip of it, or -1 where there is none."""


@dataclass(frozen=True, slots=True)
class Workspace:
    """The page's contents. ``sim`` is the board that is drawn: the last state that can be built."""

    board: BoardView
    sim: Simulation
    results: Mapping[str, StageResult]
    looking: Looking
    stage: Stage
    knots: list[Knot]
    drawing: Markup
    inset: Markup
    figures: Figures
    checks: list[Check]
    fields: list[FieldView]
    rows: tuple[Row, ...]
    fault: Fault | None
    palette: list[Swatch]
    contrast: Contrast | None
    scene: Scene
    ends: bitmaps.Ends
    """Ends of strips that the page shows small, by ``end``."""
    shown_ends: dict[int, int]

    def end(self, strip: int) -> str:
        """The view box of a strip's end in the bitmap of ``ends``, by the strip's number; "" where it is not shown."""
        at = self.shown_ends.get(strip)
        return "" if at is None else " ".join(f"{v:g}" for v in self.ends.places[at])

    @property
    def knot(self) -> Knot:
        """The knot of the chosen stage."""
        return next(knot for knot in self.knots if knot.stage == self.stage.id)

    @property
    def glue_rates(self) -> dict[str, float]:
        """Glue in g/m² of joint, by how many faces are spread."""
        return {spread.value: grams for spread, grams in GLUE.items()}

    @property
    def begun(self) -> set[str]:
        """Stages of which steps are ticked."""
        return {knot.stage for knot in self.knots if knot.begun}

    @property
    def position(self) -> int:
        """Of the chosen stage, from 0."""
        return self.board.plan.index(self.stage.id)

    @property
    def views(self) -> dict[str, Any]:
        """What the large drawing can show here."""
        return dict(VIEWS)

    @property
    def is_mill(self) -> bool:
        """Whether strips are chosen."""
        return isinstance(self.stage, Mill)

    @property
    def is_arrange(self) -> bool:
        """Whether an arrangement of rows is chosen."""
        return isinstance(self.stage, Arrange)

    @property
    def broken(self) -> bool:
        """Whether the plan cannot be built as it stands."""
        return self.fault is not None and self.fault.kept

    @property
    def loose_fault(self) -> bool:
        """Whether what is wrong has no field on this page to stand beside."""
        if self.fault is None or self.fault.clash or (self.fault.kept and self.fault.stage != self.stage.id):
            return False
        placed = {field.spec.name for field in self.fields} | {f"want-{name}" for name, *_ in self.wanted}
        if isinstance(self.stage, Mill):
            strips = range(len(self.stage.laid_out()))
            placed |= {"line"} | {f"{what}-{at}" for what in ("width", "wood") for at in strips}
        if isinstance(self.stage, Arrange):
            placed |= {"by", "every", "further"}
        return self.fault.field not in placed and not self.fault.field.startswith("pattern-")

    @property
    def strips(self) -> list[dict[str, Any]]:
        """The strips of the chosen mill stage, each with its end as a picture."""
        assert isinstance(self.stage, Mill)
        result = self.results.get(self.stage.id)
        mine = result.outcome.strips if result else ()
        return [
            {
                "wood": spec.wood, "width": present.lengths().field(spec.width), "turned": spec.turned.words,
                "end": self.end(strip.number), "sawn": spec.sawn.value if spec.sawn else "",
                "sapwood": strip.rings.sapwood is not None,
                "heart": "heart up" if strip_edits.heart_up(self.stage, spec) else "heart down",
            }
            for spec, strip in zip(self.stage.laid_out(), mine, strict=False)
        ]  # fmt: skip

    @property
    def line(self) -> str:
        """The lamination of the chosen mill stage as a line."""
        assert isinstance(self.stage, Mill)
        return lamination.written(self.stage.laid_out(), present.lengths())

    @property
    def has_overrides(self) -> bool:
        glue = self.glue
        return isinstance(self.stage, Arrange) and bool(
            self.stage.turned or self.stage.order or (glue and glue.shifted)
        )

    @property
    def glue(self) -> Glue | None:
        """The glue-up that keeps the shifts of the chosen arrangement."""
        return row_edits.glued_by(self.board.plan, self.stage.id)

    @property
    def shift_fields(self) -> tuple[str, str]:
        """The shifts of every other row, or those that repeat, and how much further each goes, as they are typed."""
        glue, how = self.glue, present.lengths()

        def typed(mm: float) -> str:
            return ("-" if mm < 0 else "") + how.field(abs(mm))

        shifts = glue.shifts if glue else ()
        if len(shifts) == 2 and not shifts[0]:
            shifts = shifts[1:]
        return "; ".join(typed(mm) for mm in shifts) or "0", typed(glue.stagger if glue else 0.0)

    @property
    def laid(self) -> list[dict[str, Any]]:
        """The rows of the chosen arrangement, each with its name, lie and shift, and whether that is by hand."""
        stage = self.stage
        assert isinstance(stage, Arrange)
        counts, glue = row_edits.slices(self.board.plan, stage), self.glue
        by_rule = stage.by_rule(counts)
        return [
            {
                "name": stage.name(number, counts), "lie": lie, "shift": row_edits.shift_of(glue, row),
                "by_rule": lie is stage.rule.lie(row) and not (glue and row + 1 in glue.shifted),
                "moved": number != by_rule[row],
            }
            for row, (number, lie) in enumerate(stage.rows(counts))
        ]  # fmt: skip

    @property
    def stage_checks(self) -> list[Check]:
        """Findings at the chosen stage."""
        return [c for c in self.checks if c.stage == self.stage.id]

    @property
    def wanted(self) -> list[tuple[str, str, float | None, float]]:
        """Name, wanted as typed, wanted and actual size in mm for width, length and thickness."""
        want, how = self.board.plan.wanted, present.lengths()
        return [
            (name, "" if (mm := getattr(want, name)) is None else how.field(mm), mm, getattr(self.figures, name))
            for name in ("width", "length", "thickness")
        ]

    @property
    def step(self) -> float:
        """The step that drags snap to, mm."""
        return present.lengths().step

    @property
    def denominator(self) -> int:
        """The finest fraction of an inch that is shown."""
        return present.lengths().denominator

    @property
    def free_letter(self) -> str:
        """The next letter a variant can be pinned under, or ""."""
        taken = {letter for letter, _ in self.board.variants}
        return next((letter for letter in VARIANTS if letter not in taken), "")

    @property
    def short_of(self) -> str:
        """The woods of which the store has too little."""
        return " and ".join(LIBRARY[each.wood].name.lower() for each in short(self.board))

    @property
    def short_of_wanted(self) -> bool:
        return any(mm is not None and abs(mm - there) > 0.05 for _, _, mm, there in self.wanted)


END_PPM = 1.6
"""Pixels a mm of ends that are shown small."""

MOST_TRIED = 60
"""So many earlier states are tried for one that can be built."""


def good(board: BoardView) -> tuple[Simulation, tuple[StageResult, ...], StageError | None]:
    """The board as it can be drawn: as it stands, or where that cannot be built as it last could. With it how far the
    plan as it stands can be done, and what stops it. Where no state of it was ever whole it is drawn as far as it can
    be built. Raises LaberintoError where not even its first stage can."""
    results, error = attempt(board.plan)
    if error is None:
        return Simulation.of(board.plan, results), results, None
    for plan in islice(present.store().ancestors(board.id), MOST_TRIED):
        try:
            return simulate(plan), results, error
        except LaberintoError:
            continue
    if not results:
        raise error
    return Simulation.of(board.plan.upto(len(results)), results), results, error


def workspace(board: BoardView, looking: Looking, fault: Fault | None = None) -> Workspace:
    """Gather the page. Raises LaberintoError where the kept plan cannot be drawn in any state."""
    sim, results, error = good(board)
    finish, lengths = present.preference("finish"), present.lengths()
    stage = board.plan.stage(looking.stage)
    found = findings(board.id, sim) if error is None else []
    if error is not None and fault is None:
        fault = Fault(error.field, error.say(lengths), {}, error.stage, kept=True)
    ticks = present.store().build(board.id).ticks()
    drawn = looking.stage if any(s.id == looking.stage for s in sim.plan.stages) else sim.plan.stages[0].id
    scene = Scene.of(board.id, sim, drawn, finish)
    swatches, known = palette(board, sim), {r.stage.id: r for r in results}
    ends = {strip.number: strip for strip in sim.strips if strip.number in {s.strip for s in swatches}}
    if isinstance(stage, Mill) and stage.id in known:
        ends |= {strip.number: strip for strip in known[stage.id].outcome.strips}
    woods = [LIBRARY[key] for key in wood_edits.used(board.plan) if key in LIBRARY]
    return Workspace(
        board, sim, known, looking, stage,
        thread(board, results, steps(sim, lengths, present.shop()), ticks, found, fault.stage if fault else ""),
        draw(scene, looking.view), inset(scene) if looking.view == "stage" else Markup(),
        figures(sim, present.shop()), found,
        fields(stage, fault), rows(sim), fault, swatches, contrast(woods, finish), scene,
        bitmaps.ends(list(ends.values()), finish, END_PPM), {number: at for at, number in enumerate(ends)},
    )  # fmt: skip


def palette(board: BoardView, sim: Simulation) -> list[Swatch]:
    """The board's woods by letter, each with one of its strips."""
    out = []
    for letter, key in wood_edits.letters(board.plan).items():
        strip = next((s for s in sim.strips if s.wood == key), None)
        named = LIBRARY.get(key)
        if named is not None:
            out.append(Swatch(letter, key, named.name, named.tone.value, strip.number if strip else -1))
    return out


def offers(board: BoardView, stage_id: str) -> list[Offer]:
    """What may be put in behind a stage."""
    result = next((r for r in attempt(board.plan)[0] if r.stage.id == stage_id), None)
    return fitting(result) if result else []


def fields(stage: Stage, fault: Fault | None) -> list[FieldView]:
    """The plain parameters of a stage, with typed text and the fault where there is one."""
    typed = fault.typed if fault else {}
    mine = fault if fault and fault.stage in ("", stage.id) else None
    several = not isinstance(stage, Arrange) or bool(stage.also)
    return [
        FieldView(
            spec, typed.get(spec.name, shown(spec, getattr(stage, spec.name), present.lengths())),
            mine.message if mine and mine.field == spec.name else "",
        )
        for spec in specs(type(stage))
        if several or spec.name != "panels"
    ]  # fmt: skip
