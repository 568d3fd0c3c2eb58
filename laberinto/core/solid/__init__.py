"""The cutting kernel: convex cells, planes that split them, and what may be asked of them."""

from .beside import apart
from .carve import carve
from .cells import (
    GLUED,
    LEVEL,
    ON_PLANE,
    TAKE,
    Bools,
    Cells,
    Floats,
    Ints,
    boxes,
    counts_of,
    cross,
    dot,
    empty,
    gathered,
    indptr_of,
    join,
    pick,
    spread,
)
from .memo import Memo
from .slabs import Slabs, slabs
from .split import Plane, shave, split
from .tools import Fan, Tool

__all__ = [
    "GLUED",
    "LEVEL",
    "ON_PLANE",
    "TAKE",
    "Bools",
    "Cells",
    "Fan",
    "Floats",
    "Ints",
    "Memo",
    "Plane",
    "Slabs",
    "Tool",
    "apart",
    "boxes",
    "carve",
    "counts_of",
    "cross",
    "dot",
    "empty",
    "gathered",
    "indptr_of",
    "join",
    "pick",
    "shave",
    "slabs",
    "split",
    "spread",
]
