"""A program: chosen stages of a board on one of its faces, as cuts, as G-code, and as the wood before and after."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field, replace
from datetime import timedelta

import numpy as np

from ..errors import InputError
from ..geometry.faces import Side
from ..geometry.outlines import hull
from ..plan.simulate import Simulation, StageResult
from ..solid import Cells, Floats
from ..stages import Cove, Ease, Flatten, Groove, Hollow, Inlay, Method, Notch, Rabbet, Shape, Stage, Well
from ..stages.carving import Surface
from . import faces, paths
from .gcode import Cut, Reader, write
from .job import Job, Maker, Setting
from .machine import Bed, Clamp, Machine, StoppedError
from .mark import Mark
from .surface import STEP, HeightMap, seen_from
from .tools import Tool, ToolError

MAKERS: dict[type[Stage], Maker] = {
    Flatten: faces.flatten, Groove: paths.groove, Well: paths.well, Hollow: faces.hollow, Inlay: paths.inlay,
    Notch: paths.notch, Shape: paths.outline, Ease: paths.ease,
}  # fmt: skip
"""What makes the cuts of a kind of stage; what is not here is not done from above."""

CAUTIONS = (
    "Read the machine’s manual first; it and your training have the last word.",
    "Eye and ear protection, extraction on: hardwood dust harms lungs.",
    "Clamps and tabs where no tool goes; look along the program’s path before the spindle turns.",
    "Run it once in the air, hand on the stop; stay clear of everything that moves, and never leave it alone.",
)
"""What is said where a program is made, run and printed."""

NOTHING = 0.005
"""Less than this, mm, is rounding of the grid."""


@dataclass(frozen=True, slots=True)
class Program:
    """The cuts in their order, how far the table lies below zero (mm), what the G-code says at its head, and above
    which height nothing is touched (mm); ``top`` is how far the wood stands over the finished face."""

    cuts: tuple[Cut, ...]
    table: float
    header: tuple[str, ...]
    clear: float
    sim: Simulation
    side: Side
    results: tuple[StageResult, ...]
    top: float
    mark: Mark | None = None

    @property
    def text(self) -> str:
        """As G-code."""
        return write(self.cuts, self.header, self.clear)

    def wood(self, step: float = STEP) -> tuple[HeightMap, HeightMap]:
        """The board as it lies on the machine, and as it should come off."""
        see = _Eye(self.side, step)
        before = see(self.sim.taken(self.results[0].stage.sources[0])[0], self.top)
        planned = before.copy()
        shift = np.zeros(2)
        for result, lift in zip(self.results, _lifts(self.results, self.side), strict=True):
            _take_off(planned, self.sim, result, see, shift, lift)
            shift = shift + _moved(self.sim, result)
        if self.mark is not None:
            self.mark.let_into(planned)
        return before, planned


def stages(sim: Simulation, side: Side) -> list[Stage]:
    """The stages that can be done from above with this side up, in the order of the plan."""
    return [result.stage for result in sim.results if type(result.stage) in MAKERS and _fits(sim, result, side)]


LEFT_OUT: dict[type[Stage], str] = {
    Cove: "lie in the edges: not from above",
    Rabbet: "is cut along the edges as the steps say: no path is made for it",
}
"""What is worked on a board for which there are no paths, and why."""


def left_out(sim: Simulation) -> list[tuple[Stage, str]]:
    """The stages of a plan for which there are no paths, each with why."""
    return [(result.stage, LEFT_OUT[type(result.stage)]) for result in sim.results if type(result.stage) in LEFT_OUT]


def usual(sim: Simulation, side: Side) -> list[Stage]:
    """Of these, what a machine most likely does at one go: the last ones between which the board stays as it is, and
    flattening only where the plan has a CNC router do it."""
    out: list[StageResult] = []
    for stage in reversed(stages(sim, side)):
        if isinstance(stage, Flatten) and stage.method is not Method.CNC:
            continue
        try:
            _whole_between(sim, [sim[stage.id], *out])
        except InputError:
            break
        out.insert(0, sim[stage.id])
    return [result.stage for result in out]


def _fits(sim: Simulation, result: StageResult, side: Side) -> bool:
    stage = result.stage
    if len(result.pieces) != 1 or len(sim.taken(stage.sources[0])) != 1:
        return False
    face = getattr(stage, "face", None)
    if face is not None:
        return (face is Surface.TOP) == (side is Side.TOP)
    if isinstance(stage, Ease):
        return stage.top if side is Side.TOP else stage.bottom
    if isinstance(stage, Flatten):
        return _off(result, side) > 0
    return side is Side.TOP


def _off(result: StageResult, side: Side) -> float:
    """What a flattening takes off the face that lies up, mm."""
    off = result.outcome.off
    return float(off[0][2][1 if side is Side.TOP else 0]) if off is not None else 0.0


def program(
    sim: Simulation, chosen: Sequence[str], side: Side, tools: Sequence[Tool], setting: Setting, *,
    heights: tuple[float, ...] = (), text: str = "", capital: float = 6.0,
) -> Program:  # fmt: skip
    """Cuts for the ``chosen`` stages, in the order of the plan. ``heights`` are those measured at the corners over the
    lowest of them; ``text`` is engraved last. Raises InputError where nothing is chosen or a tool is missing."""
    results = [sim[stage.id] for stage in stages(sim, side) if stage.id in chosen]
    if not results:
        raise InputError("Choose at least one stage to cut.", "stage")
    first = results[0]
    piece = sim.taken(first.stage.sources[0])[0]
    top = sum(_taken_off(result, side) for result in results)
    table = float(piece.size()[2]) - top
    hardness = max(sim.woods[sim.strips[int(s)].wood].hardness for s in np.unique(piece.strip))
    _whole_between(sim, results)
    cuts: list[Cut] = []
    shift = np.zeros(2)
    for result, lift in zip(results, _lifts(results, side), strict=True):
        stage, taken = result.stage, sim.taken(result.stage.sources[0])[0]
        low, high = taken.bounds()
        strips = [sim.taken(name) for name in stage.sources[1:]] if isinstance(stage, Inlay) else []
        widths = tuple(float(pool[n].size()[0]) for pool in strips for n in range(len(pool)))
        job = Job(
            stage, low, high, side, tuple(tools), setting, hardness, table + lift, _taken_off(result, side),
            heights if isinstance(stage, Flatten) else (), widths,
            hull(taken) if isinstance(stage, Ease) else np.zeros((0, 2)),
        )  # fmt: skip
        try:
            cuts += [_shifted(cut, shift, lift) for cut in MAKERS[type(stage)](job)]
        except ToolError as error:
            raise InputError(f"{stage.title}: {error}.", "tools", **error.mm) from None
        except ValueError as error:
            raise InputError(f"{stage.title}: {error}.", "tools") from None
        shift = shift + _moved(sim, result)
    finished, mark = results[-1].pieces[0], None
    if text.strip():
        low, high = finished.bounds()
        last = Job(results[-1].stage, low, high, side, tuple(tools), setting, hardness, text=text, capital=capital)
        try:
            mark = Mark.of(last).moved(shift)
        except ToolError as error:
            raise InputError(f"The mark: {error}.", "tools", **error.mm) from None
        cuts.append(mark.cut(last))
    thickness = float(finished.size()[2])
    clear = max(move.z for cut in cuts for move in cut.moves) if any(cut.moves for cut in cuts) else 10.0
    wide, long, thick = (float(v) for v in piece.size())
    used = {cut.tool.number: cut.tool for cut in cuts}
    header = (
        f"{sim.plan.name}: {', '.join(r.stage.title.lower() for r in results)}",
        f"Stock {wide:.1f} × {long:.1f} × {thick:.1f} mm, {side.value} up; finished {thickness:.1f} mm thick",
        "Zero: X and Y at the near left corner of the board, Z at its finished face",
        f"The table lies {table:.2f} mm below zero",
        *(tool.name for tool in used.values()),
    )  # fmt: skip
    return Program(tuple(cuts), table, header, clear, sim, side, tuple(results), top, mark)


def _whole_between(sim: Simulation, results: Sequence[StageResult]) -> None:
    """Raise InputError where something else in between changes how large the board is: it comes off the machine."""
    inside = sim.results[sim.results.index(results[0]) : sim.results.index(results[-1])]
    for result in inside:
        stage = result.stage
        if result in results or not stage.shapes_wood or len(result.pieces) != 1:
            continue
        before, after = sim.taken(stage.sources[0])[0].size()[:2], result.pieces[0].size()[:2]
        if np.abs(before - after).max() > 0.01:
            raise InputError(
                f"Between these the board is cut to another size ({stage.title.lower()}). Make one program for what "
                "comes before it and one for what comes after.", "stage",
            )  # fmt: skip


def _moved(sim: Simulation, result: StageResult) -> Floats:
    """How far the near left corner of what a stage leaves lies from that of what it took, (2,) mm."""
    if not isinstance(result.stage, Shape):
        return np.zeros(2)
    low, high = sim.taken(result.stage.sources[0])[0].bounds()
    return np.asarray(result.stage.corners(low, high).min(axis=0) - low[:2])


def _taken_off(result: StageResult, side: Side) -> float:
    """What a stage takes off the whole of the face that lies up, mm."""
    return _off(result, side) if isinstance(result.stage, Flatten) else 0.0


def _lifts(results: Sequence[StageResult], side: Side) -> list[float]:
    """How far the face that each stage leaves lies over the finished one, mm: by what later ones take off it."""
    offs = [_taken_off(result, side) for result in results]
    return [sum(offs[at + 1 :]) for at in range(len(offs))]


def _shifted(cut: Cut, by: Floats, up: float = 0.0) -> Cut:
    """The same moves elsewhere on the board."""
    if not by.any() and not up:
        return cut
    dx, dy = (float(v) for v in by)
    moves = tuple(
        move._replace(x=move.x + dx, y=move.y + dy, z=move.z + up,
                      centre=(move.centre[0] + dx, move.centre[1] + dy) if move.centre else None)
        for move in cut.moves
    )  # fmt: skip
    return replace(cut, moves=moves, tabs=tuple((x + dx, y + dy) for x, y in cut.tabs))


@dataclass(slots=True)
class _Eye:
    """Looks at pieces from one side, at each only once: what one stage leaves is mostly what comes to the next."""

    side: Side
    step: float
    _seen: dict[tuple[int, float], tuple[Cells, HeightMap]] = field(default_factory=dict)

    def __call__(self, piece: Cells, zero: float) -> HeightMap:
        key = id(piece), round(zero, 9)
        if key not in self._seen:
            self._seen[key] = piece, seen_from(piece, self.side, zero=zero, step=self.step)
        return self._seen[key][1]


def _take_off(planned: HeightMap, sim: Simulation, result: StageResult, see: _Eye, shift: Floats, lift: float) -> None:
    """Let a stage take its own wood off the planned map; what others take in between stays. ``shift`` is where the near
    left corner of what comes to it lies on the map, and ``lift`` how far what it leaves lies over the finished face."""
    taken = see(sim.taken(result.stage.sources[0])[0], lift + _taken_off(result, see.side))
    # where there is no wood one sees the table, however thick the board is by then
    before = np.where(taken.z <= taken.floor + NOTHING, planned.floor, taken.z)
    after = see(result.pieces[0], lift)
    now = np.full_like(before, planned.floor)
    column, row = (round(float(v) / planned.step) for v in _moved(sim, result))
    rows, columns = (
        min(a, b) for a, b in zip(after.z.shape, (before.shape[0] - row, before.shape[1] - column), strict=True)
    )
    seen = np.where(after.z <= after.floor + NOTHING, planned.floor, after.z)
    now[row : row + rows, column : column + columns] = seen[:rows, :columns]
    left, low = (round(float(v) / planned.step) for v in shift)
    here = planned.z[low : low + before.shape[0], left : left + before.shape[1]]
    was, now = before[: here.shape[0], : here.shape[1]], now[: here.shape[0], : here.shape[1]]
    gone = now < was - NOTHING
    here[gone] = np.minimum(here[gone], now[gone])


@dataclass(frozen=True, slots=True)
class Carved:
    """What came of a program on the simulated machine: the wood as planned and as it is, how long it took, and at which
    line and why it stopped (or "")."""

    planned: HeightMap
    wood: HeightMap
    takes: timedelta
    stopped: str

    @property
    def deviation(self) -> Floats:
        """*Carved minus planned*, mm, above 0 where wood is left and below where too much went; a grid's width to
        either side counts as the same place, so that a wall is judged by where it stands. Nothing is said of where no
        board is left, as waste falls off there."""
        return deviation(self.wood, self.planned)


def deviation(wood: HeightMap, planned: HeightMap) -> Floats:
    """See ``Carved.deviation``."""
    padded = np.pad(planned.z, 1, mode="edge")
    rows, columns = planned.z.shape
    shifted = [padded[r : r + rows, c : c + columns] for r in range(3) for c in range(3)]
    low, high = np.minimum.reduce(shifted), np.maximum.reduce(shifted)
    out = np.where(wood.z < low, wood.z - low, np.where(wood.z > high, wood.z - high, 0.0))
    out[low <= planned.floor + NOTHING] = 0.0
    return np.asarray(out, np.float64)


def carve(
    made: Program, tools: Iterable[Tool], clamps: Sequence[Clamp] = (), bed: Bed | None = None, text: str | None = None,
    step: float = STEP,
) -> Carved:  # fmt: skip
    """Run a program (or another ``text``) to its end, or until the machine stops."""
    before, planned = made.wood(step)
    machine = machine_for(made, before, tools, clamps, bed)
    reader, stopped = Reader(), ""
    try:
        for line in (made.text if text is None else text).splitlines():
            machine.run(reader.read(line))
    except (StoppedError, ValueError) as error:
        stopped = str(error)
    return Carved(planned, machine.wood, timedelta(seconds=round(machine.seconds)), stopped)


def machine_for(
    made: Program, before: HeightMap, tools: Iterable[Tool], clamps: Sequence[Clamp] = (), bed: Bed | None = None
) -> Machine:
    """The machine with the board of a program on it."""
    return Machine(before, {tool.number: tool for tool in tools}, made.table, tuple(clamps), bed or Bed())
