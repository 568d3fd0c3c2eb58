"""The build as instructions: data that anything written for the maker is made of; see ``model``."""

from __future__ import annotations

from collections.abc import Callable, Iterator

from ..analysis.names import Names, names
from ..extensions import Registry
from ..fields import specs
from ..plan.simulate import Simulation, StageResult
from ..shop import Shop
from ..stages import (
    Arrange,
    Beside,
    Border,
    Crosscut,
    Flatten,
    Glue,
    Inlay,
    JointEdge,
    Mill,
    Profile,
    Resaw,
    Rip,
    Stage,
    Trim,
    Turned,
)
from . import cutting, glueing
from .model import (
    Channel,
    CutBack,
    Edging,
    Frame,
    GlueUp,
    Instruction,
    Laid,
    LetIn,
    MillStrips,
    Planed,
    Saw,
    Sawn,
    SawSection,
    Sectioned,
    Strip,
    Turn,
    Work,
    measures,
)
from .together import grouped, in_order
from .told import Told


def work(t: Told) -> Iterator[Instruction]:
    """Of any stage that is told by its settings alone."""
    stage = t.result.stage
    if not stage.shapes_wood:
        return
    other = {spec.name for spec in specs(type(stage)) if spec.kind in ("number", "count")}
    settings = {name: getattr(stage, name) for name in type(stage).model_fields if name not in BESIDE | stage.idle}
    yield Work(
        stage=stage.id, machine=stage.machine, kind=stage.kind, pieces=t.takes, settings=settings,
        measures=tuple(value for name, value in settings.items() if name not in other and _is_length(value)),
    )  # fmt: skip


def _is_length(value: object) -> bool:
    """Whether a setting that is no plain number is a length, or a list of lengths or points."""
    return isinstance(value, float) or (isinstance(value, tuple) and all(map(_is_length, value)))


BESIDE = {"id", "kind", "source", "skip"}
"""What every stage has and no instruction needs."""


Teller = Callable[[Told], Iterator[Instruction]]

_OURS: dict[type[Stage], Teller] = {
    Mill: cutting.mill, Rip: cutting.rip, Resaw: cutting.rip, Crosscut: cutting.crosscut, Profile: cutting.profile,
    Flatten: cutting.cut_back, JointEdge: cutting.cut_back, Trim: cutting.cut_back, Turned: cutting.turned,
    Beside: cutting.turned, Arrange: cutting.arrange, Glue: glueing.glue, Border: glueing.border,
    Inlay: glueing.inlay,
}  # fmt: skip

INSTRUCTIONS: Registry[Teller] = Registry(
    "instructions", {kind.model_fields["kind"].default: tell for kind, tell in _OURS.items()}
)
"""What tells the instructions of a stage, by its kind; all others are told by their settings (``work``)."""


def told(sim: Simulation, result: StageResult, shop: Shop, known: Names) -> tuple[Instruction, ...]:
    """The instructions of one stage."""
    return tuple(INSTRUCTIONS.get(result.stage.kind, work)(Told(sim, result, known, shop)))


def instructions_of(sim: Simulation, result: StageResult, shop: Shop | None = None) -> tuple[Instruction, ...]:
    """Those of one stage of a build."""
    return told(sim, result, shop or Shop(), names(sim))


def instructions(sim: Simulation, shop: Shop | None = None) -> list[Instruction]:
    """All that is to be done, stage by stage."""
    known, here = names(sim), shop or Shop()
    return [one for result in sim.results for one in told(sim, result, here, known)]


def counted(told: Instruction) -> int:
    """How many pieces an instruction works on one after the other; what a saw makes counts, and joints of a glue-up."""
    if isinstance(told, MillStrips):
        return len(told.strips)
    if isinstance(told, Saw):
        return sum(len(piece.makes) for piece in told.pieces)
    if isinstance(told, CutBack | SawSection | Turn):
        return len(told.pieces)
    if isinstance(told, GlueUp):
        return len(told.pieces) - 1 - len(told.dry)
    return 0


__all__ = [
    "Channel", "CutBack", "Edging", "Frame", "GlueUp", "Instruction", "Laid", "LetIn", "MillStrips", "Planed", "Saw",
    "SawSection", "Sawn", "Sectioned", "Strip", "Told", "Turn", "Work", "counted", "grouped", "in_order",
    "instructions", "instructions_of", "measures", "told",
]  # fmt: skip
