"""What a step at the bench is."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

from ..plan.simulate import Simulation, StageResult
from ..shop import Shop
from ..stages import Arrange, Crosscut, JointEdge, Trim
from ..units import Lengths


class Map(StrEnum):
    """Which drawing belongs to a step."""

    NONE = ""
    CUT_LIST = "cut-list"
    PANEL = "panel"
    CUTS = "cuts"
    ROWS = "rows"
    FACE = "face"


@dataclass(frozen=True, slots=True)
class Step:
    """One thing to do. ``key`` stays the same while the plan is edited, so that ticks keep their place.

    ``setting`` is the one number to set a machine to (or ""), ``measure`` the length in mm to check
    afterwards (or None), ``wait_hours`` how long it rests before the next step.
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
    map: Map = Map.NONE


@dataclass(frozen=True, slots=True)
class Context:
    """What a stage's steps are written from."""

    sim: Simulation
    result: StageResult
    lengths: Lengths
    shop: Shop
    taken: tuple[str, ...] = ()
    """Sentences on what of the store is held for this board."""

    @property
    def first(self) -> bool:
        """Whether the build begins here."""
        return self.result is self.sim.results[0]

    def mm(self, value: float) -> str:
        """A length as this maker reads it."""
        return self.lengths.show(value)

    @property
    def before(self) -> StageResult:
        """The result this stage took its pieces from."""
        assert self.result.stage.source is not None
        return self.sim[self.result.stage.source]

    @property
    def becomes_rows(self) -> bool:
        """Whether slices of what this stage leaves stand up as rows, with nothing in between that changes how thick it
        is."""
        at = self.result.stage.id
        while (taker := next((s for s in self.sim.plan.stages if at in s.sources), None)) is not None:
            if isinstance(taker, Crosscut):
                return any(taker.id in s.sources and isinstance(s, Arrange) for s in self.sim.plan.stages)
            if taker.shapes_wood and not isinstance(taker, Trim | JointEdge):
                return False
            at = taker.id
        return False

    @property
    def on_end(self) -> bool:
        """Whether fibres point up after this stage."""
        return self.result.pieces.cells.on_end
