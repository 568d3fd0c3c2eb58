"""What an instruction is: one thing done to named pieces, with every setting that moves wood.

Instructions are data. Sentences, maps, sheets and labels are written from them; who has nothing else (a helper at the
bench, or the test that follows them on fresh wood) ends with the same board. Positions are those at the bench: x to the
right, y away from you, z up; lengths in mm, angles in degrees.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field, fields, is_dataclass
from typing import Any, Literal

from ..analysis.clamping import Clamping
from ..analysis.names import Name
from ..stages import MILLED, Across, Spread, Stock

Unit = Literal["mm", "°"]


def mm(**more: Any) -> Any:
    """A length that moves wood, or a tuple of them."""
    return field(metadata={"unit": "mm"}, **more)


def angle(**more: Any) -> Any:
    """An angle that moves wood."""
    return field(metadata={"unit": "°"}, **more)


@dataclass(frozen=True, slots=True, kw_only=True)
class Instruction:
    """Something to do at a stage. ``machine`` is what the wood goes through, or ""."""

    stage: str
    machine: str = ""
    also: tuple[str, ...] = ()
    """Further stages that are done at the same settings, in the same go."""

    @property
    def stages(self) -> tuple[str, ...]:
        """Every stage it is done for."""
        return (self.stage, *self.also)


@dataclass(frozen=True, slots=True)
class Strip:
    """A strip to mill: its sizes, and how it is turned from how it was sawn."""

    name: Name
    wood: str
    turn: str
    width: float = mm()
    length: float = mm()
    thickness: float = mm()


@dataclass(frozen=True, slots=True, kw_only=True)
class MillStrips(Instruction):
    """Bring wood to size and mark it; or, where it is ``stock`` of another shape, lay it down as it is: its strips are
    as thick as the box round them, the wood itself is ``thickness`` mm, else 0."""

    strips: tuple[Strip, ...]
    stock: Stock = MILLED
    thickness: float = mm(default=0.0)


@dataclass(frozen=True, slots=True)
class Sawn:
    """One piece under the saw: how wide each part becomes, what they are called, and what comes off at either end.
    ``left`` is the remainder behind the last cut."""

    name: Name
    makes: tuple[Name, ...]
    widths: tuple[float, ...] = mm()
    left: float = 0.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Saw(Instruction):
    """Parallel cuts along ``axis`` (0 rip, 1 crosscut, 2 re-saw), from the lower end on: first ``first`` mm off, kerf
    included, where a full cut can begin, then part after part, each followed by a kerf. ``skew`` turns the blade
    clockwise on a crosscut and anticlockwise on a rip, seen from above; ``bevel`` tilts its upper edge towards the
    lower end. Afterwards ``level`` of the skew and ``plumb`` of the bevel are turned back, so that sawn faces lie
    square again. ``offcuts`` are named in the order in which they come off."""

    axis: int
    pieces: tuple[Sawn, ...]
    offcuts: tuple[Name, ...]
    kerf: float = mm()
    first: float = mm()
    skew: float = angle()
    bevel: float = angle()
    level: bool
    plumb: bool

    @property
    def angled(self) -> bool:
        """Whether the blade is set to anything but square."""
        return bool(self.skew or self.bevel)

    @property
    def widths(self) -> tuple[float, ...]:
        """Each setting of fence or stop once, in order of use."""
        return tuple(dict.fromkeys(width for piece in self.pieces for width in piece.widths))


@dataclass(frozen=True, slots=True)
class Sectioned:
    """One piece and the corners (x, z) of the section it gets, from the lower left of its near end, anticlockwise."""

    name: Name
    corners: tuple[tuple[float, float], ...] = mm()


@dataclass(frozen=True, slots=True, kw_only=True)
class SawSection(Instruction):
    """Saw along each side of a section in turn, the kerf outside it; then lay each piece on side ``rest_on`` (1 is from
    the first corner to the second; 0 leaves it as it is)."""

    pieces: tuple[Sectioned, ...]
    offcuts: tuple[Name, ...]
    rest_on: int
    kerf: float = mm()


@dataclass(frozen=True, slots=True)
class Planed:
    """One piece, how much comes off its lower and its upper end, measured from what stands out farthest, and what it
    then measures."""

    name: Name
    lower: float = mm()
    upper: float = mm()
    to: float = mm()


@dataclass(frozen=True, slots=True, kw_only=True)
class CutBack(Instruction):
    """Plane, sand, joint or saw both ends of pieces back square to an axis."""

    axis: int
    pieces: tuple[Planed, ...]


@dataclass(frozen=True, slots=True)
class Laid:
    """One piece in its place: how it is turned from how it lay, and how far along the joint it is shifted."""

    name: Name
    turn: str
    shift: float = mm(default=0.0)


@dataclass(frozen=True, slots=True, kw_only=True)
class Turn(Instruction):
    """Turn pieces and lay them in this order, loose."""

    pieces: tuple[Laid, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class Gluing(Instruction):
    """What every round in the clamps holds: pieces that stay over, faces that get glue, hours, and glue in grams."""

    spare: tuple[Name, ...]
    spread: Spread
    hours: float
    grams: float


@dataclass(frozen=True, slots=True, kw_only=True)
class GlueUp(Gluing):
    """Set pieces against each other in this order, each up to what lies before it, and glue them but for the joints
    behind the places named in ``dry`` (from 1). ``spare`` stays over."""

    across: Across
    pieces: tuple[Laid, ...]
    dry: tuple[int, ...]
    makes: tuple[Name, ...]
    clamping: Clamping


@dataclass(frozen=True, slots=True)
class Edging:
    """Pieces laid end to end against one edge, the longer of their sides along it; the first begins ``begins`` from the
    near or left end of the edge."""

    axis: int
    outwards: float
    pieces: tuple[Name, ...]
    begins: float = mm()

    @property
    def side(self) -> str:
        """Which edge: left, right, near or far."""
        return {(0, -1.0): "left", (0, 1.0): "right", (1, -1.0): "near", (1, 1.0): "far"}[self.axis, self.outwards]


@dataclass(frozen=True, slots=True, kw_only=True)
class Frame(Gluing):
    """Glue two opposite sides of a border on and saw their ends flush; then let a spline into each of the two joints,
    half its width to either side and half way up."""

    core: Name
    sides: tuple[Edging, ...]
    splines: tuple[Name, ...]
    joints: int
    clamping: Clamping


@dataclass(frozen=True, slots=True)
class Channel:
    """A channel for a strip, its middle ``at`` from the left or near edge."""

    strip: Name
    at: float = mm()


@dataclass(frozen=True, slots=True, kw_only=True)
class LetIn(Gluing):
    """Rout a channel as wide as its strip through the face, let the strip in, and cut it flush."""

    board: Name
    axis: int
    channels: tuple[Channel, ...]
    joints: int
    depth: float = mm()


@dataclass(frozen=True, slots=True, kw_only=True)
class Work(Instruction):
    """Work on edges and faces that is told by measures alone: what kind it is and its settings, by the names that the
    plan format gives them."""

    kind: str
    pieces: tuple[Name, ...]
    settings: Mapping[str, Any]
    measures: tuple[Any, ...] = mm()


def measures(told: object) -> Iterator[tuple[Unit, float]]:
    """Every length and angle of an instruction that moves wood; those that are nothing are left out."""
    if isinstance(told, tuple):
        for item in told:
            yield from measures(item)
    elif is_dataclass(told) and not isinstance(told, Name):
        for one in fields(told):
            value = getattr(told, one.name)
            if unit := one.metadata.get("unit"):
                yield from ((unit, number) for number in _numbers(value) if number)
            else:
                yield from measures(value)


def _numbers(value: Any) -> Iterator[float]:
    if isinstance(value, tuple):
        for item in value:
            yield from _numbers(item)
    elif value is not None:
        yield float(value)
