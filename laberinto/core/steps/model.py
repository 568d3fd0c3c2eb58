"""What a step at the bench is."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from enum import StrEnum

from ..analysis.names import Name, Names
from ..instructions import Instruction, counted
from ..plan.simulate import Simulation, StageResult
from ..shop import Shop
from ..stages import Arrange, Crosscut, JointEdge, Trim
from ..units import Lengths
from .cautions import USUAL


class Map(StrEnum):
    """Which drawing belongs to a step."""

    NONE = ""
    CUT_LIST = "cut-list"
    PANEL = "panel"
    CUTS = "cuts"
    ROWS = "rows"
    CLAMPS = "clamps"
    FRAME = "frame"
    FACE = "face"
    SECTION = "section"
    TURNED = "turned"


@dataclass(frozen=True, slots=True)
class Step:
    """One thing to do. ``key`` stays the same while the plan is edited, so that ticks keep their place.

    ``setting`` is the one number to set a machine to (or ""), ``measure`` the length in mm to check
    afterwards (or None), ``wait_hours`` how long it rests before the next step. ``does`` are the instructions that
    its sentences and its map are written from.
    """

    key: str
    stage: str
    heading: str
    lines: tuple[str, ...]
    cautions: tuple[str, ...] = ()
    setting: str = ""
    setting_label: str = ""
    measure: float | None = None
    measure_label: str = ""
    wait_hours: float = 0.0
    timers: tuple[tuple[str, float], ...] = ()
    """What is timed within the step: what it is, and minutes."""
    map: Map = Map.NONE
    listed: tuple[str, ...] = ()
    """Lines that stand first, and that a cut list beside the steps says as well."""
    does: tuple[Instruction, ...] = ()
    also: tuple[str, ...] = ()
    """Further stages that are done in the same go."""
    times: int = 1
    """To how many boards it is done before the next step."""

    @property
    def stages(self) -> tuple[str, ...]:
        """Every stage it is done for."""
        return (self.stage, *self.also)

    @property
    def keys(self) -> tuple[str, ...]:
        """Its key for each stage it is done for: a tick is kept for every one, so that wood which is put in later is not
        taken for done."""
        return tuple(f"{stage}.{self.key.partition('.')[2]}" for stage in self.stages)

    @property
    def wait_label(self) -> str:
        """What a timer of its wait is called."""
        return f"Wait after: {self.heading[:1].lower()}{self.heading[1:]}"

    @property
    def pieces(self) -> int:
        """How many times the same is done at this step over all boards of a batch: pieces to mill, cut, plane or glue;
        0 where it is done once."""
        count = max(self.a_board, 1) * self.times if self.does else 0
        return count if count > 1 else 0

    @property
    def a_board(self) -> int:
        """The same of one board, 0 where nothing is counted."""
        return sum(map(counted, self.does))

    @property
    def sentences(self) -> tuple[str, ...]:
        """All that is to be read where no cut list stands beside."""
        return (*self.listed, *self.lines)

    @property
    def special(self) -> tuple[str, ...]:
        """Cautions that are special to this step."""
        return tuple(words for words in self.cautions if words not in USUAL)

    @property
    def usual(self) -> tuple[str, ...]:
        """Cautions that hold whenever such work is done."""
        return tuple(words for words in self.cautions if words in USUAL)


@dataclass(frozen=True, slots=True)
class Context:
    """What a stage's steps are written from."""

    sim: Simulation
    result: StageResult
    lengths: Lengths
    shop: Shop
    names: Names
    does: tuple[Instruction, ...]
    taken: tuple[str, ...] = ()
    """Sentences on what of the store is held for this board."""
    first: bool = False
    """Whether the build begins here."""

    def mm(self, value: float, times: int = 1) -> str:
        """A length as this maker reads it, fine enough to be used so many times over."""
        return self.lengths.exact(value, times)

    def later(self, names: Iterable[Name]) -> list[Name]:
        """Those of some pieces that a later stage takes up again."""
        taken = {name for result in self.sim.results for source in result.stage.sources for name in self.names[source]}
        return [name for name in names if name in taken]

    @property
    def before(self) -> StageResult:
        """The result this stage took its pieces from."""
        assert self.result.stage.source is not None
        return self.sim[self.result.stage.source]

    @property
    def becomes_rows(self) -> int:
        """How many slices of what this stage leaves stand up as rows, with nothing in between that changes how thick it
        is."""
        return rows_of(self.sim, self.result.stage.id)

    @property
    def pieces(self) -> int:
        """How many pieces there are after this stage."""
        return len(self.result.pieces)

    @property
    def on_end(self) -> bool:
        """Whether fibres point up after this stage."""
        return self.result.pieces.cells.on_end


def rows_of(sim: Simulation, at: str) -> int:
    """How many slices of what a stage leaves stand up as rows, with nothing in between that changes how thick it is."""
    while (taker := next((s for s in sim.plan.stages if at in s.sources), None)) is not None:
        if isinstance(taker, Crosscut):
            laid = any(taker.id in s.sources and isinstance(s, Arrange) for s in sim.plan.stages)
            return taker.count if laid else 0
        if taker.shapes_wood and not isinstance(taker, Trim | JointEdge):
            return 0
        at = taker.id
    return 0
