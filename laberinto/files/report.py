"""The report of a simulated plan, as documented JSON. Lengths are mm, areas mm², volumes mm³, masses kg."""

from __future__ import annotations

from pydantic import BaseModel, ConfigDict, Field

from laberinto.core.analysis.figures import figures
from laberinto.core.analysis.machines import passage
from laberinto.core.geometry.joints import Joint
from laberinto.core.plan.simulate import Simulation, StageResult
from laberinto.core.rules import check
from laberinto.core.solid import Cells


class _Part(BaseModel):
    model_config = ConfigDict(frozen=True, extra="forbid")


class PieceReport(_Part):
    """One piece as it leaves a stage: its box, its volume, its cells, and how much of each wood."""

    width: float
    length: float
    thickness: float
    volume: float
    cells: int
    woods: dict[str, float] = Field(description="volume by wood")


class ContactReport(_Part):
    """Two strips that meet in a joint. Where they meet the same way more than once, their areas are added up."""

    woods: tuple[str, str]
    strips: tuple[int, int] = Field(description="numbers of the strips, from 0 in the order they are milled")
    area: float
    grain: tuple[str, str] = Field(
        description="what either side shows: end (fibres run into the joint), face (rings lie along it) or edge"
    )
    fibre_angle: float = Field(description="between the fibres of both sides, 0 to 90 degrees")
    ring_angle: float = Field(description="between the rings of both sides, 0 to 90 degrees")


class JointReport(_Part):
    """One glue line between two neighbouring pieces, numbered from 1."""

    first: int
    second: int
    area: float
    mixed_grain_area: float = Field(description="part where long grain meets end grain, which moves apart")
    contacts: tuple[ContactReport, ...]


class PassageReport(_Part):
    """What must fit through or over a machine: the largest box of all pieces, and the shortest piece."""

    machine: str
    width: float
    length: float
    thickness: float
    shortest: float = Field(description="least of all pieces' longer sides; machines have a minimum")


class StageReport(_Part):
    """What one stage took, gave and lost."""

    id: str
    kind: str
    title: str
    wood_in: float
    passage: PassageReport | None = Field(description="null where no machine is used")
    pieces: tuple[PieceReport, ...]
    offcuts: tuple[PieceReport, ...]
    waste: dict[str, float] = Field(description="volume by cause")
    joints: tuple[JointReport, ...]


class CheckReport(_Part):
    """Something that will go wrong, or that one should know."""

    severity: str
    stage: str
    why: str
    fix: str


class Report(_Part):
    """Everything a plan yields."""

    name: str
    milled: float
    board: PieceReport = Field(description="the finished board, the first where there are several")
    boards: tuple[PieceReport, ...] = Field(description="all that the plan ends in")
    weight: float = Field(description="of the finished board, kg")
    waste: dict[str, float] = Field(description="volume by cause over the whole plan")
    stages: tuple[StageReport, ...]
    checks: tuple[CheckReport, ...]


def report(sim: Simulation) -> Report:
    """Read the report off a simulation."""
    return Report(
        name=sim.plan.name,
        milled=sim.milled,
        board=_piece(sim, sim.board.pieces[0]),
        boards=_pieces(sim, sim.board.pieces.cells),
        weight=figures(sim).weight,
        waste={cause.value: volume for cause, volume in sim.waste().items() if volume > 0},
        stages=tuple(_stage(sim, result) for result in sim.results),
        checks=tuple(CheckReport(severity=c.severity.value, stage=c.stage, why=c.why, fix=c.fix) for c in check(sim)),
    )


def _stage(sim: Simulation, result: StageResult) -> StageReport:
    outcome = result.outcome
    return StageReport(
        id=result.stage.id,
        kind=result.stage.kind,
        title=result.stage.title,
        wood_in=result.wood_in,
        passage=_passage(sim, result),
        pieces=_pieces(sim, outcome.pieces.cells),
        offcuts=_pieces(sim, outcome.offcuts),
        waste={cause.value: volume for cause, volume in outcome.waste.items()},
        joints=tuple(_joint(sim, joint) for joint in outcome.joints),
    )


def _passage(sim: Simulation, result: StageResult) -> PassageReport | None:
    machine = passage(sim, result)
    if machine is None:
        return None
    return PassageReport(
        machine=machine.machine, width=machine.width, length=machine.length, thickness=machine.thickness,
        shortest=machine.shortest,
    )  # fmt: skip


def _pieces(sim: Simulation, cells: Cells) -> tuple[PieceReport, ...]:
    return tuple(_piece(sim, cells.of_piece(number)) for number in range(cells.pieces))


def _piece(sim: Simulation, cells: Cells) -> PieceReport:
    width, length, thickness = (float(v) for v in cells.size())
    return PieceReport(
        width=width, length=length, thickness=thickness, volume=cells.volume(), cells=len(cells),
        woods=sim.wood_volumes(cells),
    )  # fmt: skip


def _joint(sim: Simulation, joint: Joint) -> JointReport:
    columns = zip(
        joint.strips.tolist(), joint.areas.tolist(), joint.grain(sim.strips), joint.fibre_angles().tolist(),
        joint.ring_angles(sim.strips).tolist(), strict=True,
    )  # fmt: skip
    areas: dict[tuple[int, int, tuple[str, str], float, float], float] = {}
    for (one, other), area, grain, fibres, rings in columns:
        key = one, other, grain, round(fibres, 2), round(rings, 2)
        areas[key] = areas.get(key, 0.0) + area
    contacts = tuple(
        ContactReport(
            woods=(sim.strips[one].wood, sim.strips[other].wood), strips=(one, other), area=area, grain=grain,
            fibre_angle=fibres, ring_angle=rings,
        )
        for (one, other, grain, fibres, rings), area in areas.items()
    )  # fmt: skip
    return JointReport(
        first=joint.first + 1, second=joint.second + 1, area=joint.area, mixed_grain_area=joint.mixed, contacts=contacts
    )
