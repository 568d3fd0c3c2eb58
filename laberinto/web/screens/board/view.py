"""Everything the board's page shows, gathered from one simulation. Each part of the page has a part of its own here:
the thread, the drawing, the panel beside it, the palette, the numbers."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from itertools import islice

from markupsafe import Markup

from laberinto.core.analysis.figures import figures
from laberinto.core.edits.leavings import leaves_some
from laberinto.core.edits.offers import Offer, fitting
from laberinto.core.errors import LaberintoError, StageError
from laberinto.core.plan.simulate import Simulation, StageResult, attempt, simulate
from laberinto.core.rules import Check
from laberinto.core.steps import steps
from laberinto.store import BoardView

from ...app import present
from ...app.findings import findings
from ...app.saving import cut_away
from ...app.thread import Knot, thread
from .looking import Fault, Looking
from .numbers import Numbers
from .palette import Palette
from .panels import Panel, StripsPanel, panel_of
from .views import VIEWS, Drawing, Scene, View, draw, inset

MOST_ELSEWHERE = 4
"""Findings at other stages that stand beside a stage; all of them are on the page of checks."""


@dataclass(frozen=True, slots=True)
class Workspace:
    """The page's parts."""

    board: BoardView
    looking: Looking
    fault: Fault | None
    knots: list[Knot]
    scene: Scene
    drawing: Drawing
    inset: Markup
    panel: Panel
    palette: Palette
    numbers: Numbers
    elsewhere: list[Check]
    """Findings at other stages that ask for something, the gravest first."""
    cut: tuple[str, ...] = ()
    """What the last change sets otherwise though it is cut already, by title."""

    @property
    def named(self) -> list[Check]:
        """Of those elsewhere, as many as stand on this page."""
        return self.elsewhere[:MOST_ELSEWHERE]

    @property
    def views(self) -> Mapping[str, View]:
        """What the large drawing can show."""
        return VIEWS

    @property
    def knot(self) -> Knot:
        """The knot of the chosen stage."""
        return next(knot for knot in self.knots if knot.stage == self.looking.stage)

    @property
    def begun(self) -> set[str]:
        """Stages of which steps are ticked."""
        return {knot.stage for knot in self.knots if knot.begun}

    @property
    def broken(self) -> bool:
        """Whether the plan cannot be built as it stands."""
        return self.fault is not None and self.fault.kept

    @property
    def loose_fault(self) -> str:
        """What is wrong where it has no field on this page to stand beside."""
        fault, panel = self.fault, self.panel
        if fault is None or fault.clash or (fault.kept and fault.stage != panel.stage.id):
            return ""
        placed = panel.places(fault.field) or any(want.field == fault.field for want in self.numbers.wanted)
        return "" if placed or fault.field.startswith("pattern-") else fault.message


MOST_TRIED = 60
"""So many earlier states are tried for one that can be built."""


def good(board: BoardView) -> tuple[Simulation, tuple[StageResult, ...], StageError | None]:
    """The board as it can be drawn: as it stands, or where that cannot be built as it last could. With it how far the
    plan as it stands can be done, and what stops it. Where no state of it was ever whole it is drawn as far as it can
    be built. Raises LaberintoError where not even its first stage can."""
    results, error = attempt(board.plan)
    if error is None:
        return Simulation.of(board.plan, results), results, None
    for plan in islice(present.store().revisions(board.id).ancestors(), MOST_TRIED):
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
    finish, shop = present.preference("finish"), present.shop()
    found = findings(board.id, sim) if error is None else []
    if error is not None and fault is None:
        fault = Fault(error.field, error.say(present.lengths()), {}, error.stage, kept=True)
    ticks = present.store().build(board.id).ticks()
    todo = (
        steps(sim, present.lengths(), shop, ticked=ticks) if ticks else []
    )  # nothing is begun where nothing is ticked
    drawn = looking.stage if any(s.id == looking.stage for s in sim.plan.stages) else sim.plan.stages[0].id
    scene = Scene.of(board.id, sim, drawn, finish, looking.piece)
    stage = board.plan.stage(looking.stage)
    result, kind = next((r for r in results if r.stage.id == stage.id), None), panel_of(stage)
    palette = Palette.of(
        board.plan, sim, finish, result.outcome.strips if result and issubclass(kind, StripsPanel) else ()
    )
    return Workspace(
        board, looking, fault,
        thread(board, results, todo, ticks, found, fault.stage if fault else ""),
        scene, draw(scene, looking.view), inset(scene) if looking.view == "stage" else Markup(),
        kind(board.plan, stage, result, fault, palette, [c for c in found if c.stage == stage.id]),
        palette, Numbers(board, figures(sim, shop)),
        [c for c in found if c.stage != stage.id and c.severity != "note" and not c.let_stand],
        _cut(board),
    )  # fmt: skip


def foresee(board: BoardView, looking: Looking, sim: Simulation) -> None:
    """Work out what takes longest of a page that shows this build, so that it is at hand."""
    findings(board.id, sim)
    if looking.view != "stage":
        draw(Scene.of(board.id, sim, looking.stage, present.preference("finish"), looking.piece), looking.view)


def _cut(board: BoardView) -> tuple[str, ...]:
    found = cut_away(board)
    return tuple(dict.fromkeys(found[0].stage(name).title.lower() for name in found[1])) if found else ()


@dataclass(frozen=True, slots=True)
class Offered:
    """What may be put in behind a stage; whether it leaves wood over for a second board, and whether one board stands
    there that can be cut again."""

    offers: list[Offer]
    leaves: bool = False
    stands: bool = False


def offered_after(board: BoardView, stage_id: str) -> Offered:
    """All that may follow a stage; nothing where the wood never gets there."""
    result = next((r for r in attempt(board.plan)[0] if r.stage.id == stage_id), None)
    if result is None:
        return Offered([])
    stands = len(result.pieces) == 1 and result.pieces.cells.on_end
    return Offered(fitting(result), leaves_some(board.plan, result), stands)
