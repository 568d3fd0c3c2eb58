"""What every stage is: validated parameters, and a function from pieces to pieces with a ledger."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass, field, replace
from enum import StrEnum
from typing import ClassVar, Self

import numpy as np
from pydantic import BaseModel, ConfigDict, Field

from ..errors import GeometryError
from ..geometry.joints import Joint
from ..solid import Cells, Floats, Ints, empty, join
from ..woods import Wood
from ..woods.strips import Strip

LEDGER = 1e-9
"""Largest share of the volume that may go unaccounted for at a stage."""

LEAST_TO_PLANE = 6.0
"""Nothing is planed thinner than this, mm; a common lower limit of thickness planers."""


class Cause(StrEnum):
    """What turned wood into waste."""

    KERF = "kerf"
    FLATTENING = "flattening"
    TRIMMING = "trimming"
    SHAPING = "shaping"
    OFFCUT = "offcut"


@dataclass(frozen=True, slots=True)
class Pieces:
    """Loose pieces as they leave a stage: each in its own frame, its box starting at the origin."""

    cells: Cells

    def __len__(self) -> int:
        return self.cells.pieces

    def __getitem__(self, number: int) -> Cells:
        return self.cells.of_piece(number)


@dataclass(frozen=True, slots=True)
class Outcome:
    """What a stage yields: pieces, offcuts that could be used again, waste by cause in mm³, new joints."""

    pieces: Pieces
    offcuts: Cells = field(default_factory=empty)
    waste: Mapping[Cause, float] = field(default_factory=dict)
    joints: tuple[Joint, ...] = ()
    strips: tuple[Strip, ...] = ()
    turns: tuple[str, ...] = ()
    """How each piece was turned, in words, for the stages that turn pieces."""
    laid: Ints | None = None
    """For each cell of the pieces, at which position of the glue-up the piece lay that it came with, (n,)."""
    rounds: tuple[int, ...] = ()
    """How many of the joints each round in the clamps closes, where there are several rounds."""
    parents: tuple[int, ...] = ()
    """For each piece the number of the one it was sawn from, for the stages that saw."""
    off: Floats | None = None
    """How much was cut back from the box round each piece, mm: (pieces, axis, lower and upper end); None where the
    stage makes no such cuts."""

    def check(self, stage: str, wood_in: float, wood_left: float) -> None:
        """Raise GeometryError unless wood in = pieces + offcuts + dust."""
        wood_out = wood_left + sum(self.waste.values())
        if abs(wood_in - wood_out) > LEDGER * max(wood_in, 1.0):
            raise GeometryError(f"Stage “{stage}” lost {wood_in - wood_out:.6g} mm³ of wood.")


def worked(pieces: Pieces, cause: Cause, work: Callable[[Cells], tuple[Cells, float]]) -> Outcome:
    """Do the same to every piece: ``work`` gives what is left of one and the volume it took, mm³."""
    kept, gone = zip(*(work(pieces[number]) for number in range(len(pieces))), strict=True)
    return Outcome(
        Pieces(join([left.as_piece(number) for number, left in enumerate(kept)])), waste={cause: float(sum(gone))}
    )


def cut_back(pieces: Pieces, cause: Cause, work: Callable[[Cells], tuple[Cells, float, Floats]]) -> Outcome:
    """The same for work that cuts sides back square: ``work`` says too by how much, (axis, lower and upper end)."""
    off = []

    def told(piece: Cells) -> tuple[Cells, float]:
        left, gone, by = work(piece)
        off.append(by)
        return left, gone

    return replace(worked(pieces, cause, told), off=np.stack(off))


def alike(pieces: Pieces, *axes: int) -> Iterator[tuple[int, Cells]]:
    """Pieces of one size along ``axes`` together, since the same cuts serve for all, with the number of the first."""
    cells = pieces.cells
    if len(pieces) == 1:
        yield 0, cells
        return
    sizes = np.round(cells.piece_sizes()[:, axes], 6)
    kinds, first, kind = np.unique(sizes, axis=0, return_index=True, return_inverse=True)
    for k in range(len(kinds)):
        yield int(first[k]), cells.take(kind.ravel()[cells.piece] == k)


@dataclass(frozen=True, slots=True)
class Bench:
    """What a stage may look up while it runs."""

    woods: Mapping[str, Wood]
    first_strip: int = 0
    others: Mapping[str, Pieces] = field(default_factory=dict)
    """Pieces of further sources, by the name they are taken under."""


class Stage(BaseModel):
    """A step of the plan. Subclasses add parameters and say in ``run`` what the step does to wood."""

    model_config = ConfigDict(frozen=True, extra="forbid", allow_inf_nan=False, populate_by_name=True)

    title: ClassVar[str]
    verb: ClassVar[str]
    """What the maker does, for buttons and headings."""
    shapes_wood: ClassVar[bool] = True
    planning: ClassVar[tuple[str, ...]] = ()
    """Parameters that plan the work rather than move wood; forms show them last."""
    seldom: ClassVar[tuple[str, ...]] = ()
    """Parameters that are rarely set; forms show them behind the others."""
    instead: ClassVar[tuple[tuple[str, str], ...]] = ()
    """Pairs of parameters of which one is given: setting either empties the other."""
    drawn: ClassVar[tuple[tuple[str, str, str], ...]] = ()
    """Lists with the choice that asks for them: (list, choice, answer). Typing the list makes the choice; another
    answer empties the list."""
    through: ClassVar[str] = ""
    """What the wood goes through or over here; empty where it is worked by hand or not at all."""

    id: str = Field(pattern=r"^[a-z][a-z0-9-]{0,39}$", description="name of this stage, used by later ones")
    kind: str
    source: str | None = Field(default=None, alias="from", description="id of the stage whose pieces are taken")
    skip: bool = Field(default=False, description="left out for comparison: the pieces pass as they are")

    def run(self, pieces: Pieces, bench: Bench) -> Outcome:
        """Do this to the ``pieces`` (never changed) and return what comes out.

        Raises StageError where the wood cannot give what is asked.
        """
        raise NotImplementedError

    @property
    def heading(self) -> str:
        """What the maker does here, as it stands over a page."""
        return self.verb

    @property
    def machine(self) -> str:
        """The machine that does it, or ""."""
        return self.through

    @property
    def angled(self) -> bool:
        """Whether a blade is set to anything but square."""
        return False

    @property
    def idle(self) -> frozenset[str]:
        """Parameters that move no wood as the others stand."""
        return frozenset(self.planning)

    @property
    def sources(self) -> tuple[str, ...]:
        """Every stage whose pieces are taken; ``id:offcut`` stands for the offcuts of a stage."""
        return (self.source,) if self.source else ()

    def taking(self, new: Callable[[str], str]) -> Self:
        """This stage with another name for each of its sources."""
        if all(new(name) == name for name in self.sources):
            return self
        many = {n: getattr(self, n, None) for n in ("also", "sequence", "sides")}
        lists = {n: tuple(map(new, found)) for n, found in many.items() if isinstance(found, tuple) and found}
        single = {n: new(found) for n in ("source", "spline") if (found := getattr(self, n, None))}
        return self.model_copy(update={**single, **lists})
