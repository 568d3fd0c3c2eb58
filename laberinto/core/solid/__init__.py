"""The cutting kernel: convex cells, planes that split them, and what may be asked of them."""

from .cells import ON_PLANE, Bools, Cells, Floats, Ints, boxes, cross, empty, join
from .split import Plane, shave, slabs, split

__all__ = [
    "ON_PLANE",
    "Bools",
    "Cells",
    "Floats",
    "Ints",
    "Plane",
    "boxes",
    "cross",
    "empty",
    "join",
    "shave",
    "slabs",
    "split",
]
