"""Beside the drawing: the chosen stage. A stage kind whose pieces have a list of their own has a panel of its own here,
with the template that shows it; all others show the fields of their parameters."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any, ClassVar

from markupsafe import Markup

from laberinto.core.edits import drawn, lamination, shown
from laberinto.core.edits import pieces as piece_edits
from laberinto.core.edits import rows as row_edits
from laberinto.core.edits import strips as strip_edits
from laberinto.core.fields import specs
from laberinto.core.plan.model import Plan
from laberinto.core.plan.simulate import StageResult
from laberinto.core.rules import Check
from laberinto.core.stages import Across, Arrange, Glue, Mill, Stage
from laberinto.core.stages.stock import SHAPING
from laberinto.core.woods import LIBRARY
from laberinto.drawing.pad import pad as draw_pad

from ...app import present
from ...app.fields import FieldView
from .looking import Fault
from .palette import Palette
from .striplines import StripLine, written


@dataclass(frozen=True, slots=True)
class PadView:
    """A list as it is drawn."""

    pad: drawn.Pad
    drawing: Markup


@dataclass(frozen=True, slots=True)
class Panel:
    """The stage's fields and the findings at it. ``result`` is what it does to the wood, where it can be done."""

    before: ClassVar[str] = ""
    """The template that stands before the fields."""
    after: ClassVar[str] = ""
    """The template that stands behind them."""
    lists: ClassVar[str] = ""
    """What of the drawing can be taken hold of."""
    doubled: ClassVar[str] = "Double this stage"

    plan: Plan
    stage: Stage
    result: StageResult | None
    fault: Fault | None
    palette: Palette
    checks: list[Check]

    @property
    def position(self) -> int:
        """Of the stage in the plan, from 0."""
        return self.plan.index(self.stage.id)

    @property
    def fields(self) -> list[FieldView]:
        """The plain parameters, with typed text and the fault where there is one."""
        typed = self.fault.typed if self.fault else {}
        mine = self.fault if self.fault and self.fault.stage in ("", self.stage.id) else None
        return [
            FieldView(
                spec, typed.get(spec.name, shown(spec, getattr(self.stage, spec.name), present.lengths())),
                mine.message if mine and mine.field == spec.name else "",
            )
            for spec in specs(type(self.stage))
            if self.asks(spec.name)
        ]  # fmt: skip

    @property
    def pad(self) -> PadView | None:
        """The list that is set on a drawing, where the stage has one."""
        found = drawn.pad_of(self.plan, self.stage.id)
        if found is None:
            return None
        pad, piece, sim = found
        return PadView(pad, Markup(draw_pad(pad, piece, sim, "pad", present.preference("finish"))))

    def asks(self, name: str) -> bool:
        """Whether a parameter has a field here."""
        return True

    def own_fields(self) -> set[str]:
        """Fields that the panel's own template has."""
        return set()

    def places(self, field: str) -> bool:
        """Whether what is wrong with that field can stand beside it."""
        return field in self.own_fields() or any(f.spec.name == field for f in self.fields)


class StripsPanel(Panel):
    """Strips in panel order."""

    __slots__ = ()
    before: ClassVar[str] = "board/strips.html"
    doubled: ClassVar[str] = "Another panel like this"

    @property
    def mill(self) -> Mill:
        """The stage."""
        assert isinstance(self.stage, Mill)
        return self.stage

    def asks(self, name: str) -> bool:
        """Which shape is asked for stock of that shape alone."""
        return name not in SHAPING or name in self.mill.stock.numbers

    def own_fields(self) -> set[str]:
        strips = range(len(self.mill.laid_out()))
        return {"line"} | {f"{what}-{at}" for what in ("width", "wood") for at in strips}

    @property
    def strips(self) -> list[StripLine]:
        """The strips, each with its end as a picture."""
        mine, how = self.result.outcome.strips if self.result else (), present.lengths()
        return [
            StripLine(
                at, spec.wood, LIBRARY[spec.wood].name, how.field(spec.width), spec.turned.words,
                self.palette.end(strip.number), spec.sawn.value if spec.sawn else "",
                strip.rings.sapwood is not None, how.show(spec.length) + " long" if spec.length else "",
                "heart up" if strip_edits.heart_up(self.mill, spec) else "heart down",
            )
            for at, (spec, strip) in enumerate(zip(self.mill.laid_out(), mine, strict=False))
        ]  # fmt: skip

    def written(self, line: StripLine, edit: str, fault: Fault | None, shown: frozenset[str]) -> Markup:
        """The line of a strip, or its place alone where it is among those ``shown``."""
        return written(line, edit, fault, shown)

    @property
    def line(self) -> str:
        """The lamination as a line."""
        return lamination.written(self.mill.laid_out(), present.lengths())


