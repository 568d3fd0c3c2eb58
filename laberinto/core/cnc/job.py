"""What paths are made from: a stage, the piece that comes to it, the face it is worked on, tools and how they go."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field

import numpy as np

from ..geometry.faces import Side
from ..solid import Floats
from ..stages import Stage
from .gcode import Cut
from .moves import Contour, Path, Point, turned_back
from .tools import Speeds, Tool, speeds

CLEAR = 6.0
"""Through the air so high over the highest wood, mm, where nothing is clamped on it."""

THROUGH = 0.4
"""A cut through the board goes so far into the spoilboard, mm."""


@dataclass(frozen=True, slots=True)
class Setting:
    """How this machine is run: spindle (turns a minute), its fastest feed (mm/min), climb or conventional, tabs along
    an outline (how many, how long and how high, mm), and how far rings of a pocket lie apart as a share of the tool."""

    spindle: int = 18000
    fastest: float = 2500.0
    climb: bool = True
    tabs: int = 4
    tab_length: float = 8.0
    tab_height: float = 3.0
    overlap: float = 0.45
    ridge: float = 0.05
    """The highest ridge that a round tip may leave, mm."""
    clear: float = CLEAR
    """Through the air so high over the highest wood, mm: over clamps, where there are some."""


@dataclass(frozen=True, slots=True)
class Job:
    """One stage on the machine. ``low`` and ``high`` are the box round the piece that comes to it, ``table`` how far
    the table lies below the face it leaves and ``top`` how far the wood stands over that (mm), ``hardness`` of its
    hardest wood (N)."""

    stage: Stage
    low: Floats
    high: Floats
    side: Side
    tools: tuple[Tool, ...]
    setting: Setting
    hardness: float
    table: float = 0.0
    top: float = 0.0
    heights: tuple[float, ...] = field(default=())
    """Measured over the lowest of far left, far right, near left and near right, mm; empty: as planned."""
    widths: tuple[float, ...] = ()
    """Of the strips that are let in, mm."""
    outline: Floats = field(default_factory=lambda: np.zeros((0, 2)))
    """The board's edge where it is no rectangle, corners (k, 2) anticlockwise."""
    text: str = ""
    capital: float = 6.0

    @property
    def size(self) -> Floats:
        """Width, length and thickness of the piece, (3,) mm."""
        return np.asarray(self.high - self.low)

    @property
    def highest(self) -> float:
        """The highest wood over the face that is left, mm: what was measured stands on what is to come off anyway."""
        return self.top + max(self.heights, default=0.0)

    @property
    def clear(self) -> float:
        """Above it nothing is touched, mm."""
        return self.highest + self.setting.clear

    def x(self, value: float) -> float:
        """A place across the board, as it lies on the machine."""
        return float(self.size[0]) - value if self.side is Side.BOTTOM else value

    def points(self, board: Floats) -> list[Point]:
        """Points of the board, as it lies on the machine."""
        return [(self.x(float(x - self.low[0])), float(y - self.low[1])) for x, y in board]

    def goes(self, tool: Tool) -> Speeds:
        """Spindle, feed and depth for a tool."""
        return speeds(tool, self.hardness, self.setting.spindle, self.setting.fastest)

    def path(self, tool: Tool) -> Path:
        """An empty path for a tool."""
        how = self.goes(tool)
        return Path(self.clear, how.feed, how.plunge)

    def cut(self, title: str, tool: Tool, path: Path) -> Cut:
        """What a path does."""
        path.up()
        return Cut(title, tool, self.setting.spindle, tuple(path.moves))

    def way_round(self, contour: Contour, *, outside: bool) -> Contour:
        """A contour that runs anticlockwise, in the way that the machine is set to: as the spindle turns clockwise,
        climbing is clockwise round what is kept and anticlockwise within a pocket."""
        return turned_back(contour) if outside == self.setting.climb else contour


Maker = Callable[[Job], list[Cut]]
"""Makes the cuts of one kind of stage. Raises ToolError where no tool of the table can."""


def depths(first: float, last: float, bite: float) -> list[float]:
    """Heights from one to a lower one in equal passes of at most ``bite``, mm; the first is not among them."""
    count = max(int(np.ceil((first - last) / bite - 1e-9)), 1)
    return [first + (last - first) * (k + 1) / count for k in range(count)]
