"""Everything the board's page shows, gathered from one simulation."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from markupsafe import Markup

from laberinto.core.edits import shown
from laberinto.core.faces import Side
from laberinto.core.figures import Figures, Row, figures, rows
from laberinto.core.rules import Check, check
from laberinto.core.simulate import Simulation, simulate
from laberinto.core.stages import Arrange, Mill, Spec, Stage, specs
from laberinto.core.steps import steps
from laberinto.drawing import bench
from laberinto.drawing.board import board as draw_board
from laberinto.drawing.skin import Painted
from laberinto.drawing.texture import Patch
from laberinto.store import BoardView, Build

from .. import present, wood
from ..thread import Knot, thread

VIEWS = ("face", "stage")
SIDES = {"top": Side.TOP, "bottom": Side.BOTTOM}


@dataclass(frozen=True, slots=True)
class Looking:
    """Where on the page someone is: the chosen stage, what is drawn, which side, and the chosen piece."""

    stage: str
    view: str = "face"
    side: str = "top"

    @classmethod
    def at(cls, board: BoardView, args: Mapping[str, str]) -> Looking:
        """From an address or a form, with anything unknown left out."""
        ids = [stage.id for stage in board.plan.stages]
        stage = args.get("stage", "")
        view, side = args.get("view", ""), args.get("side", "")
        return cls(
            stage if stage in ids else ids[0], view if view in VIEWS else "face", side if side in SIDES else "top"
        )


@dataclass(frozen=True, slots=True)
class FieldView:
    """One parameter as it stands in the form; ``error`` is what is wrong with what was typed."""

    spec: Spec
    value: str
    error: str = ""


@dataclass(slots=True)
class Fault:
    """An edit that could not be taken: which field, why, and what had been typed."""

    field: str
    message: str
    typed: dict[str, str]
    stage: str = ""


@dataclass(frozen=True, slots=True)
class Workspace:
    """The page's contents."""

    board: BoardView
    sim: Simulation
    looking: Looking
    stage: Stage
    knots: list[Knot]
    drawing: Markup
    figures: Figures
    checks: list[Check]
    fields: list[FieldView]
    rows: tuple[Row, ...]
    fault: Fault | None

    @property
    def knot(self) -> Knot:
        return next(knot for knot in self.knots if knot.stage == self.stage.id)

    @property
    def position(self) -> int:
        return self.sim.plan.index(self.stage.id)

    @property
    def is_mill(self) -> bool:
        return isinstance(self.stage, Mill)

    @property
    def is_arrange(self) -> bool:
        return isinstance(self.stage, Arrange)

    @property
    def strips(self) -> list[dict[str, Any]]:
        """The strips of the chosen mill stage, each with its end as a picture."""
        assert isinstance(self.stage, Mill)
        laid = self.stage.laid_out()
        mine = self.sim[self.stage.id].outcome.strips
        out = []
        for spec, strip in zip(laid, mine, strict=True):
            out.append(
                {
                    "wood": spec.wood,
                    "width": present.lengths().field(spec.width),
                    "turned": spec.turned.words,
                    "mark": strip.mark,
                    "end": end(strip),
                }
            )
        return out

    @property
    def has_overrides(self) -> bool:
        return isinstance(self.stage, Arrange) and bool(self.stage.turned or self.stage.order)

    @property
    def stage_checks(self) -> list[Check]:
        return [c for c in self.checks if c.stage == self.stage.id]


def end(strip: Any) -> str:
    """The address of a small picture of a strip's end."""
    patch = Patch("end", 0.0, 0.0, 0.0, strip.width, strip.thickness, 5.0)
    return wood.address(strip, patch, present.preference("finish"))


def workspace(board: BoardView, looking: Looking, fault: Fault | None = None) -> Workspace:
    """Gather the page. Raises LaberintoError where the kept plan cannot be built."""
    sim = simulate(board.plan)
    finish, lengths = present.preference("finish"), present.lengths()
    stage = board.plan.stage(looking.stage)
    found = check(sim, lengths)
    ticks = Build(present.store().engine, board.id).ticks()
    laid = rows(sim)
    return Workspace(
        board, sim, looking, stage,
        thread(board.id, sim, steps(sim, lengths), ticks, found),
        draw(sim, looking, finish, laid), figures(sim), found, fields(stage, fault), laid, fault,
    )  # fmt: skip


def draw(sim: Simulation, looking: Looking, finish: str, laid: tuple[Row, ...]) -> Markup:
    """The large drawing: the finished face, or what lies on the bench at the chosen stage."""
    skin = Painted(sim, "w", wood.address, finish)
    if looking.view == "stage":
        return Markup(bench.stage(sim, sim[looking.stage], skin, present.lengths()))
    side = SIDES[looking.side]
    words = f"The {'face' if side is Side.TOP else 'underside'} of {sim.plan.name}, {finish}"
    numbered = laid if side is Side.TOP else ()
    piece = sim.board.pieces[0]
    return Markup(draw_board(piece, skin, present.lengths(), label=words, side=side, rows=numbered))


def fields(stage: Stage, fault: Fault | None) -> list[FieldView]:
    """The plain parameters of a stage, with typed text and the fault where there is one."""
    typed = fault.typed if fault else {}
    return [
        FieldView(
            spec, typed.get(spec.name, shown(spec, getattr(stage, spec.name), present.lengths())),
            fault.message if fault and fault.field == spec.name else "",
        )
        for spec in specs(type(stage))
    ]  # fmt: skip
