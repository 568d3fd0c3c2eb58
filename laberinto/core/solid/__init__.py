"""The cutting kernel: convex cells, planes that split them, and what may be asked of them."""

from .carve import Tool, carve
from .cells import ON_PLANE, Bools, Cells, Floats, Ints, boxes, cross, empty, join
from .slabs import Slabs, slabs
from .split import Plane, shave, split

__all__ = [
    "ON_PLANE",
    "Bools",
    "Cells",
    "Floats",
    "Ints",
    "Plane",
    "Slabs",
    "Tool",
    "boxes",
    "carve",
    "cross",
    "empty",
    "join",
    "shave",
    "slabs",
    "split",
]