class RowsPanel(Panel):
    """Rows as they are laid."""

    __slots__ = ()
    after: ClassVar[str] = "board/rows.html"
    lists: ClassVar[str] = "rows"

    @property
    def arrange(self) -> Arrange:
        """The stage."""
        assert isinstance(self.stage, Arrange)
        return self.stage

    def asks(self, name: str) -> bool:
        return name != "panels" or bool(self.arrange.also)

    def own_fields(self) -> set[str]:
        return {"by", "every", "further"}

    @property
    def glue(self) -> Glue | None:
        """The glue-up that keeps the shifts."""
        return row_edits.glued_by(self.plan, self.stage.id)

    @property
    def has_overrides(self) -> bool:
        """Whether anything was laid by hand."""
        return bool(self.arrange.turned or self.arrange.order or (self.glue and self.glue.shifted))

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
    def left_out(self) -> list[tuple[int, str]]:
        """Number and name of the slices that are not laid."""
        marks = row_edits.marks_of(self.plan, self.arrange)
        left = self.arrange.left_out(row_edits.slices(self.plan, self.arrange))
        return [(number, marks[number - 1]) for number in left]

    @property
    def laid(self) -> list[dict[str, Any]]:
        """The rows, each with its name, lie and shift, and whether that is by hand."""
        stage = self.arrange
        counts, glue = row_edits.slices(self.plan, stage), self.glue
        by_rule, marks = stage.by_rule(counts), row_edits.marks_of(self.plan, stage)
        return [
            {
                "name": marks[number - 1], "lie": lie, "shift": row_edits.shift_of(glue, row),
                "by_rule": lie is stage.rule.lie(row) and not (glue and row + 1 in glue.shifted),
                "moved": number != by_rule[row],
            }
            for row, (number, lie) in enumerate(stage.rows(counts))
        ]  # fmt: skip


class PiecesPanel(Panel):
    """What lies in a glue-up, piece by piece."""

    __slots__ = ()
    before: ClassVar[str] = "board/pieces.html"

    @property
    def glue(self) -> Glue:
        """The stage."""
        assert isinstance(self.stage, Glue)
        return self.stage

    def asks(self, name: str) -> bool:
        """Which lots alternate is asked where there are several."""
        return name != "sequence" or bool(self.glue.also or self.glue.sequence)

    def own_fields(self) -> set[str]:
        return {"by", "pieces"}

    @property
    def ways(self) -> tuple[str, str]:
        """Which way a piece is shifted along its joint, on and back."""
        return ("away", "towards you") if self.glue.across is Across.WIDTH else ("right", "left")

    @property
    def begins(self) -> str:
        """Where the first piece lies."""
        return {"width": "from the left", "length": "from the far side", "thickness": "from below"}[self.glue.across]

    @property
    def has_overrides(self) -> bool:
        """Whether anything was laid by hand."""
        return bool(self.glue.turned or self.glue.order or self.glue.shifted)

    @property
    def marked(self) -> bool:
        """Whether some pieces carry marks, so that one without must be told by what it is."""
        return any(piece.name.mark for piece in self.laid)

    @property
    def laid(self) -> list[piece_edits.Piece]:
        """The pieces in their places."""
        return piece_edits.laid(self.plan, self.stage.id)


PANELS: dict[type[Stage], type[Panel]] = {Mill: StripsPanel, Arrange: RowsPanel, Glue: PiecesPanel}
"""By stage kind; see ``panel_of``."""


def panel_of(stage: Stage) -> type[Panel]:
    """The panel that shows a stage."""
    return next((panel for kind, panel in PANELS.items() if isinstance(stage, kind)), Panel)
