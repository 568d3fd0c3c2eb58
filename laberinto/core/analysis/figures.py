"""The numbers people decide by, read off one simulation."""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import dataclass

from ..geometry.rotations import Lie
from ..plan.simulate import Simulation
from ..shop import Shop
from ..solid import Cells
from ..stages import MILLED, Across, Arrange, Carving, Cause, Ease, Flatten, Glue, Gluing, Mill, Stock, Trim
from .glueups import glue_grams
from .marks import ends
from .names import slice_marks


@dataclass(frozen=True, slots=True)
class StageSize:
    """What a stage leaves: how many pieces, of what size (mm) and volume (mm³)."""

    stage: str
    title: str
    pieces: int
    width: float
    length: float
    thickness: float
    volume: float


@dataclass(frozen=True, slots=True)
class WasteLine:
    """Waste by one cause: mm³ and share of the milled wood."""

    cause: Cause
    volume: float
    share: float


@dataclass(frozen=True, slots=True)
class WoodLine:
    """One wood: mm³ of milled strips and of the rough stock they come from, mm³ and kg left in the board."""

    wood: str
    name: str
    strips: int
    milled: float
    rough: float
    in_board: float
    weight: float


@dataclass(frozen=True, slots=True)
class CutLine:
    """Strips of one kind to mill: finished size and rough size in mm, and how many. What is taken as it is has no rough
    size: it is ``stock`` of this size, each piece of ``solid`` mm³."""

    wood: str
    name: str
    count: int
    width: float
    thickness: float
    length: float
    marks: tuple[str, ...]
    over: tuple[float, float, float]
    """Oversize in length, width and thickness."""
    stock: Stock = MILLED
    solid: float = 0.0

    @property
    def rough(self) -> tuple[float, float, float]:
        """Rough length, width and thickness, mm."""
        return self.length + self.over[0], self.width + self.over[1], self.thickness + self.over[2]

    @property
    def rough_volume(self) -> float:
        """Of all of them before anything is cut, mm³."""
        length, width, thickness = self.rough
        return self.count * (self.solid if self.stock.as_is else length * width * thickness)


@dataclass(frozen=True, slots=True)
class BoardLine:
    """One of the boards that a plan ends in: size in mm, weight in kg, blocks, and its share of their wood (0 to 1)."""

    width: float
    length: float
    thickness: float
    weight: float
    cells: int
    share: float


@dataclass(frozen=True, slots=True)
class Figures:
    """Everything a board's figures strip shows. Sizes in mm, volumes in mm³, areas in mm². Where a plan ends in several
    boards, the size is that of the first, and all else of all together; ``boards`` has each."""

    width: float
    length: float
    thickness: float
    weight: float
    rows: int
    cells: int
    milled: float
    board: float
    waste: tuple[WasteLine, ...]
    stages: tuple[StageSize, ...]
    woods: tuple[WoodLine, ...]
    cuts: tuple[CutLine, ...]
    joints: int
    joint_area: float
    glue_grams: float
    glue_ups: int
    boards: tuple[BoardLine, ...] = ()

    @property
    def wasted(self) -> float:
        """Share of the milled wood that does not end in the board."""
        return sum(line.share for line in self.waste)


def figures(sim: Simulation, shop: Shop | None = None) -> Figures:
    """Read all figures off a simulation, with the oversize that a shop cuts rough."""
    here = shop or Shop()
    return sim.memo.latest(_figures, sim, here, key=here)


def _figures(sim: Simulation, shop: Shop) -> Figures:
    board = sim.board.pieces.cells
    width, length, thickness = sim.board.size
    milled = sim.milled
    in_board = sim.wood_volumes(board)
    cuts = cut_list(sim, shop=shop)
    woods = tuple(
        WoodLine(
            wood=key,
            name=sim.woods[key].name,
            strips=sum(strip.wood == key for strip in sim.strips),
            milled=sum(strip.volume for strip in sim.strips if strip.wood == key),
            rough=sum(c.rough_volume for c in cuts if c.wood == key),
            in_board=in_board.get(key, 0.0),
            weight=in_board.get(key, 0.0) * 1e-9 * sim.woods[key].density,
        )
        for key in dict.fromkeys(strip.wood for strip in sim.strips)
    )
    joints = sim.joints()
    return Figures(
        width=width, length=length, thickness=thickness, weight=sum(line.weight for line in woods),
        rows=sum(len(r.pieces) for r in sim.results if isinstance(r.stage, Arrange)), cells=blocks(board),
        milled=milled, board=board.volume(),
        waste=tuple(WasteLine(cause, v, v / milled) for cause, v in sim.waste().items() if v > 0),
        stages=tuple(
            StageSize(r.stage.id, r.stage.title, len(r.pieces), *r.size, r.volume) for r in sim.results
        ),
        woods=woods, cuts=cuts,
        joints=len(joints), joint_area=sum(j.area for j in joints), glue_grams=glue_grams(sim),
        glue_ups=sum(r.stage.glue_ups for r in sim.results if isinstance(r.stage, Gluing)),
        boards=tuple(_board(sim, piece, board.volume()) for piece in sim.boards),
    )  # fmt: skip


def _board(sim: Simulation, piece: Cells, together: float) -> BoardLine:
    width, length, thickness = (float(v) for v in piece.size())
    weight = sum(v * 1e-9 * sim.woods[key].density for key, v in sim.wood_volumes(piece).items())
    return BoardLine(width, length, thickness, weight, blocks(piece), piece.volume() / together)


def blocks(cells: Cells) -> int:
    """How many blocks of wood there are: what a tool has left of one cell, in however many parts, counts once."""
    return int(cells.blocks().max()) + 1


def cut_list(sim: Simulation, stages: Collection[str] | None = None, shop: Shop | None = None) -> tuple[CutLine, ...]:
    """Strips to mill at some stages, or at all, like with like, widest first within a wood."""
    groups: dict[tuple[str, float, float, float, Stock, float], list[str]] = {}
    named = ends(sim)
    for result in sim.results:
        if isinstance(result.stage, Mill) and (stages is None or result.stage.id in stages):
            for strip in result.outcome.strips:
                stock, solid = result.stage.rough_stock, strip.solid or 0.0
                alike = strip.wood, strip.width, result.stage.thickness, strip.length, stock, solid
                groups.setdefault(alike, []).append(named[strip.number])
    over = (shop or Shop()).rough
    lines = (
        CutLine(
            wood, sim.woods[wood].name, len(marks), width, thickness, length, tuple(marks),
            (0.0, 0.0, 0.0) if solid else over, stock, solid,
        )
        for (wood, width, thickness, length, stock, solid), marks in groups.items()
    )  # fmt: skip
    return tuple(sorted(lines, key=lambda c: (c.name, -c.width)))


@dataclass(frozen=True, slots=True)
class Row:
    """One row of the finished face: its slice, how it lies, and where it begins and ends from the far edge (mm)."""

    slice: str
    lie: Lie
    by_rule: bool
    start: float
    end: float


def _stay_rows(sim: Simulation, arrange: Arrange) -> bool:
    """Whether the rows are glued, one behind the other, and afterwards only faces and edges are worked."""
    following = [result.stage for result in sim.results[sim.plan.index(arrange.id) + 1 :]]
    if not following or not isinstance(glue := following[0], Glue) or glue.sources != (arrange.id,):
        return False
    straight = glue.across is Across.LENGTH and not glue.dry
    return straight and all(isinstance(s, Flatten | Trim | Ease | Carving) or not s.shapes_wood for s in following[1:])


def rows(sim: Simulation) -> tuple[Row, ...]:
    """Rows of the face from the far side, cut to what trimming left; empty where nothing was arranged."""
    arranged = next((r for r in sim.results if isinstance(r.stage, Arrange)), None)
    if arranged is None or not isinstance(arranged.stage, Arrange) or not _stay_rows(sim, arranged.stage):
        return ()
    heights = arranged.pieces.cells.piece_sizes()[:, 1].tolist()
    length = sim.board.size[1]
    arrange, counts = arranged.stage, sim.slices(arranged.stage.id)
    marks = slice_marks(sim, arrange)
    at = (length - sum(heights)) / 2  # trimming takes the same from both ends
    out = []
    for row, ((number, lie), height) in enumerate(zip(arrange.rows(counts), heights, strict=True)):
        start, end = max(at, 0.0), min(at + height, length)
        out.append(Row(marks[number - 1], lie, lie is arrange.rule.lie(row), start, end))
        at += height
    return tuple(out)
